"""Any PDF as a form: reading it, suggesting what its blanks ask for, placing them; and papers that came, and
where they belong."""
