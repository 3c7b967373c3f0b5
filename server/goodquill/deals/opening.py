"""Opening a deal: everything of it in memory, in a fixed number of queries."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property
from typing import Any
from uuid import UUID

from django.db.models import CharField, Value
from django.shortcuts import get_object_or_404
from quillcore.assembly import Document as CoreDocument
from quillcore.assembly import Package
from quillcore.facts import PARTY_GROUPS, Act, Entry, Ledger, Source, load_catalog
from quillcore.facts.catalog import OWN_KEY
from quillcore.facts.parties import is_derived
from quillcore.facts.scopes import belongs_to_offer, own_agent
from quillcore.forms import Form

from goodquill.api import Refusal
from goodquill.deals.models import Deal, Document, Offer
from goodquill.facts.models import Clash, Draft, FactEntry
from goodquill.facts.records import build_ledger
from goodquill.forms.queries import forms_by_hash, setting_of
from goodquill.offices.access import may_see_deals
from goodquill.offices.models import User


def open_deal(user: User, deal: UUID, offer: int | None = None) -> OpenDeal:
    """The deal, opened for whoever may see it."""
    return OpenDeal(find_deal(user, deal), offer, reader=user)


def find_deal(user: User, deal: UUID, lock: bool = False) -> Deal:
    """The deal, if the user may see it.  ``lock`` holds its row to the end of the transaction."""
    rows = Deal.objects.filter(may_see_deals(user)).select_related("owner__office__supervisor", "owner__brokerage__broker", "release", "before")
    if lock:
        # Locked by its key alone, so that two people in one deal wait for each other and for nobody else.
        Deal.objects.select_for_update().filter(pk=deal).values_list("pk").first()
    return get_object_or_404(rows, pk=deal)


@dataclass
class Kept:
    """Everything that is kept of a deal, all its offers included.  Reading it costs four queries and no more."""

    offers: list[Offer]
    rows: list[FactEntry]
    documents: list[Document]
    drafts: list[Draft]
    clashes: list[Clash]

    @classmethod
    def of(cls, deal: Deal) -> Kept:
        """Read it."""
        return cls(
            list(deal.offers.filter(removed=False)),
            list(FactEntry.objects.filter(deal=deal).order_by("pk")),
            list(Document.objects.filter(deal=deal, removed=False).order_by("position", "pk")),
            *_waiting(deal),
        )


def _waiting(deal: Deal) -> tuple[list[Draft], list[Clash]]:
    """The deal's drafts and clashes, in one query: most deals have none of either."""
    shared = ("pk", "offer_id", "key", "text", "by_id", "by__name")
    none = Value("", output_field=CharField())
    drafts = Draft.objects.filter(deal=deal).annotate(what=Value("draft")).values_list("what", *shared, "message", "mend")
    clashes = (
        Clash.objects.filter(deal=deal).annotate(what=Value("clash"), message_=none, mend_=none).values_list("what", *shared, "message_", "mend_")
    )
    found: tuple[list[Draft], list[Clash]] = ([], [])
    for what, pk, offer, key, text, by, name, message, mend in drafts.union(clashes, all=True):
        said = {"pk": pk, "deal": deal, "offer_id": offer, "key": key, "text": text, "by": User(pk=by, name=name)}
        if what == "draft":
            found[0].append(Draft(message=message, mend=mend, **said))
        else:
            found[1].append(Clash(**said))
    return found


