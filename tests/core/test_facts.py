"""Which source wins, what a comparison says, and what parties are called."""

from __future__ import annotations

from datetime import date
from decimal import Decimal

import pytest
from quillcore.facts import Act, Entry, Ledger, Party, Side, Source, compare, load_catalog
from quillcore.facts.intake import for_the_owner, from_listing, from_roll
from quillcore.facts.parties import initials_of, is_derived, joined, shared_emails
from quillcore.facts.scopes import belongs_to_offer
from quillcore.values import EMPTY, FindingWeight, Value

CATALOG = load_catalog()


class Says:
    """A ledger that is told things in order."""

    def __init__(self, side: str = "buying") -> None:
        self.ledger = Ledger(CATALOG, side)
        self.order = 0

    def __call__(self, key: str, value: Value, source: Source = Source.TYPED, locked: bool = False) -> Says:
        self.order += 1
        self.ledger.add(Entry(key, Act.STATE, self.order, source, value, locked=locked))
        return self

    def act(self, key: str, act: Act, source: Source | None) -> Says:
        self.order += 1
        self.ledger.add(Entry(key, act, self.order, source))
        return self

    def now(self, key: str) -> tuple[object, object]:
        held = self.ledger.in_force(key)
        return (held.value, held.source) if held else (None, None)


def test_the_order_of_sources() -> None:
    say = Says()
    key = "property.heating"
    for source in (Source.FORM, Source.PROFILE, Source.TEMPLATE, Source.ROLL, Source.LISTING, Source.TYPED):
        say(key, f"by {source}", source)
        assert say.now(key) == (f"by {source}", source)
    for source in (Source.TYPED, Source.LISTING, Source.ROLL, Source.TEMPLATE, Source.PROFILE):
        say.act(key, Act.CLEAR, source)
    assert say.now(key) == ("by form", Source.FORM), "clearing lets the next source through"


def test_authority_decides_between_listing_and_roll() -> None:
    say = Says()("property.year_built", Decimal(1962), Source.LISTING)(
        "property.year_built", Decimal(1959), Source.ROLL
    )
    assert say.now("property.year_built") == (Decimal(1959), Source.ROLL)
    say("property.living_area", "2,000 sq ft", Source.ROLL)(
        "property.living_area", "2,100 sq ft", Source.LISTING
    )
    assert say.now("property.living_area")[1] is Source.LISTING, "either means listing"
    assert say.ledger.differs("property.living_area")


def test_one_source_alone_differs_from_nothing() -> None:
    area = "property.living_area"
    for source in (Source.LISTING, Source.ROLL):
        assert not Says()(area, "2,000 sq ft", source).ledger.differs(area)
    same = Says()(area, "2,000 sq ft", Source.LISTING)(area, "2,000 sq ft", Source.ROLL)
    assert not same.ledger.differs(area)
    for source, is_locked in ((Source.TYPED, False), (Source.TEMPLATE, True)):
        say = Says()(area, "2,000 sq ft", Source.LISTING)(area, "2,100 sq ft", Source.ROLL)
        assert not say(area, "2,050 sq ft", source, locked=is_locked).ledger.differs(area)


def test_a_chosen_source_holds_until_something_is_typed() -> None:
    say = Says()("property.living_area", "2,100 sq ft", Source.LISTING)(
        "property.living_area", "2,000 sq ft", Source.ROLL
    )
    say.act("property.living_area", Act.CHOOSE, Source.ROLL)
    assert say.now("property.living_area") == ("2,000 sq ft", Source.ROLL)
    assert not say.ledger.differs("property.living_area"), "it was decided"
    say("property.living_area", "2,050 sq ft")
    assert say.now("property.living_area") == ("2,050 sq ft", Source.TYPED)
    say.act("property.living_area", Act.CLEAR, Source.TYPED)
    assert say.now("property.living_area") == ("2,100 sq ft", Source.LISTING)


def test_a_locked_answer_beats_what_is_typed() -> None:
    say = Says()("buyer_agent.firm", "Somebody")("buyer_agent.firm", "The Firm", Source.TEMPLATE, locked=True)
    assert say.now("buyer_agent.firm") == ("The Firm", Source.TEMPLATE)


def test_intentionally_empty_is_an_answer() -> None:
    assert (
        Says()("property.included_items", "Fridge", Source.LISTING)("property.included_items", EMPTY).now(
            "property.included_items"
        )[0]
        is EMPTY
    )


