"""Good Quill's server: keeps, guards, serves.  Rooms: offices, forms, templates, deals, facts, sources,
assembly."""