class OpenDeal:
    """A deal with its record, documents and values, as one of its offers has them: ``offer`` is that one's id, without
    which it is the one in force.  Refuses an offer that the deal doesn't have."""

    def __init__(self, deal: Deal, offer: int | None = None, kept: Kept | None = None, reader: User | None = None) -> None:
        self.deal = deal
        self.reader = reader
        """Who looks at it: a clash is told to its author in other words than to others."""
        self.kept = kept or Kept.of(deal)
        found = next((o for o in self.kept.offers if (o.in_force if offer is None else o.pk == offer)), None)
        if found is None:
            raise Refusal("This deal has no such offer.", "Look at its offers again; nothing was changed.", "offer", 404)
        self.offer: Offer = found
        here = (None, found.pk)
        self.rows = [r for r in self.kept.rows if r.offer_id in here]
        self.documents = [d for d in self.kept.documents if d.offer_id in here]
        self.drafts = {d.key: d for d in self.kept.drafts if d.offer_id in here}
        self.clashes: dict[str, list[Clash]] = {}
        for clash in self.kept.clashes:
            if clash.offer_id in here:
                self.clashes.setdefault(clash.key, []).append(clash)
        self.forms: dict[str, Form] = self._forms()
        self.ledger: Ledger = build_ledger(deal.side, self._profile(), self.rows, self.kind_of)

    def with_offer(self, offer: Offer) -> OpenDeal:
        """The same deal as another of its offers has it; nothing is read again."""
        return self if offer.pk == self.offer.pk else OpenDeal(self.deal, offer.pk, self.kept, self.reader)

    def _forms(self) -> dict[str, Form]:
        pairs = {d.code: (d.edition_id, d.mapping_id) for d in self.documents if d.edition_id and d.mapping_id}
        found = forms_by_hash(pairs.values())
        return {code: found[pair].seen_from(self.deal.side) for code, pair in pairs.items()}

    def _profile(self) -> list[Entry]:
        """The agent's own particulars, read live: what an unanswered agent blank shows."""
        agent, group, state = self.deal.owner, own_agent(self.deal.side), str(self.deal.release.sheet.get("state", ""))
        office, firm, supervisor, broker = agent.office, agent.brokerage, agent.office.supervisor, agent.brokerage.broker
        said = {"name": agent.name, "licence": agent.licence_in(state), "code": agent.listing_code, "email": agent.email, "phone": agent.phone}
        said |= {"firm": firm.name, "firm_licence": firm.licence, "firm_address": office.address, "firm_phone": office.phone}
        said |= {"branch": office.name, "branch_code": office.code}
        if broker is not None:
            said |= {"broker": broker.name, "broker_licence": broker.licence_in(state), "broker_email": broker.email, "broker_phone": broker.phone}
        if supervisor is not None:
            said |= {"supervisor": supervisor.name, "supervisor_licence": supervisor.licence_in(state)}
        return [Entry(f"{group}.{field}", Act.STATE, 0, Source.PROFILE, text, origin=agent.name) for field, text in said.items() if text]

    @property
    def waiting(self) -> set[str]:
        """Stored keys that wait for somebody: what was typed can't be read, or two people typed at once."""
        return {*self.drafts, *self.clashes}

    @cached_property
    def package(self) -> Package:
        """Documents that are forms, over the ledger."""
        made = [CoreDocument(d.code, self.forms[d.code], d.section, d.set_aside) for d in self.documents if d.code in self.forms]
        return Package(made, self.ledger, setting_of(self.deal.release))

    @cached_property
    def _own_kinds(self) -> dict[str, dict[str, str]]:
        return {code: form.mapping.own_kinds for code, form in self.forms.items()}

    def kind_of(self, key: str) -> str:
        """Value kind of a stored key; text for what is no longer known, so that nothing kept is ever lost."""
        catalog = load_catalog()
        if m := OWN_KEY.fullmatch(key):
            code, name = m[1], m[2]
            meaning = self.forms[code].mapping.by_id.get(name) if code in self.forms else None
            fact = catalog.find(meaning.fact if meaning and meaning.fact else name)
            return self._own_kinds.get(code, {}).get(name) or (fact.kind if fact else "text")
        fact = catalog.find(key)
        return fact.kind if fact else "text"

    def options_of(self, key: str) -> tuple[str, ...]:
        """What a choice under this key may be."""
        if m := OWN_KEY.fullmatch(key):
            form = self.forms.get(m[1])
            values = tuple(x.value for x in form.mapping.meanings if x.group == m[2] and x.value) if form else ()
            meaning = form.mapping.by_id.get(m[2]) if form else None
            fact = load_catalog().find(meaning.fact if meaning and meaning.fact else m[2])
            return values or (meaning.options if meaning else ()) or (fact.options if fact else ())
        fact = load_catalog().find(key)
        return fact.options if fact else ()

    def offer_of(self, key: str) -> Offer | None:
        """Where entries of a stored key belong: the offer in force, or None for the deal itself."""
        if key.startswith("doc."):
            document = next((d for d in self.documents if d.code == key.split(".")[1]), None)
            return self.offer if document is not None and document.offer_id else None
        if key.startswith("party."):
            code = key.split(".")[1]
            group = next((g for g in PARTY_GROUPS if code in self.package.sheet.party_ids(g)), "")
            return self.offer if group and belongs_to_offer(group, self.deal.side) else None
        return self.offer if belongs_to_offer(key, self.deal.side) else None

    def stored(self, key: str) -> str:
        """The stored key of one that a screen names; refuses what there is not."""
        found = self.package.sheet.stored_key(key)
        if is_derived(key):
            raise Refusal("Names come from the parties.", "Change the party itself; every form follows.", "parties")
        known = found is not None and (load_catalog().find(found) is not None or self._is_own(found))
        if not known or found is None:
            raise Refusal(f"There is no “{key}” in this deal.", "Reload the page; nothing was changed.", "unknown key")
        return found

    def _is_own(self, key: str) -> bool:
        m = OWN_KEY.fullmatch(key)
        if m is None or m[1] not in self.forms:
            return False
        mapping = self.forms[m[1]].mapping
        return m[2] in self._own_kinds[m[1]] or m[2] in mapping.by_id or any(x.fact == m[2] for x in mapping.meanings)

    def version(self, key: str) -> int:
        """The newest entry of a stored key; what an edit says it was based on."""
        return self._versions.get(key, 0)

    @cached_property
    def _versions(self) -> dict[str, int]:
        return {r.key: r.pk for r in self.rows}

    def append(self, row: FactEntry, core: Any) -> None:
        """Take a line that was just written into what is open, so that it need not be read again."""
        self.kept.rows.append(row)
        if row.offer_id not in (None, self.offer.pk):
            return
        self.rows.append(row)
        self._versions[row.key] = row.pk
        self.ledger.add(core)
