"""Changing a deal's facts: typed edits, clashes, drafts, undo."""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import Any
from uuid import UUID

from django.db import IntegrityError, transaction
from quillcore.assembly import Blank
from quillcore.facts import PARTY_GROUPS, Act, Entry, Source, load_catalog
from quillcore.facts.catalog import OWN_KEY
from quillcore.facts.pasting import spread
from quillcore.formulas.sheet import MOST_PARTIES
from quillcore.values import EMPTY, KINDS, Fault, Value

from goodquill.api import Refusal, Sent
from goodquill.deals import naming, payload
from goodquill.deals.models import Deal, Document, Offer
from goodquill.deals.opening import OpenDeal, find_deal, open_deal
from goodquill.deals.words import label_of
from goodquill.facts.models import Change, Clash, Draft, FactEntry, Kind
from goodquill.facts.records import restoring, says_the_same, slot, to_core, to_row
from goodquill.offices.models import User

MOST_TEXT = 20_000
"""Characters of a text that can't be read and is kept all the same."""


@dataclass
class Step:
    """One change being made to an opened, locked deal: lines to write, and the stored keys that moved.

    ``asked`` is the offer that the deal is to be shown with; None for the one in force, whichever that becomes.
    """

    opened: OpenDeal
    change: Change
    moved: set[str] = field(default_factory=set)
    documents_moved: bool = False
    left: list[str] = field(default_factory=list)
    retried: bool = False
    asked: int | None = None
    wrote: bool = False

    def write(self, *entries: Entry) -> None:
        """Append entries to the record and to what is open."""
        self.write_rows([to_row(entry, self.opened.kind_of) for entry in entries])

    def write_rows(self, rows: list[FactEntry]) -> None:
        """Append many lines in one statement."""
        for row in rows:
            row.deal, row.change = self.opened.deal, self.change
            if row.offer_id is None:
                row.offer = self.opened.offer_of(row.key)
        self.wrote = self.wrote or bool(rows)
        # MariaDB gives every row of a bulk insert its id by RETURNING.
        for row in FactEntry.objects.bulk_create(rows):
            self.opened.append(row, to_core(row, self.opened.kind_of))
            self.moved.add(row.key)


def begin(user: User, deal_id: UUID, sent: Sent, kind: Kind, said: str = "", offer: int | None = None) -> Step:
    """Lock the deal and start a change to it as one offer has it (none: the one in force); to be called in a transaction.
    A change that is known already gives a step with ``retried``; another one under the same id is refused."""
    deal = find_deal(user, deal_id, lock=True)
    opened = OpenDeal(deal, offer, reader=user)
    change = Change(pk=sent.id, deal=deal, seq=deal.seq + 1, by=user, kind=kind, said=said[:300], digest=sent.digest)
    try:
        with transaction.atomic():
            change.save(force_insert=True)
    except IntegrityError:
        return _repeated(opened, sent, user, offer)
    deal.seq += 1
    return Step(opened, change, asked=offer)


def _repeated(opened: OpenDeal, sent: Sent, user: User, offer: int | None) -> Step:
    """The step of a change that was made before."""
    known = Change.objects.filter(pk=sent.id).first()
    if known is None:
        raise Refusal("This change is being saved already.", "It is safe to try again.", "busy", 409, again=True)
    other = known.deal_id != opened.deal.pk or known.by_id != user.pk or (sent.digest and known.digest and sent.digest != known.digest)
    if other:
        raise Refusal("Something else was sent under this change's id before.", "Reload the page; nothing was changed by this one.", "repeated", 422)
    moved = set(FactEntry.objects.filter(change=known).values_list("key", flat=True))
    return Step(opened, known, moved, bool(known.documents or known.offers or known.head), retried=True, asked=offer)


