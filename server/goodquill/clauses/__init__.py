"""Clauses: wording kept by agents, offices and the brokerage, and where it is used."""
