"""Signatures on a deal's papers: who signs, what stands against it, and places for a pen."""
