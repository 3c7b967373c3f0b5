"""An offer that goes back and forth: turns with their papers, and agreement."""

from __future__ import annotations

import uuid
from typing import Any

import pytest
from goodquill.clients.starting import start_deal

from tests.server.test_offers import InOffer, act, add
from tests.server.test_service import counted
from tests.server.world import Speaker, World


class Negotiator(Speaker):
    """An agent who negotiates the first offer of a deal."""

    @property
    def turns(self) -> str:
        return f"{self.path}/offers/{self.open()['head']['offer']}/turns"

    def takes(
        self, maker: str, day: str = "2026-11-20", paper: str = "", expires: str | None = None, **terms: str
    ) -> Any:
        return self.post(
            self.turns,
            change=str(uuid.uuid4()),
            maker=maker,
            day=day,
            paper=paper,
            expires=expires,
            terms=[{"key": f"terms.{name}", "text": text} for name, text in terms.items()],
        )

    def took(self, maker: str, **said: str) -> dict[str, Any]:
        answer = self.takes(maker, **said)
        assert answer.status_code == 200, answer.content
        return dict(answer.json())

    def told(self) -> dict[str, Any]:
        answer = self.get(self.turns)
        assert answer.status_code == 200, answer.content
        return dict(answer.json())

    def agrees(self, turn: int, **said: str) -> Any:
        body = {"day": "2026-12-01", "how": "told on the phone", **said}
        return self.post(f"{self.turns}/{turn}", change=str(uuid.uuid4()), **body)

    def texts(self, document: str) -> dict[str, str]:
        """What stands in a paper's blanks, by what its own keys are called."""
        return {b["own"]: b["text"] for b in self.open()["blanks"] if b["document"] == document and b["text"]}


@pytest.fixture
def buyer(world: World) -> Negotiator:
    made = Negotiator(world.ines, world.deal)
    for key, text in (
        ("terms.purchase_price", "412,500"),
        ("terms.deposit_percent", "1"),
        ("terms.inspection_days", "10"),
        ("terms.offer_date", "2026-11-18"),
        ("terms.title_payer", "seller"),
    ):
        made.type(key, text)
    return made


def agreement(speaker: Speaker) -> str:
    return next(str(d["id"]) for d in speaker.open()["documents"] if d["number"] == "301")


def test_a_counter_makes_its_paper_filled_with_what_changes(buyer: Negotiator) -> None:
    made = buyer.took("buyers", purchase_price="405k", title_payer="buyer")
    paper = buyer.texts(made["paper"])
    assert paper["price"] == "405,000.00" and paper["deposit"] == "4,050.00"
    assert paper["number"] == "1" and paper["answers-date"] == "November 18, 2026"
    assert paper["other"] == "Section 11.5, Owner's title insurance paid by: from seller to buyer."
    assert made["said"] == "Counter-offer 1 by the buyer: Purchase price, Owner's title insurance paid by"
    assert buyer.fact("terms.purchase_price")["shown"] == "$412,500.00", "proposed, and no more"
    assert buyer.texts(agreement(buyer))["price"] == "412,500.00"


def test_terms_stand_turn_by_turn_with_what_they_come_to(buyer: Negotiator) -> None:
    first = buyer.took("buyers", purchase_price="405k")
    buyer.took("sellers", day="2026-11-21", purchase_price="410k", inspection_days="5")
    last = buyer.took("buyers", day="2026-11-22", inspection_days="7")
    told = buyer.told()
    rows = {row["label"]: row["cells"] for row in told["rows"]}
    assert rows["Purchase price"] == ["$412,500.00", "$405,000.00", "$410,000.00", "$410,000.00"]
    assert rows["Inspection period in days"] == ["10", "10", "5", "7"]
    assert [(t["maker"], t["name"], t["paper"]) for t in told["turns"]] == [
        ("buyers", "Counter-offer 1", first["paper"]),
        ("sellers", "Counter-offer 2", ""),
        ("buyers", "Counter-offer 3", last["paper"]),
    ]
    result = next(row for row in told["rows"] if row["is_result"])
    assert len(result["cells"]) == 4
    # The third answers the second, and states only what it changes.
    paper = buyer.texts(last["paper"])
    assert paper["answers-date"] == "November 21, 2026" and paper["inspection"] == "7"
    assert "price" not in paper
    now = {term["key"]: term["now"] for term in told["terms"]}
    assert now["terms.purchase_price"] == "$410,000.00" and now["terms.inspection_days"] == "7"