def finish(step: Step) -> dict[str, Any]:
    """Recompute what depends on the change, store the summary, and give the delta."""
    opened = step.opened
    stale = opened.package.sheet.refresh(step.moved)
    every = list(opened.package.blanks())
    if not step.retried:
        _tell_nothings(step)
        if not opened.deal.name_typed:
            opened.deal.name = naming.proposed_name(opened)[:250]
        opened.deal.words = naming.search_words(opened)
        in_force = opened.with_offer(next(o for o in opened.kept.offers if o.in_force))
        payload.summarise(in_force, every if in_force is opened else in_force.package.blanks())
        opened.deal.save(update_fields=["name", "words", "summary", "seq", "touched"])
        parties = naming.other_names(opened)
        if parties != opened.offer.parties:
            opened.offer.parties = parties
            opened.offer.save(update_fields=["parties"])
    return delta(opened, every, stale, step.documents_moved, step.left) | {"change": step.change.pk, "said": step.change.said}


def _tell_nothings(step: Step) -> None:
    """A step that changed nothing is kept for its id alone, so that History and undo have none to speak of."""
    change = step.change
    if change.kind == Kind.EDIT and not step.wrote:
        change.kind = Kind.NOTHING
        change.save(update_fields=["kind"])


def delta(opened: OpenDeal, every: list[Blank], stale: set[str], whole: bool, left: list[str] | None = None) -> dict[str, Any]:
    """What moved: the stale facts, and only the blanks that show or depend on one of them; all where the documents
    themselves moved (``whole``).  ``every`` blank is there to count what is open."""
    blanks = every if whole else opened.package.affected(stale)
    return {
        "head": payload.deal_head(opened),
        "facts": payload.facts_of(opened, None if whole else stale),
        "blanks": [payload.blank_row(opened, b) for b in blanks],
        "documents": payload.documents_of(opened, every),
        "parties": payload.parties_of(opened),
        "suggested": payload.suggested(opened),
        "whole": whole,
        "left": left or [],
    }


@transaction.atomic
def edit(user: User, deal_id: UUID, sent: Sent, edits: list[dict[str, Any]], offer: int | None = None) -> dict[str, Any]:
    """Carry out a batch of edits as one undoable change; see ``EditSerializer`` for what an edit says."""
    step = begin(user, deal_id, sent, Kind.EDIT, ", ".join(dict.fromkeys(label_of(e["key"]) for e in edits)), offer)
    if not step.retried:
        for one in edits:
            _EDITS[one["op"]](step, one, user)
    return finish(step)


def _fresh(step: Step, key: str, one: dict[str, Any], user: User) -> bool:
    """Whether the edit was based on what holds now; otherwise it becomes an open clash, unless both say the same."""
    opened, known = step.opened, one.get("based_on")
    if known is None or opened.version(key) <= known or key in step.moved:
        return True
    theirs = opened.package.sheet.held(one["key"]).value
    text = one.get("text", "")
    if not (text.strip() or theirs is not None) or _says(opened, key, text, theirs):
        return False
    clash, _ = Clash.objects.update_or_create(deal=opened.deal, offer=opened.offer_of(key), key=key, by=user, defaults={"text": text[:MOST_TEXT]})
    others = [c for c in opened.clashes.get(key, []) if c.pk != clash.pk]
    opened.clashes[key] = [*others, clash]
    step.moved.add(key)
    return False


def _says(opened: OpenDeal, key: str, text: str, value: Value | None) -> bool:
    """Whether a typed text says a value."""
    if not text.strip() or value is None:
        return False
    kind = KINDS[opened.kind_of(key)]
    said = _read(opened, key, text)
    return not isinstance(said, Fault) and (said is value or (said is not EMPTY and value is not EMPTY and kind.same(said, value)))


def _read(opened: OpenDeal, key: str, text: str) -> Value | Fault:
    kind = opened.kind_of(key)
    if text.strip().lower() == "none" and kind != "choice":
        return EMPTY
    return KINDS[kind].read(text, opened.options_of(key))


