"""The change API: edits, drafts, clashes, retries and undo."""

from __future__ import annotations

import uuid
from datetime import timedelta
from typing import Any

import pytest
from goodquill.changelog.models import Change, FactEntry
from goodquill.clients.starting import start_deal
from goodquill.deals.models import Deal
from quillcore.values.clock import today

from tests.server.world import Speaker, World, new_deal


def test_a_price_moves_everything_that_depends_on_it_and_nothing_else(ines: Speaker) -> None:
    moved = ines.type("terms.purchase_price", "412.5k")
    texts = {(b["key"], b["text"]) for b in moved["blanks"]}
    assert (
        "terms.purchase_price_words",
        "Four Hundred Twelve Thousand Five Hundred and 00/100 Dollars",
    ) in texts
    assert ("terms.loan_amount", "330,000.00") in texts
    assert {b["key"] for b in moved["blanks"] if b["key"].startswith("property.")} == set()
    assert moved["said"] == "Purchase price"
    assert moved["whole"] is False


def test_what_cannot_be_read_is_kept_beside_the_value_in_force(ines: Speaker) -> None:
    ines.type("terms.purchase_price", "400,000")
    moved = ines.type("terms.purchase_price", "abc")
    blank = next(b for b in moved["blanks"] if b["key"] == "terms.purchase_price")
    assert blank["draft"] == {
        "text": "abc",
        "message": "“abc” isn't an amount.",
        "mend": "Type digits, such as 412,500 or 412.5k.",
    }
    assert blank["text"] == "400,000.00", "what held goes on holding"
    assert ines.fact("terms.purchase_price")["draft"]["text"] == "abc", "also after a reload"
    assert ines.type("terms.purchase_price", "410,000")["facts"][0].get("draft") is None
    june = ines.type("terms.offer_date", "31 June")["facts"][0]
    assert (june["draft"]["message"], june["shown"]) == ("June has 30 days, so “31 June” isn't a date.", "")
    dropped = ines.edit({"op": "drop", "key": "terms.offer_date"}).json()
    assert dropped["facts"][0].get("draft") is None


def test_a_name_in_a_script_that_cannot_be_set_is_told_at_entry(ines: Speaker) -> None:
    fact = ines.type("title.company", "東京")["facts"][0]
    assert "can't be printed on the forms yet" in fact["draft"]["message"]


def test_clearing_lets_the_next_source_through_and_none_is_an_answer(ines: Speaker) -> None:
    ines.type("terms.closing_days", "55")
    assert ines.fact("terms.closing_days")["source"] == "typed"
    cleared = ines.edit({"op": "clear", "key": "terms.closing_days"}).json()["facts"]
    assert [(f["shown"], f["source"]) for f in cleared if f["key"] == "terms.closing_days"] == [
        ("40", "template")
    ]
    empty = ines.expanded(ines.edit({"op": "empty", "key": "terms.additional_terms"}))
    assert next(b for b in empty["blanks"] if b["key"] == "terms.additional_terms")["text"] == "None"


def test_a_retry_is_recognised_and_does_nothing_twice(ines: Speaker) -> None:
    change = uuid.uuid4()
    edit = {"op": "type", "key": "terms.purchase_price", "text": "400k"}
    first, second = ines.edit(edit, change=change).json(), ines.edit(edit, change=change).json()
    assert first["head"]["seq"] == second["head"]["seq"]
    assert second["blanks"] == first["blanks"]
    assert FactEntry.objects.filter(key="terms.purchase_price").count() == 1