def test_accepted_its_last_terms_are_in_force_and_the_agreement_says_what_it_said(buyer: Negotiator) -> None:
    buyer.took("buyers", purchase_price="405k")
    counter = buyer.took("sellers", day="2026-11-21", purchase_price="410k")
    offer = buyer.open()["head"]["offer"]
    said = act(buyer, offer, "accept", day="2026-11-22")
    assert buyer.fact("terms.purchase_price")["shown"] == "$410,000.00"
    assert buyer.fact("terms.deposit_amount")["shown"] == "$4,100.00"
    on_paper = buyer.texts(agreement(buyer))
    assert (on_paper["price"], on_paper["deposit"]) == ("412,500.00", "4,125.00"), (
        "it is amended, not rewritten"
    )
    assert on_paper["price-words"].startswith("Four Hundred Twelve Thousand Five Hundred")
    assert all(turn["agreed"] for turn in buyer.told()["turns"])
    rows = {row["label"]: row["cells"] for row in buyer.told()["rows"]}
    assert rows["Purchase price"] == ["$412,500.00", "$405,000.00", "$410,000.00"], "as it went"
    buyer.undo(said["change"])
    assert buyer.fact("terms.purchase_price")["shown"] == "$412,500.00"
    assert not any(turn["agreed"] for turn in buyer.told()["turns"])
    buyer.undo(counter["change"])
    assert len(buyer.told()["turns"]) == 1


def test_once_it_binds_the_agreement_is_amended(buyer: Negotiator) -> None:
    offer = buyer.open()["head"]["offer"]
    act(buyer, offer, "accept", day="2026-11-22")
    made = buyer.took("buyers", day="2026-12-01", purchase_price="400k", inspection_days="14")
    number = next(d["number"] for d in buyer.open()["documents"] if d["id"] == made["paper"])
    paper = buyer.texts(made["paper"])
    assert number == "322" and paper["number"] == "1"
    assert (paper["price-from"], paper["price-to"]) == ("412,500.00", "400,000.00")
    assert paper["inspection-to"] == "December 7, 2026", "the sixth is a Sunday"
    turn = buyer.told()["turns"][0]
    refused = buyer.agrees(turn["id"])
    assert turn["amends"] and refused.status_code == 409 and "hasn’t answered it" in refused.json()["detail"]
    theirs = came_back(buyer, made["paper"])
    assert buyer.agrees(turn["id"], paper=theirs).status_code == 200
    assert buyer.told()["turns"][0]["status"] == (
        "Agreed December 1, 2026. 322 Purchase agreement, countersigned · told on the phone. Recorded by Ines"
    )
    assert buyer.fact("terms.purchase_price")["shown"] == "$400,000.00"
    paper = buyer.texts(made["paper"])
    assert (paper["price-from"], paper["price-to"]) == ("412,500.00", "400,000.00"), "as it was signed"
    assert buyer.agrees(turn["id"]).status_code == 409, "once"


def test_a_turn_taken_back_takes_its_paper_along(buyer: Negotiator) -> None:
    made = buyer.took("buyers", purchase_price="405k")
    buyer.undo(made["change"])
    assert buyer.told()["turns"] == []
    assert made["paper"] not in {d["id"] for d in buyer.open()["documents"]}
    again = buyer.took("buyers", purchase_price="406k")
    assert buyer.texts(again["paper"])["number"] == "1"


def test_the_same_turn_sent_twice_is_one(buyer: Negotiator) -> None:
    body = {
        "change": str(uuid.uuid4()),
        "maker": "buyers",
        "day": "2026-11-20",
        "terms": [{"key": "terms.purchase_price", "text": "405k"}],
    }
    first, second = (buyer.post(buyer.turns, **body) for _ in range(2))
    assert first.status_code == second.status_code == 200
    assert first.json()["paper"] == second.json()["paper"]
    assert len(buyer.told()["turns"]) == 1


