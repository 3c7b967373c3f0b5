"""The form source dialect: HTML prose with blanks inline.

``<blank id fact|formula|kind width lines ...>``, ``<pick id fact|group value>``, ``<check id fact>``,
``<sign role kind>`` stand where the blank stands; ``<when holds>`` says once for all that it encloses when
that applies; ``<called when because unless>`` when the form belongs to a package; ``<remark when says at>``
what the form itself remarks on; ``<item>``, ``<signatures>`` and ``<include>`` save writing what every form
has; everything else is plain HTML.  This module turns a source into HTML for setting, and into the meanings
of its fields.  See docs/forms.md.
"""

from __future__ import annotations

import html
import re
from collections.abc import Callable, Mapping
from dataclasses import dataclass, field
from datetime import date
from functools import partial
from html.parser import HTMLParser
from pathlib import PurePosixPath

from pydantic import ValidationError

from quillcore.facts import Catalog
from quillcore.facts.keys import CLIENT, GUARANTOR, HOLDER, group_of, last_of, read_role
from quillcore.facts.scopes import TERMS
from quillcore.forms.model import Called, Meaning, OwnRemark
from quillcore.values import KINDS, Fault
from quillcore.values.dates import print_date

_COMMON = {
    "id",
    "fact",
    "formula",
    "kind",
    "group",
    "value",
    "required",
    "optional",
    "relevant",
    "otherwise",
    "who",
    "default",
    "empty",
    "label",
    "help",
    "ask",
    "choices",
    "turn",
}
_ALLOWED = {
    "blank": _COMMON | {"width", "lines", "size", "least", "align", "options"},
    "pick": _COMMON,
    "check": _COMMON,
    "sign": {"id", "role", "kind", "width", "optional", "relevant", "repeat"},
    "signatures": {"for", "caption", "again", "optional", "relevant"},
    "item": {"no", "title", "class"},
    "include": {"src"},
    "when": {"holds"},
    "called": {"when", "because", "unless", "weight"},
    "remark": {"when", "says", "at", "mend", "weight"},
}
_FORM = {"number", "title", "topic", "sides", "kinds", "audience", "edition"}
_OPTIONAL = {"kinds", "audience", "initials", "purpose", "filled-by", "set", "turn"}
_PLACEHOLDER = re.compile(r"\{\{\s*([a-z-]+)\s*\}\}")
_BOX = '<span class="box"'
_FIRST_WORD = re.compile(r"\s?[^\s<]+")
_WHO = {
    "buyer": "Buyer",
    "seller": "Seller",
    "landlord": "Landlord",
    "tenant": "Tenant",
    "client": "Client",
    "listing_agent": "Seller’s agent",
    "buyer_agent": "Buyer’s agent",
    "listing_broker": "Seller’s broker",
    "buyer_broker": "Buyer’s broker",
    "own_agent": "Licensee",
    "own_broker": "Broker",
    HOLDER: "Holder of the deposit",
    GUARANTOR: "Guarantor",
}
_INITIALLERS = 2
"""Most deals have a couple on each side; a form that more often has more says so."""
_SIGN_WIDTH = {"signature": "62", "initials": "11", "date": "28", "name": "62"}


Parts = Callable[[str], str | None]


@dataclass(frozen=True)
class Publisher:
    """The publisher of the forms, as their mastheads and feet name it."""

    association: str = ""
    state: str = ""


@dataclass
class FormSource:
    """A source taken apart: the form's own attributes, HTML to set, meanings, geometry hints, faults."""

    attributes: dict[str, str] = field(default_factory=dict)
    body: list[str] = field(default_factory=list)
    meanings: list[Meaning] = field(default_factory=list)
    hints: dict[str, dict[str, str]] = field(default_factory=dict)
    called: Called | None = None
    remarks: list[OwnRemark] = field(default_factory=list)
    faults: list[Fault] = field(default_factory=list)


