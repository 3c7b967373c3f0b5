"""The append-only record of every deal's facts: who said what, when, from which source."""
