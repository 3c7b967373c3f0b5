"""Templates being written: their working copies, what is published of them, and files."""
