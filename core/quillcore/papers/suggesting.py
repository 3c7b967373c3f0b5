"""Suggesting which fact a blank on somebody else's form asks for: from its name, its tooltip and the words
around it.

Every phrase by which a fact goes (wordings.yaml, and the catalog's labels) is held against what the form
says; what stands nearest counts most.  A suggestion is never more than that: a person confirms it.
"""

from __future__ import annotations

import re
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from functools import cache, lru_cache
from pathlib import Path
from typing import Any, NamedTuple

import yaml
from rapidfuzz import fuzz, process

from quillcore.facts import load_catalog
from quillcore.facts.keys import group_of, name_of
from quillcore.values.structured import digits

WORDINGS = Path(__file__).parent / "wordings.yaml"
LEAST = 0.5
_SPLIT = re.compile(r"[A-Z]+(?![a-z])|[A-Z]?[a-z]+(?:['’]s)?|\d+|#")
_ROLES = ("buyer", "seller", "landlord", "tenant")
_HEADS = (*_ROLES, "listing", "agent", "firm", "broker")
_SECOND = {"second", "co", "spouse", "2nd", "joint"}


class Suggestion(NamedTuple):
    """A fact and how sure it is, from 0 to 1."""

    fact: str
    confidence: float


class SpotSuggestion(NamedTuple):
    """A suggestion of who signs here, and what: signature, initials or date."""

    role: str
    sign: str


@dataclass(frozen=True)
class Evidence:
    """The evidence in a form about one blank. ``left`` is the text before it on its line, nearest last;
    ``section`` the words of roles that head the part of the page it stands in."""

    name: str = ""
    tooltip: str = ""
    left: str = ""
    above: str = ""
    below: str = ""
    section: str = ""
    kind: str = "text"
    options: tuple[str, ...] = ()


class _Phrase(NamedTuple):
    fact: str
    words: frozenset[str]
    role: str  # a party's or agent's own word, which the form has to say somewhere
    party: bool = False


@cache
def _sheet() -> dict[str, Any]:
    found: dict[str, Any] = yaml.safe_load(WORDINGS.read_text(encoding="utf-8"))
    return found


@cache
def _same_word() -> dict[str, str]:
    return {str(other): word for word, others in _sheet()["words"].items() for other in others}


@cache
def _ignored() -> frozenset[str]:
    return frozenset(map(str, _sheet()["ignored"]))


@cache
def _phrases() -> tuple[_Phrase, ...]:
    sheet, out = _sheet(), []
    for key, phrases in sheet["phrases"].items():
        out += [_Phrase(key, frozenset(map(_plain, p.split())), "") for p in phrases]
    for fact in load_catalog():
        group = fact.group
        if (
            group not in sheet["agents"]
            and group not in sheet["roles"].values()
            and group not in ("commission", "estimate")
        ):
            said = tokens(fact.label, _plain) + (["time"] if fact.kind == "time" else [])
            out.append(_Phrase(fact.key, frozenset(said), ""))
    for role, group in sheet["roles"].items():
        out.append(_Phrase(f"{group}.names", frozenset([role]), role, True))
        for field, phrases in sheet["party"].items():
            out += [_Phrase(f"{group}.{field}", frozenset([role, *p.split()]), role, True) for p in phrases]
    for group, roles in sheet["agents"].items():
        for field, phrases in sheet["agent"].items():
            out += [
                _Phrase(f"{group}.{field}", frozenset([role, *p.split()]), role)
                for role in roles
                for p in phrases
            ]
    return tuple(p for p in out if p.words)


@cache
def _vocabulary() -> tuple[str, ...]:
    return tuple(sorted({w for p in _phrases() for w in p.words}))


def _plain(said: str) -> str:
    """Return the word a token stands for: itself, or one that means the same."""
    plain = said.lower().replace("’", "'")
    return _same_word().get(plain, plain)


@lru_cache(maxsize=20_000)
def _word(said: str) -> str:
    """Return the same for a word; one of no meaning to us may be one of ours misspelt."""
    plain = _plain(said)
    if plain in _vocabulary() or len(plain) < 4:
        return plain
    near = process.extractOne(plain, _vocabulary(), scorer=fuzz.ratio, score_cutoff=87)
    return near[0] if near else plain


