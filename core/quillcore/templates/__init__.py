"""Templates: reusable packages, and merging them into a deal."""

from quillcore.templates.merging import Merge, merge
from quillcore.templates.model import TemplateContent, TemplateDocument, TemplateTask, read_template

__all__ = ["Merge", "TemplateContent", "TemplateDocument", "TemplateTask", "merge", "read_template"]