def test_two_people_on_one_fact_keep_both_values_until_one_is_chosen(world: World, ines: Speaker) -> None:
    rosa = Speaker(world.rosa, world.deal)
    known = ines.fact("terms.purchase_price")["version"]
    ines.type("terms.purchase_price", "400k", based_on=known)
    theirs = rosa.type("terms.purchase_price", "405k", based_on=known)
    fact = theirs["facts"][0]
    assert (fact["shown"], fact["clashes"]) == (
        "$400,000.00",
        [{"text": "405k", "by": "Rosa", "mine": True}],
    ), "the earlier stays in force"
    waits = {
        "what": "clash",
        "key": "terms.purchase_price",
        "label": "Purchase price",
        "typed": "405k",
        "by": "Rosa",
        "prints": "$400,000.00",
    }
    assert theirs["head"]["waiting"] == [waits]
    seen = ines.open()
    blanks = [b for b in seen["blanks"] if b["key"] == "terms.purchase_price" and b["shape"] == "text"]
    assert blanks and all(b["clashes"] == [{"text": "405k", "by": "Rosa", "mine": False}] for b in blanks), (
        "told at the blank, to the other too"
    )
    price = next(f for f in seen["facts"] if f["key"] == "terms.purchase_price")
    settled = ines.type("terms.purchase_price", "405k", based_on=price["version"])
    assert (settled["facts"][0]["shown"], settled["facts"][0]["clashes"], settled["head"]["waiting"]) == (
        "$405,000.00",
        [],
        [],
    )
    same = rosa.type("terms.purchase_price", "$405,000", based_on=known)["facts"]
    assert all(f["clashes"] == [] for f in same), "who types the same is in nobody's way"


def test_a_clash_outlives_empty_saves_and_third_values_until_somebody_decides(
    world: World, ines: Speaker
) -> None:
    rosa, tom = Speaker(world.rosa, world.deal), Speaker(world.tom, world.deal)
    known = ines.fact("terms.purchase_price")["version"]
    ines.type("terms.purchase_price", "400k", based_on=known)
    rosa.type("terms.purchase_price", "405k", based_on=known)
    tom.type("terms.purchase_price", "410k", based_on=known)
    ines.edit({"op": "type", "key": "terms.purchase_price", "text": "$400,000.00"})
    ines.edit({"op": "type", "key": "terms.purchase_price", "text": "401k"})
    assert {(c["by"], c["text"]) for c in ines.fact("terms.purchase_price")["clashes"]} == {
        ("Rosa", "405k"),
        ("Tom", "410k"),
    }
    ines.edit({"op": "keep", "key": "terms.purchase_price"})
    assert (
        ines.fact("terms.purchase_price")["clashes"] == []
        and ines.fact("terms.purchase_price")["shown"] == "$401,000.00"
    )


def test_what_stands_already_is_not_saved_twice(ines: Speaker) -> None:
    ines.type("terms.purchase_price", "400k")
    lines = len(ines.get(f"{ines.path}/history").json())
    ines.type("terms.purchase_price", "400,000")
    ines.edit({"op": "clear", "key": "terms.seller_concessions"})
    assert len(ines.get(f"{ines.path}/history").json()) == lines


def test_a_draft_counts_as_open_and_says_what_is_printed_meanwhile(ines: Speaker) -> None:
    ines.type("terms.purchase_price", "400k")
    before = ines.open()["head"]["open"]
    head = ines.type("terms.purchase_price", "abc12")["head"]
    places = sum(b["key"] == "terms.purchase_price" and b["shape"] != "sign" for b in ines.open()["blanks"])
    assert head["open"] == before + places > before
    assert [(w["what"], w["typed"], w["prints"]) for w in head["waiting"]] == [
        ("draft", "abc12", "$400,000.00")
    ]
    assert ines.get("/api/deals").json()[0]["open"] == head["open"], "the list counts it too"
    emptied = ines.edit({"op": "clear", "key": "terms.purchase_price"}).json()
    assert emptied["head"]["open"] == before and emptied["head"]["waiting"] == []
    assert ines.fact("terms.purchase_price")["shown"] == "$400,000.00", (
        "emptying drops the draft, not the value"
    )


