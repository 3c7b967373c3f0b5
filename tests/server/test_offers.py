"""Offers within a deal: terms apart, documents apart, one in force."""

from __future__ import annotations

import uuid
from typing import Any

import pytest
from goodquill.changelog.models import Draft
from goodquill.clients.starting import start_deal
from goodquill.deals.models import Deal, Offer

from tests.server.test_service import counted
from tests.server.world import Speaker, World


@pytest.fixture
def listing(world: World) -> Speaker:
    """Inês's listing for Paul Delacroix, with no offer yet but the empty first one."""
    deal = start_deal(world.ines, {"side": "listing", "clients": [{"given": "Paul", "family": "Delacroix"}]})
    return Speaker(world.ines, deal)


class InOffer(Speaker):
    """Speaks of a deal as one of its offers has it."""

    def __init__(self, speaker: Speaker, offer: int) -> None:
        self.client, self.deal, self.offer = speaker.client, speaker.deal, offer

    def open(self) -> dict[str, Any]:
        answer = self.get(self.path, offer=self.offer)
        assert answer.status_code == 200, answer.content
        return self.expanded(answer)

    def edit(self, *edits: dict[str, Any], change: uuid.UUID | None = None) -> Any:
        return self.post(
            f"{self.path}/changes?offer={self.offer}", change=str(change or uuid.uuid4()), edits=list(edits)
        )


def add(speaker: Speaker, **said: Any) -> InOffer:
    answer = speaker.post(f"{speaker.path}/offers", change=str(uuid.uuid4()), **said)
    assert answer.status_code == 200, answer.content
    return InOffer(speaker, answer.json()["head"]["offer"])


def act(speaker: Speaker, offer: int, op: str, **said: Any) -> dict[str, Any]:
    if op == "accept":
        path = f"{speaker.path}/offers/{offer}/acceptance"
        said = {"day": "2026-11-22", "how": "told on the phone", **said}
        answer = speaker.post(path, change=str(uuid.uuid4()), **said)
    else:
        answer = speaker.post(f"{speaker.path}/offers/{offer}", change=str(uuid.uuid4()), op=op, **said)
    assert answer.status_code == 200, answer.content
    return dict(answer.json())


def buyer(speaker: Speaker, given: str, family: str) -> None:
    answer = speaker.edit(
        {"op": "party_add", "key": "buyers", "party": uuid.uuid4().hex[:8]},
        {"op": "type", "key": "buyers.1.given", "text": given},
        {"op": "type", "key": "buyers.1.family", "text": family},
    )
    assert answer.status_code == 200, answer.content


def test_each_received_offer_has_its_own_buyers_agent_and_terms(listing: Speaker) -> None:
    first = InOffer(listing, listing.open()["head"]["offer"])
    buyer(first, "Amara", "Okafor")
    first.type("terms.purchase_price", "412,500")
    first.type("buyer_agent.name", "Bertil Osei")
    listing.type("listing.price", "425,000")
    second = add(listing, name="From the Haddads")
    buyer(second, "Omar", "Haddad")
    second.type("terms.purchase_price", "431,000")
    assert (first.fact("terms.purchase_price")["shown"], second.fact("terms.purchase_price")["shown"]) == (
        "$412,500.00",
        "$431,000.00",
    )
    assert (first.fact("listing.price")["shown"], second.fact("listing.price")["shown"]) == (
        "$425,000.00",
        "$425,000.00",
    )
    assert second.fact("buyer_agent.name")["shown"] == ""
    offers = second.open()["head"]["offers"]
    assert [(o["name"], o["parties"], o["in_force"]) for o in offers] == [
        ("Offer 1", "Amara Okafor", True),
        ("From the Haddads", "Omar Haddad", False),
    ]
    assert [d["name"] for d in listing.get("/api/deals", find="okafor haddad").json()] == ["Delacroix"], (
        "found by either side's surname"
    )


def test_terms_stand_side_by_side_and_say_where_they_are_apart(listing: Speaker) -> None:
    first = InOffer(listing, listing.open()["head"]["offer"])
    second = add(listing)
    for speaker, price in ((first, "412,500"), (second, "431,000")):
        speaker.type("terms.purchase_price", price)
        speaker.type("terms.deposit_percent", "1")
    second.type("terms.seller_concessions", "5,000")
    sheet = listing.get(f"{listing.path}/offers").json()
    rows = {r["key"]: (r["apart"], [c["shown"] for c in r["cells"]]) for r in sheet["rows"]}
    assert rows["terms.purchase_price"] == (True, ["$412,500.00", "$431,000.00"])
    assert rows["terms.deposit_percent"] == (False, ["1%", "1%"])
    assert rows["terms.deposit_amount"] == (True, ["$4,125.00", "$4,310.00"]), "worked out in each"
    assert rows["terms.seller_concessions"] == (True, ["", "$5,000.00"])
    assert sheet["rows"][0]["key"] == "terms.purchase_price"


def test_accepting_one_puts_its_terms_in_force_and_can_be_taken_back(listing: Speaker) -> None:
    first = listing.open()["head"]["offer"]
    InOffer(listing, first).type("terms.purchase_price", "412,500")
    second = add(listing)
    second.type("terms.purchase_price", "431,000")
    accepted = act(listing, second.offer, "accept", day="2027-03-09")
    assert listing.fact("terms.purchase_price")["shown"] == "$431,000.00"
    assert listing.fact("terms.acceptance_date")["edit"] == "March 9, 2027"
    assert (
        next(d for d in listing.get("/api/deals").json() if d["name"] == "Delacroix")["price"]
        == "$431,000.00"
    )
    act(listing, first, "declined")
    listing.undo(accepted["change"])
    assert listing.fact("terms.purchase_price")["shown"] == "$412,500.00"
    assert {o.pk: (o.outcome, o.in_force) for o in Offer.objects.filter(deal=listing.deal)} == {
        first: ("declined", True),
        second.offer: ("open", False),
    }
    assert second.fact("terms.acceptance_date")["shown"] == ""


