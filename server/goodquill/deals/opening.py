"""Opening a deal: everything that holds of it in memory, in a fixed number of queries, whatever its age."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import cached_property
from uuid import UUID

from django.db import connection
from django.db.models import QuerySet
from quillcore.assembly import HandChange, Package, PackageDocument, read_change
from quillcore.assembly.added_places import HandSpot, read_spot
from quillcore.facts import Act, Entry, Ledger, Side, Source, load_catalog
from quillcore.facts.edited import EditClash, EditDraft, EditedRecord, TemplateMode
from quillcore.facts.keys import own_key
from quillcore.facts.scopes import belongs_to_offer
from quillcore.forms import Form
from quillcore.forms.vocabulary import FormVocabulary
from quillcore.formulas import target_rule
from quillcore.values import Fault

from goodquill.changelog.entries import Line, Place, build_ledger, newest_lines, place_of
from goodquill.changelog.models import Clash, Draft, Record
from goodquill.changelog.steps import is_known
from goodquill.deals.models import Deal, Document, Offer
from goodquill.forms.queries import forms_by_hash, setting_of
from goodquill.http.endpoints import Refusal
from goodquill.offices.access import known_of, may_lock_answers, may_see_deals, whoever
from goodquill.offices.models import User
from goodquill.storage.locks import hold
from goodquill.storage.prepared import Prepared


def open_deal(user: User, deal: UUID, offer: int | None = None) -> OpenDeal:
    """Return the deal, opened for whoever may see it."""
    return OpenDeal(find_deal(user, deal), offer, reader=user)


def find_deal(user: User, deal: UUID, lock: bool = False, step: UUID | None = None) -> Deal:
    """Return the deal, if the user may see it.  ``lock`` holds its record's row to the end of the
    transaction; of a ``step`` the deal then says whether that was made before (``knows_step``)."""
    if lock:
        hold(Record, deal)
    found = _OPEN_DEALS.first_or_404(*known_of(user), deal, step or _NO_STEP, shape=(user.role,))
    found.knows_step = bool(getattr(found, "known", False))
    return found


def _open_deals(
    user: UUID, brokerage: UUID, office: UUID, deal: UUID, step: UUID, role: str
) -> QuerySet[Deal]:
    rows = Deal.objects.filter(may_see_deals(whoever(user, brokerage, office, role)), pk=deal)
    rows = rows.select_related("record", "owner__office__supervisor", "owner__brokerage__broker", "release")
    return rows.annotate(known=is_known(step))


_OPEN_DEALS = Prepared(_open_deals)
_NO_STEP = UUID(int=0)


def only_a_deal(deal: Deal) -> None:
    """Refuse what isn't done to a template that is being written: offers, properties, clients and stages are
    deals'."""
    if deal.template_id is not None:
        raise Refusal(
            "This is a template, not a deal.", "Start a deal with it; nothing was changed.", "template", 409
        )


@dataclass
class Kept:
    """Everything that holds of a deal, all its offers included.  Reading it costs four queries and no more:
    of the record only the lines that nothing has replaced."""

    offers: list[Offer]
    rows: dict[Place, Line]
    documents: list[Document]
    drafts: list[Draft]
    clashes: list[Clash]

    @classmethod
    def of(cls, deal: Deal) -> Kept:
        """Read it."""
        return cls(
            _OFFERS.rows(deal.pk),
            {place_of(line): line for line in newest_lines(deal.pk)},
            _DOCUMENTS.rows(deal.pk),
            *_waiting(deal),
        )

    def take(self, line: Line) -> None:
        """Take a line that was just written: it stands last, and in its place."""
        self.rows.pop(place_of(line), None)
        self.rows[place_of(line)] = line


_OFFERS = Prepared(lambda deal: Offer.objects.filter(deal=deal, removed=False))
_DOCUMENTS = Prepared(
    lambda deal: Document.objects.filter(deal=deal, removed=False).order_by("position", "pk")
)
_WAITING = """
SELECT 'draft', w.id, w.scope, w.key, w.text, w.by_id, u.name, w.message, w.mend
FROM record_draft w JOIN offices_user u ON u.id = w.by_id WHERE w.record_id = %s
UNION ALL
SELECT 'clash', w.id, w.scope, w.key, w.text, w.by_id, u.name, '', ''
FROM record_clash w JOIN offices_user u ON u.id = w.by_id WHERE w.record_id = %s
"""
"""As text: put together by the ORM each time, this union took a fifteenth of a save, for deals of which most
have neither."""


