"""Everything Good Quill knows about the job: plain Python, bytes in and bytes out.

Rooms, in the order of reading and of allowed imports: values, calendars, money, facts,
formulas, pdf, forms, templates, assembly.  See docs/architecture.md.
"""