def test_a_second_acceptance_is_refused_until_the_first_is_reopened(listing: Speaker) -> None:
    first, second = listing.open()["head"]["offer"], add(listing)
    act(listing, first, "accept")
    path = f"{listing.path}/offers/{second.offer}/acceptance"
    refused = listing.post(path, change=str(uuid.uuid4()), day="2026-11-22", how="told")
    assert refused.status_code == 409 and "Offer 1 is accepted already" in refused.json()["detail"]
    assert listing.get(path).json()["against"] == "Offer 1 is accepted already."
    act(listing, first, "open")
    act(listing, second.offer, "accept")
    assert {o.pk: o.outcome for o in Offer.objects.filter(deal=listing.deal)} == {
        first: "open",
        second.offer: "accepted",
    }


def test_an_offer_like_another_takes_terms_and_forms_along(ines: Speaker) -> None:
    before = ines.open()
    first = before["head"]["offer"]
    ines.type("terms.purchase_price", "400,000")
    ines.type("property.city", "Ashgrove")
    agreement = next(d for d in before["documents"] if d["number"] == "301")
    own = next(
        b
        for b in before["blanks"]
        if b["document"] == agreement["id"]
        and b["key"].startswith("doc.")
        and b["kind"] == "text"
        and b["editable"]
    )
    ines.type(own["key"], "as it stands here")
    second = add(ines, like=first)
    opened = second.open()
    copy = next(d for d in opened["documents"] if d["number"] == "301")
    assert copy["id"] != agreement["id"] and len(opened["documents"]) == len(before["documents"])
    assert {d["id"] for d in opened["documents"] if d["number"] == "101"} == {
        d["id"] for d in before["documents"] if d["number"] == "101"
    }
    assert (
        next(
            b["text"] for b in opened["blanks"] if b["document"] == copy["id"] and b["field"] == own["field"]
        )
        == "as it stands here"
    )
    second.type("terms.purchase_price", "410,000")
    assert (ines.fact("terms.purchase_price")["shown"], second.fact("terms.purchase_price")["shown"]) == (
        "$400,000.00",
        "$410,000.00",
    )
    assert second.fact("property.city")["shown"] == "Ashgrove"
    bare = add(ines)
    assert bare.fact("terms.purchase_price")["shown"] == ""
    assert bare.fact("terms.loan_years")["shown"] == "30", "what the template answers stands in every offer"


def test_a_draft_waits_in_the_offer_it_was_typed_in(listing: Speaker) -> None:
    second = add(listing)
    second.type("terms.purchase_price", "about four hundred")
    assert Draft.objects.get().scope == second.offer
    assert listing.fact("terms.purchase_price")["draft"] is None
    assert second.fact("terms.purchase_price")["draft"]["text"] == "about four hundred"


def test_a_change_is_undone_from_whichever_offer_is_at_hand(listing: Speaker) -> None:
    second = add(listing)
    change = second.type("terms.purchase_price", "431,000")["change"]
    listing.undo(change)
    assert second.fact("terms.purchase_price")["shown"] == ""
    assert listing.fact("terms.purchase_price")["shown"] == ""


def test_taking_an_offer_out_and_back(listing: Speaker) -> None:
    first, second = listing.open()["head"]["offer"], add(listing)
    refused = listing.post(f"{listing.path}/offers/{first}", change=str(uuid.uuid4()), op="remove")
    assert refused.status_code == 409
    taken = act(listing, second.offer, "remove")
    assert [o["id"] for o in taken["head"]["offers"]] == [first]
    assert second.get(second.path, offer=second.offer).status_code == 404
    listing.undo(taken["change"])
    assert second.open()["head"]["offer"] == second.offer


def test_undoing_an_added_offer_shows_the_one_in_force(listing: Speaker) -> None:
    first = listing.open()["head"]["offer"]
    answer = listing.post(f"{listing.path}/offers", change=str(uuid.uuid4())).json()
    undone = listing.post(
        f"{listing.path}/undo?offer={answer['head']['offer']}",
        change=str(uuid.uuid4()),
        target=answer["change"],
    ).json()
    assert undone["head"]["offer"] == first and len(undone["head"]["offers"]) == 1


def test_queries_do_not_grow_with_the_offers(listing: Speaker) -> None:
    def several() -> tuple[int, int]:
        return counted(lambda: listing.get(listing.path)), counted(
            lambda: listing.get(f"{listing.path}/offers")
        )

    add(listing)
    few = several()
    for _ in range(5):
        add(listing).type("terms.purchase_price", "400k")
    assert several() == few and max(few) <= 12


def test_an_offer_of_another_deal_is_not_found(listing: Speaker, world: World) -> None:
    other = Deal.objects.exclude(pk=listing.deal.pk).first() if listing.deal else None
    assert other is not None
    foreign = other.offers.get().pk
    assert listing.get(listing.path, offer=foreign).status_code == 404
    assert (
        listing.post(f"{listing.path}/offers/{foreign}", change=str(uuid.uuid4()), op="name").status_code
        == 404
    )