def _guard(step: Step, key: str) -> None:
    held = step.opened.ledger.in_force(key)
    if held is not None and held.locked:
        raise Refusal(f"{label_of(key)} is locked by the brokerage.", "Ask the managing broker to unlock it.", "locked", 403)
    own = OWN_KEY.fullmatch(key)
    who = step.opened.forms[own[1]].mapping.only_answered_by(own[2]) if own and own[1] in step.opened.forms else None
    if who is not None:
        raise Refusal(f"Only {who.replace('.', ' ')} may answer this.", "It is left for them; nothing was changed.", "theirs", 403)


def _type(step: Step, one: dict[str, Any], user: User) -> None:
    opened, text = step.opened, one.get("text", "")
    key = opened.stored(one["key"])
    _guard(step, key)
    if not text.strip():
        _clear(step, one, user)
        return
    if not _fresh(step, key, one, user):
        return
    read = _read(opened, key, text)
    if isinstance(read, Fault):
        _keep_draft(step, key, text, read, user)
        return
    _drop_draft(step, key)
    _settle_clashes(step, key, read)
    holds = opened.package.sheet.held(one["key"])
    if not (holds.source is Source.TYPED and holds.value == read):  # what stands already is not written again
        step.write(Entry(key, Act.STATE, 0, Source.TYPED, read))


def _keep_draft(step: Step, key: str, text: str, fault: Fault, user: User) -> None:
    opened = step.opened
    said = {"text": text[:MOST_TEXT], "message": fault.message[:400], "mend": fault.mend[:400], "by": user}
    draft, _ = Draft.objects.update_or_create(deal=opened.deal, offer=opened.offer_of(key), key=key, defaults=said)
    opened.drafts[key] = draft
    step.moved.add(key)


def _drop_draft(step: Step, key: str) -> bool:
    """Forget what couldn't be read; whether there was such."""
    draft = step.opened.drafts.pop(key, None)
    if draft is None:
        return False
    draft.delete()
    step.moved.add(key)
    return True


def _settle_clashes(step: Step, key: str, chosen: Value | None = None) -> None:
    """Forget the clashes that say just what was chosen; without ``chosen`` all of the key's."""
    opened = step.opened
    settled = [c for c in opened.clashes.get(key, []) if chosen is None or _says(opened, key, c.text, chosen)]
    for clash in settled:
        clash.delete()
    left = [c for c in opened.clashes.pop(key, []) if c not in settled]
    if left:
        opened.clashes[key] = left
    if settled:
        step.moved.add(key)


def _paste(step: Step, one: dict[str, Any], user: User) -> None:
    """What was pasted into one fact, to all facts that it states."""
    catalog = load_catalog()
    said = spread(catalog, one["key"], one.get("text", ""))
    for key, text in said:
        _type(step, {**one, "key": key, "text": text, "based_on": one.get("based_on") if key == one["key"] else None}, user)
    if len(said) > 1:
        step.change.said = f"Pasted {', '.join(label_of(key) for key, _ in said)}"[:300]
        step.change.save(update_fields=["said"])


def _clear(step: Step, one: dict[str, Any], user: User) -> None:
    """Take what was typed back; where it couldn't be read, that alone goes and the value before it holds on."""
    key = step.opened.stored(one["key"])
    _guard(step, key)
    if _drop_draft(step, key) or not _fresh(step, key, one, user):
        return
    if Source.TYPED in step.opened.ledger.beside(key):
        step.write(Entry(key, Act.CLEAR, 0, Source.TYPED))


def _empty(step: Step, one: dict[str, Any], user: User) -> None:
    key = step.opened.stored(one["key"])
    _guard(step, key)
    if _fresh(step, key, one, user):
        _drop_draft(step, key)
        step.write(Entry(key, Act.STATE, 0, Source.TYPED, EMPTY))


def _choose(step: Step, one: dict[str, Any], user: User) -> None:
    key = step.opened.stored(one["key"])
    _guard(step, key)
    source = next((s for s in Source if s.value == one.get("source")), None)
    if one.get("source") and source not in step.opened.ledger.beside(key):
        raise Refusal(f"{label_of(key)} has no value from there.", "Reload the page.", "source")
    _drop_draft(step, key)
    step.write(Entry(key, Act.CHOOSE, 0, source))


