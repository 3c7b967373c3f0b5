"""Laws of facts, tried with whatever Hypothesis thinks of."""

from __future__ import annotations

from dataclasses import replace

from hypothesis import given, settings
from hypothesis import strategies as st
from quillcore.facts import Act, Entry, Ledger, Source, compare
from quillcore.templates import TemplateContent, TemplateDocument, merge, read_template
from quillcore.templates.merging import same_task
from quillcore.templates.upstream import changed_parts, only, seen

from tests.core.small import CATALOG, demo_pack

KEYS = [
    "property.city",
    "property.year_built",
    "property.living_area",
    "property.parcel_number",
    "property.heating",
    "listing.price",
    "tax.owners",
]
SAID = {
    "property.year_built": ["1959", "1962"],
    "property.living_area": ["2,000 sq ft", "2,180 sq ft"],
    "listing.price": ["400000", "410000"],
    "property.parcel_number": ["3-0412-0077", "304120077"],
}
SOURCES = [Source.TYPED, Source.LISTING, Source.ROLL, Source.TEMPLATE, Source.PROFILE]


def value(key: str, which: int) -> object:
    return CATALOG[key].read(SAID.get(key, ["Ashgrove", "Quarry Bend"])[which])


STATEMENTS = st.dictionaries(
    st.tuples(st.sampled_from(KEYS), st.sampled_from(SOURCES)), st.integers(0, 1), max_size=20
)


def told(
    statements: list[tuple[tuple[str, Source], int]], choices: dict[str, Source] | None = None
) -> Ledger:
    ledger = Ledger(CATALOG, "buying")
    for order, ((key, source), which) in enumerate(statements, 1):
        ledger.add(Entry(key, Act.STATE, order, source, value(key, which)))  # type: ignore[arg-type]
    for key, source in (choices or {}).items():
        ledger.add(Entry(key, Act.CHOOSE, 999, source))
    return ledger


def holds(ledger: Ledger) -> dict[str, object]:
    return {key: (held.value, held.source) for key in KEYS if (held := ledger.in_force(key))}


@given(STATEMENTS, st.randoms())
def test_the_same_statements_hold_the_same_in_any_order_of_arrival(
    statements: dict[tuple[str, Source], int], random: object
) -> None:
    rows = list(statements.items())
    shuffled = rows.copy()
    random.shuffle(shuffled)  # type: ignore[attr-defined]
    assert holds(told(rows)) == holds(told(shuffled))


@given(STATEMENTS, st.sampled_from(KEYS), st.sampled_from(SOURCES), st.integers(0, 1))
def test_stating_and_taking_back_restores_exactly(
    statements: dict[tuple[str, Source], int], key: str, source: Source, which: int
) -> None:
    rows = list(statements.items())
    ledger = told(rows)
    before, stood = holds(ledger), ledger.beside(key).get(source)
    ledger.add(Entry(key, Act.STATE, 500, source, value(key, which)))  # type: ignore[arg-type]
    ledger.add(
        Entry(key, Act.STATE, 501, source, stood.value) if stood else Entry(key, Act.CLEAR, 501, source)
    )
    assert holds(ledger) == before


RECORD = st.dictionaries(st.sampled_from(KEYS), st.integers(0, 1), max_size=len(KEYS))


@settings(max_examples=200)
@given(STATEMENTS, RECORD, RECORD)
def test_a_comparison_promises_exactly_what_accepting_does(
    statements: dict[tuple[str, Source], int], listing: dict[str, int], roll: dict[str, int]
) -> None:
    rows = list(statements.items())
    ledger = told(rows)
    from_listing = {key: value(key, which) for key, which in listing.items()}
    from_roll = {key: value(key, which) for key, which in roll.items()}
    promised = compare(ledger, from_listing, from_roll)  # type: ignore[arg-type]
    after = told(rows)
    for order, (source, facts) in enumerate(((Source.LISTING, from_listing), (Source.ROLL, from_roll)), 800):
        for key, said in facts.items():
            after.add(Entry(key, Act.STATE, order, source, said))  # type: ignore[arg-type]
    for row in promised:
        held = after.in_force(row.key)
        assert held is not None
        assert (row.becomes, row.becomes_source) == (held.value, held.source)
        typed = ledger.beside(row.key).get(Source.TYPED)
        if typed is not None:
            assert held.value == typed.value, "nothing typed is overwritten"
            assert row.status in ("kept", "same")
    ranks = [("differs", "kept", "new", "same").index(r.status) for r in promised]
    assert ranks == sorted(ranks), "what differs comes first"
    assert {r.key for r in promised} == set(listing) | set(roll)


ANSWERS = st.dictionaries(
    st.sampled_from(["terms.closing_days", "terms.inspection_days", "terms.financing_days"]),
    st.integers(1, 90).map(str),
)


