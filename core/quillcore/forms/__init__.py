"""Forms: editions (a PDF and the blanks on it), what each blank means, and the packs they come in."""

from quillcore.forms.model import Edition, Field, Form, Mapping, Meaning, Pack, form_rules, group_of
from quillcore.forms.packs import read_folder, read_pack, read_zip, write_zip

__all__ = ["Edition", "Field", "Form", "Mapping", "Meaning", "Pack", "form_rules", "group_of", "read_folder", "read_pack", "read_zip", "write_zip"]
