"""Management commands of packs."""
