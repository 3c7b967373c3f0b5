"""Money sheets of a deal: their lines, other offers and what-ifs beside them, and sums asked backwards."""
