"""PDF files in memory.  The library reads and writes a file of the system's by itself; an object of Python's
is asked for each piece, of which a package has ten thousands."""

from __future__ import annotations

import os
from typing import Any, BinaryIO

import pikepdf


def opened(content: bytes) -> pikepdf.Pdf:
    """A file of our own making.  A stranger's is opened in the limited child, which may make no files."""
    made = _file()
    made.write(content)
    made.flush()
    return pikepdf.open(made, access_mode=pikepdf.AccessMode.mmap)


def written(pdf: pikepdf.Pdf, **how: Any) -> bytes:
    """The file's bytes; the same content gives the same ones.  ``how`` are the library's own options."""
    with _file() as made:
        pdf.save(made, deterministic_id=True, **how)
        made.seek(0)
        return made.read()


def _file() -> BinaryIO:
    """A file without a name, which goes when it is closed."""
    return os.fdopen(os.memfd_create("quill"), "w+b")