def tokens(text: str, word: Callable[[str], str] = _word) -> list[str]:
    """Return words of a label or a field's name ("BuyerName_2" gives buyer, name, 2), brought to those the
    phrases use."""
    text = (
        text.replace("e-mail", "email")
        .replace("E-mail", "email")
        .replace("E-Mail", "email")
        .replace("co-", "second ")
        .replace("Co-", "second ")
    )
    found = [word(w) for w in _SPLIT.findall(text)]
    return [w for w in found if w not in _ignored()]


def candidates(evidence: Evidence, most: int = 4) -> list[Suggestion]:
    """Return the likeliest facts, best first; none where nothing is likely enough."""
    if evidence.kind == "signature" or suggest_spot(evidence):
        return []
    if evidence.kind in ("one_of", "choice") and (by_options := _by_options(evidence)):
        return [by_options]
    sources = [(tokens(t), weight) for t, weight in ((evidence.tooltip, 1.0), (evidence.name, 0.95)) if t]
    left = tokens(evidence.left)[-9:]
    sources += [
        (left, 0.95),
        (tokens(evidence.below), 0.6 if left else 0.9),
        (tokens(evidence.above), 0.6 if left else 0.85),
    ]
    sources = [(words, weight) for words, weight in sources if words and not all(w.isdigit() for w in words)]
    if (
        evidence.kind == "check"
    ):  # a lone box stands for something said in a sentence: only a clear match is worth showing
        sources = [(words, weight * 0.8) for words, weight in sources]
    section = [w for w in tokens(evidence.section)[-14:] if w in _HEADS]
    best: dict[str, float] = {}
    for words, weight in sources:
        for fact, score in _scores(tuple(words), tuple(section)):
            before = best.get(fact, 0.0)
            here = score * weight
            best[fact] = max(before, here) + 0.06 * min(before, here)  # two witnesses are better than one
    said = [w for words, _ in sources for w in words]
    ranked = sorted(best.items(), key=lambda pair: (-pair[1], pair[0]))
    return [
        Suggestion(_with_position(fact, said), round(min(score, 0.99), 2))
        for fact, score in ranked[:most]
        if score >= LEAST
    ]


_TWINS = (
    ("buyers", "sellers"),
    ("landlords", "tenants"),
    ("listing_agent", "buyer_agent"),
    ("buyers", "buyer_agent"),
    ("sellers", "listing_agent"),
)
_ALIKE = (
    ("property.one_line", "property.street_line"),
    ("terms.purchase_price", "listing.price"),
    ("terms.closing_date", "terms.possession_date"),
    ("terms.offer_date", "deal.agreement_date"),
    ("terms.acceptance_date", "deal.agreement_date"),
    ("terms.expiry_date", "listing.expiry_date"),
    ("terms.deposit_amount", "terms.additional_deposit"),
    ("terms.loan_amount", "terms.down_payment"),
    ("listing_agent.name", "listing_agent.firm"),
    ("buyer_agent.name", "buyer_agent.firm"),
    ("property.legal_description", "property.subdivision"),
    ("lease.rent", "lease.security_deposit"),
)


def alike(fact: str) -> list[str]:
    """Return facts that are most easily taken for this one: the other side's, the agent's for the party's,
    its nearest kin."""
    group, field = group_of(fact), name_of(fact)
    found = [b if fact == a else a for a, b in _ALIKE if fact in (a, b)]
    if field in ("names", "1.name"):
        found.append(f"{group}.1.name" if field == "names" else f"{group}.names")
    for pair in _TWINS:
        if group not in pair:
            continue
        other = pair[1] if group == pair[0] else pair[0]
        plain = field.removeprefix("1.").replace("names", "name")
        own = (
            field
            if (group.endswith("agent")) == (other.endswith("agent"))
            else plain
            if other.endswith("agent")
            else f"1.{plain}"
        )
        found.append(f"{other}.{own}")
    catalog = load_catalog()
    return [key for key in dict.fromkeys(found) if catalog.find(key) is not None]


