"""Finished papers: sealed, put in the places of those that were sent, and checked."""
