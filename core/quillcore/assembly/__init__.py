"""The package: documents over one sheet of facts, their blanks, and the PDF they make."""

from quillcore.assembly.blanks import Blank, Document, Package
from quillcore.assembly.output import Assembled, assemble

__all__ = ["Assembled", "Blank", "Document", "Package", "assemble"]
