"""The append-only record of facts: steps with what they said and what they did, and what waits for somebody.

A record belongs to a deal today; a template, a signer's answers or a review keep theirs the same way.
"""
