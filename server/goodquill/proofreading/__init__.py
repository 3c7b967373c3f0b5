"""A deal's package proofread: what must, should and might be mended, and what was left with a reason."""
