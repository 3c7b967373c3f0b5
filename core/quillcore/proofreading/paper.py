"""Rules about the texts of blanks."""

from __future__ import annotations

import re

from quillcore.assembly import HandChange, drawn
from quillcore.facts import Source
from quillcore.facts.wording import GAP
from quillcore.proofreading.model import Proof, Remark, Remarks, RemarkWeight
from quillcore.values.words import amount_in_words

_STAND_IN = re.compile(
    r"\b(tbd|tba|tbc|n/?t|xxx+|todo|to come|fill in|asdf|lorem|test)\b|\?\?|_{3,}", re.IGNORECASE
)
"""Texts that people type to come back to later."""


def open_blanks(proof: Proof) -> Remarks:
    """Yield a required blank without an answer, each question once."""
    seen: set[str] = set()
    for blank in proof.blanks:
        if blank.state == "open" and blank.fault is None and blank.key not in seen:
            seen.add(blank.key)
            waits = [proof.label(key) for key in blank.missing if key != blank.key]
            why = f" It needs {', '.join(waits).lower()}." if waits else ""
            yield proof.on(
                "open",
                RemarkWeight.MUST,
                blank,
                f"{blank.label}: no answer yet.{why}",
                "Fill it in, or mark “None”.",
            )


def faults(proof: Proof) -> Remarks:
    """Yield a value that isn't allowed where it stands, of which a form has no box, or a formula that
    breaks."""
    seen: set[tuple[str, str]] = set()
    for blank in proof.blanks:
        fault = blank.fault
        if fault is None or fault.rule == "order":  # days out of order are told once, with those on no paper
            continue
        is_this_forms = fault.rule == "no box"
        where = (blank.key, blank.document if is_this_forms else "")
        if where not in seen:
            seen.add(where)
            rule = "no box" if is_this_forms else "fault"
            yield proof.on(rule, RemarkWeight.MUST, blank, fault.message, fault.mend)


def only_here(proof: Proof) -> Remarks:
    """Yield a blank that says something else than its fact does everywhere else."""
    seen: set[str] = set()
    for blank in proof.blanks:
        if blank.only_here and blank.own_key not in seen:
            seen.add(blank.own_key)
            yield proof.on(
                "only here",
                RemarkWeight.LOOK,
                blank,
                f"{blank.label} says “{blank.text or 'something else'}” only here.",
                "Rejoin the shared answer if this is a mistake.",
            )


def continued(proof: Proof) -> Remarks:
    """Yield text that went to a continuation page."""
    for blank in proof.blanks:
        if blank.overflow:
            yield proof.on(
                "continued",
                RemarkWeight.LOOK,
                blank,
                f"{blank.label} continues on a continuation page.",
                "Review that page.",
            )


def stand_ins(proof: Proof) -> Remarks:
    """Yield text that was to be replaced: TBD, ???, xxx."""
    seen: set[str] = set()
    for blank in proof.blanks:
        said = blank.text.replace(GAP, "")  # what a clause doesn't know is remarked on by itself
        if blank.field.shape == "text" and blank.key not in seen and (found := _STAND_IN.search(said)):
            seen.add(blank.key)
            yield proof.on(
                "stand-in",
                RemarkWeight.SHOULD,
                blank,
                f"{blank.label} still says “{found[0]}”.",
                "Enter the answer.",
            )


def words_and_figures(proof: Proof) -> Remarks:
    """Yield a price in words that isn't the price in figures."""
    price, words = proof.money("terms.purchase_price"), proof.said("terms.purchase_price_words")
    if price is None or not words:
        return
    right = amount_in_words(price)
    if " ".join(words.casefold().split()) != " ".join(right.casefold().split()):
        yield proof.at(
            "words",
            RemarkWeight.MUST,
            "terms.purchase_price_words",
            f"The price in words is “{words}”, in figures {price:,.2f}.",
            f"In words it is “{right}”.",
        )


