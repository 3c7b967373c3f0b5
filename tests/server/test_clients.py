"""Contacts and clients: kept once, used in every deal, and handed on to the next one."""

from __future__ import annotations

import uuid
from datetime import date, timedelta
from typing import Any

import pytest
from django.core.files.uploadedfile import SimpleUploadedFile
from goodquill.clients.models import ClientPaper
from goodquill.contacts.models import Contact
from goodquill.deals.models import Deal

from tests.core.foreign import lined_form
from tests.server.test_service import counted
from tests.server.world import Speaker, World

OFFICER = {
    "given": "Wilhelmina",
    "family": "Strand",
    "company": "Keystone Abstract",
    "email": "w@keystone.example",
    "phone": "555 555 0161",
}


def add(speaker: Speaker, kind: str, shared: bool = False, **fields: str) -> dict[str, Any]:
    answer = speaker.post("/api/contacts", kind=kind, fields_said=fields, shared=shared)
    assert answer.status_code == 201, answer.content
    return dict(answer.json())


def use(speaker: Speaker, contact: str, group: str, **more: str) -> Any:
    return speaker.post(
        f"{speaker.path}/contacts", change=str(uuid.uuid4()), contact=contact, group=group, **more
    )


def names(speaker: Speaker, **query: str) -> list[str]:
    return [c["name"] for c in speaker.get("/api/contacts", **query).json()]


def typed_over(speaker: Speaker, knew: dict[str, Any], shared: bool = True, **fields: str) -> Any:
    """What somebody keeps who has the card open as it was when they ``knew`` it."""
    over = {name: knew[name] for name in ("kind", "fields_said", "shared")}
    said = {"kind": knew["kind"], "shared": shared, "fields_said": {**knew["fields_said"], **fields}}
    return speaker.post(f"/api/contacts/{knew['id']}", **said, over=over)


def test_of_two_with_one_contact_open_neither_takes_back_what_the_other_kept(
    world: World, ines: Speaker
) -> None:
    tom, rosa = Speaker(world.tom), Speaker(world.rosa)
    knew = add(ines, "title", shared=True, **OFFICER)
    theirs = typed_over(tom, knew, phone="555 555 0199").json()
    mine = typed_over(ines, knew, notes="Closes on Fridays")
    assert mine.json()["fields_said"] == {**theirs["fields_said"], "notes": "Closes on Fridays"}
    refused = typed_over(rosa, knew, phone="555 555 0177", shared=False)
    assert (refused.status_code, refused.json()["rule"]) == (409, "changed")
    assert "now it says Phone “(555) 555-0199”." in refused.json()["detail"]
    assert rosa.get(f"/api/contacts/{knew['id']}").json()["fields_said"] == mine.json()["fields_said"]
    same = typed_over(rosa, knew, phone="555-555-0199")
    assert same.json()["fields_said"] == mine.json()["fields_said"], "who types the same is in nobody's way"
    told = typed_over(rosa, mine.json(), phone="555 555 0177", shared=False).json()
    assert (told["fields_said"]["phone"], told["fields_said"]["notes"], told["shared"]) == (
        "(555) 555-0177",
        "Closes on Fridays",
        False,
    )
    answer = ines.post(f"/api/contacts/{knew['id']}", kind="lender", fields_said=OFFICER, shared=False)
    assert answer.json()["kind"] == "lender", "a program that says nothing of what it knew means all of it"


def test_a_contact_is_found_while_typing_and_fills_a_group_of_facts(ines: Speaker) -> None:
    officer = add(ines, "title", **OFFICER)
    assert officer["fields_said"]["phone"] == "(555) 555-0161", "as people write it"
    assert names(ines, find="keyst wilh") == ["Wilhelmina Strand"]
    assert names(ines, find="keyst", kind="lender") == []
    done = use(ines, officer["id"], "title").json()
    assert done["said"] == "Wilhelmina Strand, from contacts"
    assert {k: ines.fact(f"title.{k}")["shown"] for k in ("company", "officer", "email")} == {
        "company": "Keystone Abstract",
        "officer": "Wilhelmina Strand",
        "email": "w@keystone.example",
    }
    lens = ines.get(f"{ines.path}/facts/title.company").json()
    assert lens["history"][0]["origin"] == "contact Wilhelmina Strand"
    ines.undo(done["change"])
    assert ines.fact("title.company")["shown"] == ""


