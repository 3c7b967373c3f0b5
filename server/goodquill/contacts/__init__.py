"""People and firms worked with again and again; clients and the homes that they have seen."""