def _waiting(deal: Deal) -> tuple[list[Draft], list[Clash]]:
    """Return the deal's drafts and clashes, in one query."""
    drafts: list[Draft] = []
    clashes: list[Clash] = []
    with connection.cursor() as cursor:
        cursor.execute(_WAITING, [str(deal.pk), str(deal.pk)])
        for what, pk, scope, key, text, by, name, message, mend in cursor.fetchall():
            said = {"pk": pk, "record_id": deal.pk, "scope": scope, "key": key, "text": text}
            said["by"] = User(pk=UUID(by), name=name)
            if what == "draft":
                drafts.append(Draft(message=message, mend=mend, **said))
            else:
                clashes.append(Clash(**said))
    return drafts, clashes


def hand_changes(document: Document, form: Form) -> tuple[HandChange, ...]:
    """Return what was changed on a document's pages by hand."""
    read = (read_change(row, form.edition) for row in document.by_hand)
    return tuple(change for change in read if not isinstance(change, Fault))


def hand_spots(document: Document, form: Form) -> tuple[HandSpot, ...]:
    """Return the places put on a document's pages by hand."""
    read = (read_spot(row, form.edition) for row in document.spots)
    return tuple(spot for spot in read if not isinstance(spot, Fault))


class OpenDeal:
    """A deal with its record, documents and values, as one of its offers has them: ``offer`` is that one's
    id, without which it is the one in force.  Refuses an offer that the deal doesn't have."""

    def __init__(
        self, deal: Deal, offer: int | None = None, kept: Kept | None = None, reader: User | None = None
    ) -> None:
        self.deal = deal
        self.record = deal.record
        self.side: Side = deal.on
        self.reader = reader
        """The reader: a clash is told to its author in other words than to others."""
        self.moved_letters = False
        """Whether a blank stands otherwise than when the deal was read (see ``states``)."""
        self.kept = kept or Kept.of(deal)
        found = next((o for o in self.kept.offers if (o.in_force if offer is None else o.pk == offer)), None)
        if found is None:
            raise Refusal(
                "This deal has no such offer.", "Nothing was changed. Reload and try again.", "offer", 404
            )
        self.offer: Offer = found
        here = self._here = (None, found.pk)
        self.documents = [d for d in self.kept.documents if d.offer_id in here]
        self.drafts = {d.key: d for d in self.kept.drafts if d.scope in here}
        self.clashes: dict[str, list[Clash]] = {}
        for clash in self.kept.clashes:
            if clash.scope in here:
                self.clashes.setdefault(clash.key, []).append(clash)
        self.forms: dict[str, Form] = self._forms()
        self.vocabulary = FormVocabulary(self.forms)
        self.ledger: Ledger = build_ledger(self.side, self._profile(), self.rows, self.kind_of)

    def with_offer(self, offer: Offer) -> OpenDeal:
        """Return the same deal as another of its offers has it; nothing is read again."""
        return self if offer.pk == self.offer.pk else OpenDeal(self.deal, offer.pk, self.kept, self.reader)

    def with_documents(self, documents: Sequence[Document]) -> OpenDeal:
        """Return the same deal with further documents, which were just written; nothing is read again."""
        every = sorted([*self.kept.documents, *documents], key=lambda d: (d.position, d.pk))
        kept = replace(self.kept, documents=every)
        return OpenDeal(self.deal, self.offer.pk, kept, self.reader)

    def document(self, code: str) -> Document:
        """Return a document of the package that has pages; refuses one that isn't there any more."""
        found = next((d for d in self.documents if d.code == code), None)
        if found is None or code not in self.forms:
            raise Refusal(
                "This document is no longer in the package.", "Reload and try again.", "document", 404
            )
        return found

    @property
    def next_position(self) -> int:
        """The position for another document: behind all that are there, whichever offer's. One that comes
        back by undo goes before what took its place meanwhile, being older."""
        return max((d.position for d in self.kept.documents), default=-1) + 1

    def in_force(self) -> OpenDeal:
        """Return the deal as the offer in force has it."""
        return self.with_offer(next(o for o in self.kept.offers if o.in_force))

    def read_again(self, offer: int | None) -> OpenDeal:
        """Return the deal as it is now, after its documents or offers changed."""
        self.deal.refresh_from_db(fields=["name", "name_typed", "stage", "release"])
        return OpenDeal(self.deal, offer, reader=self.reader)

    def _forms(self) -> dict[str, Form]:
        pairs = {
            d.code: (d.edition_id, d.mapping_id) for d in self.documents if d.edition_id and d.mapping_id
        }
        found = forms_by_hash(pairs.values())
        return {code: found[pair].seen_from(self.side) for code, pair in pairs.items()}

    def _profile(self) -> list[Entry]:
        """Return the agent's own particulars, read live: what an unanswered agent blank shows."""
        agent, state = self.deal.owner, str(self.deal.release.sheet.get("state", ""))
        office, firm, supervisor, broker = (
            agent.office,
            agent.brokerage,
            agent.office.supervisor,
            agent.brokerage.broker,
        )
        said = {
            "name": agent.name,
            "licence": agent.licence_in(state),
            "code": agent.listing_code,
            "email": agent.email,
            "phone": agent.phone,
        }
        said |= {
            "firm": firm.name,
            "firm_licence": firm.licence,
            "firm_address": office.address,
            "firm_phone": office.phone,
        }
        said |= {"branch": office.name, "branch_code": office.code}
        if broker is not None:
            said |= {
                "broker": broker.name,
                "broker_licence": broker.licence_in(state),
                "broker_email": broker.email,
                "broker_phone": broker.phone,
            }
        if supervisor is not None:
            said |= {"supervisor": supervisor.name, "supervisor_licence": supervisor.licence_in(state)}
        group = self.side.own_agent
        return [
            Entry(f"{group}.{field}", Act.STATE, 0, Source.PROFILE, text, origin=agent.name)
            for field, text in said.items()
            if text
        ]

    @property
    def waiting(self) -> set[str]:
        """Stored keys that wait for somebody: what was typed can't be read, or two people typed at once."""
        return {*self.drafts, *self.clashes}

    @cached_property
    def package(self) -> Package:
        """Documents that are forms, over the ledger."""
        made = [
            PackageDocument(d.code, form, d.section, d.set_aside, hand_changes(d, form), hand_spots(d, form))
            for d in self.documents
            if (form := self.forms.get(d.code)) is not None
        ]
        expected = [d.expected for d in self.documents if not d.set_aside]
        return Package(made, self.ledger, setting_of(self.deal.release), expected)

    def kind_of(self, key: str) -> str:
        """Return value kind of a stored key."""
        return self.vocabulary.kind_of(key)

    def scope_of(self, key: str) -> int | None:
        """Return where lines of a stored key belong: the offer at hand, or None for the deal itself."""
        own = own_key(key)
        if own is not None:
            document = next((d for d in self.documents if d.code == own.document), None)
            return self.offer.pk if document is not None and document.offer_id else None
        return self.offer.pk if belongs_to_offer(self.ledger.group_shown(key), self.side) else None

    def stored(self, key: str) -> str:
        """Return the stored key of one that a screen names; refuses what there is not."""
        found = self.ledger.stored_key(key)
        if found is None or not self.vocabulary.knows(found):
            raise Refusal(
                f"There is no “{key}” in this deal.", "Nothing was changed. Reload the page.", "unknown key"
            )
        return found

    def version(self, key: str) -> int:
        """Return the newest entry of a stored key; what an edit says it was based on."""
        return self._versions.get(key, 0)

    @property
    def rows(self) -> list[Line]:
        """The lines that hold in this offer, the newest last."""
        return [r for r in self.kept.rows.values() if r.scope in self._here]

    @cached_property
    def _versions(self) -> dict[str, int]:
        return {r.key: r.pk for r in self.rows}

    def core_record(self) -> EditedRecord:
        """Return the same as the core's edits want it."""
        sheet = self.package.sheet
        return EditedRecord(
            self.ledger,
            self.vocabulary,
            self._versions,
            lambda key: sheet.held(key).value,
            self._drafts(),
            self._clashes(),
            self._standing() if self.deal.template_id else None,
        )

    def _standing(self) -> TemplateMode:
        """Return what is otherwise where a template is written: facts may be answered by formulas."""
        catalog = load_catalog()

        def check(key: str, text: str) -> Fault | None:
            if catalog.find(key) is None:
                return Fault("formula", "Only a fact can have a formula.", "Type the answer itself.")
            found = target_rule(key, self.kind_of(key), text, catalog)
            return found if isinstance(found, Fault) else None

        return TemplateMode(check, self.reader is not None and may_lock_answers(self.reader))

    def _drafts(self) -> dict[str, EditDraft]:
        return {key: EditDraft(d.text, d.message, d.mend) for key, d in self.drafts.items()}

    def _clashes(self) -> dict[str, list[EditClash]]:
        return {
            key: [EditClash(c.text, str(c.by_id)) for c in clashes] for key, clashes in self.clashes.items()
        }

    def newest(self) -> dict[Place, Line]:
        """Return the newest lines of all offers, by place."""
        return self.kept.rows

    def append(self, line: Line, core: Entry) -> None:
        """Take in a line that was just written, so that it need not be read again."""
        self.kept.take(line)
        if line.scope not in self._here:
            return
        self._versions[line.key] = line.pk
        self.ledger.add(core)
