"""Forms: editions with their blanks, what the blanks mean, and everything that can be wrong with them."""

from quillcore.forms.model import Edition, Field, Form, Mapping, Meaning, form_rules

__all__ = ["Edition", "Field", "Form", "Mapping", "Meaning", "form_rules"]
