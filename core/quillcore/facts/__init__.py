"""Facts: one shared value of a deal under one key, with every source's value side by side."""

from quillcore.facts.catalog import Catalog, Fact, load_catalog
from quillcore.facts.comparison import Row, compare
from quillcore.facts.ledger import Act, Entry, Ledger, Source, Stated
from quillcore.facts.parties import PARTY_GROUPS, Party

__all__ = ["PARTY_GROUPS", "Act", "Catalog", "Entry", "Fact", "Ledger", "Party", "Row", "Source", "Stated", "compare", "load_catalog"]
