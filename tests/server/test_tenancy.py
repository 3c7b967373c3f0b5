"""Who may see what: every endpoint of the schema, tried by everybody."""

from __future__ import annotations

import json
import uuid
from functools import cache
from typing import Any
from unittest.mock import patch

import pytest
from goodquill.clauses.actions import add as add_clause
from goodquill.clauses.models import Clause
from goodquill.clients.models import ClientPaper
from goodquill.contacts.models import Contact, HomeSeen
from goodquill.deals.models import Document, Incoming
from goodquill.drafting.actions import begin_template
from goodquill.forms.catalog import catalog_digest
from goodquill.forms.models import Edition, Release, ReleaseForm
from goodquill.mail.models import Letter, LetterState
from goodquill.papers.actions import start_reading
from goodquill.papers.models import Reading
from goodquill.signing.models import Paper, Round, Signer
from goodquill.sources.exports import keep_file
from goodquill.sources.models import Comparison, SourceFile
from goodquill.templates.models import Template
from quillcore.papers.reading import read_form
from rest_framework.test import APIClient

from tests.core.foreign import lined_form
from tests.server.answers import written_schema
from tests.server.world import Speaker, World, new_deal

# Endpoints that speak of one deal: what a stranger's body would say.  Each must answer 404 to whoever may not
# see the deal.
DEAL_BODIES: dict[str, dict[str, Any] | None] = {
    "deal": None,
    "throw_away_deal": None,
    "name_deal": {"change": "{new}", "name": "Mine now"},
    "looks": None,
    "changes": None,
    "history": None,
    "lens": None,
    "earlier": None,
    "holidays": None,
    "package_file": None,
    "document_file": None,
    "edit": {"change": "{new}", "edits": [{"op": "type", "key": "terms.purchase_price", "text": "1"}]},
    "undo": {"change": "{new}", "target": "{new}"},
    "apply_template": {"change": "{new}", "template": "{template}"},
    "change_package": {"change": "{new}", "op": "add", "number": "101"},
    "compare_sources": {"listing": "26-1104"},
    "offers": None,
    "add_offer": {"change": "{new}"},
    "use_contact": {"change": "{new}", "contact": "{contact}", "group": "buyers"},
    "keep_with_client": {},
    "keep_as_contact": {"group": "buyers", "position": 1},
    "hand_on": {"fell_through": True},
    "set_stage": {"stage": "fell through"},
    "change_offer": {"change": "{new}", "op": "declined"},
    "acceptance": None,
    "accept_offer": {"change": "{new}", "day": "2026-11-01", "how": "told"},
    "turns": None,
    "take_turn": {
        "change": "{new}",
        "maker": "sellers",
        "day": "2026-11-01",
        "terms": [{"key": "terms.purchase_price", "text": "1"}],
    },
    "agree_on": {"change": "{new}", "day": "2026-11-01", "how": "told"},
    "change_turn": {
        "change": "{new}",
        "day": "2026-11-01",
        "terms": [{"key": "terms.purchase_price", "text": "1"}],
    },
    "tasks": None,
    "proof": None,
    "who_signs": None,
    "returned": None,
    "record_signed": {"change": "{new}", "ours": "x", "who": ["buyers.1"], "day": "2026-11-01"},
    "deliveries": None,
    "deliver": {
        "papers": ["x"],
        "to": [{"name": "Mine", "email": "mine@now.example"}],
        "subject": "Mine now",
        "how": "link",
    },
    "reckon": {"columns": [{}]},
    "ask_backwards": {
        "column": {},
        "vary": "terms.purchase_price",
        "of": "estimate.proceeds",
        "wanted": "1",
    },
    "continuation_pages": None,
    "leave_remark": {"mark": "x", "reason": "Mine now"},
    "goes_with": None,
    "incoming": None,
    "take_in_paper": {},
    "drop_incoming": None,
    "incoming_picture": None,
    "put_in_place": {
        "change": "{new}",
        "papers": [{"title": "Mine now", "pages": [{"of": "{incoming_file}", "page": 1}]}],
    },
    "change_by_hand": {
        "change": "{new}",
        "op": "add",
        "id": "x",
        "page": 1,
        "text": "Mine now",
        "at": [99, 99],
    },
    "spots": None,
    "change_spots": {
        "change": "{new}",
        "op": "put",
        "spots": [{"id": "x", "page": 1, "rect": [9, 9, 99, 30], "what": "signature", "who": "buyers.1"}],
    },
    "deal_as_template": None,
    "change_task": {"change": "{new}", "op": "add", "what": "Mine now"},
    "deal_calendar": None,
    "bring_in": {"change": "{new}", "comparison": "{comparison}"},
}
# Endpoints that anybody signed in may call, and get only what is theirs (checked below or shared by all
# members).
OPEN_TO_MEMBERS = {
    "signed_in",
    "deals",
    "start_deal",
    "forms",
    "form",
    "layout",
    "dues",
    "calendar",
    "feed",
    "renew_feed",
    "end_feed",
    "templates",
    "move_templates_on",
    "begin_template",
    "read_template",
    "find_property",
    "counties",
    "page_picture",
    "page_words",
    "keep_favourite",
    "catalog",
    "bindable",
    "memberships",
    "check_membership",
    "forgotten_number",
    "readings",
    "read_paper",
    "releases",
    "read_release",
    "release_changes",
    "release_file",
    "use_release",
    "read_source_file",
    "property_report",
    "profile",
    "save_profile",
    "save_brokerage",
    "property_report_file",
    "contacts",
    "clauses",
    "add_clause",
    "agents",
    "add_contact",
    "contacts_file",
    "take_in_contacts",
    "rounds_out",
    "round_news",
    "told_of_rounds",
    "say_told_of_rounds",
    "own_sessions",
    "end_other_sessions",
    "change_password",
    "second_step",
    "set_up_second_step",
    "end_second_step",
}
# Endpoints that speak of one paper of the brokerage's: 404 to every other brokerage.
PAPER_BODIES: dict[str, dict[str, Any] | None] = {
    "reading": None,
    "reading_picture": None,
    "drop_reading": None,
    "restore_reading": {},
    "keep_reading": {"placed": [], "paper": {"number": "1", "title": "x"}, "based_on": 1},
    "save_reading": {"number": "1", "title": "x"},
    "share_reading": {"shared": True},
}
# Endpoints that speak of one template that a member writes for themselves: 404 to everybody else.
TEMPLATE_BODIES: dict[str, dict[str, Any] | None] = {
    "template": None,
    "template_file": None,
    "remove_template": None,
    "restore_template": {},
    "say_about_template": {"change": "{new}", "name": "X"},
    "publish_template": {"reach": "mine"},
    "try_rule": {"rule": ""},
    "move_template_on": {"change": "{new}"},
    "what_would_move": None,
    "take_over_upstream": {"change": "{new}", "parts": []},
    "try_template": None,
    "try_template_file": None,
}
# Endpoints that speak of one clause that a member keeps for themselves: 404 to everybody else.
CLAUSE_BODIES: dict[str, dict[str, Any] | None] = {
    "clause": None,
    "save_clause": {"name": "X", "wording": "X.", "based_on": 1},
    "remove_clause": None,
    "restore_clause": {},
}
# Endpoints that speak of one round of a deal: 404 to whoever may not see the deal.
ROUND_BODIES: dict[str, dict[str, Any] | None] = {
    "scans": None,
    "signed_by_pen": {"day": "2026-11-01", "scans": []},
    "rounds": None,
    "begin_round": {},
    "round": None,
    "change_round": {"subject": "Mine now"},
    "throw_away_round": None,
    "look_at_round": {},
    "send_round": {"reason": "Mine now"},
    "recall_round": {"said": "Mine now"},
    "remind_signer": {},
    "readdress_signer": {"email": "mine@now.example"},
    "own_signing_link": {},
    "hand_over": {},
    "round_paper": None,
    "round_picture": None,
    "deliver_again": {},
}
# Endpoints of one signer: 404 to everybody without that signer's link, members of the house among them.
SIGNER_BODIES: dict[str, dict[str, Any] | None] = {
    "open_signing_link": {"secret": "0" * 64},
    "signers_round": None,
    "signer_says_code": {"code": "000000"},
    "ask_for_new_link": None,
    "signer_agrees": {},
    "signer_finishes": {},
    "signer_declines": {"said": "Mine now"},
    "signer_wants_paper": {},
    "script_faces": {"name": "A", "initials": "A"},
    "adopt_mark": {"sign": "signature", "mark": {"name": "Mine now", "face": "flowing"}},
    "answer_question": {"paper": "{new}", "key": "x", "text": "Mine now"},
    "sign_places": {"places": ["x"]},
    "signers_paper": None,
    "signers_picture": None,
    "signers_words": None,
    "open_papers": {"secret": "0" * 64},
    "papers_for_you": None,
    "paper_for_you": None,
}
# Endpoints that speak of one file of the brokerage's: 404 to every other brokerage.
FILE_BODIES: dict[str, dict[str, Any] | None] = {
    "source_file": None,
    "map_columns": {"mapping": {"parcel": "PIN"}},
}
# Endpoints that speak of one contact or its papers: 404 to whoever may not see the contact.
HOME = {
    "listing": "",
    "parcel": "",
    "county": "",
    "address": "1 Elm St",
    "price": "",
    "kind": "sale",
    "category": "",
    "seen_on": "2026-11-01",
    "note": "",
}
CONTACT_BODIES: dict[str, dict[str, Any] | None] = {
    "save_contact": {"kind": "client", "fields_said": {"given": "X"}},
    "drop_contact": None,
    "merge_contacts": {"other": "{new}"},
    "add_home": HOME,
    "save_home": HOME,
    "drop_home": None,
    "client_record": None,
    "add_client_paper": {},
    "client_paper": None,
    "drop_client_paper": None,
    "restore_client_paper": {},
    "contact": None,
    "restore_contact": {},
    "contact_history": None,
    "undo_contact_change": {"change": 1},
}
# Endpoints of the broker's alone: 403 to everybody else; of members of another brokerage 404.
BROKERS_BODIES: dict[str, dict[str, Any] | None] = {
    "members": None,
    "require_second_step": {"two_steps": False},
    "see_to_member": {"op": "stop_saving_papers"},
    "invite_member": {
        "email": "mira@office.example",
        "name": "Mira",
        "role": "agent",
        "office": "{branch}",
    },
    "letters": None,
    "send_letter_again": {},
    "end_access": {"to": "{heir}"},
}
# What a deal's own agent and the broker alone may do, also after it was thrown away.
OWNERS_BODIES: dict[str, dict[str, Any] | None] = {"bring_back_deal": {}}
ALL_BODIES = {
    **DEAL_BODIES,
    **PAPER_BODIES,
    **TEMPLATE_BODIES,
    **FILE_BODIES,
    **CLAUSE_BODIES,
    **ROUND_BODIES,
    **SIGNER_BODIES,
    **CONTACT_BODIES,
    **BROKERS_BODIES,
    **OWNERS_BODIES,
}
# ``read_feed`` is known by its secret address alone (tests/server/test_tasks.py), two by a link that
# came by mail (tests/server/test_office.py); ``verify`` speaks of the file alone that it is given.
OPEN_TO_ALL = {
    "session",
    "sign_in",
    "sign_out",
    "read_feed",
    "forgot_password",
    "look_at_link",
    "set_password",
    "verify",
}