def test_undo_and_redo_are_the_deals_and_not_a_windows(ines: Speaker) -> None:
    ines.type("terms.purchase_price", "400k")
    ines.type("terms.rate_cap", "6")
    assert [ines.open()["head"][n] and ines.open()["head"][n]["said"] for n in ("undo", "redo")] == [
        "Highest interest rate",
        None,
    ]
    ines.undo(ines.open()["head"]["undo"]["id"])
    ines.undo(ines.open()["head"]["undo"]["id"])
    head = ines.open()["head"]
    assert head["undo"] is None or head["undo"]["said"] not in ("Purchase price", "Highest interest rate")
    assert head["redo"]["said"] == "Purchase price"
    ines.undo(head["redo"]["id"])
    assert ines.fact("terms.purchase_price")["shown"] == "$400,000.00"
    head = ines.open()["head"]
    assert (head["undo"]["said"], head["redo"]["said"]) == ("Purchase price", "Highest interest rate")
    ines.type("terms.seller_concessions", "5")
    assert ines.open()["head"]["redo"] is None, "something new was done: there is nothing to do again"


def test_history_says_from_what_to_what(ines: Speaker) -> None:
    ines.type("terms.purchase_price", "400k")
    ines.type("terms.purchase_price", "412,500")
    ines.edit({"op": "clear", "key": "terms.purchase_price"})
    moves = [step["moves"] for step in ines.get(f"{ines.path}/history").json()[:3]]
    said = [(m[0]["label"], m[0]["before"], m[0]["after"]) for m in moves]
    assert said == [
        ("Purchase price", "$412,500.00", ""),
        ("Purchase price", "$400,000.00", "$412,500.00"),
        ("Purchase price", "", "$400,000.00"),
    ]


def test_a_repeated_change_is_answered_and_another_under_its_id_refused(world: World, ines: Speaker) -> None:
    change = uuid.uuid4()
    edit = {"op": "type", "key": "terms.purchase_price", "text": "400k"}
    assert ines.edit(edit, change=change).status_code == ines.edit(edit, change=change).status_code == 200
    other = ines.edit({**edit, "text": "999k"}, change=change)
    assert (other.status_code, other.json()["rule"], other.json()["again"]) == (422, "repeated", False)
    elsewhere = Speaker(world.ines, new_deal(world.ines, world.template, "Bo", "Falk")).edit(
        edit, change=change
    )
    assert elsewhere.status_code == 422
    assert ines.fact("terms.purchase_price")["shown"] == "$400,000.00"


def test_a_deal_is_started_once_however_often_it_is_asked_for(world: World) -> None:
    bare, key = Speaker(world.ines), str(uuid.uuid4())

    def start(side: str) -> Any:
        return bare.client.post(
            "/api/deals",
            {"side": side, "clients": []},
            content_type="application/json",
            headers={"Idempotency-Key": key},
        )

    first, again = start("buying"), start("buying")
    assert first.status_code == again.status_code == 201 and first.json() == again.json()
    assert Deal.objects.filter(owner=world.ines).count() == 2
    assert start("listing").status_code == 422
    assert (
        Speaker(world.bertil)
        .client.post(
            "/api/deals",
            {"side": "buying", "clients": []},
            content_type="application/json",
            headers={"Idempotency-Key": key},
        )
        .json()["id"]
        != first.json()["id"]
    ), "another's key is another's"


def test_a_deals_name_is_changed_and_taken_back(ines: Speaker) -> None:
    named = ines.post(f"{ines.path}/name", change=str(uuid.uuid4()), name="2027-03 Okafor").json()
    assert named["head"]["name"] == "2027-03 Okafor" and named["head"]["name_typed"]
    ines.type("property.street_name", "Alder")
    assert ines.open()["head"]["name"] == "2027-03 Okafor"
    ines.undo(named["change"])
    assert ines.open()["head"]["name"].endswith("Okafor") and not ines.open()["head"]["name_typed"]


def test_others_changes_come_with_their_number(world: World, ines: Speaker) -> None:
    rosa = Speaker(world.rosa, world.deal)
    seq = rosa.open()["head"]["seq"]
    assert rosa.get(f"{rosa.path}/changes", since=seq).status_code == 204
    ines.type("terms.purchase_price", "400k")
    ines.edit({"op": "party_add", "key": "buyers", "party": "abcd1234"})
    news = rosa.get(f"{rosa.path}/changes", since=seq).json()
    assert "terms.loan_amount" in {f["key"] for f in news["facts"]}
    assert len(news["parties"]["buyers"]) == 2
    assert rosa.get(f"{rosa.path}/changes", since="x").status_code == 400
    assert (news["after"], news["until"]) == (seq, news["head"]["seq"])


