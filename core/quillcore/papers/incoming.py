"""Papers on their way into a package: PDFs and pictures read page by page, told apart and named, and put
together anew as somebody arranges their pages."""

from __future__ import annotations

import base64
import io
import json
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from itertools import groupby

import pikepdf
from pikepdf import Array, Dictionary

from quillcore.papers.reading import title_on
from quillcore.pdf.foreign import MOST_PAGES, Upright, open_foreign
from quillcore.pdf.renderer import printed_words
from quillcore.sandbox import MEGABYTE, Limits, run_limited
from quillcore.values import Fault

READING = Limits(20, 1_100 * MEGABYTE, 60_000_000, "Print it to a new PDF and try that one.")
"""A photograph of 48 million pixels takes 4 seconds and 700 MB, half of it the library's; the slowest of 240
sound PDFs 3 seconds."""
TURNS = (0, 90, 180, 270)
_PICTURES = (b"\xff\xd8\xff", b"\x89PNG\r\n\x1a\n", b"II*\x00", b"MM\x00*")
"""Of pictures that can be taken in: JPEG, PNG and TIFF in either order of bytes; WebP has its own."""
_MOST_OF_PAGE = 8_000
_FEW_LETTERS = 12
"""Letters of a page that is a scan: a stamp or a page number may be set on one."""
_RUN = 3
"""Words in a row that tell a text: two are common to many forms, four are parted by a filled blank too
often."""
ALIKE = 0.6
"""Of the runs of words on a page that stand in a form too, from which on the page may be that form's: what
is filled in parts some of them.  Of several, which have their common clauses in common, the most alike is
meant."""


@dataclass(frozen=True)
class IncomingFile:
    """A file as it came: ``clean`` pages with their sizes in points and their text, the title that its first
    page bears ("" where it bears none), and what was left out.  Pages without text are ``scans``."""

    clean: bytes
    sizes: tuple[tuple[float, float], ...]
    texts: tuple[str, ...]
    title: str
    removed: tuple[str, ...]

    @property
    def scans(self) -> tuple[int, ...]:
        """Pages (from 1) that have no text to be read."""
        return scans_in(self.texts)


def scans_in(texts: Sequence[str]) -> tuple[int, ...]:
    """Return pages (from 1), by their texts, that have none to be read."""
    return tuple(n for n, text in enumerate(texts, 1) if len(text.replace(" ", "")) < _FEW_LETTERS)


def is_picture(content: bytes) -> bool:
    """Return whether a file begins like a picture that can be taken in."""
    is_webp = content[:4] == b"RIFF" and content[8:12] == b"WEBP"
    return is_webp or content.startswith(_PICTURES)


def read_incoming(content: bytes) -> IncomingFile | Fault:
    """Take in a PDF or a picture by a stranger."""
    answer = run_limited("quillcore.papers.incoming:read_inside", content, limits=READING)
    if isinstance(answer, Fault):
        return answer
    data = json.loads(answer)
    return IncomingFile(
        base64.b64decode(data["clean"]),
        tuple((w, h) for w, h in data["sizes"]),
        tuple(data["texts"]),
        data["title"],
        tuple(data["removed"]),
    )


def read_inside(content: bytes) -> bytes:
    """Return the reading itself, as JSON.  Raises ``quillcore.sandbox.Refused``."""
    if is_picture(content):
        from quillcore.papers.photographed import as_pdf  # noqa: PLC0415 -- 0.3 s, for pictures alone

        content = as_pdf(content)
    found = open_foreign(content, filled=True)
    pages = printed_words(found.clean)
    return json.dumps(
        {
            "clean": base64.b64encode(found.clean).decode(),
            "sizes": [[round(n, 2) for n in u.size] for u in found.uprights],
            "texts": [" ".join(word.text for word in words)[:_MOST_OF_PAGE] for words in pages],
            "title": title_on(pages[0]) if pages else "",
            "removed": found.removed,
        }
    ).encode()


def runs_of(text: str) -> frozenset[tuple[str, ...]]:
    """Return the runs of words of a text."""
    words = [w for w in ("".join(c for c in word if c.isalnum()) for word in text.lower().split()) if w]
    return frozenset(zip(*(words[n:] for n in range(_RUN)), strict=False))


@dataclass(frozen=True)
class Known:
    """A form that papers are compared with: what it is known by, its pages, the runs of its words, and how it
    names its edition."""

    id: str
    pages: int
    runs: frozenset[tuple[str, ...]]
    edition: str = ""


