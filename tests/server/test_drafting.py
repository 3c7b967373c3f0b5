"""What helps while a template is written: what goes with it, what one always answers, how it comes out on a
deal, what changed where it was copied from, and what a newer edition would do."""

from __future__ import annotations

import uuid
from typing import Any

import pytest
from goodquill.deals.models import Deal
from goodquill.packs.actions import take_in
from goodquill.templates.models import Template

from tests.core.small import second_pack
from tests.server.test_templates import Writer
from tests.server.world import Speaker, World, new_deal


@pytest.fixture
def mine(world: World) -> Writer:
    return Writer(world.ines, side="buying")


def goes_with(writer: Writer) -> dict[str, str]:
    return {row["number"]: row["why"] for row in writer.speaker.get(f"{writer.deal}/goes-with").json()}


def test_forms_that_a_form_names_go_with_it(mine: Writer) -> None:
    assert goes_with(mine) == {}
    mine.pack(op="add", numbers=["301"])
    found = goes_with(mine)
    assert found["503"] == "named in 301" and "301" not in found
    mine.pack(op="add", numbers=["503"])
    assert "503" not in goes_with(mine)


def test_what_the_facts_call_for_goes_first_and_what_they_rule_out_not_at_all(ines: Speaker) -> None:
    def offered() -> list[tuple[str, str]]:
        return [(row["number"], row["why"]) for row in ines.get(f"{ines.path}/goes-with").json()]

    ines.type("property.association", "yes")
    ines.type("terms.sale_contingency", "yes")
    called = [number for number, why in offered() if why.startswith("called for: ")]
    assert set(called) == {"412", "420"} and [number for number, _ in offered()][:2] == called
    ines.type("property.association", "no")
    assert "420" not in [number for number, _ in offered()]


def test_what_is_usual_beside_a_form_goes_with_it(world: World, mine: Writer) -> None:
    for n in range(3):
        speaker = Speaker(world.ines, new_deal(world.ines, world.template, "Bela", f"Ruiz {n}"))
        speaker.post(f"{speaker.path}/package", change=str(uuid.uuid4()), op="add", number="412")
    mine.pack(op="add", numbers=["510"])
    assert goes_with(mine)["412"].startswith("in 3 of your last ")


def deals_that_answer(world: World, texts: list[str]) -> None:
    for n, text in enumerate(texts):
        speaker = Speaker(world.ines, new_deal(world.ines, world.template, "Bela", f"Ruiz {n}"))
        speaker.type("terms.rate_cap", text)
        blank = next(b for b in speaker.open()["blanks"] if b["key"].endswith(".disclosure-days"))
        speaker.type(blank["key"], "6")


def left(writer: Writer, key: str) -> dict[str, Any]:
    return next(row for row in writer.whole()["left"] if row["key"].endswith(key))


def test_what_one_answers_in_most_deals_is_offered_as_standing_answer(world: World, mine: Writer) -> None:
    deals_that_answer(world, ["6.5", "6.5", "6.5", "7"])
    mine.pack(op="add", numbers=["301"])
    mine.type("terms.loan_type", "conventional")
    # The deal of the world itself has the template's 7.25.
    assert left(mine, "terms.rate_cap")["habit"] == {"text": "6.5", "shown": "6.5%", "times": 3, "of": 5}
    habit = left(mine, ".disclosure-days")["habit"]
    assert (habit["text"], habit["times"]) == ("6", 4)
    mine.type("terms.rate_cap", "6.5")
    assert not any(row["key"] == "terms.rate_cap" for row in mine.whole()["left"])


def test_others_habits_and_rare_ones_are_none(world: World) -> None:
    deals_that_answer(world, ["5", "6", "7"])
    his = Writer(world.bertil, side="buying")
    his.pack(op="add", numbers=["301"])
    his.type("terms.loan_type", "conventional")
    assert left(his, "terms.rate_cap")["habit"] is None


def test_people_prices_and_dates_are_nobodys_habit(world: World, mine: Writer) -> None:
    for n in range(4):
        speaker = Speaker(world.ines, new_deal(world.ines, world.template, "Bela", f"Ruiz {n}"))
        speaker.type("terms.purchase_price", "400,000")
        speaker.type("terms.offer_date", "2027-05-01")
    mine.pack(op="add", numbers=["301"])
    for key in ("terms.purchase_price", "terms.offer_date"):
        assert left(mine, key)["habit"] is None


