"""The name of a deal, and the texts that a search looks in: address and surname."""

from __future__ import annotations

import re

from quillcore.facts import Group
from quillcore.values import clock

from goodquill.deals.models import LONGEST_WORD, DealWord
from goodquill.deals.opening import OpenDeal

MOST_WORDS = 60
"""Of one deal: those of an address, four parties and some numbers are thirty."""
_WORD = re.compile(r"[^\s,·&;()“”\"]+")


def surnames(opened: OpenDeal) -> str:
    """Return the client's family or entity names, joined with "&"; "" while nobody is named."""
    parties = opened.package.sheet.parties(opened.side.clients)
    return " & ".join(dict.fromkeys(p.fields.get("family") or p.name for p in parties if p.name))


def proposed_name(opened: OpenDeal) -> str:
    """Return "214 N Alder Street · Okafor"; the surname alone until there is an address."""
    held = opened.package.sheet.held("property.street_line")
    line = held.value if isinstance(held.value, str) else ""
    return " · ".join(part for part in (line, surnames(opened)) if part) or "New deal"


def file_name(opened: OpenDeal, what: str = "") -> str:
    """Return what a file that leaves is called, without its ending: what it is, the address, the client and
    the day, so that it is found among a hundred others; the deal's own name while neither is known."""
    held = opened.package.sheet.held("property.street_line")
    line = held.value if isinstance(held.value, str) else ""
    known = [part for part in (line, surnames(opened)) if part] or [opened.deal.name]
    said = ", ".join([*filter(None, [what]), *known, clock.today().isoformat()])
    return re.sub(r"[\\/:*?<>|\"]+", " ", said)[:180]


def other_names(opened: OpenDeal) -> str:
    """Return the other side's joined names in the offer at hand; "" while nobody is named."""
    held = opened.package.sheet.held(opened.side.others.names).value
    return held[:200] if isinstance(held, str) else ""


def search_words(opened: OpenDeal) -> str:
    """Return lower-case words that finding matches: name, address, parties, listing and parcel number."""
    sheet = opened.package.sheet
    keys = (
        "property.one_line",
        *(group.names for group in Group),
        "listing.number",
        "property.parcel_number",
    )
    values = (sheet.held(k).value for k in keys)
    others = (o.parties for o in opened.kept.offers if o.pk != opened.offer.pk)
    return " ".join([opened.deal.name, *(v for v in values if isinstance(v, str)), *others]).lower()[:600]


def words_in(text: str) -> list[str]:
    """Return the words of a text, as deals are found by them; what stands before and after a hyphen too."""
    whole = _WORD.findall(text.lower())
    parts = [part for word in whole for part in word.split("-") if "-" in word and part]
    return list(dict.fromkeys(word[:LONGEST_WORD] for word in (*whole, *parts)))


def keep_words(opened: OpenDeal) -> None:
    """Store the words by which the deal is found, as far as they have changed."""
    deal, words = opened.deal, search_words(opened)
    if words == deal.words:
        return
    before, after = set(words_in(deal.words)[:MOST_WORDS]), set(words_in(words)[:MOST_WORDS])
    deal.words = words
    DealWord.objects.filter(deal=deal, word__in=before - after).delete()
    DealWord.objects.bulk_create(
        [DealWord(deal=deal, brokerage_id=deal.brokerage_id, word=word) for word in sorted(after - before)]
    )