def test_of_a_pair_the_one_stated_last_is_the_input_unless_its_source_is_weaker() -> None:
    say = Says()("terms.deposit_percent", Decimal(1))("terms.deposit_amount", Decimal(5000))
    assert say.now("terms.deposit_percent") == (None, None)
    assert say.now("terms.deposit_amount")[0] == Decimal(5000)
    say("terms.deposit_percent", Decimal(3), Source.TEMPLATE)
    assert say.now("terms.deposit_amount")[0] == Decimal(5000), (
        "a template's half does not push a typed half out"
    )


def test_a_listing_never_states_what_is_this_agents_own() -> None:
    say = Says("listing")("listing_agent.name", "Former Agent", Source.LISTING)(
        "listing_agent.name", "Me", Source.PROFILE
    )
    assert say.now("listing_agent.name") == ("Me", Source.PROFILE)
    assert say.now("listing.list_date") == (None, None)
    assert (
        Says("buying")("listing_agent.name", "Their Agent", Source.LISTING).now("listing_agent.name")[1]
        is Source.LISTING
    )


def test_terms_and_the_other_side_belong_to_the_offer() -> None:
    for key in ("terms.purchase_price", "sellers", "listing_agent.name"):
        assert belongs_to_offer(key, Side("buying"))
    for key in ("property.city", "buyers", "buyer_agent.name", "tax.annual"):
        assert not belongs_to_offer(key, Side("buying"))
    assert belongs_to_offer("buyers", Side("listing"))


LISTING = {
    "ListingId": "26-1",
    "ListPrice": 500000,
    "LivingArea": 2180,
    "YearBuilt": 1962,
    "ParcelNumber": "304120077",
    "PropertySubType": "Single Family Residence",
    "StreetNumber": "214",
    "StreetName": "Alder",
    "StandardStatus": "Active",
    "WaterSource": ["Public"],
    "LotSizeAcres": 0.25,
    "BedroomsTotal": None,
}
ROLL = {
    "parcel": "3-0412-0077",
    "living_area": "2000 sq ft",
    "year_built": "1962",
    "owner": "VOSS LENA",
    "situs_number": "214",
    "land_use": "",
    "legal": "Lot 1",
}


def test_records_become_facts_and_what_cannot_be_read_is_told() -> None:
    facts, unread = from_listing(CATALOG, {**LISTING, "YearBuilt": "old"})
    assert facts["property.category"] == "single-family"
    assert facts["property.lot_size"] == "0.25 acres"
    assert facts["property.water"] == "public"
    assert "property.bedrooms" not in facts
    assert [f.place for f in unread] == ["property.year_built"]


def test_the_comparison_shows_heavy_differences_first_and_keeps_what_was_typed() -> None:
    say = Says()("property.street_name", "Oak")("listing.status", "Active", Source.LISTING)
    rows = compare(say.ledger, from_listing(CATALOG, LISTING)[0], from_roll(CATALOG, ROLL)[0])
    by_key = {r.key: r for r in rows}
    assert rows[0].key == "property.living_area", "nine percent apart"
    assert rows[0].heavy
    assert by_key["property.street_name"].status == "kept"
    assert by_key["property.street_name"].becomes == "Oak"
    assert by_key["property.parcel_number"].status == "new", "304120077 and 3-0412-0077 are the same number"
    assert by_key["property.parcel_number"].becomes == "3-0412-0077", "as the roll writes it"
    assert by_key["listing.status"].status == "same"
    assert by_key["property.street_number"].becomes_source is Source.LISTING


def test_areas_less_than_five_percent_apart_are_no_heavy_difference() -> None:
    rows = compare(
        Ledger(CATALOG, "buying"),
        {"property.living_area": "2,000 sq ft"},
        {"property.living_area": "2,090 sq ft"},
    )
    assert (rows[0].status, rows[0].heavy) == ("differs", False)


@pytest.mark.parametrize(
    ("fields", "name", "signature", "initials"),
    [
        (
            {"given": "June", "middle": "M", "family": "O'Brien-Tate", "suffix": "Jr"},
            "June M O'Brien-Tate Jr",
            "June M O'Brien-Tate Jr",
            "JJ",
        ),
        (
            {
                "kind": "entity",
                "entity_name": "Voss Family Trust",
                "signer": "Lena Voss",
                "capacity": "trustee",
            },
            "Voss Family Trust",
            "Lena Voss, as trustee of the Voss Family Trust",
            "LV",
        ),
        (
            {"entity_name": "Ridgeline Holdings LLC", "signer": "Ana Ruiz"},
            "Ridgeline Holdings LLC",
            "Ridgeline Holdings LLC, by Ana Ruiz",
            "AR",
        ),
        (
            {"given": "Paul", "family": "Delacroix", "capacity": "attorney-in-fact"},
            "Paul Delacroix",
            "Paul Delacroix, as attorney-in-fact",
            "PD",
        ),
        ({}, "", "", ""),
    ],
)
def test_parties_are_named_as_forms_print_them(
    fields: dict[str, str], name: str, signature: str, initials: str
) -> None:
    party = Party.of(fields)
    assert (party.name, party.signature_name, party.initials) == (name, signature, initials)


