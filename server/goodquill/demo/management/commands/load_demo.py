"""``manage.py load_demo``: the pack, the brokerages and their deals.  The stand-ins have to run."""

from __future__ import annotations

import uuid
from dataclasses import asdict
from datetime import timedelta
from typing import Any

import yaml
from django.conf import settings
from django.core.management.base import BaseCommand, CommandError, CommandParser
from quillcore.facts import Group
from quillcore.facts.edits import Edit, Op
from quillcore.papers.placing import OfficePaper, Placed
from quillcore.values import clock

from goodquill.clauses.actions import add
from goodquill.clients.starting import start_deal
from goodquill.contacts.actions import save_contact
from goodquill.contacts.models import Contact, HomeSeen
from goodquill.deals.edits import edit
from goodquill.deals.models import Deal
from goodquill.deals.requests import DealRequest
from goodquill.demo.clauses import CLAUSES
from goodquill.demo.house import publish_house_templates
from goodquill.demo.world import BROKERAGES, CONTACTS, DEALS, HOMES_SEEN, PASSWORD, DemoDeal
from goodquill.offers.actions import add_offer
from goodquill.offices.models import Brokerage, Membership, Office, User
from goodquill.packs.management.commands.take_in_pack import take_in_path
from goodquill.papers.actions import keep_reading, save_as_form, start_reading
from goodquill.sources import actions as sources
from goodquill.sources import clients
from goodquill.sources.found import home_of
from goodquill.templates.models import Template

PACKS = settings.ROOT / "packs"
PAPER = PACKS / "marrowfinch" / "901"


class Command(BaseCommand):
    """Loads the demo world once, or (``--tell``) prints its sign-ins."""

    help = "Load the demo world"

    def add_arguments(self, parser: CommandParser) -> None:
        """Add one switch."""
        parser.add_argument("--tell", action="store_true")

    def handle(self, *args: Any, **options: Any) -> None:
        """Load or tell."""
        if not options["tell"]:
            self.load()
            return
        for brokerage, sheet in BROKERAGES.items():
            self.stdout.write(f"  {brokerage}")
            for person in sheet["people"]:
                self.stdout.write(f"    {person.email:34} {person.role:12} password {PASSWORD}")

    def load(self) -> None:
        """Load the pack, then people, then deals."""
        first = take_in_path(PACKS / "calloway" / "built")
        people = load_people(first.association)
        for deal in DEALS:
            start(people[deal.owner], deal)
        load_contacts(people)
        take_in_path(
            PACKS / "calloway" / "built-2026-11"
        )  # the deals above keep the editions that they began with
        load_own_paper(people["rosalind@marrowfinch.example"])
        publish_house_templates(people["rosalind@marrowfinch.example"])
        for clause in CLAUSES:
            add(people[clause.owner], asdict(clause) | {"based_on": 0})


def load_own_paper(user: User) -> None:
    """Load the brokerage's own paper: a flat PDF on which blanks and sign spots were placed by hand."""
    reading = start_reading(user, "services-statement.pdf", PAPER.with_suffix(".pdf").read_bytes())
    sheet = yaml.safe_load(PAPER.with_suffix(".yaml").read_text(encoding="utf-8"))
    placed = [Placed.model_validate({**p, "confirmed": True}) for p in sheet["placed"]]
    keep_reading(user, reading.pk, placed, sheet["paper"], reading.version)
    save_as_form(user, reading.pk, OfficePaper.model_validate(sheet["paper"]))