@lru_cache(maxsize=5_000)
def _scores(words: tuple[str, ...], section: tuple[str, ...]) -> tuple[tuple[str, float], ...]:
    said = set(words)
    roles = said & {*_ROLES, "listing"}
    best: dict[str, float] = {}
    for phrase in _phrases():
        wanted = phrase.words
        hit = wanted & said
        if not hit:
            continue
        lent = 0
        if phrase.role:
            if phrase.role not in said and (roles or phrase.role not in section):
                continue
            if (
                roles
                - {phrase.role}
                - ({"listing", "seller"} if phrase.fact.startswith("listing_agent") else set())
            ):
                continue  # the words speak of somebody else
            if phrase.party and {"agent", "firm", "broker"} & (said | set(section[-2:] if not roles else ())):
                continue
            lent = len((wanted - said) & set(section))  # the heading says whose part of the page this is
        elif roles - wanted and group_of(phrase.fact) not in ("listing", "terms"):
            continue
        covered = (len(hit) + lent) / len(wanted)
        if covered < 0.99 and not (covered >= 0.75 and len(wanted) >= 4 and not lent):
            continue
        exact = len(hit) / max(len([w for w in said if not w.isdigit()]), 1)
        if lent and exact < 0.5:
            continue  # most of what is said is about something else
        nearness = max(n for n, w in enumerate(words, 1) if w in hit) / len(words)
        score = 0.55 * covered + 0.3 * exact + 0.15 * nearness - 0.08 * lent + 0.015 * len(hit)
        best[phrase.fact] = max(best.get(phrase.fact, 0.0), score)
    return tuple(best.items())


def _with_position(fact: str, words: Sequence[str]) -> str:
    """Return ``buyers.email`` as ``buyers.2.email`` where the form says which; all buyers' names where it
    says none."""
    group, field = group_of(fact), name_of(fact)
    if group not in _sheet()["roles"].values():
        return fact
    number = next((n for w in words if 1 <= (n := digits(w) or 0) <= 6), 0)
    if not number and _SECOND & set(words):
        number = 2
    if field in ("names", "name"):
        return f"{group}.{number}.name" if number else f"{group}.names"
    return f"{group}.{number or 1}.{field}"


def suggest_spot(evidence: Evidence) -> SpotSuggestion | None:
    """Return who signs, where a blank is for a signature, initials, or the date beside a signature."""
    near = (
        [] if tokens(evidence.left) else [evidence.below, evidence.above]
    )  # a label on the line speaks for its blank
    said = [tokens(t) for t in (evidence.tooltip, evidence.name, evidence.left[-60:], *near)]
    sign = "signature" if evidence.kind == "signature" else ""
    for words in said:
        if words and len(words) <= 6 and evidence.kind in ("text", "signature"):
            if "initials" in words:
                sign = "initials"
            elif "signature" in words and "date" in words:
                sign = "date"
            elif "signature" in words and "name" not in words:
                sign = sign or "signature"
        if sign and sign != "signature":
            break
    if not sign:
        return None
    words = [w for part in [*said, tokens(evidence.section)] for w in part]
    role = next((w for w in words if w in _ROLES), "")
    number = next((w for w in words if 1 <= (digits(w) or 0) <= 6), "2" if _SECOND & set(words) else "1")
    if "agent" in words or "broker" in words:
        return SpotSuggestion(
            "listing_agent" if role == "seller" or "listing" in words else "buyer_agent", sign
        )
    return SpotSuggestion(f"{role}.{number}" if role else "", sign)


def _by_options(evidence: Evidence) -> Suggestion | None:
    """Return a choice known by what can be chosen: cash, conventional, FHA are kinds of loan."""
    offered = {o.lower() for o in evidence.options if len(o) > 1}
    best: tuple[float, str] = (0.0, "")
    for fact in load_catalog():
        known = [o.lower() for o in fact.options]
        if len(known) < 3 or len(offered) < 2:
            continue
        hits = sum(
            1 for o in offered if process.extractOne(o, known, scorer=fuzz.token_set_ratio, score_cutoff=85)
        )
        best = max(best, (hits / len(offered), fact.key))
    return Suggestion(best[1], round(0.5 + best[0] * 0.4, 2)) if best[0] >= 0.6 else None