@dataclass(frozen=True)
class Stretch:
    """Pages (from 1) that belong together: a whole known form, or what is none (``form`` is "")."""

    first: int
    last: int
    form: str = ""


def stretches(texts: Sequence[str], known: Iterable[Known]) -> list[Stretch]:
    """Return a file's pages, parted where a known form begins and ends.  Of several editions of one form
    that one is meant that the paper names."""
    forms = {form.id: form for form in known}
    whole = " ".join(texts)
    belongs = [_form_of(text, forms, whole) for text in texts]
    found: list[Stretch] = []
    at = 1
    for form, run in groupby(belongs):
        long = len(list(run))
        found += _parted(at, long, forms.get(form))
        at += long
    return _joined(found)


def _form_of(text: str, forms: Mapping[str, Known], whole: str) -> str:
    runs = runs_of(text)
    if len(runs) < _FEW_LETTERS:
        return ""
    alike = {form.id: len(runs & form.runs) / len(runs) for form in forms.values()}
    best = max(alike.values(), default=0.0)
    if best < ALIKE:
        return ""
    close = [forms[name] for name, score in alike.items() if score >= best - 0.08]
    named = [form for form in close if form.edition and form.edition in whole]
    return max(named or close, key=lambda form: alike[form.id]).id


def _parted(first: int, long: int, form: Known | None) -> list[Stretch]:
    """Return pages of one form, copy by copy; fewer or more than it has are no whole form."""
    if form is None or long % form.pages:
        return [Stretch(first, first + long - 1)]
    copies = range(first, first + long, form.pages)
    return [Stretch(n, n + form.pages - 1, form.id) for n in copies]


def _joined(found: Sequence[Stretch]) -> list[Stretch]:
    out: list[Stretch] = []
    for stretch in found:
        if out and not stretch.form and not out[-1].form:
            out[-1] = Stretch(out[-1].first, stretch.last)
        else:
            out.append(stretch)
    return out


@dataclass(frozen=True)
class PlacedPages:
    """A page put somewhere: of which file, which page (from 1), and turned by how much clockwise."""

    of: str
    page: int
    turn: int = 0


def arranged(
    files: Mapping[str, bytes], pages: Sequence[PlacedPages]
) -> tuple[bytes, list[tuple[float, float]]] | Fault:
    """Return one PDF of pages of clean files, in that order, with their sizes in points."""
    if not 1 <= len(pages) <= MOST_PAGES:
        return Fault("pages", f"A paper has 1 to {MOST_PAGES} pages.", "Split it.")
    opened = {name: pikepdf.open(io.BytesIO(files[name])) for name in {p.of for p in pages} if name in files}
    try:
        out = pikepdf.new()
        sizes = []
        for placed in pages:
            source = opened.get(placed.of)
            if source is None or not 1 <= placed.page <= len(source.pages) or placed.turn not in TURNS:
                return Fault("pages", "A page is no longer there.", "Reload the papers and try again.")
            page = source.pages[placed.page - 1].obj
            # Of a page that comes again, the library takes its own copy again, as it was turned since.
            once_more = source.make_indirect(Dictionary(dict(page.items())))
            out.pages.append(pikepdf.Page(once_more))
            sizes.append(_turned(out, out.pages[-1].obj, placed.turn))
        buffer = io.BytesIO()
        out.remove_unreferenced_resources()
        out.save(buffer, deterministic_id=True)
        return buffer.getvalue(), sizes
    finally:
        for source in opened.values():
            source.close()


def _turned(out: pikepdf.Pdf, page: pikepdf.Object, turn: int) -> tuple[float, float]:
    """Turn a clean page, whose box begins at 0, by what it draws; gives its size then."""
    w, h = float(page.MediaBox[2]), float(page.MediaBox[3])
    size = (h, w) if turn in (90, 270) else (w, h)
    if turn != 0:
        matrix = Upright(turn, (0.0, 0.0), size).matrix()
        begin = out.make_stream(f"q {' '.join(f'{n:.2f}' for n in matrix)} cm\n".encode())
        contents = page.Contents
        inner = list(contents) if isinstance(contents, Array) else [contents]
        page.Contents = Array([begin, *inner, out.make_stream(b"\nQ")])
        page.MediaBox = Array([0, 0, *size])
    return round(size[0], 2), round(size[1], 2)
