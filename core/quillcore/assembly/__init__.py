"""The package: documents over one sheet of facts, their blanks, and the files they make."""

from quillcore.assembly.blanks import Blank, Package, PackageDocument
from quillcore.assembly.continuation_pages import FurtherSpot, continuation, has_continuation
from quillcore.assembly.exchange import read_xfdf, separate_files, write_xfdf
from quillcore.assembly.initialed import drawn
from quillcore.assembly.markup import HandChange, read_change
from quillcore.assembly.output import Assembled, Tag, assemble

__all__ = [
    "Assembled",
    "Blank",
    "FurtherSpot",
    "HandChange",
    "Package",
    "PackageDocument",
    "Tag",
    "assemble",
    "continuation",
    "drawn",
    "has_continuation",
    "read_change",
    "read_xfdf",
    "separate_files",
    "write_xfdf",
]
