"""Small simulated outside services: each its own process with its own data in open files."""
