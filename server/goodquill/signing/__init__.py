"""Signing: a round's rows, chain, links and letters; below, what agents, signers and the seal need."""
