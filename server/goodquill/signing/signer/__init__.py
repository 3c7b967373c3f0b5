"""A signer’s own pages: the link, the second step, and everything that is signed there."""