def test_an_answer_says_which_steps_it_speaks_of(world: World, ines: Speaker) -> None:
    rosa = Speaker(world.rosa, world.deal)
    seq = ines.open()["head"]["seq"]
    rosa.type("terms.inspection_days", "9")
    body = {"op": "type", "key": "terms.purchase_price", "text": "500,000"}
    sent = {"change": str(uuid.uuid4()), "edits": [body]}
    mine = ines.post(f"{ines.path}/changes", **sent).json()
    assert (mine["after"], mine["until"]) == (seq + 1, seq + 2)
    assert "terms.inspection_days" not in {f["key"] for f in mine["facts"]}
    between = ines.get(f"{ines.path}/changes", since=seq).json()
    assert {"terms.inspection_days", "terms.purchase_price"} <= {f["key"] for f in between["facts"]}
    rosa.type("terms.inspection_days", "10")
    again = ines.post(f"{ines.path}/changes", **sent).json()
    assert (again["after"], again["until"], again["head"]["seq"]) == (seq + 1, seq + 2, seq + 3)


def test_undo_restores_what_nobody_has_touched_since_and_names_the_rest(ines: Speaker) -> None:
    ines.type("terms.purchase_price", "400k")
    edits = [
        {"op": "type", "key": "terms.purchase_price", "text": "410k"},
        {"op": "type", "key": "terms.rate_cap", "text": "6"},
    ]
    both = ines.edit(*edits).json()
    ines.type("terms.rate_cap", "6.5")
    undone = ines.undo(both["change"])
    assert undone["left"] == ["Highest interest rate"]
    assert ines.fact("terms.purchase_price")["shown"] == "$400,000.00"
    assert ines.fact("terms.rate_cap")["shown"] == "6.5%"
    again = ines.undo(undone["change"])
    assert again["left"] == []
    assert ines.fact("terms.purchase_price")["shown"] == "$410,000.00", "an undo can be undone"
    assert (
        ines.post(f"{ines.path}/undo", change=str(uuid.uuid4()), target=str(uuid.uuid4())).status_code == 404
    )


def test_parties_are_added_named_ordered_and_removed(ines: Speaker) -> None:
    ines.edit({"op": "party_add", "key": "buyers", "party": "abcd1234"})
    ines.type("buyers.2.given", "Chidi")
    moved = ines.type("buyers.2.family", "Okafor")
    assert {b["text"] for b in moved["blanks"] if b["key"] == "buyers.names"} == {
        "Amara Okafor and Chidi Okafor"
    }
    ids = [p["id"] for p in moved["parties"]["buyers"]]
    swapped = ines.edit({"op": "party_order", "key": "buyers", "text": ",".join(reversed(ids))}).json()
    assert [p["name"] for p in swapped["parties"]["buyers"]] == ["Chidi Okafor", "Amara Okafor"]
    gone = ines.expanded(ines.edit({"op": "party_remove", "key": "buyers", "party": ids[1]}))
    assert {b["text"] for b in gone["blanks"] if b["key"] == "buyers.names"} == {"Amara Okafor"}
    back = ines.undo(gone["change"])
    assert [p["name"] for p in back["parties"]["buyers"]] == [
        "Chidi Okafor",
        "Amara Okafor",
    ], "with all that was known of them"
    assert ines.edit({"op": "party_order", "key": "buyers", "text": "x,y"}).status_code == 409


def test_names_worked_out_from_parties_are_not_typed(ines: Speaker) -> None:
    for key in ("buyers.names", "buyers.1.name", "sellers.count"):
        answer = ines.edit({"op": "type", "key": key, "text": "Somebody"})
        assert (answer.status_code, answer.json()["rule"]) == (400, "parties")
    assert ines.fact("buyers.names")["worked_out"] is True
    assert ines.get(f"{ines.path}/facts/buyers.names").json()["history"] == []