@pytest.mark.parametrize(
    ("said", "code", "words"),
    [
        ({"purchase_price": "a lot"}, 400, "Purchase price: “a lot” isn't an amount"),
        ({"purchase_price": "412,500.00"}, 400, "terms already say this"),
        ({"purchase_price": "  "}, 400, "terms already say this"),
        ({"acceptance_date": "2026-11-20"}, 400, "can't be countered"),
        ({"purchase_price": "1", "expires": "2026-11-01"}, 400, "expires before it is made"),
        ({"no_such": "1"}, 400, "can't be countered"),
    ],
)
def test_what_can_not_be_is_refused_in_words(
    buyer: Negotiator, said: dict[str, str], code: int, words: str
) -> None:
    answer = buyer.takes("buyers", **said)
    assert answer.status_code == code and words in answer.json()["detail"]
    assert buyer.told()["turns"] == []


def test_nobody_else_makes_a_turn_and_no_lost_paper_is_named(buyer: Negotiator) -> None:
    assert buyer.takes("tenants", purchase_price="1").status_code == 400
    assert buyer.takes("sellers", paper="nowhere", purchase_price="1").status_code == 409
    assert buyer.agrees(999_999).status_code == 404


def test_the_turns_take_as_many_queries_however_many_there_are(buyer: Negotiator) -> None:
    buyer.took("buyers", purchase_price="405k")
    buyer.told()
    path = buyer.turns
    one = counted(lambda: buyer.get(path))
    for n in range(4):
        buyer.took("sellers", purchase_price=f"{406 + n}k")
    assert counted(lambda: buyer.get(path)) == one


# A turn and its paper are one


def on_paper(buyer: Negotiator, document: str, **blanks: str) -> Any:
    """Type in blanks of a turn's paper."""
    return buyer.edit(
        *({"op": "type", "key": f"doc.{document}.{name}", "text": text} for name, text in blanks.items())
    )


def cells(buyer: Negotiator) -> dict[str, list[str]]:
    return {row["label"]: row["cells"] for row in buyer.told()["rows"]}


def test_what_is_changed_on_its_paper_is_the_turns_and_put_in_force(buyer: Negotiator) -> None:
    paper = buyer.took("buyers", purchase_price="425k", title_payer="buyer")["paper"]
    answer = on_paper(buyer, paper, price="424,000")
    assert answer.status_code == 200, answer.content
    assert buyer.texts(paper)["deposit"] == "4,240.00", "what follows, follows"
    sources = {b["own"]: b["source"] for b in buyer.open()["blanks"] if b["document"] == paper}
    assert (sources["price"], sources["deposit"]) == ("typed", "worked_out")
    on_paper(buyer, paper, deposit="9,000")
    assert buyer.texts(paper)["deposit"] == "9,000.00"
    assert cells(buyer)["Deposit"] == ["$4,125.00", "$9,000.00"]
    buyer.edit({"op": "clear", "key": f"doc.{paper}.deposit"})
    assert buyer.texts(paper)["deposit"] == "4,240.00"
    assert cells(buyer)["Deposit"] == ["$4,125.00", "$4,240.00"], "said on the paper, it is in the table"
    assert cells(buyer)["Purchase price"] == ["$412,500.00", "$424,000.00"]
    buyer.undo(answer.json()["change"])
    assert buyer.texts(paper)["price"] == "425,000.00" and buyer.texts(paper)["deposit"] == "4,250.00"
    assert cells(buyer)["Purchase price"] == ["$412,500.00", "$425,000.00"]
    on_paper(buyer, paper, price="424,000")
    offer = buyer.open()["head"]["offer"]
    path = f"{buyer.path}/offers/{offer}/acceptance"
    told = buyer.get(path).json()
    assert "hasn’t answered it" in told["needs_paper"] and told["against"] == ""
    assert [row["label"] for row in told["rows"] if row["differs"]] == [
        "Purchase price",
        "Deposit",
        "Down payment",
        "Owner's title insurance paid by",
    ]
    refused = buyer.post(path, change=str(uuid.uuid4()), day="2026-11-22", how="they said so")
    assert refused.status_code == 409 and "hasn’t answered it" in refused.json()["detail"]
    theirs = came_back(buyer, paper)
    on_paper(buyer, paper, **{"expiry-date": "2026-11-22", "expiry-time": "3pm"})
    late = {"day": "2026-11-22", "hour": "15:30", "paper": theirs}
    refused = buyer.post(path, change=str(uuid.uuid4()), **late)
    assert refused.status_code == 409 and "expired November 22, 2026, 3:00 PM" in refused.json()["detail"]
    act(buyer, offer, "accept", **{**late, "hour": "14:30"})
    assert buyer.get(f"{buyer.path}/offers").json()["offers"][0]["came"] == (
        "Accepted November 22, 2026, 2:30 PM. 320 Purchase agreement, countersigned · told on the phone. "
        "Recorded by Ines"
    )
    assert buyer.fact("terms.purchase_price")["shown"] == "$424,000.00"
    assert buyer.fact("terms.title_payer")["shown"] == "buyer"

    def differs() -> list[str]:
        remarks = buyer.get(f"{buyer.path}/proof").json()["remarks"]
        return [r["message"] for r in remarks if r["rule"] == "paper and terms differ"]

    assert differs() == []
    buyer.type("terms.purchase_price", "425,000")
    assert differs() == [
        "Counter-offer 1, agreed on, says $424,000.00 for purchase price; the deal says $425,000.00."
    ]