def _drop(step: Step, one: dict[str, Any], user: User) -> None:
    _drop_draft(step, step.opened.stored(one["key"]))


def _keep(step: Step, one: dict[str, Any], user: User) -> None:
    """What holds is kept; what others typed at the same time is let go."""
    _settle_clashes(step, step.opened.stored(one["key"]))


def _party_list(step: Step, group: str) -> list[str]:
    if group not in PARTY_GROUPS:
        raise Refusal(f"“{group}” is no group of parties.", "", "party")
    return list(step.opened.package.sheet.party_ids(group))


def say_parties(step: Step, group: str, ids: list[str]) -> None:
    """State a group's parties, in order."""
    entry = Entry(group, Act.STATE, 0, Source.TYPED, ",".join(ids)) if ids else Entry(group, Act.CLEAR, 0, Source.TYPED)
    step.write(entry)
    step.opened.package.sheet.refresh([group])


def _party_add(step: Step, one: dict[str, Any], user: User) -> None:
    ids, party = _party_list(step, one["key"]), one.get("party", "")
    if not (party.isascii() and party.isalnum()) or not 4 <= len(party) <= 12:
        raise Refusal("A party needs an id of 4 to 12 letters and digits.", "Reload the page.", "party")
    if len(ids) >= MOST_PARTIES:
        raise Refusal(f"A side has {MOST_PARTIES} parties at most.", "", "party")
    if party not in ids:
        say_parties(step, one["key"], [*ids, party])


def _party_remove(step: Step, one: dict[str, Any], user: User) -> None:
    ids = _party_list(step, one["key"])
    say_parties(step, one["key"], [i for i in ids if i != one.get("party")])


def _party_order(step: Step, one: dict[str, Any], user: User) -> None:
    ids, wanted = _party_list(step, one["key"]), one.get("text", "").split(",")
    if sorted(ids) != sorted(wanted):
        raise Refusal("The parties have changed meanwhile.", "Look at them again; nothing was changed.", "party", 409)
    say_parties(step, one["key"], wanted)


_EDITS = {
    "type": _type, "paste": _paste, "clear": _clear, "empty": _empty, "choose": _choose, "drop": _drop, "keep": _keep,
    "party_add": _party_add, "party_remove": _party_remove, "party_order": _party_order,
}  # fmt: skip


@transaction.atomic
def undo(user: User, deal_id: UUID, sent: Sent, target: UUID, offer: int | None = None) -> dict[str, Any]:
    """Take a change back, whichever offer it was made in: every key that nobody has touched since is restored, the rest
    are named in ``left``.  Taking an undo back is redoing.  ``offer`` is the one to be shown afterwards."""
    step = begin(user, deal_id, sent, Kind.UNDO, offer=offer)
    if step.retried:
        return finish(step)
    opened = step.opened
    change = Change.objects.filter(pk=target, deal=opened.deal).first()
    if change is None:
        raise Refusal("There is no such change in this deal.", "Nothing was changed.", "undo", 404)
    before: dict[tuple[Any, ...], FactEntry] = {}
    mine: dict[tuple[Any, ...], FactEntry] = {}
    current: dict[tuple[Any, ...], FactEntry] = {}
    for row in opened.kept.rows:
        spot = (row.offer_id, row.key, slot(row))
        if row.change_id == change.pk:
            mine[spot] = row
        elif spot not in mine:
            before[spot] = row
        if spot in mine:
            current[spot] = row
    undos = set(Change.objects.filter(deal=opened.deal, kind__in=(Kind.UNDO, Kind.REDO)).values_list("pk", flat=True))
    restored = []
    for spot, row in current.items():
        # What a later undo brought back is as this change left it: so steps can be taken back one after the other.
        if row.change_id == change.pk or (row.change_id in undos and says_the_same(row, mine[spot])):
            restored.append(restoring(row, before.get(spot)))
        else:
            step.left.append(label_of(row.key))
    if restored:
        step.write_rows(restored)
    _undo_documents(step, change)
    _undo_offers(step, change)
    if change.head:
        change_head(step, change.head)
    redoes = change.kind == Kind.UNDO
    step.change.undoes, step.change.kind = change, Kind.REDO if redoes else Kind.UNDO
    said = change.said.partition(": ")[2] if redoes else change.said
    step.change.said = f"{step.change.get_kind_display()}: {said}"[:300]
    step.change.save(update_fields=["undoes", "said", "kind", "documents", "offers", "head"])
    return finish(step)


