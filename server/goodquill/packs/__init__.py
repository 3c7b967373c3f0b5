"""Releases of associations' packs, taken in and compared; and who may use which association's forms."""
