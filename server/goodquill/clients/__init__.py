"""A client over several deals: their record and papers, starting a deal for them, and one that hands on to
the next."""
