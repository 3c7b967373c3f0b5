"""A PDF as its objects, written one after another as text.

An object that a library makes from Python costs many times one that is written as text, and a package has
thousands, most of which are the same in every package with its form.
"""

from __future__ import annotations

import hashlib
from itertools import accumulate

_HEAD = b"%PDF-1.7\n%\xbf\xf7\xa2\xfe\n"
"""The second line tells programs that move files that this one isn't text."""


class Objects:
    """The objects of a file in the making.  What refers to one ("12 0 R") is known before its body is."""

    def __init__(self) -> None:
        self.bodies: list[bytes] = []

    def add(self, body: str = "") -> str:
        """Return one more object, which may get its body later; gives what refers to it.  A body's letters
        are its bytes."""
        self.bodies.append(body.encode("latin-1"))
        return f"{len(self.bodies)} 0 R"

    def stream(self, content: bytes, entries: str = "") -> str:
        """Return a stream, as it is packed already where its ``entries`` say so."""
        self.bodies.append(b"".join(stream(f"{entries} ".encode("ascii"), content)))
        return f"{len(self.bodies)} 0 R"

    def put(self, reference: str, body: str) -> None:
        """Put the body of an object that was added before."""
        self.bodies[int(reference.split(" ")[0]) - 1] = body.encode("latin-1")

    def written(self, root: str, info: str) -> bytes:
        """Return the whole file.  The same objects give the same bytes."""
        objects = [b"%d 0 obj\n%b\nendobj\n" % pair for pair in enumerate(self.bodies, 1)]
        *offsets, table = accumulate(map(len, objects), initial=len(_HEAD))
        rows = "%010d 00000 n \n" * len(offsets) % tuple(offsets)
        size = len(objects) + 1
        content = b"".join([_HEAD, *objects])
        digest = hashlib.sha1(content, usedforsecurity=False).hexdigest()
        end = (
            f"xref\n0 {size}\n0000000000 65535 f \n{rows}"
            f"trailer\n<< /Size {size} /Root {root} /Info {info} /ID [<{digest}> <{digest}>] >>\n"
            f"startxref\n{table}\n%%EOF\n"
        )
        return content + end.encode("ascii")


def stream(entries: bytes, content: bytes) -> tuple[bytes, bytes]:
    """Return the body of a stream: what stands before its content, and the rest."""
    return b"<< %b/Length %d >>\nstream\n" % (entries, len(content)), content + b"\nendstream"


_ESCAPED = str.maketrans({letter: f"\\{letter}" for letter in "\\()"})


def string(text: str) -> str:
    """Return a text as a file has it: as it is where every reader knows its letters, else as UTF-16."""
    if text.isascii() and text.isprintable():
        return f"({text.translate(_ESCAPED)})"
    return f"<FEFF{text.encode('utf-16-be').hex()}>"
