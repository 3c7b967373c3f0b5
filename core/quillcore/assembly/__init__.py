"""The package: documents over one sheet of facts, their blanks, and the files they make."""

from quillcore.assembly.blanks import Blank, Document, Package
from quillcore.assembly.exchange import read_xfdf, separate_files, write_xfdf
from quillcore.assembly.output import Assembled, assemble
from quillcore.assembly.sheets import FurtherSpot, continuation, has_continuation

__all__ = [
    "Assembled",
    "Blank",
    "Document",
    "FurtherSpot",
    "Package",
    "assemble",
    "continuation",
    "has_continuation",
    "read_xfdf",
    "separate_files",
    "write_xfdf",
]