def load_people(association: str) -> dict[str, User]:
    """Load brokerages, offices and members; return members by e-mail."""
    people: dict[str, User] = {}
    for name, sheet in BROKERAGES.items():
        brokerage = Brokerage.objects.create(name=name, licence=sheet["licence"])
        offices = {
            n: Office.objects.create(
                brokerage=brokerage, name=n, address=a, phone=p, code=f"{name[:2].upper()}-{n[0]}00"
            )
            for n, (a, p) in sheet["offices"].items()
        }
        for p in sheet["people"]:
            people[p.email] = User.objects.create_user(
                p.email,
                PASSWORD,
                name=p.name,
                role=p.role,
                brokerage=brokerage,
                office=offices[p.office],
                licence=p.licence,
                listing_code=p.code,
                phone=p.phone,
                confirmed_name=p.name,
                confirmed_licence=p.licence,
            )
            expires = clock.today() + timedelta(days=90)
            if p.name == sheet["broker"]:
                brokerage.broker = people[p.email]
                brokerage.save(update_fields=["broker"])
            Membership.objects.create(
                user=people[p.email],
                association=association,
                number=p.member_number,
                licence=p.licence,
                active=True,
                expires=expires,
            )
    return people


def load_contacts(people: dict[str, User]) -> None:
    """Return contacts of the members, and homes that a client has seen."""
    for email, contacts in CONTACTS.items():
        for kind, shared, fields in contacts:
            save_contact(people[email], kind, fields, shared)
    for name, numbers in HOMES_SEEN.items():
        client = Contact.objects.get(name=name)
        for days, number in enumerate(numbers, 1):
            found = clients.listing_numbered(number)
            assert not isinstance(found, clients.Trouble), found
            HomeSeen.objects.create(
                contact=client, seen_on=clock.today() - timedelta(days=2 * days), **home_of(found[0])
            )


def start(user: User, demo: DemoDeal) -> None:
    """Start one deal, as far as it has come."""
    template = Template.objects.filter(slug=demo.template).first() if demo.template else None
    clients_named = [
        (
            {"given": g, "family": f, "email": f"{g.split()[0].lower()}.{n}@post.example"}
            if g
            else {"entity_name": f, "email": "office@ridgeline.example"}
        )
        for n, (g, f) in enumerate(demo.clients, 1)
    ]
    deal = start_deal(
        user, {"side": demo.side, "template": template and template.pk, "clients": clients_named}
    )
    if demo.parcel:
        sources.accept(
            DealRequest.own(user, deal.pk),
            sources.look(user, deal.pk, sources.Wanted(parcel=demo.parcel))["id"],
            {},
        )
    if demo.listing is not None:
        found = clients.listings("1 eq 1", top=60)
        if isinstance(found, clients.Trouble):
            raise CommandError(found.message)
        number = sorted(str(r["ListingId"]) for r in found)[demo.listing]
        comparison = sources.look(user, deal.pk, sources.Wanted(number))
        sources.accept(DealRequest.own(user, deal.pk), comparison["id"], {})
    edits = [Edit(Op.TYPE, key, text) for key, text in demo.typed.items()]
    if any(key.startswith("sellers.1") for key in demo.typed):
        edits.insert(0, Edit(Op.PARTY_ADD, Group.SELLERS, party=uuid.uuid4().hex[:8]))
    if edits:
        edit(DealRequest.own(user, deal.pk), edits)
    for n, said in enumerate(demo.offers):
        receive(user, deal, said, None if n else deal.offers.get().pk)


def receive(user: User, deal: Deal, said: dict[str, str], offer: int | None) -> None:
    """Receive an offer that came in on a listing: the empty first one, or another."""
    if offer is None:
        offer = add_offer(DealRequest.own(user, deal.pk), "")["head"]["offer"]
    edits: list[Edit] = []
    for n, name in enumerate(said["buyers"].split(", "), 1):
        given, _, family = name.rpartition(" ")
        named = {"entity_name": name} if family == "LLC" else {"given": given, "family": family}
        edits.append(Edit(Op.PARTY_ADD, Group.BUYERS, party=uuid.uuid4().hex[:8]))
        edits += [Edit(Op.TYPE, Group.BUYERS.key(n, field), text) for field, text in named.items()]
    edits += [Edit(Op.TYPE, key, text) for key, text in said.items() if key != "buyers"]
    edit(DealRequest.own(user, deal.pk, offer), edits)