def test_what_is_changed_of_a_turn_is_on_its_paper(buyer: Negotiator) -> None:
    made = buyer.took("buyers", purchase_price="425k")
    turn = buyer.told()["turns"][0]
    assert turn["status"] == "Not sent yet" and turn["may_change"] and turn["may_send"]
    body = {"change": str(uuid.uuid4()), "day": "2026-11-21", "expires": "2026-11-25", "expires_at": "17:00"}
    terms = [{"key": "terms.inspection_days", "text": "7"}]
    path = f"{buyer.turns}/{turn['id']}"
    answer = buyer.client.put(path, {**body, "terms": terms}, content_type="application/json")
    assert answer.status_code == 200, answer.content
    paper = buyer.texts(made["paper"])
    assert "price" not in paper and "deposit" not in paper and paper["inspection"] == "7"
    assert (paper["made-on"], paper["expiry-date"], paper["expiry-time"]) == (
        "November 21, 2026",
        "November 25, 2026",
        "5:00 PM",
    )
    on_paper(buyer, made["paper"], **{"expiry-date": "11/26/2026"})
    assert buyer.told()["turns"][0]["expires"] == "2026-11-26"


def test_what_follows_from_facts_follows_on_the_paper_too(buyer: Negotiator) -> None:
    paper = buyer.took("buyers", purchase_price="400k")["paper"]
    assert buyer.texts(paper)["deposit"] == "4,000.00"
    buyer.type("terms.deposit_percent", "2")
    assert buyer.texts(paper)["deposit"] == "8,000.00"


def test_words_on_the_paper_are_listed_with_the_turn(buyer: Negotiator) -> None:
    paper = buyer.took("buyers", purchase_price="405k")["paper"]
    on_paper(buyer, paper, other="Seller leaves the porch swing.", **{"items-in": "Porch swing"})
    rows = cells(buyer)
    assert rows["Other changes"] == ["", "Seller leaves the porch swing."]
    assert rows["Items added"] == ["", "Porch swing"]
    refused = on_paper(buyer, paper, number="7")
    assert refused.status_code == 409 and "follows from the turns" in refused.json()["detail"]
    assert buyer.texts(paper)["number"] == "1"


def test_an_answered_turn_and_its_paper_stay_as_they_are(buyer: Negotiator) -> None:
    paper = buyer.took("buyers", purchase_price="405k")["paper"]
    buyer.took("sellers", day="2026-11-21", purchase_price="410k")
    first = buyer.told()["turns"][0]
    assert first["status"] == "Answered by Counter-offer 2"
    assert not (first["may_change"] or first["may_send"] or first["may_agree"])
    refused = on_paper(buyer, paper, price="399,000")
    assert refused.status_code == 409 and "Answered by Counter-offer 2" in refused.json()["detail"]
    assert buyer.texts(paper)["price"] == "405,000.00"


