"""Measurements: ratios side by side in one run, never absolute promises."""
