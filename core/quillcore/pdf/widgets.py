"""The interactive fields of somebody else's PDF, found whatever state the file is in.

Fields are known by their full name; one field may stand in several places (a name repeated on each
page, the buttons of a radio group).  Push buttons are no blanks and are left out.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass, field
from typing import Any, Literal

import pikepdf
from pikepdf import Array, Dictionary, Name, Object

from quillcore.values.structured import digits

Rect = tuple[float, float, float, float]
FoundKind = Literal["text", "long_text", "check", "one_of", "choice", "signature"]
_DEEPEST, MOST_FIELDS = 40, 20_000
_MULTILINE, _COMB, _RADIO, _PUSH, _COMBO = 1 << 12, 1 << 24, 1 << 15, 1 << 16, 1 << 17


@dataclass(frozen=True)
class Place:
    """One appearance of a field: page from 1, rectangle as the file says it (left, bottom, right, top in
    points); ``option`` is the value that a button of a one-of group, or a check box, stands for."""

    page: int
    rect: Rect
    option: str = ""


@dataclass
class FoundField:
    """One field.  ``options`` are the values it can take (empty for free text); ``value`` is what it holds,
    or None."""

    name: str
    kind: FoundKind
    places: list[Place] = field(default_factory=list)
    tooltip: str = ""
    required: bool = False
    options: tuple[str, ...] = ()
    max_length: int | None = None
    comb: bool = False
    value: str | None = None
    script: str = ""


def find_fields(pdf: pikepdf.Pdf) -> list[FoundField]:
    """Return every field that stands on a page, in the order of pages and then from the top down."""
    finder = _Finder(pdf)
    form = _dictionary(pdf.Root.get("/AcroForm"))
    if form is not None:
        for node in _items(form.get("/Fields")):
            finder.walk(node, "", None, 0)
    finder.strays()
    found = [f for f in finder.fields.values() if f.places]
    return sorted(found, key=lambda f: (f.places[0].page, -round(f.places[0].rect[3]), f.places[0].rect[0]))


class _Finder:
    def __init__(self, pdf: pikepdf.Pdf) -> None:
        self.fields: dict[str, FoundField] = {}
        self.seen: set[tuple[int, int]] = set()
        self.page_of: dict[tuple[int, int], int] = {}
        self.widgets: list[tuple[int, Object]] = []
        pages: dict[tuple[int, int], int] = {}
        for number, page in enumerate(pdf.pages, 1):
            pages.setdefault(page.obj.objgen, number)
            for annotation in _items(page.obj.get("/Annots")):
                widget = _dictionary(annotation)
                if widget is None or (widget.get("/Subtype") != Name.Widget and "/FT" not in widget):
                    continue
                self.widgets.append((number, widget))
                if widget.objgen != (0, 0):
                    self.page_of.setdefault(widget.objgen, number)
        self.pages = pages

    def walk(self, node: Object, above: str, parent: FoundField | None, depth: int) -> None:
        """Take in a node of the field tree.  ``parent`` is the field that a nameless node belongs to."""
        here = _dictionary(node)
        if here is None or depth > _DEEPEST or len(self.fields) > MOST_FIELDS:
            return
        if here.objgen != (0, 0):
            if here.objgen in self.seen:
                return
            self.seen.add(here.objgen)
        own = _text(here.get("/T"))
        name = ".".join(part for part in (above, own) if part) if own is not None else above
        kids = [k for k in map(_dictionary, _items(here.get("/Kids"))) if k is not None]
        if any(_has_name(k) for k in kids):
            for kid in kids:
                self.walk(kid, name, None, depth + 1)
            return
        found = self.field(here, name) if own is not None or parent is None else parent
        if kids:
            for kid in kids:
                self.walk(kid, name, found, depth + 1)
        elif found is not None:
            self.place(found, here, self.page(here))

    def strays(self) -> None:
        """Return widgets on pages that the field tree doesn't know: they are seen and typed into all the
        same."""
        for number, widget in self.widgets:
            if widget.objgen != (0, 0) and widget.objgen in self.seen:
                continue
            found = self.field(widget, _full_name(widget))
            if found is not None:
                self.place(found, widget, number)

    def field(self, node: Object, name: str) -> FoundField | None:
        kind = _kind(node)
        if kind is None:
            return None
        name = name or f"unnamed-{len(self.fields) + 1}"
        known = self.fields.get(name)
        if known is not None and known.kind == kind:
            return known
        while name in self.fields:  # two kinds under one name: a fault of the file, kept apart
            name += "-other"
        flags = _integer(_inherited(node, "/Ff")) or 0
        length = _integer(_inherited(node, "/MaxLen"))
        made = FoundField(
            name,
            kind,
            tooltip=_text(_inherited(node, "/TU")) or "",
            required=bool(flags & 2),
            options=tuple(_options(_inherited(node, "/Opt"))) if kind == "choice" else (),
            max_length=length if length and length > 0 else None,
            comb=bool(flags & _COMB) and kind == "text",
            value=_value(_inherited(node, "/V")),
            script=_format_script(node),
        )
        self.fields[name] = made
        return made

    def page(self, widget: Object) -> int | None:
        if widget.objgen in self.page_of:
            return self.page_of[widget.objgen]
        page = _dictionary(widget.get("/P"))
        return self.pages.get(page.objgen) if page is not None and "/Rect" in widget else None

    def place(self, found: FoundField, widget: Object, page: int | None) -> None:
        rect = _rect(widget.get("/Rect"))
        if page is None or rect is None:
            return
        option = ""
        if found.kind in ("check", "one_of"):
            option = _on_state(widget, found)
            if option and option not in found.options:
                found.options += (option,)
        found.places.append(Place(page, rect, option))


def _kind(node: Object) -> FoundKind | None:
    what = _inherited(node, "/FT")
    flags = _integer(_inherited(node, "/Ff")) or 0
    if what == Name.Tx:
        return "long_text" if flags & _MULTILINE else "text"
    if what == Name.Ch:
        return "choice"
    if what == Name.Sig:
        return "signature"
    if what == Name.Btn:
        return None if flags & _PUSH else "one_of" if flags & _RADIO else "check"
    return None


def _has_name(node: Object) -> bool:
    return "/T" in node


def _full_name(widget: Object) -> str:
    parts = []
    for node in _upwards(widget):
        own = _text(node.get("/T"))
        if own:
            parts.append(own)
    return ".".join(reversed(parts))


def _upwards(node: Object) -> Iterator[Object]:
    at: Object | None = node
    for _ in range(_DEEPEST):
        if at is None:
            return
        yield at
        at = _dictionary(at.get("/Parent"))


def _inherited(node: Object, key: str) -> Any:
    return next((at.get(key) for at in _upwards(node) if key in at), None)


def _on_state(widget: Object, found: FoundField) -> str:
    """Return what a button stands for: its appearance that isn't Off; the group's /Opt gives plainer words
    for numbered ones."""
    normal = _dictionary((_dictionary(widget.get("/AP")) or Dictionary()).get("/N"))
    states = (
        [str(k)[1:] for k, _ in normal.items() if str(k) != "/Off"]
        if normal is not None and not isinstance(normal, pikepdf.Stream)
        else []
    )
    state = states[0] if states else ""
    if not state:
        current = widget.get("/AS")
        state = str(current)[1:] if isinstance(current, Name) and current != Name.Off else ""
    words = list(_options(_inherited(widget, "/Opt")))
    if (at := digits(state)) is not None and at < len(words):
        return words[at]
    return state or (f"choice {len(found.places) + 1}" if found.kind == "one_of" else "Yes")


def _options(raw: Any) -> Iterator[str]:
    for item in _items(raw):
        pair = list(_items(item)) if isinstance(item, Array) else []
        text = _text(pair[0] if pair else item)
        if text is not None:
            yield text


def _value(raw: Any) -> str | None:
    if isinstance(raw, Name):
        return None if raw == Name.Off else str(raw)[1:]
    if isinstance(raw, Array):
        return ", ".join(t for t in map(_text, _items(raw)) if t) or None
    if isinstance(raw, pikepdf.Stream):
        return _guarded(lambda: raw.read_bytes()[:100_000].decode("utf-8", "replace"))
    return _text(raw) or None


def _format_script(node: Object) -> str:
    """Return the name of the formatting function a field calls (AFDate_…): what it says about the kind;
    nothing is run."""
    actions = _dictionary(_inherited(node, "/AA"))
    action = _dictionary(actions.get("/F")) if actions is not None else None
    text = _text(action.get("/JS")) if action is not None else None
    return (text or "")[:200]


def _rect(raw: Any) -> Rect | None:
    numbers = [_number(n) for n in _items(raw)]
    if len(numbers) != 4 or any(n is None or abs(n) > 100_000 for n in numbers):
        return None
    a, b, c, d = (float(n) for n in numbers if n is not None)
    return (round(min(a, c), 2), round(min(b, d), 2), round(max(a, c), 2), round(max(b, d), 2))


def _number(raw: Any) -> float | None:
    return _guarded(lambda: float(raw))


def _integer(raw: Any) -> int | None:
    return _guarded(lambda: int(raw))


def _text(raw: Any) -> str | None:
    return _guarded(lambda: str(raw).strip("\x00").strip()) if isinstance(raw, pikepdf.String) else None


def _dictionary(raw: Any) -> Object | None:
    return raw if isinstance(raw, Dictionary | pikepdf.Stream) else None


def _items(raw: Any) -> list[Any]:
    return (
        (_guarded(lambda: [raw[i] for i in range(min(len(raw), MOST_FIELDS))]) or [])
        if isinstance(raw, Array)
        else []
    )


def _guarded(work: Callable[[], Any]) -> Any:
    """Return a damaged value counts as missing."""
    try:
        return work()
    except (pikepdf.PdfError, ValueError, TypeError, OverflowError, UnicodeError, ArithmeticError):
        return None