def test_a_template_is_tried_on_a_deal_and_writes_nothing(world: World, mine: Writer) -> None:
    speaker = Speaker(world.ines, world.deal)
    speaker.type("terms.acceptance_date", "2027-05-21")
    mine.pack(op="add", numbers=["301"])
    mine.type("terms.closing_date", "= days_after(terms.acceptance_date, 40)")
    before = speaker.open()["head"]["seq"]
    tried = mine.speaker.get(f"{mine.path}/sample", deal=str(world.deal.pk)).json()
    assert tried["filled"] > 0 and tried["deal"] == str(world.deal.pk)
    assert [(f["label"], f["shown"]) for f in tried["formulas"]] == [("Closing by", "June 30, 2027")]
    paper = mine.speaker.get(f"{mine.path}/sample.pdf")
    assert paper["content-type"] == "application/pdf" and paper.content[:5] == b"%PDF-"
    assert speaker.open()["head"]["seq"] == before


def test_a_template_is_tried_on_ones_own_deals_alone(world: World, mine: Writer) -> None:
    his = new_deal(world.bertil, world.template, "Cy", "Voss")
    assert mine.speaker.get(f"{mine.path}/sample", deal=str(his.pk)).status_code == 404
    nobodys = Writer(world.bertil, side="renting")
    refused = nobodys.speaker.get(f"{nobodys.path}/sample")
    assert refused.status_code == 404 and "no deal yet" in refused.json()["detail"]
    assert mine.speaker.get(f"{mine.path}/sample.pdf").status_code == 409, "it has no form yet"


def test_answers_that_wait_for_each_other_are_said_while_writing(mine: Writer) -> None:
    mine.type("terms.deposit_amount", "= terms.additional_deposit")
    assert mine.whole()["faults"] == []
    mine.type("terms.additional_deposit", "= terms.deposit_amount")
    [said] = mine.whole()["faults"]
    assert "wait for each other" in said and "Additional deposit" in said


class Copied:
    """A template of the broker's, published, and an agent's copy of it."""

    def __init__(self, world: World) -> None:
        self.upstream = Writer(world.rosa, side="buying")
        self.upstream.pack(op="add", numbers=["101", "301"])
        self.upstream.type("terms.inspection_days", "10")
        self.publish("First")
        self.copy = Writer(world.ines, name="My own", copy_of=self.upstream.id)

    def publish(self, said: str) -> None:
        answer = self.upstream.publish("brokerage", said=said)
        assert answer.status_code == 200, answer.json()

    def news(self) -> dict[str, dict[str, str]]:
        return {row["id"]: row for row in self.copy.whole()["upstream"]}

    def take(self, *parts: str, keep: bool = False) -> Any:
        return self.copy.speaker.post(
            f"{self.copy.path}/upstream", change=str(uuid.uuid4()), parts=list(parts), keep=keep
        )


@pytest.fixture
def copied(world: World) -> Copied:
    made = Copied(world)
    made.upstream.type("terms.inspection_days", "12")
    made.upstream.type("terms.title_payer", "seller")
    made.upstream.pack(op="add", numbers=["503"])
    made.upstream.speaker.post(
        f"{made.upstream.deal}/tasks", change=str(uuid.uuid4()), op="add", what="Order it", when="closing"
    )
    made.copy.type("terms.inspection_days", "7")
    return made


def test_what_changed_upstream_is_told_once_it_is_published(copied: Copied) -> None:
    assert copied.news() == {}
    copied.publish("Second")
    news = copied.news()
    assert set(news) == {
        "document:503",
        "answer:terms.inspection_days",
        "answer:terms.title_payer",
        "task:order it",
    }
    days = news["answer:terms.inspection_days"]
    assert (days["was"], days["now"], days["mine"]) == ("10", "12", "7")


def test_it_is_taken_over_part_by_part_and_can_be_undone(copied: Copied) -> None:
    copied.publish("Second")
    taken = copied.take("answer:terms.inspection_days", "document:503", "task:order it")
    assert taken.status_code == 200, taken.json()
    assert set(copied.news()) == {"answer:terms.title_payer"}
    written = copied.copy.written().draft
    assert written["answers"] == {"terms.inspection_days": "12"}
    assert [d["form"] for d in written["documents"]] == ["101", "301", "503"]
    assert [d["what"] for d in written["tasks"]] == ["Order it"]
    copied.copy.speaker.post(
        f"{copied.copy.deal}/undo", change=str(uuid.uuid4()), target=taken.json()["change"]
    )
    assert copied.copy.written().draft["answers"] == {"terms.inspection_days": "7"}
    assert len(copied.news()) == 4


