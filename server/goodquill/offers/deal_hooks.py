"""Turns that go along with what is changed on their papers."""

from __future__ import annotations

from goodquill.deals.hooks import SETTLE
from goodquill.offers.taking import settle

SETTLE.append(settle)
