"""A deal's offers: side by side, another one, and which is in force."""
