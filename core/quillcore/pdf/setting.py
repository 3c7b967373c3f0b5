"""Setting a sheet of text as PDF with the fonts that ship: for what isn't a form."""

from __future__ import annotations

from quillcore.pdf.typeface import FONTS

FACES = "".join(
    f"@font-face{{font-family:'Source Serif 4';src:url('SourceSerif4-{file}.ttf');"
    f"font-weight:{weight};font-style:{slant}}}"
    for file, weight, slant in (
        ("Regular", 400, "normal"),
        ("Regular_Italic", 400, "italic"),
        ("SemiBold", 600, "normal"),
        ("Bold", 700, "normal"),
    )
)
"""The book serif as CSS; addresses are relative to ``FONTS``."""


def set_sheet(body: str, style: str, title: str) -> bytes:
    """Return a tagged PDF of HTML that is sound and escaped already."""
    from weasyprint import HTML  # noqa: PLC0415 -- a second, and few processes set sheets
    from weasyprint.text.fonts import FontConfiguration  # noqa: PLC0415

    head = f"<head><title>{title}</title><style>{FACES}{style}</style></head>"
    page = f"<html lang='en'>{head}<body>{body}</body></html>"
    pdf: bytes = HTML(string=page, base_url=FONTS.as_uri() + "/").write_pdf(
        font_config=FontConfiguration(), pdf_tags=True
    )
    return pdf