def test_a_contact_becomes_a_party_or_fills_one_in(ines: Speaker) -> None:
    trust = add(ines, "client", company="Voss Family Trust", entity_kind="trust", signer="Lena Voss")
    use(ines, trust["id"], "sellers")
    assert ines.open()["parties"]["sellers"][0]["name"] == "Voss Family Trust"
    party = ines.open()["parties"]["buyers"][0]["id"]
    amara = add(ines, "client", given="Amara", family="Okafor", email="amara@post.example")
    use(ines, amara["id"], "buyers", party=party)
    assert len(ines.open()["parties"]["buyers"]) == 1
    assert ines.fact("buyers.1.email")["shown"] == "amara@post.example"
    assert use(ines, amara["id"], "terms").status_code == 400


@pytest.mark.parametrize(
    "fields, said",
    [({}, "needs a name"), ({"email": "no at sign"}, "e-mail"), ({"given": "A", "phone": "12"}, "phone")],
)
def test_a_contact_that_says_nothing_or_can_not_be_read_is_refused(
    ines: Speaker, fields: dict[str, str], said: str
) -> None:
    answer = ines.post("/api/contacts", kind="client", fields_said=fields)
    assert answer.status_code == 400 and said in answer.json()["detail"].lower()


def test_duplicates_are_noticed_merged_and_parted(ines: Speaker) -> None:
    first = add(ines, "title", **OFFICER)
    second = add(
        ines, "title", given="Wilhelmina", family="Strand", company="Keystone Abstract LLC", licence="T-9"
    )
    assert [(t["name"], t["why"]) for t in second["twins"]] == [("Wilhelmina Strand", "the same name")]
    merged = ines.post(f"/api/contacts/{first['id']}/merge", other=second["id"]).json()
    assert (
        merged["fields_said"]["licence"] == "T-9"
        and "Keystone Abstract LLC" in merged["fields_said"]["notes"]
    )
    assert names(ines, kind="title") == ["Wilhelmina Strand"]
    parted = ines.post(f"/api/contacts/{first['id']}/merge").json()
    assert parted["fields_said"] == first["fields_said"]
    assert len(names(ines, kind="title")) == 2
    assert ines.post(f"/api/contacts/{first['id']}/merge").status_code == 409


def test_keeping_what_is_known_already_makes_no_second_one(ines: Speaker) -> None:
    first = add(ines, "title", **OFFICER)
    again = ines.post("/api/contacts", kind="title", fields_said=OFFICER, unless_known=True).json()
    assert again["id"] == first["id"] and names(ines, kind="title") == ["Wilhelmina Strand"]
    other = ines.post("/api/contacts", kind="lender", fields_said=OFFICER, unless_known=True).json()
    assert other["id"] != first["id"], "of another kind it is another contact"


def test_contacts_come_in_as_files_without_doubling_and_go_out(ines: Speaker) -> None:
    add(ines, "title", **OFFICER)
    sheet = (
        "Name,Email,Category,Phone\nWilhelmina Strand,w@keystone.example,Title company,(555) 555-0199\nOtto"
        " Blume,otto@bank.example,Loan officer,\n"
    )

    def take_in(content: str) -> dict[str, int]:
        return dict(
            ines.client.post(
                "/api/contacts/cards", {"file": SimpleUploadedFile("c.csv", content.encode())}
            ).json()
        )

    assert take_in(sheet) == {"read": 2, "added": 1, "known": 1}
    assert take_in(sheet) == {"read": 2, "added": 0, "known": 2}, "taking it in twice adds nothing"
    assert [c["kind"] for c in ines.get("/api/contacts", find="otto").json()] == ["lender"]
    before = sorted(names(ines))
    cards = ines.get("/api/contacts/cards").content.decode()
    assert cards.count("BEGIN:VCARD") == len(before)
    Contact.objects.all().delete()
    assert take_in(cards)["added"] == len(before)
    assert sorted(names(ines)) == before
    assert "Otto,,Blume" in ines.get("/api/contacts/cards", **{"as": "csv"}).content.decode()
    assert (
        ines.client.post("/api/contacts/cards", {"file": SimpleUploadedFile("c.csv", b"%PDF")}).status_code
        == 400
    )