def endpoints() -> list[tuple[str, str, str]]:
    return [
        (op["operationId"], method, path)
        for path, methods in written_schema()["paths"].items()
        for method, op in methods.items()
        if "operationId" in op
    ]


def test_no_endpoint_is_unknown_to_this_walk() -> None:
    known = (
        set(DEAL_BODIES)
        | set(PAPER_BODIES)
        | set(TEMPLATE_BODIES)
        | set(FILE_BODIES)
        | set(CLAUSE_BODIES)
        | set(ROUND_BODIES)
        | set(SIGNER_BODIES)
        | set(CONTACT_BODIES)
        | set(BROKERS_BODIES)
        | set(OWNERS_BODIES)
        | OPEN_TO_MEMBERS
        | OPEN_TO_ALL
    )
    assert {name for name, _, _ in endpoints()} == known, "say here who may call a new endpoint"


@cache
def found_in_ours() -> object:
    """What the child finds in a paper, read once: each test rolls back what is made of it."""
    return read_form(lined_form([("Buyer", "a")]))


def reading_of(world: World) -> Reading:
    with patch("goodquill.papers.actions.read_form", lambda _: found_in_ours()):
        return Reading.objects.first() or start_reading(world.ines, "ours.pdf", b"")


def written_by(world: World) -> Template:
    given = {"name": "Ours", "side": "buying"}
    return Template.objects.filter(owner=world.ines).first() or begin_template(world.ines, given)[0]