def test_recorded_owners_are_suggested_until_somebody_is_named(ines: Speaker) -> None:
    assert ines.open()["suggested"] == []
    moved = ines.type("tax.owners", "VOSS LENA TR & PARK MIN SEO")
    assert [(s["group"], s["name"], bool(s["findings"])) for s in moved["suggested"]] == [
        ("sellers", "Lena Voss", True),
        ("sellers", "Min Seo Park", True),
    ]
    assert moved["suggested"][0]["fields"] == {"given": "Lena", "family": "Voss", "capacity": "trustee"}
    assert moved["parties"]["sellers"] == [], "suggested, not assumed"
    assert ines.edit({"op": "party_add", "key": "sellers", "party": "abcd1234"}).json()["suggested"] == []


def test_a_spouse_whom_the_roll_does_not_name_stays_until_somebody_is(ines: Speaker) -> None:
    ines.type("tax.owners", "VOSS LENA ET UX")
    ines.type("tax.mailing_address", "9 Mill Ln, Ashgrove, CW 09877")
    lena, unnamed = ines.open()["suggested"]
    assert lena["fields"]["mailing_address"].startswith("9 Mill Ln"), "offered with the owner"
    assert (lena["name"], unnamed["name"]) == ("Lena Voss", "")
    moved = ines.edit({"op": "party_add", "key": "sellers", "party": "abcd1234"}).json()
    assert [s["name"] for s in moved["suggested"]] == [""]
    moved = ines.edit({"op": "party_add", "key": "sellers", "party": "abcd1235"}).json()
    assert moved["suggested"] == []


def test_terms_stand_in_the_offer_and_the_property_in_the_deal(world: World, ines: Speaker) -> None:
    ines.type("terms.purchase_price", "400k")
    ines.type("property.city", "Ashgrove")
    offer = world.deal.offers.get()
    assert FactEntry.objects.get(key="terms.purchase_price").scope == offer.pk
    assert FactEntry.objects.get(key="property.city").scope is None


def test_only_here_stays_with_its_document(ines: Speaker) -> None:
    ines.type("property.city", "Ashgrove")
    blanks = ines.open()["blanks"]
    city = next(b for b in blanks if b["key"] == "property.city")
    moved = ines.type(city["own_key"], "the City of Ashgrove")
    assert [(b["text"], b["only_here"]) for b in moved["blanks"] if b["field"] == "city"] == [
        ("the City of Ashgrove", True)
    ]
    assert ines.fact("property.city")["shown"] == "Ashgrove"


def test_choices_are_held_to_their_options_and_unknown_keys_are_refused(ines: Speaker) -> None:
    assert (
        "isn't one of the choices" in ines.type("terms.loan_type", "barter")["facts"][0]["draft"]["message"]
    )
    answer = ines.edit({"op": "type", "key": "no.such", "text": "1"})
    assert (answer.status_code, answer["content-type"]) == (400, "application/problem+json")
    assert "Nothing was changed. Reload the page." in answer.json()["mend"]
    assert ines.edit({"op": "type", "key": "buyers.9.given", "text": "x"}).status_code == 400


def test_a_batch_is_all_or_nothing(ines: Speaker) -> None:
    before = Change.objects.count()
    answer = ines.edit(
        {"op": "type", "key": "terms.purchase_price", "text": "1"},
        {"op": "type", "key": "no.such", "text": "1"},
    )
    assert answer.status_code == 400
    assert ines.fact("terms.purchase_price")["shown"] == ""
    assert Change.objects.count() == before


def test_a_locked_answer_refuses_typing(world: World, ines: Speaker) -> None:
    world.template.data = {
        **world.template.data,
        "answers": {"warranty.company": "Hearth Warranty"},
        "locked": ["warranty.company"],
        "name": "Office rules",
    }
    world.template.save()
    said = ines.post(
        f"{ines.path}/templates", change=str(uuid.uuid4()), template=str(world.template.pk)
    ).json()["said"]
    assert "1 answer" in said
    answer = ines.edit({"op": "type", "key": "warranty.company", "text": "Other"})
    assert (answer.status_code, answer.json()["rule"]) == (403, "locked")


