"""Rules about signers, and whether they can sign."""

from __future__ import annotations

import re

from rapidfuzz import fuzz

from quillcore.facts import Group
from quillcore.facts.keys import read_role
from quillcore.facts.owners import read_owners
from quillcore.facts.parties import Party, shared_emails
from quillcore.proofreading.model import Proof, Remarks, RemarkWeight

_ALIKE = 84
"""Of a hundred, above which two names are one person's: "Jon Voss" and "John M Voss" have 87, "Amara Okafor"
and "Emeka Okafor" 75."""
_NO_NAME = re.compile(r"\d|^(buyer|seller|tenant|landlord|test|none|same|see above)\b", re.IGNORECASE)


def _each(proof: Proof) -> list[tuple[Group, int, Party]]:
    return [(g, n, party) for g in proof.groups for n, party in enumerate(proof.parties(g), 1)]


def nobody_named(proof: Proof) -> Remarks:
    """Yield a side that a paper needs, and of whom nobody is named."""
    for group in proof.groups:
        needed = any(
            b.meaning.sign is not None
            and (role := read_role(b.meaning.role or ""))
            and role.party_group is group
            for b in proof.blanks
        )
        if needed and not proof.parties(group):
            yield proof.at(
                "nobody",
                RemarkWeight.MUST,
                group.key(1, "name"),
                f"No {group.one} is named.",
                "Enter the signer's name.",
            )


def without_email(proof: Proof) -> Remarks:
    """Yield a client without an e-mail to sign by."""
    for group, n, party in _each(proof):
        if group is proof.groups[0] and party.name and not party.email:
            yield proof.at(
                "no e-mail",
                RemarkWeight.SHOULD,
                group.key(n, "email"),
                f"{party.name} has no e-mail to sign by.",
                "Ask for one.",
            )


def one_email_for_two(proof: Proof) -> Remarks:
    """Yield two people who would sign by one e-mail, or a party with the agent's own."""
    every = {group.key(n, "email"): party for group, n, party in _each(proof)}
    told: set[str] = set()
    for key, finding in shared_emails(every).items():
        email = every[key].email.casefold()
        if email not in told:
            told.add(email)
            yield proof.at("one e-mail", RemarkWeight.SHOULD, key, finding.message, finding.mend)
    agents = {proof.said(f"{a}.email").casefold() for a in ("listing_agent", "buyer_agent")} - {""}
    for key, party in every.items():
        if party.email and party.email.casefold() in agents:
            yield proof.at(
                "agent's e-mail",
                RemarkWeight.SHOULD,
                key,
                f"{party.name} has an agent's e-mail.",
                "Ask for their own.",
            )


def both_sides(proof: Proof) -> Remarks:
    """Yield one person on both sides, or one agent for both."""
    ours, theirs = (proof.parties(g) for g in proof.groups)
    for party in ours:
        if party.name and any(party.name.casefold() == other.name.casefold() for other in theirs):
            yield proof.at(
                "both sides",
                RemarkWeight.MUST,
                proof.groups[0].key(1, "name"),
                f"{party.name} is named on both sides.",
                "Remove them from one side.",
            )
    agents = [proof.said(f"{a}.name").casefold() for a in ("listing_agent", "buyer_agent")]
    consent = proof.yes("representation.both_sides_consent")
    if agents[0] and agents[0] == agents[1] and not consent:
        yield proof.at(
            "one agent",
            RemarkWeight.SHOULD,
            "representation.both_sides_consent",
            "One agent acts for both sides.",
            "Both sides must agree in writing.",
        )


def entity_without_signer(proof: Proof) -> Remarks:
    """Yield an entity for which nobody signs."""
    for group, n, party in _each(proof):
        if party.is_entity and not party.signer:
            yield proof.at(
                "entity",
                RemarkWeight.MUST,
                group.key(n, "signer"),
                f"Nobody signs for {party.name}.",
                "Enter who signs, and in what capacity.",
            )


def odd_names(proof: Proof) -> Remarks:
    """Yield a name that can't be one, and the same party twice."""
    seen: dict[tuple[Group, str], int] = {}
    for group, n, party in _each(proof):
        if party.name and not party.is_entity and _NO_NAME.search(party.name):
            yield proof.at(
                "name",
                RemarkWeight.SHOULD,
                group.key(n, "name"),
                f"“{party.name}” doesn't look like a name.",
                "Check it.",
            )
        known = (group, party.name.casefold())
        if party.name and known in seen:
            yield proof.at(
                "twice",
                RemarkWeight.MUST,
                group.key(n, "name"),
                f"{party.name} is named twice.",
                "Remove one.",
            )
        seen[known] = n


def recorded_owners(proof: Proof) -> Remarks:
    """Yield a seller or landlord who isn't the recorded owner, and an owner who doesn't sign."""
    line = proof.said("tax.owners")
    group = proof.package.sheet.ledger.side.owners
    parties = [p for p in proof.parties(group) if p.name]
    recorded = read_owners(line) if line else []
    owners = [o.name for o in recorded if o.name]
    if not parties or not owners:
        return
    unnamed = [o.ask for o in recorded if not o.name and o.ask]
    if unnamed and len(parties) < len(recorded):
        yield proof.at(
            "owner unnamed", RemarkWeight.SHOULD, group.key(1, "name"), unnamed[0], "Add them as parties."
        )
    names = [name for p in parties for name in (p.name, p.signer) if name]
    for n, party in enumerate(parties, 1):
        if not any(_alike(name, owner) for name in (party.name, party.signer) if name for owner in owners):
            yield proof.at(
                "owner",
                RemarkWeight.SHOULD,
                group.key(n, "name"),
                f"{party.name} isn't the recorded owner ({line}).",
                "Ask for the deed, or who may sign for the owner.",
            )
    for owner in owners:
        if not any(_alike(name, owner) for name in names):
            yield proof.at(
                "owner missing",
                RemarkWeight.SHOULD,
                group.key(1, "name"),
                f"{owner} is a recorded owner and isn't among the {group}.",
                "Everyone on the deed must sign.",
            )


def _alike(name: str, owner: str) -> bool:
    return fuzz.token_set_ratio(name.casefold(), owner.casefold()) >= _ALIKE


def more_than_lines(proof: Proof) -> Remarks:
    """Yield a remark on more parties than a form has places to sign for: the others sign on further pages."""
    for group in proof.groups:
        count = len(proof.parties(group))
        spots: dict[str, int] = {}
        for blank in proof.blanks:
            role = read_role(blank.meaning.role or "") if blank.meaning.sign == "signature" else None
            if role is not None and role.party_group is group:
                spots[blank.document] = max(spots.get(blank.document, 0), role.position)
        for document, places in spots.items():
            if count > places:
                number = proof.package.by_id[document].form.edition.number
                yield proof.at(
                    "more signers",
                    RemarkWeight.LOOK,
                    group.key(places + 1, "name"),
                    f"{number} has places for {places} {group}; {count - places} more sign on another page.",
                    "Look at that page.",
                )


RULES = (
    nobody_named,
    without_email,
    one_email_for_two,
    both_sides,
    entity_without_signer,
    odd_names,
    recorded_owners,
    more_than_lines,
)