def read_source(
    text: str,
    name: str,
    catalog: Catalog,
    publisher: Publisher | None = None,
    parts: Parts = lambda name: None,
) -> FormSource:
    """Take a source apart.  Every fault names file and line, and says what to mend.  ``parts`` gives the text
    of what is included."""
    parser = _SourceParser(name, catalog, publisher or Publisher(), parts)
    parser.feed(text)
    parser.close()
    if parser.conditions:
        parser.fault("A <when> isn't closed.", "Close it with </when>.")
    for wanted in sorted(_FORM - _OPTIONAL - set(parser.source.attributes)):
        parser.source.faults.append(
            Fault(
                "form source", f"<form> doesn't say its {wanted}.", f'Write {wanted}="…".', f"{name}, line 1"
            )
        )
    return parser.source


class _SourceParser(HTMLParser):
    def __init__(
        self, name: str, catalog: Catalog, publisher: Publisher, parts: Parts, depth: int = 0
    ) -> None:
        super().__init__(convert_charrefs=False)
        self.name = name
        self.catalog = catalog
        self.publisher = publisher
        self.parts = parts
        self.depth = depth
        self.source = FormSource()
        self.seen: set[str] = set()
        self.section = ""
        """The number of the paragraph that is being read."""
        self.conditions: list[str] = []
        """Of the ``<when>`` elements that are open, outermost first."""

    def fault(self, message: str, mend: str) -> None:
        self.source.faults.append(
            Fault("form source", message, mend, f"{self.name}, line {self.getpos()[0]}")
        )

    def handle_starttag(self, tag: str, attrs: list[tuple[str, str | None]]) -> None:
        given = {key: value or "" for key, value in attrs}
        if tag == "form":
            self.form(given)
        elif tag in _ALLOWED:
            if tag != "include":  # what an included part gets to know has names of its own
                for stray in sorted(set(given) - _ALLOWED[tag]):
                    self.fault(f"<{tag}> has no “{stray}”.", f"It takes: {', '.join(sorted(_ALLOWED[tag]))}.")
            {
                "sign": self.sign,
                "signatures": self.signatures,
                "item": self.item,
                "include": self.include,
                "when": self.when,
                "called": self.called,
                "remark": self.remark,
            }.get(tag, partial(self.blank, tag))(given)
        else:
            self.source.body.append(self.get_starttag_text() or "")

    def handle_endtag(self, tag: str) -> None:
        if tag == "when":
            if self.conditions:
                self.conditions.pop()
            else:
                self.fault("This </when> closes nothing.", 'Begin with <when holds="…">.')
        elif tag == "item":
            self.source.body.append("</p>")
        elif tag != "form" and tag not in _ALLOWED:
            self.source.body.append(f"</{tag}>")

    def form(self, given: dict[str, str]) -> None:
        """Read the form's own attributes; its masthead and its foot stand on every page."""
        self.source.attributes = given
        for stray in sorted(set(given) - _FORM - _OPTIONAL):
            self.fault(f"<form> has no “{stray}”.", f"It takes: {', '.join(sorted(_FORM | _OPTIONAL))}.")
        number, title = html.escape(given.get("number", "")), html.escape(given.get("title", ""))
        body = self.source.body
        body.append(
            f'<div class="masthead"><span class="no">Form {number}</span><span'
            ' class="mark"><i></i></span><span'
            f' class="assoc">{html.escape(self.publisher.association)}</span> · {title}</div><div'
            ' class="foot">'
        )
        if given.get("initials"):
            body.append('<span class="initials">Initials: ')
            for said in given["initials"].split(","):
                one, _, most = said.strip().partition(".")
                if one not in _WHO or most not in ("", *"123456789"):
                    self.fault(
                        f"“{said.strip()}” is nobody who puts initials.",
                        "Use buyer, seller, landlord, tenant or client; tenant.4 for four of them.",
                    )
                    continue
                body.append(f"{_WHO[one]} ")
                for position in range(1, int(most or _INITIALLERS) + 1):
                    self.sign({"role": f"{one}.{position}", "kind": "initials", "repeat": ""})
                    body.append(" ")
                body.append("&nbsp; ")
            body.append("</span>")
        try:
            day = print_date(date.fromisoformat(given.get("edition", "")))
        except ValueError:
            day = ""
            self.fault("The edition isn't a day.", 'Write edition="2027-01-15".')
        state = (
            f" · For members’ use in the State of {html.escape(self.publisher.state)}"
            if self.publisher.state
            else ""
        )
        body.append(
            f'<span class="right"></span>Form {number} · Edition of {day}{state}</div><h1>{title}</h1>'
        )

    def when(self, given: dict[str, str]) -> None:
        """Apply a condition to all that follows, up to </when>; one within another wants both."""
        if not given.get("holds"):
            self.fault("This <when> doesn't say when.", 'Write holds="…": a yes/no formula.')
        self.conditions.append(given.get("holds") or "true")

    def called(self, given: dict[str, str]) -> None:
        """Read when the form belongs to a package."""
        try:
            self.source.called = Called.model_validate(given)
        except ValidationError as trouble:
            wrong = ", ".join(str(e["loc"][0]) for e in trouble.errors() if e["loc"])
            self.fault(
                f"This <called> can't be read: {wrong}.", 'It says when="…", because="…" and unless="…".'
            )

    def remark(self, given: dict[str, str]) -> None:
        """Read what the form itself remarks on."""
        try:
            self.source.remarks.append(OwnRemark.model_validate(given))
        except ValidationError as trouble:
            wrong = ", ".join(str(e["loc"][0]) for e in trouble.errors() if e["loc"])
            self.fault(
                f"This <remark> can't be read: {wrong}.", 'It says when="…", says="…" and at="a blank".'
            )

    def relevant(self, given: Mapping[str, str]) -> str | None:
        """Return when a field applies: where all that encloses it does, and its own condition holds."""
        said = [*self.conditions, *([given["relevant"]] if given.get("relevant") else [])]
        return " and ".join(f"({one})" for one in said) if len(said) > 1 else next(iter(said), None)

    def item(self, given: dict[str, str]) -> None:
        """Set a numbered paragraph: its number hangs in the margin, its title leads."""
        self.section = given.get("no", "").rstrip(".")
        title = (
            f'<span class="strong">{html.escape(given["title"], quote=False)}</span> '
            if given.get("title")
            else ""
        )
        self.source.body.append(
            f'<p class="item {given.get("class", "")}"><b>{html.escape(given.get("no", ""))}</b>{title}'
        )

    def signatures(self, given: dict[str, str]) -> None:
        """Set signature, printed name and date for each role, a row each, kept together.  Who signs a
        second time says what for (``again``)."""
        body, again = self.source.body, f"{given['again']}-" if given.get("again") else ""
        body.append('<div class="sigblock">')
        for role in given.get("for", "").replace(",", " ").split():
            one, _, position = role.partition(".")
            who = f"{given.get('caption') or _WHO.get(one, one)} {position}".strip()
            extra: dict[str, str] = {k: given[k] for k in ("optional", "relevant") if k in given}
            body.append("<table><tr>")
            for kind, caption in (
                ("signature", f"{who}, signature"),
                ("name", "Printed name"),
                ("date", "Date signed"),
            ):
                body.append("<td>")
                self.sign(
                    {
                        "role": role,
                        "kind": kind,
                        **extra,
                        "id": f"{again}{'printed' if kind == 'name' else kind}-{role}",
                    }
                )
                body.append(f'<span class="caption">{caption}</span></td>')
            body.append("</tr></table>")
        body.append("</div>")

    def include(self, given: dict[str, str]) -> None:
        """Include a part that several forms share, with this form's texts in place of its
        {{placeholders}}."""
        name = given.get("src", "")
        text = self.parts(name) if name and PurePosixPath(name).name == name and self.depth < 4 else None
        if text is None:
            self.fault(
                f"There is no part “{name}” to include.",
                "Parts stand in the source's parts/ folder and name no folder themselves.",
            )
            return
        for missing in sorted({m[1] for m in _PLACEHOLDER.finditer(text)} - set(given)):
            self.fault(
                f"The part “{name}” wants to know “{missing}”.", f'Write {missing}="…" in the <include>.'
            )
        inner = _SourceParser(f"parts/{name}", self.catalog, self.publisher, self.parts, self.depth + 1)
        inner.source, inner.seen, inner.conditions = self.source, self.seen, [*self.conditions]
        inner.section = self.section
        inner.feed(_PLACEHOLDER.sub(lambda m: given.get(m[1], ""), text))
        inner.close()
        self.section = inner.section
        if inner.conditions != self.conditions:
            self.fault(f"A <when> in the part “{name}” isn't closed.", "Close in a part what begins there.")

    def handle_data(self, data: str) -> None:
        m = _FIRST_WORD.match(data) if self.source.body and self.source.body[-1].startswith(_BOX) else None
        if m:  # a box never stands at a line's end without the first word of what it marks
            self.source.body[-1] = (
                f'<span class="nobreak">{self.source.body[-1]}{m[0].replace(" ", "&nbsp;", 1)}</span>'
            )
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
            fact = _printed_name(role)
            found = Meaning(
                id=name,
                fact=fact,
                required=_who_signs(fact),
                relevant=self.relevant(given),
                label="Printed name",
            )
            self.place(name, f"blank sign-{kind}", width, found, {})
            return
        found = Meaning.model_validate(
            {"id": name, "role": role, "sign": kind, "required": required, "relevant": self.relevant(given)}
        )
        self.place(
            name,
            f"sign sign-{kind}",
            width,
            found,
            {"shape": "sign", "repeat": "yes" if "repeat" in given else ""},
        )

    def blank(self, tag: str, given: dict[str, str]) -> None:
        name = given.get("id", "")
        if not name:
            self.fault(f"This <{tag}> has no id.", 'Give it one that will never change: id="price".')
            return
        kind = given.get("kind")
        if tag in ("pick", "check") and kind is None and "fact" not in given:
            kind = "choice" if tag == "pick" else "yes_no"
        if tag == "check" and "fact" not in given and "formula" not in given:
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
            relevant=self.relevant(given),
            otherwise=given.get("otherwise", ""),
            who=given.get("who"),
            default=given.get("default"),
            empty_text=given.get("empty", "None"),
            label=given.get("label", ""),
            help=given.get("help", ""),
            ask=given.get("ask", ""),
            choices=given.get("choices"),
            section=self.section if group_of(given.get("fact", "")) in TERMS else "",
            turn=given.get("turn"),
        )
        if tag == "blank":
            fact = self.catalog.find(found.fact) if found.fact else None
            known = KINDS.get(fact.kind if fact else kind or "", KINDS["text"])
            hints: dict[str, str] = {
                key: given[key] for key in ("lines", "size", "least", "align") if key in given
            }
            self.place(
                name,
                "blank",
                given.get("width", known.width),
                found,
                {"align": known.align, **hints, "shape": "text"},
            )
        else:
            self.place(name, "box", "", found, {"shape": "box"})

    def place(self, name: str, classes: str, width: str, meaning: Meaning, hints: dict[str, str]) -> None:
        if name in self.seen:
            self.fault(f"The id “{name}” is there twice.", "Give each blank its own.")
        self.seen.add(name)
        self.source.meanings.append(meaning)
        self.source.hints[name] = {"shape": "text", **hints}
        lines = int(hints.get("lines", "1"))
        mark = f'data-field="{html.escape(name)}"'
        if lines > 1:
            self.source.body.append(
                f'<span class="{classes} ruled" {mark}>' + '<span class="rule"></span>' * lines + "</span>"
            )
        else:
            style = (
                "" if not width else ' style="width:100%"' if width == "full" else f' style="width:{width}mm"'
            )
            blank = f'<span class="{classes}" {mark}{style}></span>'
            before = self.source.body[-1] if self.source.body else ""
            if before.endswith("$ "):  # the sign never stands at a line's end without its amount
                self.source.body[-1] = before.removesuffix("$ ")
                blank = f'<span class="nobreak">$ {blank}</span>'
            self.source.body.append(blank)


def _who_signs(fact: str) -> str:
    """Return when a printed name is asked for: where an entity is a party, until somebody is named who signs
    for it."""
    if last_of(fact) != "signature_name":
        return "never"
    return f'coalesce({fact.removesuffix("signature_name")}entity_name, "") != ""'


_NAMED = {HOLDER: "terms.deposit_holder_name", GUARANTOR: "lease.guarantor"}
"""Signers who are neither parties nor agents, and the fact that has their name."""


def _printed_name(role: str) -> str:
    """Return the fact that says the printed name of who signs in that role, with the capacity."""
    found = read_role(role)
    if role in _NAMED:
        return _NAMED[role]
    if found is None or found.group is None:
        return f"{role}.name".replace("_broker.name", "_agent.broker")
    group = found.party_group
    if group is None:
        return f"{CLIENT}.{found.position}.signature_name"
    return group.key(found.position, "signature_name")
