"""The form source dialect: HTML prose with blanks inline.

``<blank id fact|formula|kind width lines ...>``, ``<pick id fact|group value>``, ``<check id fact>``,
``<sign role kind>`` stand where the blank stands; everything else is plain HTML.  This module turns a
source into HTML for setting, and into the meanings of its fields.  See docs/forms.md.
"""

from __future__ import annotations

import html
import re
from dataclasses import dataclass, field
from html.parser import HTMLParser

from quillcore.facts import Catalog
from quillcore.forms.model import Meaning, group_of
from quillcore.values import Fault

_COMMON = {"id", "fact", "formula", "kind", "group", "value", "required", "optional", "relevant", "who", "default", "empty", "label", "help"}
_ALLOWED = {
    "blank": _COMMON | {"width", "lines", "size", "least", "align", "options"},
    "pick": _COMMON,
    "check": _COMMON,
    "sign": {"id", "role", "kind", "width", "optional", "relevant", "repeat"},
}
_FORM = {"number", "title", "topic", "sides", "kinds", "audience", "edition"}
_BOX = '<span class="box"'
_FIRST_WORD = re.compile(r"\s?[^\s<]+")
_ALIGN = {"money": "right", "integer": "center", "percent": "center", "number": "center", "year": "center"}
_SIGN_WIDTH = {"signature": "62", "initials": "11", "date": "28", "name": "62"}


@dataclass
class Source:
    """A source taken apart: the form's own attributes, HTML to set, meanings, geometry hints, faults."""

    attributes: dict[str, str] = field(default_factory=dict)
    body: list[str] = field(default_factory=list)
    meanings: list[Meaning] = field(default_factory=list)
    hints: dict[str, dict[str, str]] = field(default_factory=dict)
    faults: list[Fault] = field(default_factory=list)


def read_source(text: str, name: str, catalog: Catalog) -> Source:
    """Take a source apart.  Every fault names file and line, and says what to mend."""
    parser = _SourceParser(name, catalog)
    parser.feed(text)
    parser.close()
    for wanted in sorted(_FORM - {"kinds", "audience"} - set(parser.source.attributes)):
        parser.source.faults.append(Fault("form source", f"<form> doesn't say its {wanted}.", f'Write {wanted}="…".', f"{name}, line 1"))
    return parser.source


class _SourceParser(HTMLParser):
    def __init__(self, name: str, catalog: Catalog) -> None:
        super().__init__(convert_charrefs=False)
        self.name = name
        self.catalog = catalog
        self.source = Source()
        self.seen: set[str] = set()

    def fault(self, message: str, mend: str) -> None:
        self.source.faults.append(Fault("form source", message, mend, f"{self.name}, line {self.getpos()[0]}"))

    def handle_starttag(self, tag: str, attrs: list[tuple[str, str | None]]) -> None:
        given = {key: value or "" for key, value in attrs}
        if tag == "form":
            self.source.attributes = given
        elif tag in _ALLOWED:
            for stray in sorted(set(given) - _ALLOWED[tag]):
                self.fault(f"<{tag}> has no “{stray}”.", f"It takes: {', '.join(sorted(_ALLOWED[tag]))}.")
            self.sign(given) if tag == "sign" else self.blank(tag, given)
        else:
            self.source.body.append(self.get_starttag_text() or "")

    def handle_endtag(self, tag: str) -> None:
        if tag != "form" and tag not in _ALLOWED:
            self.source.body.append(f"</{tag}>")

    def handle_data(self, data: str) -> None:
        m = _FIRST_WORD.match(data) if self.source.body and self.source.body[-1].startswith(_BOX) else None
        if m:  # a box never stands at a line's end without the first word of what it marks
            self.source.body[-1] = f'<span class="nobreak">{self.source.body[-1]}{m[0].replace(" ", "&nbsp;", 1)}</span>'
            data = data[m.end() :]
        self.source.body.append(data)

    def handle_entityref(self, name: str) -> None:
        self.source.body.append(f"&{name};")

    def handle_charref(self, name: str) -> None:
        self.source.body.append(f"&#{name};")

    def sign(self, given: dict[str, str]) -> None:
        role, kind = given.get("role", ""), given.get("kind", "signature")
        if kind not in _SIGN_WIDTH:
            self.fault(f"“{kind}” is no kind of sign spot.", f"Kinds are: {', '.join(_SIGN_WIDTH)}.")
            return
        name = given.get("id") or f"{kind}-{role}"
        width = given.get("width", _SIGN_WIDTH[kind])
        required = "never" if "optional" in given else "always"
        if kind == "name":
            party = group_of(role)
            fact = f"{party[0]}.{party[1]}.name" if party else f"{role}.name"
            self.place(name, f"blank sign-{kind}", width, Meaning(id=name, fact=fact, required="never", label="Printed name"), {})
            return
        found = Meaning.model_validate({"id": name, "role": role, "sign": kind, "required": required, "relevant": given.get("relevant")})
        self.place(name, f"sign sign-{kind}", width, found, {"shape": "sign", "repeat": "yes" if "repeat" in given else ""})

    def blank(self, tag: str, given: dict[str, str]) -> None:
        name = given.get("id", "")
        if not name:
            self.fault(f"This <{tag}> has no id.", 'Give it one that will never change: id="price".')
            return
        kind = given.get("kind")
        if tag in ("pick", "check") and kind is None and "fact" not in given:
            kind = "choice" if tag == "pick" else "yes_no"
        if tag == "check" and "fact" not in given:
            given.setdefault("group", name)
        if given.get("fact") and self.catalog.find(given["fact"]) is None:
            self.fault(f"There is no fact “{given['fact']}”.", "Look the key up in the fact catalog.")
        required = "never" if "optional" in given else given.get("required") or "always"
        found = Meaning(
            id=name,
            fact=given.get("fact"),
            formula=given.get("formula"),
            kind=kind,
            group=given.get("group"),
            value=given.get("value"),
            options=tuple(o.strip() for o in given.get("options", "").split("|") if o.strip()),
            required=required,
            relevant=given.get("relevant"),
            who=given.get("who"),
            default=given.get("default"),
            empty_text=given.get("empty", "None"),
            label=given.get("label", ""),
            help=given.get("help", ""),
        )
        if tag == "blank":
            fact = self.catalog.find(found.fact) if found.fact else None
            align = _ALIGN.get(fact.kind if fact else kind or "", "left")
            hints: dict[str, str] = {key: given[key] for key in ("lines", "size", "least", "align") if key in given}
            self.place(name, "blank", given.get("width", "40"), found, {"align": align, **hints, "shape": "text"})
        else:
            self.place(name, "box", "", found, {"shape": "box"})

    def place(self, name: str, classes: str, width: str, meaning: Meaning, hints: dict[str, str]) -> None:
        if name in self.seen:
            self.fault(f"The id “{name}” stands twice.", "Give each blank its own.")
        self.seen.add(name)
        self.source.meanings.append(meaning)
        self.source.hints[name] = {"shape": "text", **hints}
        lines = int(hints.get("lines", "1"))
        mark = f'data-field="{html.escape(name)}"'
        if lines > 1:
            self.source.body.append(f'<span class="{classes} ruled" {mark}>' + '<span class="rule"></span>' * lines + "</span>")
        else:
            style = "" if not width else ' style="width:100%"' if width == "full" else f' style="width:{width}mm"'
            self.source.body.append(f'<span class="{classes}" {mark}{style}></span>')
