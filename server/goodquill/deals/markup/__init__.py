"""A document’s pages worked on by hand: strikeouts, insertions, and places to sign."""