# What came back


def came_back(buyer: Negotiator, document: str, **otherwise: str) -> str:
    """The paper as the other side sends it back, with some terms otherwise: it is put into the package."""
    before = {key: buyer.fact(f"terms.{key}")["shown"].lstrip("$") for key in otherwise}
    for key, text in otherwise.items():
        buyer.type(f"terms.{key}", text)
    pdf = buyer.get(f"{buyer.path}/documents/{document}.pdf").content
    for key, text in before.items():
        buyer.type(f"terms.{key}", text)
    row = buyer.take_in(pdf, "back.pdf")
    answer = buyer.put_in_place(row, title="Purchase agreement, countersigned", place="")
    assert answer.status_code == 200, answer.content
    return next(str(d["id"]) for d in buyer.open()["documents"] if "countersigned" in d["title"])


def test_what_they_changed_in_a_paper_that_came_back_becomes_their_turn(buyer: Negotiator) -> None:
    ours = agreement(buyer)
    theirs = came_back(buyer, ours, purchase_price="420,000", inspection_days="5")
    found = buyer.get(f"{buyer.path}/documents/{theirs}/returned").json()
    assert found["against"] == ours and found["sent"] is None
    said = {(d["label"], d["was"], d["now"]) for d in found["differences"]}
    assert ("Purchase price", "412,500.00", "420,000.00") in said
    assert ("Inspection period in days", "10", "5") in said
    assert len({(d["label"], d["page"]) for d in found["differences"]}) == len(found["differences"]), "once"
    terms = {t["key"]: t["text"] for t in found["terms"]}
    assert terms == {
        "terms.purchase_price": "420,000.00",
        "terms.deposit_amount": "4,200.00",
        "terms.down_payment": "84,000.00",
        "terms.inspection_days": "5",
    }
    people = {who["name"]: who["signed"] for who in found["people"]}
    assert people["Amara Okafor"] is False and not any(people.values())
    assert buyer.told()["papers"] == [{"code": theirs, "title": "301 Purchase agreement, countersigned"}]
    buyer.took("sellers", paper=theirs, **{key.partition(".")[2]: text for key, text in terms.items()})
    (turn,) = buyer.told()["turns"]
    assert (turn["paper"], turn["title"]) == (theirs, "301 Purchase agreement, countersigned")


def test_only_what_came_is_compared_and_with_ours(buyer: Negotiator) -> None:
    ours = agreement(buyer)
    assert buyer.get(f"{buyer.path}/documents/{ours}/returned").status_code == 404
    theirs = came_back(buyer, ours)
    documents = {d["number"]: d["id"] for d in buyer.open()["documents"]}
    found = buyer.get(f"{buyer.path}/documents/{theirs}/returned", against=documents["503"]).json()
    assert found["against"] == documents["503"]
    assert {d["kind"] for d in found["differences"]} == {"missing page", "new page"}
    same = buyer.get(f"{buyer.path}/documents/{theirs}/returned").json()
    assert same["differences"] == [] and same["terms"] == []


# Signed by pen


def pen(buyer: Negotiator, theirs: str, ours: str, who: list[str], day: str = "2026-11-20") -> Any:
    path = f"{buyer.path}/documents/{theirs}/signed"
    return buyer.post(path, change=str(uuid.uuid4()), ours=ours, who=who, day=day)


def test_what_was_signed_by_pen_is_on_record_and_stands_where_ours_stood(buyer: Negotiator) -> None:
    ours = agreement(buyer)
    theirs = came_back(buyer, ours)
    answer = pen(buyer, theirs, ours, ["buyers.1"])
    assert answer.status_code == 200, answer.content
    assert answer.json()["said"] == (
        "301 Residential Purchase Agreement was signed on paper by Amara Okafor, November 20, 2026"
    )
    rows = {d["id"]: d for d in buyer.open()["documents"]}
    assert rows[ours]["set_aside"] and rows[theirs]["section"] == rows[ours]["section"]
    assert "signed on paper by Amara Okafor" in rows[theirs]["why"]
    assert buyer.fact("terms.acceptance_date")["shown"] == "", "one side alone"
    buyer.undo(answer.json()["change"])
    assert not next(d for d in buyer.open()["documents"] if d["id"] == ours)["set_aside"]