def test_what_is_kept_as_it_is_is_told_no_more_until_it_changes_again(copied: Copied) -> None:
    copied.publish("Second")
    copied.take(*copied.news(), keep=True)
    assert copied.news() == {} and copied.copy.written().draft["answers"] == {"terms.inspection_days": "7"}
    assert copied.take("answer:terms.inspection_days").status_code == 409
    copied.upstream.type("terms.inspection_days", "15")
    copied.publish("Third")
    assert set(copied.news()) == {"answer:terms.inspection_days"}


def test_what_upstream_took_out_can_be_taken_out_too(copied: Copied) -> None:
    document = next(d for d in copied.upstream.written().draft["documents"] if d["form"] == "101")
    assert document
    listed = copied.upstream.speaker.get(copied.upstream.deal).json()["documents"]
    copied.upstream.pack(op="remove", document=next(d["id"] for d in listed if d["number"] == "101"))
    copied.publish("Second")
    assert copied.news()["document:101"]["now"] == ""
    copied.take("document:101")
    assert "101" not in [d["form"] for d in copied.copy.written().draft["documents"]]


def test_from_a_deal_each_answer_is_shown_and_may_be_left_out(world: World) -> None:
    ines = Speaker(world.ines, world.deal)
    ines.type("terms.inspection_days", "9")
    ines.type("terms.purchase_price", "400,000")
    seen = ines.get(f"{ines.path}/as-template").json()
    kept = {row["key"]: row for row in seen["kept"]}
    assert (kept["terms.inspection_days"]["label"], kept["terms.inspection_days"]["text"]) == (
        "Inspection period in days",
        "9",
    )
    assert "Purchase price" in seen["left"] and "terms.purchase_price" not in kept
    begun = ines.post(
        "/api/templates",
        name="From it",
        from_deal=str(world.deal.pk),
        without=["terms.inspection_days", "301.commitment-days"],
    ).json()
    written = Template.objects.get(pk=begun["id"]).data
    assert "terms.inspection_days" not in written["answers"]
    assert "301.commitment-days" not in written["blanks"] and "301.disclosure-days" in written["blanks"]


def old_one(world: World, name: str) -> Writer:
    """A template of the first release."""
    writer = Writer(world.ines, name=name, side="buying")
    writer.pack(op="add", numbers=["301", "322", "414"])
    return writer


def test_what_a_newer_edition_would_do_is_shown_before_it_does(world: World) -> None:
    writer = old_one(world, "Old")
    take_in(second_pack())
    before = writer.written().draft
    would = {row["number"]: row for row in writer.speaker.get(f"{writer.path}/newest").json()}
    assert set(would) == {"322", "414"} and would["414"]["retired"]
    assert would["322"]["wording"] or would["322"]["blanks"]
    assert writer.written().draft == before, "nothing was done yet"


def test_many_are_moved_on_at_once_and_twice_is_once(world: World) -> None:
    writers = [old_one(world, f"Old {n}") for n in range(2)]
    take_in(second_pack())
    ids = [writer.id for writer in writers]
    moved = writers[0].speaker.post("/api/templates/newest", templates=ids).json()
    assert [row["name"] for row in moved] == ["Old 0", "Old 1"]
    assert all("414" in row["said"] for row in moved)
    assert all(not writer.whole()["retired"] for writer in writers)
    assert writers[0].speaker.post("/api/templates/newest", templates=ids).json() == []
    assert Speaker(world.bertil).post("/api/templates/newest", templates=ids).status_code == 404


def test_who_may_not_lock_begins_without_locks(world: World) -> None:
    upstream = Writer(world.rosa, side="buying")
    upstream.type("terms.inspection_days", "10")
    locked = upstream.edit({"op": "lock", "key": "terms.inspection_days"})
    assert locked.status_code == 200, locked.json()
    upstream.publish("brokerage")
    copy = Writer(world.ines, copy_of=upstream.id)
    assert copy.written().draft["locked"] == []
    assert copy.type("terms.inspection_days", "8").status_code == 200
    deal = Speaker(world.ines, Deal.objects.get(pk=world.deal.pk))
    deal.post(f"{deal.path}/templates", change=str(uuid.uuid4()), template=copy.id)
    assert not deal.fact("terms.inspection_days")["locked"]


