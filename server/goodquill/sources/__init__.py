"""Bringing property in from the listing service and the county roll."""