def test_signed_by_everybody_on_paper_it_is_accepted_that_day(buyer: Negotiator) -> None:
    buyer.edit({"op": "party_add", "key": "sellers", "party": "efgh5678"})
    buyer.type("sellers.1.given", "Lena")
    buyer.type("sellers.1.family", "Voss")
    ours = agreement(buyer)
    theirs = came_back(buyer, ours)
    assert pen(buyer, theirs, ours, ["buyers.1", "sellers.1"]).status_code == 200
    assert buyer.fact("terms.acceptance_date")["shown"] == "November 20, 2026"
    assert buyer.open()["head"]["offers"][0]["outcome"] == "accepted"


def test_a_counter_signed_by_everybody_on_paper_is_in_force(buyer: Negotiator) -> None:
    buyer.edit({"op": "party_add", "key": "sellers", "party": "efgh5678"})
    buyer.type("sellers.1.given", "Lena")
    buyer.type("sellers.1.family", "Voss")
    counter = buyer.took("buyers", purchase_price="405k")["paper"]
    theirs = came_back(buyer, counter)
    said = pen(buyer, theirs, counter, ["sellers.1", "buyers.1"]).json()["said"]
    assert said.endswith("its terms are the deal's. accepted on November 20, 2026")
    assert buyer.fact("terms.purchase_price")["shown"] == "$405,000.00"


def test_who_does_not_sign_and_days_to_come_are_refused(buyer: Negotiator) -> None:
    ours = agreement(buyer)
    theirs = came_back(buyer, ours)
    for who, day, words in (
        ([], "2026-11-20", "None of these"),
        (["buyers.7"], "2026-11-20", "None of these"),
        (["buyers.1"], "2999-01-01", "in the future"),
    ):
        answer = pen(buyer, theirs, ours, who, day)
        assert answer.status_code == 400 and words in answer.json()["detail"]
    assert pen(buyer, "nowhere", ours, ["buyers.1"]).status_code == 409


# Several offers


def two_offers(world: World) -> tuple[InOffer, InOffer]:
    deal = start_deal(world.ines, {"side": "listing", "clients": [{"given": "Paul", "family": "Delacroix"}]})
    listing = Speaker(world.ines, deal)
    return InOffer(listing, listing.open()["head"]["offer"]), add(listing)


def papers(offer: InOffer) -> list[str]:
    return [d["number"] for d in offer.open()["documents"]]


def test_of_several_offers_each_is_told_and_one_is_a_back_up_with_their_papers(world: World) -> None:
    first, second = two_offers(world)
    for offer in (first, second, second):
        act(offer, offer.offer, "several")
    assert papers(first).count("324") == papers(second).count("324") == 1, "once, and in each its own"
    said = act(second, second.offer, "back-up")
    assert papers(second).count("326") == 1 and "326" not in papers(first)
    assert second.fact("terms.backup")["shown"] == "Yes"
    assert second.fact("terms.backup_position")["shown"] == "1"
    assert first.fact("terms.backup")["shown"] != "Yes"
    third = add(first)
    act(third, third.offer, "back-up")
    assert third.fact("terms.backup_position")["shown"] == "2"
    outcomes = [o["outcome"] for o in first.open()["head"]["offers"]]
    assert outcomes == ["open", "back-up", "back-up"]
    third.undo(said["change"])
    assert second.fact("terms.backup")["shown"] != "Yes" and "326" not in papers(second)


def test_the_others_are_declined_with_the_one_that_is_accepted_if_it_is_said_so(world: World) -> None:
    first, _ = two_offers(world)
    third = add(first)
    act(third, third.offer, "withdrawn")
    said = act(first, first.offer, "accept", day="2026-11-20", decline_others=True)
    assert said["said"] == "Accepted Offer 1: its terms are in force; Offer 2 declined"
    outcomes = [o["outcome"] for o in first.open()["head"]["offers"]]
    assert outcomes == ["accepted", "declined", "withdrawn"]
    first.undo(said["change"])
    assert [o["outcome"] for o in first.open()["head"]["offers"]] == ["open", "open", "withdrawn"]