@given(ANSWERS, ANSWERS, ANSWERS)
def test_templates_applied_twice_add_nothing_and_never_beat_what_is_typed(
    typed: dict[str, str], first: dict[str, str], second: dict[str, str]
) -> None:
    ledger = Ledger(CATALOG, "buying")
    for order, (key, text) in enumerate(typed.items(), 1):
        ledger.add(Entry(key, Act.STATE, order, Source.TYPED, CATALOG[key].read(text)))  # type: ignore[arg-type]
    forms, present, order = demo_pack().forms, {"301": ["x"]}, 100
    made = [
        TemplateContent(
            name=n, side="buying", documents=(TemplateDocument(section="A", form="301"),), answers=a
        )
        for n, a in (("one", first), ("two", second))
    ]
    for template in (*made, *made):
        merged = merge(template, ledger, forms, present, order)
        assert merged.documents == ()
        for entry in merged.entries:
            ledger.add(entry)
        order += 50
    before = {key: ledger.in_force(key) for key in (*typed, *first, *second)}
    for template in made:
        assert merge(template, ledger, forms, present, order).entries == ()
    for key, text in typed.items():
        assert before[key] is not None
        assert before[key].value == CATALOG[key].read(text)  # type: ignore[union-attr]
    for key, text in first.items():
        if key not in typed:
            assert before[key].value == CATALOG[key].read(text), "the earlier template's answer stays"  # type: ignore[union-attr]


ANSWERS = {
    "terms.inspection_days": ["7", "10"],
    "terms.deposit_due_days": ["2", "3"],
    "terms.title_payer": ["seller", "buyer"],
    "terms.closing_date": [
        "= days_after(terms.acceptance_date, 30)",
        "= days_after(terms.acceptance_date, 45)",
    ],
    "representation.agency": ["buyer only", "neither"],
}
NUMBERS = ["101", "301", "401", "410", "503", "510"]
WHATS = ["Order the inspection", "Call the lender", "Walk-through"]


@st.composite
def templates(draw: st.DrawFn, name: str, which: int | None = None) -> TemplateContent:
    """A template; with ``which`` one whose answers agree with every other of that number."""
    keys = draw(st.lists(st.sampled_from(sorted(ANSWERS)), unique=True))
    answers = {key: ANSWERS[key][draw(st.integers(0, 1)) if which is None else which] for key in keys}
    numbers = draw(st.lists(st.sampled_from(NUMBERS), unique=True))
    whats = draw(st.lists(st.sampled_from(WHATS), unique=True))
    blanks = {"301.disclosure-days": "5"} if "301" in numbers and draw(st.booleans()) else {}
    content = {
        "name": name,
        "side": "buying",
        "documents": [{"section": "All", "form": number} for number in numbers],
        "answers": answers,
        "blanks": blanks,
        "tasks": [{"what": what, "due": "terms.closing_date"} for what in whats],
    }
    read = read_template(content, demo_pack().forms, CATALOG, name)
    assert isinstance(read, TemplateContent), read
    return read


class Applied:
    """What a deal holds once templates were applied to it, one after the other."""

    def __init__(self, *typed: tuple[str, str]) -> None:
        self.ledger = Ledger(CATALOG, "buying")
        self.order = 0
        self.present: dict[str, list[str]] = {}
        self.tasks: set[str] = set()
        for key, text in typed:
            self.add(Entry(key, Act.STATE, 0, Source.TYPED, CATALOG[key].read(text)))  # type: ignore[arg-type]

    def add(self, entry: Entry) -> None:
        self.order += 1
        self.ledger.add(replace(entry, order=self.order))

    def apply(self, template: TemplateContent) -> Applied:
        forms, ids = demo_pack().forms, {number: f"form{number}" for number in NUMBERS}
        merged = merge(template, self.ledger, forms, self.present, self.order + 1, ids, self.tasks)
        for entry in merged.entries:
            self.add(entry)
        self.present |= {d.form or "": [code] for code, d in merged.documents}
        self.tasks |= {same_task(d.what) for d in merged.tasks}
        return self

    def holds(self) -> object:
        said = {}
        for key in sorted(self.ledger.keys()):
            stated = self.ledger.in_force(key)
            said[key] = (stated.value, stated.formula, stated.source) if stated else None
        return said, sorted(self.present), sorted(self.tasks)


@given(templates("a", 0), templates("b", 0))
def test_the_order_of_templates_that_agree_does_not_matter(a: TemplateContent, b: TemplateContent) -> None:
    assert Applied().apply(a).apply(b).holds() == Applied().apply(b).apply(a).holds()


@given(templates("a"), templates("b"))
def test_applying_twice_is_applying_once_whatever_came_between(
    a: TemplateContent, b: TemplateContent
) -> None:
    once = Applied().apply(a).apply(b).holds()
    assert Applied().apply(a).apply(b).apply(a).apply(b).holds() == once


@given(templates("a"), st.sampled_from(sorted(ANSWERS)))
def test_what_was_typed_is_never_replaced(a: TemplateContent, key: str) -> None:
    typed = "2027-05-01" if key == "terms.closing_date" else ANSWERS[key][0]
    ledger = Applied((key, typed)).apply(a).ledger
    stated = ledger.in_force(key)
    assert stated is not None and stated.source is Source.TYPED


@given(templates("a"), templates("b"))
def test_what_upstream_says_is_told_until_it_is_said_here(a: TemplateContent, b: TemplateContent) -> None:
    base, upstream = a.model_dump(exclude_defaults=True), b.model_dump(exclude_defaults=True)
    parts = changed_parts(base, upstream, base)
    ids = [part.id for part in parts]
    assert changed_parts(seen(base, upstream, ids), upstream, base) == []
    assert changed_parts(base, upstream, upstream) == []
    news = only(upstream, ids)
    assert {f"answer:{key}" for key in news["answers"]} <= set(ids)
    assert changed_parts(base, base, upstream) == []