def test_the_deals_name_follows_address_and_surname_unless_it_was_written(
    ines: Speaker, world: World
) -> None:
    assert ines.open()["head"]["name"] == "Okafor"
    ines.type("property.street_name", "Alder")
    assert ines.type("property.street_number", "214")["head"]["name"] == "214 Alder · Okafor"
    made = (
        Speaker(world.ines)
        .post("/api/deals", side="buying", name="My own name", clients=[{"given": "Bo", "family": "Falk"}])
        .json()
    )
    other = Speaker(world.ines)
    answer = other.post(
        f"/api/deals/{made['id']}/changes",
        change=str(uuid.uuid4()),
        edits=[{"op": "type", "key": "property.street_name", "text": "Oak"}],
    )
    assert answer.json()["head"]["name"] == "My own name"


@pytest.mark.parametrize("find", ["okafor", "214 alder", "Amara 214"])
def test_a_deal_is_found_by_address_and_surname(ines: Speaker, find: str) -> None:
    ines.type("property.street_name", "Alder")
    ines.type("property.street_number", "214")
    assert len(ines.get("/api/deals", find=find).json()) == 1
    assert ines.get("/api/deals", find="nobody").json() == []


def test_a_document_that_comes_back_stands_where_it_stood(ines: Speaker) -> None:
    def package(**body: Any) -> dict[str, Any]:
        answer = ines.post(f"{ines.path}/package", change=str(uuid.uuid4()), **body)
        assert answer.status_code == 200, answer.content
        return dict(answer.json())

    before = [d["id"] for d in ines.open()["documents"]]
    removed = package(op="remove", document=before[-1])
    added = package(op="add", number="503")
    new = added["documents"][-1]["id"]
    assert [d["id"] for d in added["documents"]] == [*before[:-1], new], "it goes behind what is there"
    back = ines.post(f"{ines.path}/undo", change=str(uuid.uuid4()), target=removed["change"]).json()
    assert [d["id"] for d in back["documents"]] == [*before, new]
    assert [d["id"] for d in ines.open()["documents"]] == [*before, new]


def test_the_package_is_changed_and_every_change_can_be_undone(ines: Speaker) -> None:
    def package(**body: object) -> dict[str, object]:
        answer = ines.post(f"{ines.path}/package", change=str(uuid.uuid4()), **body)
        assert answer.status_code == 200, answer.content
        return dict(answer.json())

    def numbers() -> list[str]:
        return [d["number"] + ("*" if d["set_aside"] else "") for d in ines.open()["documents"]]

    assert numbers() == ["101", "510", "301", "401", "503", "", ""]
    ids = [d["id"] for d in ines.open()["documents"]]
    added = package(op="add", number="503")
    assert numbers()[-1] == "503"
    aside = package(op="aside", document=ids[0])
    ordered = package(op="order", order=[ids[1], ids[0], *ids[2:], added["documents"][-1]["id"]])  # type: ignore[index]
    removed = package(op="remove", document=ids[2])
    assert numbers() == ["510", "101*", "401", "503", "", "", "503"]
    for change in (removed, ordered, aside, added):
        ines.undo(str(change["change"]))
    assert numbers() == ["101", "510", "301", "401", "503", "", ""]
    assert (
        ines.post(f"{ines.path}/package", change=str(uuid.uuid4()), op="add", number="999").status_code == 404
    )


def test_applying_a_template_twice_adds_nothing(ines: Speaker, world: World) -> None:
    again = ines.post(
        f"{ines.path}/templates", change=str(uuid.uuid4()), template=str(world.template.pk)
    ).json()
    assert again["said"].endswith("0 documents, 0 answers")
    assert len(again["documents"]) == 7


def test_the_lens_tells_history_and_what_a_value_replaced(ines: Speaker) -> None:
    ines.type("terms.purchase_price", "400k")
    ines.type("terms.loan_amount", "300k")
    loan = ines.fact("terms.loan_amount")
    assert (loan["replaced"], "terms.purchase_price" in loan["reads"]) == ("$320,000.00", True)
    seen = ines.get(f"{ines.path}/facts/terms.loan_amount").json()
    assert [h["shown"] for h in seen["history"]] == ["$300,000.00"]
    assert "terms.deposit_amount" in ines.get(f"{ines.path}/facts/terms.balance_due").json()["reads"]
    opened = ines.open()["blanks"]
    assert {b["page"] for b in opened if b["fact"] == "terms.loan_amount"} == {1, 2}
    own = next(b for b in opened if b["field"] == "deed-general")
    assert [s["shown"] for s in ines.get(f"{ines.path}/facts/{own['key']}").json()["beside"]] == [
        "general warranty deed"
    ]


