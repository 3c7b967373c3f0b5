"""Files on disk, locks in the database, and prepared queries."""
