"""The package as a file."""
