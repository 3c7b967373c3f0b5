"""Forms: editions with their blanks, what the blanks mean, and everything that can be wrong with them."""

from quillcore.forms.model import Field, Form, FormEdition, Mapping, Meaning, form_rules

__all__ = ["Field", "Form", "FormEdition", "Mapping", "Meaning", "form_rules"]