def clients_own(proof: Proof) -> Remarks:
    """Yield a blank that only a party may answer, and that the agent answered."""
    for blank in proof.blanks:
        by_agent = blank.source in (Source.TYPED, Source.TEMPLATE)
        if blank.meaning.who is not None and blank.state == "filled" and by_agent:
            yield proof.on(
                "theirs",
                RemarkWeight.MUST,
                blank,
                f"{blank.label} is the {blank.meaning.who.replace('.', ' ')}’s alone to answer.",
                "Remove the answer. They give it when they sign.",
            )


def left_to_the_client(proof: Proof) -> Remarks:
    """Yield what the agent could have answered and left to the client: nobody is surprised by it at
    signing."""
    left = proof.package.sheet.ledger.left
    for key, blank in proof.first.items():
        if left and blank.state == "theirs" and proof.package.sheet.ledger.stored_key(key) in left:
            yield proof.on(
                "left",
                RemarkWeight.LOOK,
                blank,
                f"{blank.label} is left to the client.",
                "Answer it here, or let them answer it.",
            )


def undecided(proof: Proof) -> Remarks:
    """Yield where listing and roll disagree on something that weighs, and nobody has decided."""
    ledger = proof.package.sheet.ledger
    for fact in proof.package.catalog:
        if fact.compared and ledger.differs(fact.key) and fact.key in proof.first:
            said = ledger.beside(fact.key)
            told = " and ".join(
                f"the {who} says {fact.type.on_screen(said[source].value)}"
                for source, who in ((Source.LISTING, "listing"), (Source.ROLL, "tax roll"))
            )
            weight = RemarkWeight.SHOULD if fact.heavy else RemarkWeight.LOOK
            yield proof.at("undecided", weight, fact.key, f"{fact.label}: {told}.", "Choose one of them.")


def impossible_numbers(proof: Proof) -> Remarks:
    """Yield an amount or a share that can't be, on paper or behind it."""
    catalog = proof.package.catalog
    kinds = {fact.key: fact.kind for fact in catalog} | {
        key: blank.kind for key, blank in proof.first.items()
    }
    for key, kind in kinds.items():
        if kind not in ("money", "integer", "percent", "number", "area"):
            continue
        value = proof.money(key)
        if value is None:
            continue
        label = proof.first[key].label if key in proof.first else proof.label(key)
        if value < 0:
            yield proof.at(
                "negative", RemarkWeight.MUST, key, f"{label} can't be negative: {value:,f}.", "Check it."
            )
        elif kind == "percent" and value > 100 and key not in _MORE_THAN_ALL:
            yield proof.at(
                "percent",
                RemarkWeight.MUST,
                key,
                f"{label} can't be more than 100%: {value:f}%.",
                "Check it.",
            )


_MORE_THAN_ALL = ("terms.loan_to_value",)
"""Shares that may be more than the whole: a loan with financed fees."""


def changed_by_hand(proof: Proof) -> Remarks:
    """Yield words struck out or written in, which everybody who signs puts initials beside."""
    for document in proof.package.documents:
        if document.set_aside:
            continue
        for change in drawn(proof.package, document):
            who = [spot.name for spot in change.initials if spot.name]
            edition = document.form.edition
            what = f"{edition.number} {edition.title}, page {change.change.page}: {_told(change.change)}"
            if who:
                said, weight = f"{what}. Initials: {', '.join(who)}.", RemarkWeight.LOOK
                mend = "Make sure that everyone initials it."
            else:
                said, weight = (
                    f"{what}, and no one is named to initial it.",
                    RemarkWeight.MUST,
                )
                mend = "Name the parties, or remove the change."
            yield Remark("changed by hand", weight, said.strip(), mend, document=document.id)


def _told(change: HandChange) -> str:
    struck = f"“{_short(change.words)}” struck out" if change.struck else ""
    written = f"“{_short(change.text)}” written in" if change.text else ""
    return " and ".join(filter(None, (struck, written)))


def _short(text: str) -> str:
    plain = " ".join(text.split())
    return plain if len(plain) <= 60 else f"{plain[:57]}…"


RULES = (
    changed_by_hand,
    open_blanks,
    faults,
    only_here,
    continued,
    stand_ins,
    words_and_figures,
    clients_own,
    left_to_the_client,
    undecided,
    impossible_numbers,
)