def file_of(world: World) -> SourceFile:
    return SourceFile.objects.first() or keep_file(world.ines, "roll.csv", b"PIN,Owner\n1-2,OKAFOR AMARA\n")


def incoming_of(world: World) -> Incoming:
    kept = {"by": world.ines, "name": "x.pdf", "content": "0" * 64, "sizes": [[612, 792]], "texts": [""]}
    return world.deal.incoming.first() or Incoming.objects.create(deal=world.deal, **kept)


def clause_of(world: World) -> Clause:
    kept = {"name": "Ours", "wording": "Ours.", "reach": "mine", "approved": False}
    return Clause.objects.filter(owner=world.ines).first() or add_clause(world.ines, kept)


def round_of(world: World) -> Round:
    made = Round.objects.filter(deal=world.deal).first()
    if made is None:
        made = Round.objects.create(deal=world.deal, by=world.ines, subject="Ours", zone="UTC", state="out")
        Paper.objects.create(
            round=made, position=0, document="x", title="Offer", frozen="0" * 64, sizes=[[612, 792]]
        )
        Signer.objects.create(
            round=made, key="buyers.1", turn=1, name="Amara", email="a@post.example", at="asked"
        )
    return made


def letter_of(world: World) -> Letter:
    failed = {
        "state": LetterState.REFUSED,
        "to": "a@b.example",
        "text": "",
        "brokerage": world.ines.brokerage_id,
    }
    return Letter.objects.filter(subject="Ours").first() or Letter.objects.create(subject="Ours", **failed)


