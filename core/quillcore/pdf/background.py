"""A page background: an edition's PDF made ready to be copied and written over many times."""

from __future__ import annotations

import io
import re
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import pikepdf
from pikepdf import Array, Dictionary, Stream

from quillcore.pdf.objects import Objects, stream

FONT = -1
"""The place of the overlay's font among the fonts of the pages."""
Body = bytes | tuple[bytes | int, ...]
"""An object as it is written; in pieces where it refers to others, which are numbers from 0 and ``FONT``."""

_REFERENCE = re.compile(rb"\((?:[^()\\]++|\\.)*+\)|(?<![\w.+/-])(\d+) (\d+) R\b", re.S)
"""A pattern for references to other objects, and for texts, in which the same would be words. The library
writes a text without parentheses that aren't escaped."""
_LEFT = ("/Annots", "/StructParents", "/AA", "/B", "/Parent", "/Contents", "/Resources")
"""The entries that a page loses: actions, names of pages in its old file, and all that is written anew."""


class Damaged(Exception):
    """The bytes are no PDF that can be used; the message says why in plain words."""


@dataclass(frozen=True)
class BackgroundPage:
    """A page's own entries, what it shows (its contents and resources, by number)."""

    entries: Body
    contents: tuple[int, ...]
    resources: int


class Background:
    """A field-free PDF taken apart once, so that its pages can be taken over into others as they are.

    What pages show is never unpacked: that is slow, and a few packed bytes can stand for gigabytes.
    """

    def __init__(self, content: bytes) -> None:
        try:
            with pikepdf.open(io.BytesIO(content)) as pdf:
                taken = _Taken(pdf)
                self.sheets = [taken.page(page.obj) for page in pdf.pages]
                self.objects = taken.bodies()
        except pikepdf.PdfError as trouble:
            raise Damaged("This isn't a PDF that can be read.") from trouble
        self.bearing = taken.bearing
        """By the name of a font, the numbers of the resources that have it already."""
        self.size = len(content)

    @property
    def pages(self) -> int:
        """The number of its pages."""
        return len(self.sheets)

    def put_into(self, out: Objects, font: str, entry: str) -> list[bytes]:
        """Return its objects put into a file, with the ``font`` of that name among the fonts of each page
        by that ``entry`` (both "" for none); gives what refers to each."""
        first = len(out.bodies)
        names = [b"%d 0 R" % number for number in range(first + 1, first + 1 + len(self.objects))]
        further = [*names, entry.encode("ascii")]
        out.bodies += [filled(body, further) for body in self.objects]
        # Pages that were made here, and came back: they have the same font already.
        for number in self.bearing.get(font, ()):
            out.bodies[first + number] = filled(self.objects[number], [*names, b""])
        return names


def filled(body: Body, names: Sequence[bytes]) -> bytes:
    """Return a body with what refers to others by those names."""
    if isinstance(body, bytes):
        return body
    return b"".join([piece if isinstance(piece, bytes) else names[piece] for piece in body])


class _Taken:
    """The objects taken over from a file, one by one as they are met."""

    def __init__(self, pdf: pikepdf.Pdf) -> None:
        self.pdf = pdf
        self.numbers: dict[object, int] = {}
        self.taken: list[Body] = []
        self.waiting: list[tuple[int, tuple[int, int]]] = []
        self.bearing: dict[str, list[int]] = {}

    def page(self, page: pikepdf.Object) -> BackgroundPage:
        """Return a page; what it has from the nodes above it the library has given it when it read the
        file."""
        under = page.get("/Contents")
        parts = list(under) if isinstance(under, Array) else [under]
        contents = tuple(self.number(p.objgen) for p in parts if isinstance(p, Stream))
        resources = self.resources(page.get("/Resources"))
        return BackgroundPage(self.body(_entries(page, _LEFT)), contents, resources)

    def resources(self, found: object) -> int:
        """Return the number of a page's resources, which several may share, with a place for one font
        more."""
        given = found if isinstance(found, Dictionary) else Dictionary()
        key = ("resources", given.objgen if given.is_indirect else given.unparse(resolved=True))
        if key in self.numbers:
            return self.numbers[key]
        number = self.begun(key)
        fonts = given.get("/Font")
        own = fonts if isinstance(fonts, Dictionary) else Dictionary()
        for name in own:
            self.bearing.setdefault(name, []).append(number)
        said = b"<< " + _entries(given, ("/Font",)) + b"/Font << " + _entries(own)
        self.taken[number] = (*_pieces(self.body(said)), FONT, b" >> >>")
        return number

    def number(self, objgen: tuple[int, int]) -> int:
        """Return the number of an object, which is taken when its turn comes."""
        if objgen not in self.numbers:
            self.waiting.append((self.begun(objgen), objgen))
        return self.numbers[objgen]

    def begun(self, key: object) -> int:
        """Return a further number, whose body comes later."""
        self.taken.append(b"null")
        self.numbers[key] = len(self.taken) - 1
        return self.numbers[key]

    def bodies(self) -> list[Body]:
        """Return the bodies of all that was met, and of what is met while they are taken."""
        while self.waiting:
            number, objgen = self.waiting.pop()
            self.taken[number] = self.object(objgen)
        return self.taken

    def object(self, objgen: tuple[int, int]) -> Body:
        """Return an object of the file; none where it is a page or what pages hang on, which stay where
        they are."""
        found = self.pdf.get_object(objgen)
        if isinstance(found, Stream):
            raw = found.read_raw_bytes()
            head, tail = stream(_entries(found.stream_dict, ("/Length",)), raw)
            body = self.body(head)
            return body + tail if isinstance(body, bytes) else (*body, tail)
        if isinstance(found, Dictionary) and found.get("/Type") in _PAGES:
            return b"null"
        return self.body(found.unparse(resolved=True))

    def body(self, said: bytes) -> Body:
        """Return a text of the library's in pieces, where it refers to others."""
        pieces: list[bytes | int] = []
        at = 0
        for found in _REFERENCE.finditer(said):
            if found[1] is not None:
                pieces += [said[at : found.start()], self.number((int(found[1]), int(found[2])))]
                at = found.end()
        return (*pieces, said[at:]) if pieces else said


_PAGES = (pikepdf.Name.Page, pikepdf.Name.Pages, pikepdf.Name.Catalog)


def _pieces(body: Body) -> tuple[bytes | int, ...]:
    return (body,) if isinstance(body, bytes) else body


def _entries(given: Mapping[str, object] | pikepdf.Object, without: Sequence[str] = ()) -> bytes:
    """Return the entries of a dictionary as the library writes them, each with a space behind it."""
    kept = Dictionary({key: value for key, value in given.items() if key not in without})
    return kept.unparse(resolved=True).removeprefix(b"<<").removesuffix(b">>").lstrip()
