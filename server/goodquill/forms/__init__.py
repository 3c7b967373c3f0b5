"""Packs, releases, editions and mappings as kept; page pictures."""