def client_of(world: World) -> Contact:
    client = world.deal.clients.get()
    if not client.homes.exists():
        HomeSeen.objects.create(contact=client, address="1 Elm St", seen_on="2026-11-01")
        row = ReleaseForm.objects.all()[0]
        ClientPaper.objects.create(
            contact=client, edition=row.edition, mapping=row.mapping, title="Agreement", by=world.ines
        )
    return client


def walk(speaker: Speaker, world: World, names: set[str]) -> dict[str, int]:
    document = Document.objects.filter(deal=world.deal, edition__isnull=False).first()
    comparison, _ = Comparison.objects.get_or_create(
        deal=world.deal, by=world.ines, defaults={"listing": {"ListingId": "1", "City": "Ashgrove"}}
    )
    assert document is not None
    values = {
        "deal": world.deal.pk,
        "document": document.code,
        "key": "terms.purchase_price",
        "edition": document.edition_id,
        "mapping": document.mapping_id,
        "side": "buying",
        "digest": catalog_digest(),
        "page": 1,
        "sharpness": 110,
        "new": uuid.uuid4(),
        "offer": world.deal.offers.all()[0].pk,
        "turn": 1,
        "template": written_by(world).pk if names <= set(TEMPLATE_BODIES) else world.template.pk,
        "comparison": comparison.pk,
        "reading": reading_of(world).pk,
        "release": Release.objects.all()[0].pk,
        "file": file_of(world).pk,
        "clause": clause_of(world).pk,
        "incoming_file": incoming_of(world).pk,
        "contact": client_of(world).pk,
        "home": client_of(world).homes.get().pk,
        "paper": client_of(world).papers.get().pk,
        "round_id": round_of(world).pk,
        "signer": round_of(world).signers.get().pk,
        "delivery": uuid.uuid4(),
        "recipient": uuid.uuid4(),
        "delivered_file": uuid.uuid4(),
        "paper_id": round_of(world).papers.get().pk,
        "member": world.ines.pk,
        "heir": world.bertil.pk,
        "branch": world.ines.office_id,
        "letter": letter_of(world).pk,
    }
    found = {}
    for name, method, path in endpoints():
        if name not in names:
            continue
        body = json.dumps(ALL_BODIES.get(name) or {})
        for key, value in values.items():
            hole = "{" + key + "}"
            path, body = path.replace(hole, str(value)), body.replace(hole, str(value))
        query = "?since=0&text=alder" if method == "get" else ""
        answer = getattr(speaker.client, method)(
            path + query,
            *([body] if method != "get" else []),
            **({"content_type": "application/json"} if method != "get" else {}),
        )
        found[name] = answer.status_code
    return found