def test_joined_names() -> None:
    assert [joined(["A"]), joined(["A", "B"]), joined(["A", "B", "C"]), joined([])] == [
        "A",
        "A and B",
        "A, B, and C",
        "",
    ]


def test_the_catalog_reads_what_its_examples_say() -> None:
    for fact in CATALOG:
        if fact.example:
            assert not hasattr(fact.read(fact.example, today=date(2027, 1, 1)), "mend"), fact.key


def _compared(say: Says, listing: dict[str, Value], roll: dict[str, Value]) -> dict[str, tuple[object, ...]]:
    rows = compare(say.ledger, listing, roll)
    return {r.key: (r.status, r.becomes, r.becomes_source, r.heavy) for r in rows}


def test_a_comparison_says_what_would_hold_for_each_way_that_sources_stand() -> None:
    year, built = "property.year_built", Decimal(1962)
    other = Decimal(1963)
    assert _compared(Says(), {year: built}, {})[year] == ("new", built, Source.LISTING, False)
    assert _compared(Says(), {year: built}, {year: built})[year][0] == "new"
    apart = _compared(Says(), {year: built}, {year: other})[year]
    assert apart[0] == "differs"
    brought_in = Says()(year, built, Source.LISTING)
    assert _compared(brought_in, {year: other}, {})[year][:2] == ("differs", other), "the source has changed"
    assert _compared(Says()(year, built), {year: other}, {})[year][:3] == ("kept", built, Source.TYPED)
    assert _compared(Says()(year, built), {year: built}, {})[year][0] == "same"
    chosen = Says()(year, built, Source.LISTING)(year, other, Source.ROLL).act(year, Act.CHOOSE, Source.ROLL)
    now = Decimal(1970)
    assert _compared(chosen, {year: now}, {})[year][1:3] == (other, Source.ROLL), "what was chosen stays"
    assert _compared(chosen, {year: now}, {year: now})[year][1:3] == (now, Source.ROLL)


def test_a_comparison_leaves_out_what_the_own_agent_says_and_what_is_never_compared() -> None:
    ours = next(f.key for f in CATALOG if f.own_side == "buying" and f.compared and f.kind == "text")
    assert _compared(Says(), {ours: "x"}, {}) == {}, "a listing doesn't state what is this agent's own"
    assert ours in _compared(Says(), {ours: "x"}, {ours: "y"})
    assert _compared(Says(), {"package.301": True, "nothing.such": "x"}, {}) == {}


def test_a_choice_made_before_holds_in_the_comparison_too() -> None:
    year = "property.year_built"
    say = Says()(year, Decimal(1962), Source.LISTING)(year, Decimal(1963), Source.ROLL)
    say.act(year, Act.CHOOSE, Source.ROLL)
    row = _compared(say, {year: Decimal(1962)}, {year: Decimal(1964)})[year]
    assert row[1:3] == (Decimal(1964), Source.ROLL)


def test_a_locked_answer_stays_in_force_in_the_comparison() -> None:
    say = Says()("property.year_built", Decimal(1962), Source.TEMPLATE, locked=True)
    row = _compared(say, {"property.year_built": Decimal(1970)}, {})["property.year_built"]
    assert row[:3] == ("kept", Decimal(1962), Source.TEMPLATE)


def test_the_comparison_says_what_a_source_said_before() -> None:
    year = "property.year_built"
    say = Says()(year, Decimal(1962), Source.LISTING)(year, Decimal(1962), Source.ROLL)
    [row] = compare(say.ledger, {year: Decimal(1965)}, {year: Decimal(1962)})
    assert row.was == {Source.LISTING: Decimal(1962)}
    assert compare(say.ledger, {}, {year: Decimal(1962)})[0].was == {}


