"""Facts: one shared value of a deal under one key, with every source's value side by side."""

from quillcore.facts.catalog import Catalog, Fact, load_catalog
from quillcore.facts.comparison import Row, compare
from quillcore.facts.keys import Group, Side
from quillcore.facts.ledger import Act, Entry, Ledger, Source, Stated
from quillcore.facts.parties import Party

__all__ = [
    "Act",
    "Catalog",
    "Entry",
    "Fact",
    "Group",
    "Ledger",
    "Party",
    "Row",
    "Side",
    "Source",
    "Stated",
    "compare",
    "load_catalog",
]