@pytest.mark.parametrize("who", ["nadia", "bertil"])
def test_another_brokerage_and_an_agent_outside_the_team_find_nothing(world: World, who: str) -> None:
    before = world.deal.record.entries.count()
    answers = walk(Speaker(getattr(world, who)), world, set(DEAL_BODIES))
    assert answers == dict.fromkeys(DEAL_BODIES, 404)
    assert world.deal.record.entries.count() == before, "nothing was written"


def test_a_paper_is_its_brokerages_own(world: World) -> None:
    assert walk(Speaker(world.nadia), world, set(PAPER_BODIES)) == dict.fromkeys(PAPER_BODIES, 404)
    assert reading_of(world).version == 1, "nothing was written"
    assert Speaker(world.nadia).get("/api/papers").json() == []


@pytest.mark.parametrize("who", ["nadia", "bertil", "rosa", "tom"])
def test_a_paper_in_work_is_its_uploaders_until_it_is_shared(world: World, who: str) -> None:
    """It may be a client's sealed contract."""
    other, ours = Speaker(getattr(world, who)), reading_of(world)
    assert walk(other, world, set(PAPER_BODIES)) == dict.fromkeys(PAPER_BODIES, 404)
    assert other.get("/api/papers").json() == []
    shared = Speaker(world.ines).post(f"/api/papers/{ours.pk}/share", shared=True).json()
    assert shared["shared"] and shared["mine"]
    of_brokerage = who != "nadia"
    seen = {"reading", "reading_picture"}
    assert walk(other, world, seen) == dict.fromkeys(seen, 200 if of_brokerage else 404)
    assert len(other.get("/api/papers").json()) == of_brokerage
    mine_now = other.post(f"/api/papers/{ours.pk}/share", shared=False)
    assert mine_now.status_code == (403 if of_brokerage else 404), "its uploader decides"
    Speaker(world.ines).post(f"/api/papers/{ours.pk}/share", shared=False)
    assert walk(other, world, seen) == dict.fromkeys(seen, 404)


def test_a_proposed_paper_is_seen_by_whoever_decides_about_it(world: World) -> None:
    ours = reading_of(world)
    Reading.objects.filter(pk=ours.pk).update(proposed_by=world.ines)
    assert Speaker(world.rosa).get(f"/api/papers/{ours.pk}").status_code == 200
    assert Speaker(world.bertil).get(f"/api/papers/{ours.pk}").status_code == 404


