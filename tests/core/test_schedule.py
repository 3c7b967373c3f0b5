"""What is due, and what is next."""

from datetime import date

from quillcore.facts import Act, Entry, Ledger, Source, load_catalog
from quillcore.facts.keys import Side
from quillcore.formulas import Sheet
from quillcore.schedule import key_dates, next_date


def sheet(side: Side = Side.BUYING, **said: str) -> Sheet:
    ledger = Ledger(load_catalog(), side)
    for n, (key, text) in enumerate(said.items(), 1):
        fact = load_catalog()[key.replace("__", ".")]
        ledger.add(Entry(fact.key, Act.STATE, n, Source.TYPED, fact.read(text)))
    return Sheet(ledger)


def labels(**said: str) -> list[str]:
    return [d.label for d in key_dates(sheet(**said), load_catalog())]


def test_dates_stand_in_their_order_and_unknown_ones_are_left_out() -> None:
    assert labels() == []
    assert labels(terms__closing_date="2027-03-01", terms__possession_date="2027-02-01") == [
        "Possession",
        "Closing",
    ]


def test_an_offers_expiry_is_over_once_it_is_accepted() -> None:
    expires = {"terms__expiry_date": "2027-01-05"}
    assert labels(**expires) == ["Offer expires"]
    assert labels(**expires, terms__acceptance_date="2027-01-02", terms__closing_days="30") == ["Closing"]


def test_worked_out_dates_are_due_too() -> None:
    found = key_dates(
        sheet(terms__acceptance_date="2027-01-04", terms__deposit_due_days="3", terms__inspection_days="10"),
        load_catalog(),
    )
    assert [(d.label, d.day, d.key) for d in found] == [
        ("Deposit due", date(2027, 1, 7), "terms.deposit_due_date"),
        ("Inspection ends", date(2027, 1, 14), "terms.inspection_date"),
    ]


def test_the_next_one_is_todays_still_and_none_when_all_have_passed() -> None:
    dates = key_dates(
        sheet(terms__expiry_date="2027-01-05", terms__closing_date="2027-03-01"), load_catalog()
    )
    assert next_date(dates, date(2027, 1, 5)) == dates[0]
    assert next_date(dates, date(2027, 1, 6)) == dates[1]
    assert next_date(dates, date(2027, 3, 2)) is None


def test_a_listings_end_is_due_to_those_who_list() -> None:
    ends = {"listing__expiry_date": "2027-05-02"}
    assert key_dates(sheet(**ends), load_catalog()) == []
    listed = key_dates(sheet(Side.LISTING, **ends), load_catalog())
    assert [d.label for d in listed] == ["Listing ends"]
