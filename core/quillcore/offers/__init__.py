"""Negotiating: what a turn changes, and the papers that say so."""

from quillcore.offers.turns import Heading, answers_for, may_be_countered, moved, parts_of, stated_in

__all__ = ["Heading", "answers_for", "may_be_countered", "moved", "parts_of", "stated_in"]