@pytest.mark.parametrize("who", ["nadia", "bertil", "rosa", "tom"])
def test_a_template_of_ones_own_is_ones_own(world: World, who: str) -> None:
    written_by(world)
    answers = walk(Speaker(getattr(world, who)), world, set(TEMPLATE_BODIES))
    assert answers == dict.fromkeys(TEMPLATE_BODIES, 404)
    assert written_by(world).name == "Ours", "nothing was written"


@pytest.mark.parametrize("who", ["nadia", "bertil", "rosa", "tom"])
def test_a_clause_of_ones_own_is_ones_own(world: World, who: str) -> None:
    clause_of(world)
    answers = walk(Speaker(getattr(world, who)), world, set(CLAUSE_BODIES))
    assert answers == dict.fromkeys(CLAUSE_BODIES, 404)
    assert clause_of(world).wording == "Ours.", "nothing was written"
    assert Speaker(getattr(world, who)).get("/api/clauses").json() == []


@pytest.mark.parametrize("who", ["nadia", "bertil"])
def test_a_round_is_its_deals_own(world: World, who: str) -> None:
    answers = walk(Speaker(getattr(world, who)), world, set(ROUND_BODIES))
    assert answers == dict.fromkeys(ROUND_BODIES, 404)
    assert Speaker(getattr(world, who)).get("/api/rounds").json() == []
    row = round_of(world)
    assert (row.state, row.subject, row.happenings.count()) == ("out", "Ours", 0), "nothing was written"


@pytest.mark.parametrize("who", ["nadia", "bertil", "ines", "rosa", None])
def test_a_signers_page_is_the_signers_own(world: World, who: str | None) -> None:
    speaker = Speaker(getattr(world, who) if who else None)
    assert walk(speaker, world, set(SIGNER_BODIES)) == dict.fromkeys(SIGNER_BODIES, 404)
    row = round_of(world)
    assert (row.signers.get().at, row.happenings.count()) == ("asked", 0), "nothing was written"


def test_a_source_file_is_its_brokerages_own(world: World) -> None:
    assert walk(Speaker(world.nadia), world, set(FILE_BODIES)) == dict.fromkeys(FILE_BODIES, 404)
    assert walk(Speaker(world.bertil), world, set(FILE_BODIES)) == dict.fromkeys(FILE_BODIES, 200)


@pytest.mark.parametrize("who", ["nadia", "bertil"])
def test_a_contact_with_its_papers_and_homes_is_its_agents_own(world: World, who: str) -> None:
    assert walk(Speaker(getattr(world, who)), world, set(CONTACT_BODIES)) == dict.fromkeys(
        CONTACT_BODIES, 404
    )
    client = client_of(world)
    assert (client.name, client.papers.count(), client.homes.count()) == (
        "Amara Okafor",
        1,
        1,
    ), "nothing was written"


def test_members_are_seen_to_by_their_own_broker_alone(world: World) -> None:
    theirs = {"see_to_member", "send_letter_again", "end_access"}
    for who in ("ines", "tom", "bertil"):
        assert walk(Speaker(getattr(world, who)), world, set(BROKERS_BODIES)) == dict.fromkeys(
            BROKERS_BODIES, 403
        )
    assert walk(Speaker(world.nadia), world, theirs) == dict.fromkeys(theirs, 404)
    assert walk(Speaker(world.rosa), world, set(BROKERS_BODIES)) == dict.fromkeys(BROKERS_BODIES, 200)


def test_a_deal_is_thrown_away_and_brought_back_by_its_agent_and_the_broker_alone(world: World) -> None:
    path = f"/api/deals/{world.deal.pk}"
    assert Speaker(world.tom).client.delete(path).status_code == 403
    assert Speaker(world.ines).client.delete(path).status_code == 204
    assert Speaker(world.ines).get(path).status_code == 404
    assert Speaker(world.ines).get("/api/deals").json() == []
    for who in ("tom", "bertil", "nadia"):
        assert walk(Speaker(getattr(world, who)), world, {"bring_back_deal"}) == {"bring_back_deal": 404}
        assert Speaker(getattr(world, who)).get("/api/deals", thrown_away="true").json() == []
    assert [d["name"] for d in Speaker(world.rosa).get("/api/deals", thrown_away="true").json()] == ["Okafor"]
    assert Speaker(world.ines).post(path).status_code == 200
    assert Speaker(world.ines).get(path).status_code == 200