def test_contacts_are_ones_own_unless_shared(ines: Speaker, world: World) -> None:
    add(ines, "title", **OFFICER)
    add(ines, "lender", shared=True, company="Millrace Bank")
    seen = {who: sorted(names(Speaker(getattr(world, who)))) for who in ("bertil", "tom", "rosa", "nadia")}
    whole = ["Amara Okafor", "Millrace Bank", "Wilhelmina Strand"]
    assert seen == {
        "bertil": ["Millrace Bank"],
        "tom": whole,
        "rosa": whole,
        "nadia": [],
    }, "Tom coordinates Inês's office"


def test_starting_a_deal_keeps_its_clients_once(ines: Speaker, world: World) -> None:
    assert names(ines) == ["Amara Okafor"]
    again = ines.post(
        "/api/deals",
        side="renting",
        clients=[{"given": "Amara", "family": "Okafor"}, {"given": "Chidi", "family": "Okafor"}],
    ).json()
    assert names(ines) == ["Amara Okafor", "Chidi Okafor"]
    amara = Contact.objects.get(name="Amara Okafor")
    assert {d["id"] for d in ines.get(f"/api/contacts/{amara.pk}/record").json()["deals"]} == {
        str(world.deal.pk),
        again["id"],
    }
    ines.post(
        f"/api/contacts/{amara.pk}",
        kind="client",
        fields_said={**amara.fields, "email": "amara@post.example"},
    )
    picked = ines.post("/api/deals", side="buying", clients=[{"contact": str(amara.pk)}]).json()
    assert (
        Speaker(world.ines, Deal.objects.get(pk=picked["id"])).fact("buyers.1.email")["shown"]
        == "amara@post.example"
    )


def keep(speaker: Speaker, number: str) -> Any:
    document = next(d["id"] for d in speaker.open()["documents"] if d["number"] == number)
    return speaker.post(f"{speaker.path}/documents/{document}/keep")


def test_a_clients_papers_show_in_each_of_their_deals(ines: Speaker, world: World) -> None:
    other = Speaker(
        world.ines,
        Deal.objects.get(
            pk=ines.post(
                "/api/deals", side="buying", clients=[{"given": "Amara", "family": "Okafor"}]
            ).json()["id"]
        ),
    )
    assert keep(ines, "101").status_code == 204
    shown = next(d for d in other.open()["documents"] if d["section"] == "Client's papers")
    assert (shown["title"], shown["set_aside"], shown["why"], shown["pages"]) == (
        "Agency Relationships Disclosure",
        True,
        "from Amara Okafor's papers",
        2,
    )
    later = Speaker(
        world.ines,
        Deal.objects.get(
            pk=ines.post(
                "/api/deals", side="buying", clients=[{"given": "Amara", "family": "Okafor"}]
            ).json()["id"]
        ),
    )
    assert [d["title"] for d in later.open()["documents"]] == ["Agency Relationships Disclosure"]
    assert not any(d["section"] == "Client's papers" for d in ines.open()["documents"]), (
        "where it was kept from it stands already"
    )
    ines.type("buyer_agent.name", "Inês the Second")
    keep(ines, "101")
    replaced = [d for d in other.open()["documents"] if d["section"] == "Client's papers"]
    assert len(replaced) == 1 and replaced[0]["edition"] != shown["edition"], (
        "kept again it takes its own place"
    )
    paper = ClientPaper.objects.get()
    assert ines.get(f"/api/client-papers/{paper.pk}").content.startswith(b"%PDF")
    assert Speaker(world.bertil).get(f"/api/client-papers/{paper.pk}").status_code == 404