@pytest.mark.parametrize(
    ("one", "other", "heavy"),
    [
        ("2,000 sq ft", "2,100 sq ft", True),
        ("2,000 sq ft", "2,099 sq ft", False),
    ],
)
def test_an_area_is_heavy_from_five_percent_on(one: str, other: str, heavy: bool) -> None:
    key = "property.living_area"
    assert _compared(Says(), {key: one}, {key: other})[key][3] is heavy


def test_who_shares_an_email_is_remarked_on_with_all_others() -> None:
    said = [
        ("Ana", " a@post.example"),
        ("Ben", "A@post.example"),
        ("Cy", "a@post.example"),
        ("Dee", "d@post.example"),
    ]
    parties = {
        f"buyers.{n}.email": Party.of({"given": name, "email": email})
        for n, (name, email) in enumerate(said, 1)
    }
    parties |= {f"sellers.{n}.email": Party.of({"given": name}) for n, name in enumerate(("Eve", "Flo"), 1)}
    found = shared_emails(parties)
    assert {key: f.message for key, f in found.items()} == {
        "buyers.1.email": "Ben and Cy have this e-mail too.",
        "buyers.2.email": "Ana and Cy have this e-mail too.",
        "buyers.3.email": "Ana and Ben have this e-mail too.",
    }
    assert {(f.rule, f.weight, f.place == key) for key, f in found.items()} == {
        ("shared e-mail", FindingWeight.LOOK, True)
    }


@pytest.mark.parametrize(
    ("key", "derived"),
    [
        ("buyers.names", True),
        ("sellers.count", True),
        ("buyers.1.name", True),
        ("buyers.2.initials", True),
        ("party.a1b2c3.signature_name", True),
        ("buyers.1.given", False),
        ("party.a1b2c3.email", False),
        ("lender.name", False),
        ("terms.names", False),
        ("buyers", False),
    ],
)
def test_what_parties_make_is_not_typed(key: str, derived: bool) -> None:
    assert is_derived(key) is derived


@pytest.mark.parametrize(
    ("letters", "said"),
    [("X", False), ("zone x", False), ("C", False), ("AE", True), ("A99", True), ("VE", True), ("yes", True)],
)
def test_a_flood_zones_letters_are_read_by_their_meaning(letters: str, said: bool) -> None:
    facts, faults = from_roll(CATALOG, {"flood_zone": letters})
    assert (facts["property.flood_zone"], faults) == (said, [])


def test_a_flood_zone_that_was_never_determined_is_told_and_not_guessed() -> None:
    facts, faults = from_roll(CATALOG, {"flood_zone": "D"})
    assert "property.flood_zone" not in facts and faults[0].place == "property.flood_zone"


OLD_LISTING: dict[str, Value] = {
    "listing.number": "26-0402",
    "listing.status": "Expired",
    "listing.price": Decimal("430000.00"),
    "listing.remarks": "A charmer.",
    "listing_agent.firm": "Tern & Tide Realty",
    "listing_agent.firm_licence": "CWF-0300",
    "property.year_built": Decimal(1994),
}


def owners_deal(side: str, licence: str) -> Ledger:
    made = Ledger(CATALOG, side)
    made.add(Entry("listing_agent.firm_licence", Act.STATE, 1, Source.PROFILE, licence))
    return made


def test_an_old_listing_of_another_firm_brings_only_what_is_the_homes() -> None:
    kept, said = for_the_owner(owners_deal("listing", "CWF-0100"), OLD_LISTING)
    assert kept == {"property.year_built": Decimal(1994)}
    assert "an earlier one of Tern & Tide Realty, expired" in said
    _, said = for_the_owner(
        owners_deal("leasing out", "CWF-0100"), OLD_LISTING | {"listing.status": "Active"}
    )
    assert "is active: ask the owner" in said


def test_the_own_listing_and_a_buyers_deal_take_all_of_it() -> None:
    assert for_the_owner(owners_deal("listing", "CWF-0300"), OLD_LISTING) == (OLD_LISTING, "")
    assert for_the_owner(owners_deal("buying", "CWF-0100"), OLD_LISTING) == (OLD_LISTING, "")
    assert for_the_owner(owners_deal("listing", "CWF-0100"), {}) == ({}, "")


@pytest.mark.parametrize(
    ("name", "letters"),
    [
        ("Amara Okafor", "AO"),
        ("Amara Ngozi Okafor", "AO"),
        ("O'Brien Tate", "OT"),
        ("amara van der meer", "AM"),
        ("Cher", "C"),
        ("2 Rivers LLC", "RL"),
        ("", ""),
    ],
)
def test_initials_are_of_the_first_and_the_last_word(name: str, letters: str) -> None:
    assert initials_of(name) == letters
