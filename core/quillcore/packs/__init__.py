"""Packs: an association's forms, templates, rates and holidays as of a release; reading, building and
comparing them.

What each reads in is imported where it is wanted: a pack's sheet alone needs no PDF.
"""
