"""An update behind a finished file: further objects, and others in the place of some, as the format has it
for programs that fill in or sign what is there.  An object made from Python costs many times one that is
written as text, and a package that can be filled in on has thousands."""

from __future__ import annotations

import hashlib
from itertools import accumulate

from quillcore.pdf.in_memory import opened


class Update:
    """What is written behind a file of our own making.  Bodies are ASCII, as a file has them."""

    def __init__(self, content: bytes) -> None:
        self.before = opened(content)
        self.content = content
        self.first = int(self.before.trailer.Size)
        self.further: list[str] = []
        self.instead: dict[int, str] = {}

    def add(self, body: str = "") -> str:
        """One more object, which may get its body later; gives what refers to it."""
        self.further.append(body)
        return f"{self.first + len(self.further) - 1} 0 R"

    def put(self, reference: str, body: str) -> None:
        """The body of an object of this update, or of one before in place of its own."""
        number = int(reference.split(" ")[0])
        if number >= self.first:
            self.further[number - self.first] = body
        else:
            self.instead[number] = body

    def written(self) -> bytes:
        """The whole file."""
        instead = sorted(self.instead.items())
        every = [*instead, *enumerate(self.further, self.first)]
        objects = [f"{number} 0 obj\n{body}\nendobj\n" for number, body in every]
        # Bodies are ASCII: a letter is a byte.
        *offsets, table = accumulate(map(len, objects), initial=len(self.content))
        rows = [f"{offset:010d} 00000 n \n" for offset in offsets]
        sections = [f"{number} 1\n{row}" for (number, _), row in zip(instead, rows, strict=False)]
        sections.append(f"{self.first} {len(self.further)}\n{''.join(rows[len(instead) :])}")
        update = "".join([*objects, "xref\n", *sections])
        trailer = self.trailer(hashlib.md5(update.encode("ascii"), usedforsecurity=False).hexdigest())
        return self.content + f"{update}{trailer}startxref\n{table}\n%%EOF\n".encode("ascii")

    def trailer(self, digest: str) -> str:
        """What the whole file is found from; its version is told by a digest of the update."""
        before = self.before.trailer
        root, info = before.Root.objgen[0], before.Info.objgen[0]
        size = self.first + len(self.further)
        at = int(self.content[self.content.rindex(b"startxref") :].split()[1])
        ids = f"/ID [<{bytes(before.ID[0]).hex()}> <{digest}>]"
        return f"trailer\n<< /Size {size} /Root {root} 0 R /Info {info} 0 R /Prev {at} {ids} >>\n"