def change_head(step: Step, wanted: dict[str, Any]) -> None:
    """Set fields of the deal itself (its name, its stage) and keep what they were."""
    deal = step.opened.deal
    step.change.head = {name: getattr(deal, name) for name in wanted}
    for name, value in wanted.items():
        setattr(deal, name, value)
    deal.save(update_fields=list(wanted))


def _undo_documents(step: Step, change: Change) -> None:
    did = change.documents
    if not did:
        return
    rows = {d.code: d for d in Document.objects.filter(deal=step.opened.deal)}
    for code in did.get("added", []):
        rows[code].removed = True
    for code in did.get("removed", []):
        rows[code].removed = False
    back: dict[str, Any] = {"added": did.get("removed", []), "removed": did.get("added", []), "aside": {}, "came": {}}
    for code, aside in did.get("aside", {}).items():
        back["aside"][code], rows[code].set_aside = rows[code].set_aside, aside
    for code, (edition, mapping) in did.get("came", {}).items():
        back["came"][code] = [rows[code].edition_id, rows[code].mapping_id]
        rows[code].edition_id, rows[code].mapping_id = edition, mapping
    for place, code in enumerate(did.get("order", [])):
        rows[code].position = place
    Document.objects.bulk_update(rows.values(), ["removed", "set_aside", "position", "edition", "mapping"])
    step.change.documents = back
    step.documents_moved = True
    reopen(step)


def _undo_offers(step: Step, change: Change) -> None:
    if change.offers:
        change_offers(step, {int(pk): was for pk, was in change.offers.items()})


def change_offers(step: Step, wanted: dict[int, dict[str, Any]]) -> None:
    """Set fields of offers by id, keep what they were, and read the deal again.  Exactly one offer stays in force, and it
    is never a removed one."""
    deal = step.opened.deal
    offers = {o.pk: o for o in Offer.objects.filter(deal=deal)}
    for pk, values in wanted.items():
        step.change.offers[str(pk)] = {name: getattr(offers[pk], name) for name in values}
        for name, value in values.items():
            setattr(offers[pk], name, value)
    standing = [o for o in offers.values() if not o.removed]
    if [o.in_force for o in standing].count(True) != 1:
        raise Refusal("This deal's offers have changed meanwhile.", "Look at them again; nothing was changed.", "offer", 409)
    Offer.objects.bulk_update(offers.values(), ["name", "in_force", "outcome", "removed"])
    step.documents_moved = True
    if step.asked is not None and offers[step.asked].removed:
        step.asked = None
    reopen(step)


def reopen(step: Step) -> None:
    """Read the deal again after its documents or offers changed."""
    deal: Deal = step.opened.deal
    step.opened = OpenDeal(deal, step.asked, reader=step.opened.reader)


def changes_since(user: User, deal_id: UUID, since: int, offer: int | None = None) -> dict[str, Any]:
    """What others have changed, as one offer has it: the delta over every change after ``since``."""
    opened = open_deal(user, deal_id, offer)
    deal = opened.deal
    later = list(Change.objects.filter(deal=deal, seq__gt=since))
    moved = {r.key for r in opened.rows if r.change_id in {c.pk for c in later}}
    if any(key in PARTY_GROUPS for key in moved):
        moved |= set(PARTY_GROUPS)
    moved |= set(opened.drafts) | set(opened.clashes)
    stale = opened.package.sheet.dependents(moved)
    return delta(opened, list(opened.package.blanks()), stale, any(c.documents or c.offers or c.head for c in later)) | {"change": None, "said": ""}
