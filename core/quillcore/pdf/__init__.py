"""PDF work: measuring and fitting text, laying it over page backgrounds, combining, page pictures."""

from quillcore.pdf.background import Background, Damaged
from quillcore.pdf.combining import FilePart, Mark, Overlay, combine
from quillcore.pdf.fitting import Fit, Frame, SetLine, fit, wrap
from quillcore.pdf.interactive import FieldKind, Interactive, Widget
from quillcore.pdf.renderer import picture, plain_text, print_picture
from quillcore.pdf.widgets import Rect

__all__ = [
    "Background",
    "Damaged",
    "FieldKind",
    "FilePart",
    "Fit",
    "Frame",
    "Interactive",
    "Mark",
    "Overlay",
    "Rect",
    "SetLine",
    "Widget",
    "combine",
    "fit",
    "picture",
    "plain_text",
    "print_picture",
    "wrap",
]
