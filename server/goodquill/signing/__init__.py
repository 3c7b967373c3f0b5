"""Who signs what of a deal, what stands against it, and where for a pen."""
