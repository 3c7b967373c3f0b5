"""Every kind of answer at every blank of every form: whatever a blank says, the package can be read, signed,
proofread and reckoned with."""

from __future__ import annotations

from datetime import date
from itertools import count

import pytest
from quillcore.assembly import Blank, Package, PackageDocument, assemble
from quillcore.estimates import lines_of, money_sheets
from quillcore.facts import Act, Entry, Ledger, Side, Source
from quillcore.forms import Form
from quillcore.proofreading import Proof, proofread
from quillcore.signing.asking import questions_of, standing
from quillcore.signing.planning import RoundPlan
from quillcore.tasks.due import due_list, tasks_of_forms
from quillcore.values import EMPTY, KINDS, Fault, Printable, Value

from tests.core.small import CATALOG, demo_pack, every_form, people

TODAY = date(2027, 3, 1)
THREE = (("Ana", "Ruiz"), ("Łukasz", "Nguyễn"), ("Marguerite", "Oyelaran"))
"""One more than any form has lines for, so that each goes on to a further page."""
LONG = "As agreed between them in writing, and not otherwise. " * 40
USUAL = {"money": "100", "percent": "1", "integer": "1", "number": "1", "date": "2027-03-15", "time": "5pm"}
USUAL |= {"year": "2001", "phone": "5555550123", "email": "a@post.example", "yes_no": "yes", "area": "900"}
FAR = {"money": "-999999999", "percent": "0", "integer": "-999999", "number": "0", "date": "1901-01-01"}
FAR |= {"year": "1", "time": "0:00", "phone": "5", "email": "a", "yes_no": "no", "area": "0"}


def read(kind: str, options: tuple[str, ...], text: str) -> Printable | None:
    """The value of a text; None where that kind has none of it."""
    if options:
        return options[0] if text != LONG else options[-1]
    found = KINDS[kind].read(text)
    return None if isinstance(found, Fault) else found


def answer(blank: Blank, what: str) -> Value | None:
    """One kind of answer to a blank."""
    if what == "none":
        return EMPTY
    texts = USUAL if what == "usual" else FAR
    return read(blank.kind, blank.options, texts.get(blank.kind, "As agreed" if what == "usual" else LONG))


def package_of(form: Form) -> Package:
    side = Side(sorted(form.edition.sides)[0])
    ledger = Ledger(CATALOG, side)
    said = people(side.clients, *THREE) | people(side.others, *THREE)
    for order, (key, value) in enumerate(said.items(), 1):
        ledger.add(Entry(key, Act.STATE, order, Source.TYPED, value))
    return Package([PackageDocument("d1", form)], ledger, demo_pack().sheet.setting())


def state(package: Package, key: str, what: str, value: Value | None, order: int) -> None:
    stored = package.sheet.ledger.stored_key(key)
    if stored is None:
        return
    if what == "left":
        package.sheet.ledger.add(Entry(stored, Act.LEAVE, order, Source.TYPED))
    elif value is not None:
        package.sheet.ledger.add(Entry(stored, Act.STATE, order, Source.TYPED, value))
    package.sheet.refresh([stored])


def work_with(package: Package) -> None:
    """All that a deal does with its papers, but for drawing them."""
    document = package.documents[0]
    plan = RoundPlan(package, [document.id], None)
    plan.against()
    list(standing(questions_of(package, document), {}))
    proofread(Proof(package, TODAY, (), {}, demo_pack().forms))
    due_list(
        tasks_of_forms([(d.id, d.form) for d in package.documents], package.sheet, CATALOG), package.sheet
    )
    for sheet in money_sheets(package.sheet):
        for line in lines_of(sheet.result):
            for part in line.flat():
                part.amount(package.sheet)


@pytest.mark.parametrize("number", sorted(every_form()))
@pytest.mark.parametrize("what", ["none", "usual", "far", "left"])
@pytest.mark.parametrize("where", ["everywhere", "only here"])
def test_all_blanks_at_once(number: str, what: str, where: str) -> None:
    package = package_of(every_form()[number])
    for order, blank in enumerate(list(package.blanks()), 1000):
        key = blank.own_key if where == "only here" else blank.key
        state(package, key, what, answer(blank, what), order)
    work_with(package)
    assemble(package, "All of it")


@pytest.mark.parametrize("number", sorted(every_form()))
def test_one_blank_after_the_other(number: str) -> None:
    """One answer of none among answers that are usual: the conditions of forms look at it then."""
    package = package_of(every_form()[number])
    orders = count(1000)
    for blank in list(package.blanks()):
        state(package, blank.key, "usual", answer(blank, "usual"), next(orders))
    for key in dict.fromkeys(b.key for b in package.blanks()):
        stored = package.sheet.ledger.stored_key(key)
        before = package.sheet.ledger.in_force(stored) if stored is not None else None
        state(package, key, "none", EMPTY, next(orders))
        work_with(package)
        if before is not None:
            state(package, key, "usual", before.value, next(orders))