def title_company(speaker: Speaker, shared: bool, phone: str) -> str:
    fields = {"company": "Keystone Title", "phone": phone, "email": "desk@keystone.example"}
    made = speaker.post("/api/contacts", kind="title", shared=shared, fields_said=fields)
    assert made.status_code in (200, 201), made.json()
    return str(made.json()["id"])


def title_phone(speaker: Speaker, template: str) -> str:
    deal = speaker.post("/api/deals", side="buying", template=template, clients=[]).json()["id"]
    facts = speaker.get(f"/api/deals/{deal}").json()["facts"]
    return str(next((f.get("shown", "") for f in facts if f["key"] == "title.phone"), ""))


def test_people_that_recur_are_read_anew_for_each_deal(mine: Writer) -> None:
    contact = title_company(mine.speaker, True, "(555) 555-0101")
    assert mine.about(people={"title": contact}).status_code == 200
    assert mine.whole()["people"] == {"title": {"id": contact, "name": "Keystone Title"}}
    assert title_phone(mine.speaker, mine.id) == "(555) 555-0101"
    changed = {"company": "Keystone Title", "phone": "(555) 555-0199"}
    body = {"kind": "title", "shared": True, "fields_said": changed}
    assert mine.speaker.post(f"/api/contacts/{contact}", **body).status_code == 200
    assert title_phone(mine.speaker, mine.id) == "(555) 555-0199"
    mine.about(people={"title": None})
    assert title_phone(mine.speaker, mine.id) == ""


def test_a_contact_that_is_not_open_to_who_starts_says_nothing(world: World) -> None:
    upstream = Writer(world.rosa, side="buying")
    upstream.pack(op="add", numbers=["101"])
    upstream.about(people={"title": title_company(upstream.speaker, False, "(555) 555-0101")})
    upstream.publish("brokerage")
    assert title_phone(Speaker(world.ines), upstream.id) == ""
    assert title_phone(Speaker(world.rosa), upstream.id) == "(555) 555-0101"


def test_the_second_agent_is_one_of_the_own_side(world: World, mine: Writer) -> None:
    fields = {"given": "Odile", "family": "Brandt", "licence": "CW-5150", "phone": "(555) 555-0142"}
    made = mine.speaker.post("/api/contacts", kind="agent", shared=True, fields_said=fields)
    assert mine.about(people={"second_agent": made.json()["id"]}).status_code == 200
    deal = mine.speaker.post("/api/deals", side="buying", template=mine.id, clients=[]).json()["id"]
    facts = {f["key"]: f for f in mine.speaker.get(f"/api/deals/{deal}").json()["facts"]}
    said = {key: facts[f"buyer_agent.second_{key}"]["shown"] for key in ("name", "licence", "phone")}
    assert said == {"name": "Odile Brandt", "licence": "CW-5150", "phone": "(555) 555-0142"}
    assert "shown" not in facts["listing_agent.second_name"]
    assert mine.about(people={"second_agent": title_company(mine.speaker, True, "")}).status_code == 400


def test_nobody_recurs_where_they_have_nothing_to_say(world: World, mine: Writer) -> None:
    contact = title_company(mine.speaker, True, "(555) 555-0101")
    assert mine.about(people={"lender": contact}).status_code == 400
    assert mine.about(people={"title": str(uuid.uuid4())}).status_code == 404


def test_a_rule_that_is_true_of_no_deal_is_told(mine: Writer) -> None:
    told = mine.about(rule='deal.side = "buying" and deal.side = "listing"', weight="suggested")
    assert told.status_code == 400 and "No deal can match" in told.json()["detail"]
    assert mine.about(rule='property.county = "Juniper" or terms.loan_type = "VA"').status_code == 200


def test_a_paper_stands_under_another_heading_and_goes_back_with_undo(mine: Writer) -> None:
    mine.pack(op="add", numbers=["101", "301", "510"])

    def headings() -> list[tuple[str, str]]:
        return [(d["form"], d["section"]) for d in mine.written().draft["documents"]]

    listed = {d["number"]: d["id"] for d in mine.speaker.get(mine.deal).json()["documents"]}
    mine.pack(op="section", document=listed["510"], section="First papers")
    moved = mine.pack(op="section", document=listed["101"], section="First papers").json()
    assert headings() == [("301", "Added"), ("510", "First papers"), ("101", "First papers")]
    mine.speaker.post(f"{mine.deal}/undo", change=str(uuid.uuid4()), target=moved["change"])
    assert headings() == [("101", "Added"), ("301", "Added"), ("510", "First papers")]