def test_an_email_used_by_two_signers_is_said_at_once(world: World, ines: Speaker) -> None:
    ines.edit({"op": "party_add", "key": "buyers", "party": "second00"})
    ines.type("buyers.2.given", "Chidi")
    ines.type("buyers.1.email", "okafor@post.example")
    moved = ines.type("buyers.2.email", "Okafor@post.example")
    remarks = [f for p in moved["parties"]["buyers"] for f in p["findings"]]
    assert [(f["place"], f["message"]) for f in remarks] == [
        ("buyers.1.email", "Chidi has this e-mail too."),
        ("buyers.2.email", "Amara Okafor has this e-mail too."),
    ]
    moved = ines.type("buyers.2.email", "chidi@post.example")
    assert [p["findings"] for p in moved["parties"]["buyers"]] == [[], []]


def test_the_next_date_is_the_one_that_is_really_next(world: World) -> None:
    ines = Speaker(world.ines, start_deal(world.ines, {"side": "buying"}))

    def due() -> dict[str, str] | None:
        found: dict[str, str] | None = next(
            d for d in ines.get("/api/deals").json() if ines.deal and d["id"] == str(ines.deal.pk)
        )["next"]
        return found

    soon = today() + timedelta(days=3)
    ines.type("terms.closing_date", (soon + timedelta(days=60)).isoformat())
    ines.type("terms.expiry_date", soon.isoformat())
    assert due() == {"label": "Offer expires", "date": soon.isoformat()}
    ines.type("terms.acceptance_date", today().isoformat())
    ines.type("terms.deposit_due_days", "2")
    ines.type("terms.inspection_days", "15")
    assert (due() or {})["label"] == "Deposit due", "the expiry is over with the acceptance"
    ines.type("terms.deposit_due_days", "25")
    assert (due() or {})["label"] == "Inspection ends"
    ines.post(f"{ines.path}/stage", stage="fell through")
    assert due() is None


def test_facts_are_those_that_a_deals_side_has_to_do_with(world: World, ines: Speaker) -> None:
    groups = {f["group"] for f in ines.open()["facts"]}
    assert "terms" in groups and "lease" not in groups
    ines.post(f"{ines.path}/package", change=str(uuid.uuid4()), op="add", number="601")
    shown = {f["key"] for f in ines.open()["facts"]}
    assert "lease.rent" in shown and "lease.occupants" in shown, "what a form asks for is shown on every side"


def test_a_pasted_address_is_one_undoable_change_of_several_facts(ines: Speaker) -> None:
    answer = ines.edit(
        {"op": "paste", "key": "property.street_name", "text": "214 N Alder Street #3, Port Linden, CW 09914"}
    ).json()
    assert answer["said"].startswith("Pasted Street number, Direction, Street name")
    assert ines.fact("property.one_line")["shown"].startswith("214 N Alder Street")
    assert answer["head"]["name"].startswith("214 N Alder Street"), "the deal's own name follows"
    ines.undo(answer["change"])
    assert ines.fact("property.street_name")["shown"] == ""


def test_what_is_left_to_the_client_asks_for_nothing_until_it_is_taken_back(ines: Speaker) -> None:
    key = "terms.expiry_date"
    assert states_of(ines, key) == {"open"}
    before = ines.open()["head"]["open"]
    answer = ines.edit({"op": "leave", "key": key}).json()
    assert answer["head"]["open"] == before - 1
    assert ines.fact(key)["left"] is True and ines.fact(key)["shown"] == ""
    assert states_of(ines, key) == {"theirs"}
    remarks = ines.get(f"{ines.path}/proof").json()["remarks"]
    assert [r["weight"] for r in remarks if r["rule"] == "left"] == ["look"]
    assert ines.get(f"{ines.path}/facts/{key}").json()["history"][0]["act"] == "leave"
    ines.undo(answer["change"])
    assert states_of(ines, key) == {"open"}
    ines.edit({"op": "leave", "key": key})
    ines.type(key, "3/9/2027")
    assert not ines.fact(key)["left"] and states_of(ines, key) == {"filled"}