def test_only_the_broker_takes_a_release_in(world: World) -> None:
    codes = {
        who: Speaker(getattr(world, who)).client.post("/api/releases").status_code
        for who in ("ines", "tom", "rosa")
    }
    assert codes == {"ines": 403, "tom": 403, "rosa": 400}


def test_signed_out_nothing_answers(world: World) -> None:
    names = (
        set(DEAL_BODIES)
        | set(PAPER_BODIES)
        | set(TEMPLATE_BODIES)
        | set(FILE_BODIES)
        | set(ROUND_BODIES)
        | set(CONTACT_BODIES)
        | set(BROKERS_BODIES)
        | set(OWNERS_BODIES)
        | OPEN_TO_MEMBERS
    )
    assert walk(Speaker(None), world, names) == dict.fromkeys(names, 401)


@pytest.mark.parametrize("who", ["ines", "rosa", "tom"])
def test_owner_broker_and_the_offices_coordinator_may_open_it(world: World, who: str) -> None:
    answers = walk(
        Speaker(getattr(world, who)),
        world,
        {"deal", "changes", "history", "lens", "package_file", "document_file"},
    )
    assert set(answers.values()) == {200}


def test_a_team_member_may_open_it(world: World) -> None:
    world.deal.team.add(world.bertil)
    assert Speaker(world.bertil).get(f"/api/deals/{world.deal.pk}").status_code == 200


def test_lists_hold_only_what_is_ones_own(world: World) -> None:
    new_deal(world.nadia, world.template, "Emeka", "Oduya")
    new_deal(world.bertil, world.template, "Zofia", "Kowalczyk")
    names = {
        who: {d["name"] for d in Speaker(getattr(world, who)).get("/api/deals").json()}
        for who in ("ines", "bertil", "tom", "rosa", "nadia")
    }
    assert names == {
        "ines": {"Okafor"},
        "bertil": {"Kowalczyk"},
        "tom": {"Okafor"},
        "rosa": {"Okafor", "Kowalczyk"},
        "nadia": {"Oduya"},
    }
    assert Speaker(world.nadia).get("/api/deals", find="okafor").json() == []


def test_a_brokerages_own_papers_are_closed_to_others(world: World) -> None:
    own = Release.objects.create(
        brokerage=world.ines.brokerage,
        association="Ours",
        released="2026-01-01",
        sheet={},
        digest="x" * 64,
        own_papers=True,
    )
    edition = Edition.objects.create(
        hash="e" * 64,
        number="901",
        title="Ours",
        pages=1,
        page_content="f" * 64,
        data={"topic": "", "sides": [], "released": "2026-01-01"},
        sheet={"released": "2026-01-01"},
    )
    ReleaseForm.objects.create(
        release=own, number="901", position=0, edition=edition, mapping=ReleaseForm.objects.all()[0].mapping
    )
    assert "901" in {f["number"] for f in Speaker(world.ines).get("/api/forms").json()}
    assert "901" not in {f["number"] for f in Speaker(world.nadia).get("/api/forms").json()}
    assert Speaker(world.nadia).get(f"/api/editions/{edition.pk}/pages/1/110.png").status_code == 404
    assert Speaker(world.nadia).get(f"/api/editions/{edition.pk}/words").status_code == 404


def test_signing_in_needs_the_csrf_token_to_write(world: World) -> None:
    strict = APIClient(enforce_csrf_checks=True)
    strict.force_login(world.ines, backend="goodquill.offices.signing_in.Members")
    assert strict.post("/api/deals", {"side": "buying"}, format="json").status_code == 403