def test_a_missing_or_ended_representation_agreement_is_advised(ines: Speaker) -> None:
    amara = Contact.objects.get(name="Amara Okafor")

    def advised() -> str:
        return str(ines.get(f"/api/contacts/{amara.pk}/record").json()["advice"])

    assert (
        advised()
        == "No representation agreement with Amara Okafor is on record. Buyer Representation Agreement is"
        " form 110."
    )
    ines.post(f"{ines.path}/package", change=str(uuid.uuid4()), op="add", number="110")
    ines.type("representation.ends", (date.today() - timedelta(days=3)).isoformat())
    assert keep(ines, "110").status_code == 204
    assert "ended on" in advised()
    ines.type("representation.ends", (date.today() + timedelta(days=90)).isoformat())
    keep(ines, "110")
    assert advised() == ""
    kept = ines.get(f"/api/contacts/{amara.pk}/record").json()["papers"][0]
    assert (kept["represents"], kept["ended"], kept["number"]) == (True, False, "110")


def test_a_signed_paper_is_put_on_the_record_as_a_file(ines: Speaker) -> None:
    amara = Contact.objects.get(name="Amara Okafor")
    file = SimpleUploadedFile("signed agreement.pdf", lined_form([("Buyer", "a")]))
    answer = ines.client.post(
        f"/api/contacts/{amara.pk}/record", {"file": file, "represents": "true", "ends": "2030-01-01"}
    )
    assert answer.status_code == 201, answer.content
    record = ines.get(f"/api/contacts/{amara.pk}/record").json()
    assert [(p["title"], p["ends"]) for p in record["papers"]] == [
        ("signed agreement", "2030-01-01")
    ] and record["advice"] == ""
    assert (
        ines.client.post(
            f"/api/contacts/{amara.pk}/record", {"file": SimpleUploadedFile("x.pdf", b"no pdf")}
        ).status_code
        == 400
    )
    paper = record["papers"][0]["id"]
    assert ines.client.delete(f"/api/client-papers/{paper}").status_code == 204
    assert ines.get(f"/api/contacts/{amara.pk}/record").json()["papers"] == []
    assert ines.post(f"/api/client-papers/{paper}").status_code == 204
    assert ines.get(f"/api/contacts/{amara.pk}/record").json()["papers"] == record["papers"]


def test_a_removed_contact_can_be_put_back(ines: Speaker) -> None:
    officer = add(ines, "title", **OFFICER)
    assert ines.client.delete(f"/api/contacts/{officer['id']}").status_code == 204
    assert (names(ines, kind="title"), ines.get(f"/api/contacts/{officer['id']}").status_code) == ([], 404)
    assert ines.post(f"/api/contacts/{officer['id']}/restore").status_code == 204
    assert ines.get(f"/api/contacts/{officer['id']}").json()["name"] == "Wilhelmina Strand"


def test_homes_seen_stand_on_the_record(ines: Speaker) -> None:
    amara = Contact.objects.get(name="Amara Okafor")
    home = {
        "listing": "26-1104",
        "parcel": "3-1",
        "county": "Juniper",
        "address": "44 S Juniper Drive",
        "price": "$398,000",
        "kind": "lease",
        "category": "single-family",
        "seen_on": "2026-11-20",
        "note": "light kitchen",
    }
    made = ines.post(f"/api/contacts/{amara.pk}/homes", **home).json()
    changed = ines.post(f"/api/contacts/{amara.pk}/homes/{made['id']}", **{**home, "note": "no"}).json()
    assert changed["note"] == "no"
    assert [h["address"] for h in ines.get(f"/api/contacts/{amara.pk}/record").json()["homes"]] == [
        "44 S Juniper Drive"
    ]
    assert ines.client.delete(f"/api/contacts/{amara.pk}/homes/{made['id']}").status_code == 204


