"""Signing: who signs what, the round as a machine, marks, the record, the seal, and checking it."""
