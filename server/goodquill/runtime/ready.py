"""Making a worker ready before its first visitor: what takes long once, and is the same for everybody."""

from __future__ import annotations

import gc
import logging
from datetime import date
from decimal import Decimal
from importlib import import_module

from django.db import DatabaseError
from quillcore.calendars import Calendar
from quillcore.facts import load_catalog
from quillcore.formulas import catalog_rules
from quillcore.pdf.typeface import face, widths
from quillcore.values import amount_in_words

from goodquill.forms.catalog import catalog_digest
from goodquill.forms.models import ReleaseForm
from goodquill.forms.queries import forms_of

log = logging.getLogger(__name__)
MOST_FORMS = 300
"""Of the releases taken in last: an association's largest pack has 250."""


def make_ready() -> None:
    """Import addresses and all they need, what sets sheets, the catalog with its formulas, fonts, holidays,
    and the forms in use."""
    import_module("goodquill.runtime.urls")
    import_module("weasyprint")
    catalog_rules(load_catalog())
    catalog_digest()
    for name in ("latin", "all"):
        face(name)
    widths()
    Calendar().closed(date(2027, 1, 1))
    amount_in_words(Decimal(1))
    try:
        forms_of(ReleaseForm.objects.order_by("-release__released", "position")[:MOST_FORMS])
    except DatabaseError:
        log.warning("forms are read when they are asked for: the database isn't there yet")
    # What was read stays for good: looking through all of it for what may go takes a fifth of a second each
    # time, in the middle of somebody's request.
    gc.collect()
    gc.freeze()
