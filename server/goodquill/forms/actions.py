"""Keeping forms."""

from __future__ import annotations

from quillcore.forms import Form
from quillcore.forms.printed import PrintedWords

from goodquill.forms.models import Edition, MappingVersion
from goodquill.storage import files

MOST_WORDS = 60_000
"""Characters of an edition's text in which is found: a form of 500 close-printed pages is found by its first
hundred."""


def keep_form(form: Form, printed: PrintedWords, foreign: bool = False) -> tuple[Edition, MappingVersion]:
    """Keep a form's pages, what is ``printed`` on them, geometry and meanings.  What is there already is not
    kept twice."""
    e = form.edition
    edition = Edition.objects.filter(hash=form.edition_hash).first()
    if edition is None:
        files.keep(form.pdf)
        data = e.model_dump(mode="json")
        sheet = {k: v for k, v in data.items() if k not in ("fields", "sizes")} | {
            "blanks": sum(f.shape != "sign" for f in e.fields)
        }
        edition = Edition.objects.create(
            hash=form.edition_hash,
            number=e.number,
            title=e.title,
            pages=e.pages,
            page_content=e.page_content,
            data=data,
            sheet=sheet,
            words=printed.words[:MOST_WORDS],
            sentences=list(printed.sentences),
            foreign=foreign,
        )
    mapping, _ = MappingVersion.objects.get_or_create(
        hash=form.mapping.digest(), defaults={"data": form.mapping.model_dump(mode="json")}
    )
    return edition, mapping