def states_of(speaker: Speaker, key: str) -> set[str]:
    """How the blanks that show a key stand."""
    return {b["state"] for b in speaker.open()["blanks"] if b["key"] == key}


def test_earlier_answers_come_from_the_agents_own_deals_by_question(world: World, ines: Speaker) -> None:
    for n, days in enumerate(["14", "21", "21"]):
        other = Speaker(world.ines, new_deal(world.ines, world.template, "Bela", f"Ruiz {n}"))
        other.type("terms.inspection_days", days)
        other.type("terms.purchase_price", "399,000")
        other.type("title.company", "Harbor Title")
    his = Speaker(world.bertil, new_deal(world.bertil, world.template, "Zofia", "Kowalczyk"))
    his.type("terms.inspection_days", "33")
    found = {row["key"]: row["answers"] for row in ines.get(f"{ines.path}/earlier").json()}
    assert [(a["text"], a["times"]) for a in found["terms.inspection_days"]][:2] == [("21", 2), ("14", 1)]
    assert [a["shown"] for a in found["title.company"]] == ["Harbor Title"]
    assert "terms.purchase_price" not in found and not any(key.startswith("party.") for key in found)
    broker = Speaker(world.rosa, world.deal).get(f"{ines.path}/earlier").json()
    assert {row["key"] for row in broker} == set(found), "whoever sees the agent's deals is offered theirs"


def test_the_holidays_of_a_year_are_federal_ones_as_observed_and_the_states(ines: Speaker) -> None:
    found = {h["day"]: h["name"] for h in ines.get(f"{ines.path}/holidays", year=2027).json()}
    assert found["2027-05-31"] == "Memorial Day"
    assert "2027-07-05" in found and "2027-07-04" not in found, "a Sunday is closed anyway"
    assert list(found) == sorted(found)
    assert ines.get(f"{ines.path}/holidays", year=99999).status_code == 400


def test_pasted_lines_that_can_not_be_read_wait_as_drafts(ines: Speaker) -> None:
    ines.edit(
        {
            "op": "paste",
            "key": "terms.purchase_price",
            "text": "Purchase price: about 400\nClosing by: 3/9/2027",
        }
    )
    assert ines.fact("terms.purchase_price")["draft"]["text"] == "about 400"
    assert ines.fact("terms.closing_date")["edit"] == "March 9, 2027"
    ines.edit({"op": "paste", "key": "terms.additional_terms", "text": "One.\nTwo."})
    assert ines.fact("terms.additional_terms")["shown"] == "One.\nTwo."


def test_steps_are_taken_back_one_after_the_other(ines: Speaker) -> None:
    first = ines.edit(
        {"op": "type", "key": "terms.purchase_price", "text": "400k"},
        {"op": "type", "key": "terms.inspection_days", "text": "9"},
    ).json()["change"]
    second = ines.type("terms.purchase_price", "410k")["change"]
    third = ines.edit({"op": "clear", "key": "terms.purchase_price"}).json()["change"]
    for step, price in ((third, "$410,000.00"), (second, "$400,000.00"), (first, "")):
        assert ines.undo(step)["left"] == []
        assert ines.fact("terms.purchase_price")["shown"] == price


def test_what_somebody_typed_since_is_left_even_after_other_undos(ines: Speaker) -> None:
    first = ines.type("terms.purchase_price", "400k")["change"]
    second = ines.type("terms.purchase_price", "410k")["change"]
    ines.undo(second)
    ines.type("terms.purchase_price", "405k")
    assert ines.undo(first)["left"] == ["Purchase price"]
    assert ines.fact("terms.purchase_price")["shown"] == "$405,000.00"