def test_a_deal_that_fell_through_hands_on_all_that_still_holds(ines: Speaker, world: World) -> None:
    for key, text in {
        "terms.purchase_price": "400,000",
        "terms.closing_date": "+30",
        "terms.loan_type": "FHA",
        "terms.down_payment_percent": "3.5",
        "terms.inspection_days": "12",
        "representation.ends": "2030-01-01",
        "representation.fee_percent": "2.5",
        "lender.company": "Millrace Bank",
        "title.company": "Keystone Abstract",
        "property.city": "Ashgrove",
        "buyers.1.email": "amara@post.example",
        "listing_agent.name": "Desmond Falk",
        "deal.source_of_business": "Open house",
    }.items():
        ines.type(key, text)
    ines.edit(
        {"op": "party_add", "key": "sellers", "party": "abcd1234"},
        {"op": "type", "key": "sellers.1.family", "text": "Voss"},
    )
    answer = ines.post(f"{ines.path}/hand-on", fell_through=True)
    assert answer.status_code == 201, answer.content
    new = Speaker(world.ines, Deal.objects.get(pk=answer.json()["id"]))
    held = {f["key"]: f["shown"] for f in new.open()["facts"]}
    stays = {
        "terms.loan_type": "FHA",
        "terms.down_payment_percent": "3.5%",
        "terms.inspection_days": "12",
        "representation.fee_percent": "2.5%",
        "lender.company": "Millrace Bank",
        "buyers.1.email": "amara@post.example",
        "buyers.1.name": "Amara Okafor",
        "deal.source_of_business": "Open house",
    }
    assert {k: held[k] for k in stays} == stays
    gone = (
        "terms.purchase_price",
        "terms.closing_date",
        "property.city",
        "listing_agent.name",
        "title.company",
    )
    assert {k: held[k] for k in gone} == dict.fromkeys(gone, "")
    assert new.open()["parties"]["sellers"] == []
    assert [d["number"] for d in new.open()["documents"]] == [d["number"] for d in ines.open()["documents"]]
    assert new.fact("terms.loan_years")["source"] == "template"
    assert (new.open()["earlier"]["id"], answer.json()["name"]) == (str(world.deal.pk), "Okafor")
    assert {d["name"]: d["stage"] for d in ines.get("/api/deals").json()} == {
        "Okafor": "filling"
    } or Deal.objects.get(pk=world.deal.pk).stage == "fell through"
    assert ines.post(f"{ines.path}/stage", stage="filling").json()["stage"] == "filling"


def test_what_the_client_signed_is_not_asked_again_on_the_next_home(ines: Speaker, world: World) -> None:
    keep(ines, "101")
    made = ines.post(f"{ines.path}/hand-on", fell_through=False).json()
    documents = Speaker(world.ines, Deal.objects.get(pk=made["id"])).open()["documents"]
    assert [
        (d["number"], d["section"]) for d in documents if d["title"] == "Agency Relationships Disclosure"
    ] == [("", "Client's papers")]


def test_contacts_and_records_take_a_fixed_number_of_queries(ines: Speaker) -> None:
    amara = Contact.objects.get(name="Amara Okafor")

    def several() -> tuple[int, int]:
        return counted(lambda: ines.get("/api/contacts")), counted(
            lambda: ines.get(f"/api/contacts/{amara.pk}/record")
        )

    add(ines, "client", given="Amara", family="Okafor")
    before = several()
    for n in range(12):
        add(ines, "lender", company=f"Bank {n}")
        ines.post("/api/deals", side="buying", clients=[{"contact": str(amara.pk)}])
    assert several() == before and max(before) <= 12


