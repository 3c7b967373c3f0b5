"""Templates as kept."""