def test_a_deal_starts_with_what_is_known_of_its_clients_and_its_price(ines: Speaker, world: World) -> None:
    made = ines.post(
        "/api/deals",
        side="listing",
        price="412.5k",
        clients=[
            {"entity_name": "Harrow Living Trust", "entity_kind": "trust", "email": "h@post.example"},
            {"given": "Mira", "family": "Harrow", "email": "m@post.example", "phone": "555 555 0101"},
        ],
    ).json()
    started = Speaker(world.ines, Deal.objects.get(pk=made["id"]))
    assert {
        k: started.fact(k)["shown"]
        for k in ("sellers.1.entity_name", "sellers.1.email", "sellers.2.phone", "listing.price")
    } == {
        "sellers.1.entity_name": "Harrow Living Trust",
        "sellers.1.email": "h@post.example",
        "sellers.2.phone": "(555) 555-0101",
        "listing.price": "$412,500.00",
    }
    assert started.open()["parties"]["sellers"][0]["is_entity"]
    row = next(d for d in ines.get("/api/deals").json() if d["id"] == made["id"])
    assert (row["price"], row["priced"]) == ("$412,500.00", "List price")
    assert row["touched_by"] == world.ines.name
    wrong = ines.post("/api/deals", side="renting", price="a lot", clients=[])
    assert wrong.status_code == 400 and wrong.json()["mend"], (
        "a price that can't be read is said, and nothing is begun"
    )
    assert len(ines.get("/api/deals").json()) == 2


@pytest.mark.parametrize(("who", "status"), [("rosa", 201), ("tom", 201), ("bertil", 404), ("nadia", 404)])
def test_a_broker_and_the_offices_coordinator_start_deals_for_an_agent(
    world: World, who: str, status: int
) -> None:
    speaker = Speaker(getattr(world, who))
    answer = speaker.post("/api/deals", side="buying", agent=str(world.ines.pk), clients=[{"family": "Park"}])
    assert answer.status_code == status
    if status == 201:
        deal = Deal.objects.get(pk=answer.json()["id"])
        assert (deal.owner, deal.office) == (world.ines, world.ines.office)
        assert Contact.objects.get(name="Park").owner == world.ines, "the client is the agent's"
        history = Speaker(world.ines, deal).get(f"/api/deals/{deal.pk}/history").json()
        assert history[-1]["said"].startswith("Started the deal for Ines")
    assert str(world.ines.pk) in {a["id"] for a in Speaker(world.rosa).get("/api/members/agents").json()}
    assert [a["id"] for a in Speaker(world.bertil).get("/api/members/agents").json()] == [
        str(world.bertil.pk)
    ]


def test_deals_are_listed_in_parts_and_by_agent(ines: Speaker, world: World, monkeypatch: Any) -> None:
    monkeypatch.setattr("goodquill.deals.queries.MOST_LISTED_DEALS", 2)
    for family in ("Park", "Voss", "Lind"):
        ines.post("/api/deals", side="buying", clients=[{"family": family}])
    seen: list[str] = []
    before = None
    while rows := ines.get("/api/deals", **({"before": before} if before else {})).json():
        seen += [row["name"] for row in rows]
        before = rows[-1]["touched"]
    assert seen == ["Lind", "Voss", "Park", "Okafor"], "each once, those touched last first"
    rosa = Speaker(world.rosa)
    assert rosa.get("/api/deals", agent=str(world.bertil.pk)).json() == []
    assert len(rosa.get("/api/deals", agent=str(world.ines.pk)).json()) == 2
    assert Speaker(world.nadia).get("/api/deals", agent=str(world.ines.pk)).json() == []


def test_contacts_stand_by_surname_are_found_by_kind_and_come_in_parts(
    ines: Speaker, monkeypatch: Any
) -> None:
    add(ines, "title", **OFFICER)
    add(ines, "inspector", given="Zoe", family="Abbot")
    add(ines, "lender", company="Bank of the Bend")
    listed = ["Zoe Abbot", "Bank of the Bend", "Amara Okafor", "Wilhelmina Strand"]
    assert names(ines) == listed
    assert names(ines, find="inspector") == ["Zoe Abbot"]
    monkeypatch.setattr("goodquill.contacts.api.MOST_LISTED_CONTACTS", 3)
    assert [*names(ines), *names(ines, skip="3")] == listed
