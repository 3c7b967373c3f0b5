"""Owner lines as counties write them: SURNAME GIVEN M, capitals, "&" for joint owners.

The rules are in docs/names.md.  Where a line can be read in more than one way the likelier reading is
suggested and ``ask`` says what to ask; a person who isn't named is never invented.
"""

from __future__ import annotations

import re
from dataclasses import dataclass

from quillcore.facts.owner_words import (
    ANYWHERE,
    CAPACITY,
    CARE_OF,
    CUSTODIAN,
    ENTITY,
    ESTATE,
    GIVEN,
    LIFE,
    LOWER_PARTICLES,
    MAC,
    NOBODY,
    NOISE,
    PARTICLES,
    PUBLIC,
    SMALL,
    SUFFIX,
    TITLE,
    TRUST,
    TRUST_WORDS,
    UPPER,
)
from quillcore.values import Finding, FindingWeight

SURE, LIKELY, UNSURE = 0.95, 0.7, 0.5


@dataclass(frozen=True)
class Owner:
    """One suggested party.  ``name`` is as it would print ("" for somebody who isn't named); ``confidence``
    runs from 0 to 1; ``ask`` says what the agent has to be asked, or is None."""

    kind: str
    name: str
    given: str = ""
    middle: str = ""
    family: str = ""
    suffix: str = ""
    capacity: str = ""
    entity_kind: str = ""
    confidence: float = SURE
    ask: str | None = None

    @property
    def findings(self) -> tuple[Finding, ...]:
        """The remarks on this reading."""
        if self.ask is None:
            return ()
        return (Finding("recorded owner", FindingWeight.LOOK, "tax.owners", self.ask),)


LONGEST_LINE = 600
"""Characters: counties cut theirs at 40 to 250."""


def read_owners(line: str) -> list[Owner]:
    """Return the parties that an owner line names, in its order.  Of a line longer than any county's only the
    beginning is read."""
    text = re.sub(r"\s+", " ", line[:LONGEST_LINE].upper().replace("’", "'").replace("`", "'")).strip(
        " .,;&/"
    )
    if not text:
        return []
    owners: list[Owner] = []
    for part in re.split(r" *(?:;|\n|\|) *", text):
        owners += _part(part)
    return owners


def _part(text: str) -> list[Owner]:
    text = CARE_OF.sub("", " " + text).strip()
    if NOBODY.match(text):
        return [
            Owner("person", "", confidence=UNSURE, ask="The tax roll has no owner. Who owns the property?")
        ]
    others: list[Owner] = []
    if m := TITLE.match(text):
        return _titled(text[m.end() :], bool(m["both"]))
    minor = ""
    if m := CUSTODIAN.search(text):
        minor, text = re.sub(r",? (?:UTMA|UGMA|U/.*)$", "", m["of"]), text[: m.start()]
    if m := re.search(r"[ ,&]+ET ?(UX|VIR)\b\.?", text):
        others = [
            Owner(
                "person",
                "",
                confidence=UNSURE,
                ask=f"The roll says “et {m[1].lower()}”: a spouse without a name. What is the spouse's name?",
            )
        ]
        text = text[: m.start()] + text[m.end() :]
    if m := re.search(r"[ ,&]+ET ?ALS?\b\.?|[ ,&]+AND OTHERS$|[ ,&]+OTHERS$", text):
        others.append(
            Owner(
                "person",
                "",
                confidence=UNSURE,
                ask="The roll says “et al.”: there are more owners without names. Who are they?",
            )
        )
        text = text[: m.start()] + text[m.end() :]
    life = bool(LIFE.search(" " + text))
    text = LIFE.sub("", " " + text).strip(" ,")
    while (shorter := NOISE.sub("", " " + text).strip(" ,&")) != text:
        text = shorter
    found = _joint(text) if text else []
    if minor and found:
        found[0] = _with(
            found[0], LIKELY, f"The roll names this person as custodian for “{minor}”. Who signs, and how?"
        )
    if life and found:
        first = found[0]
        found[0] = _with(
            first,
            min(first.confidence, LIKELY),
            first.ask or "The roll notes a life estate. Who has to sign?",
        )
    return found + others


def _titled(text: str, both: bool) -> list[Owner]:
    """Return "MR & MRS JOHN SMITH" in order: a title stands before a given name, so the family name is the
    last."""
    words = text.split()
    ask = "The tax roll has a title before the name. Is the name correct?"
    found = [_named(words[-1:], words[:-1], "", UNSURE, ask)] if words else []
    spouse = Owner(
        "person",
        "",
        confidence=UNSURE,
        ask="The tax roll mentions a couple and names one person. Who is the other?",
    )
    return [*found, spouse] if both or not found else found


def _joint(text: str) -> list[Owner]:
    if m := ESTATE.match(text):
        heirs = m["heirs"] or m["heirs2"]
        who = _person((heirs or m["after"] or m["before"]).strip(" ,"))
        ask = "Who are the heirs, and who signs?" if heirs else "Who signs for the estate?"
        return [
            Owner(
                "entity",
                f"{'Heirs' if heirs else 'Estate'} of {who.name}",
                entity_kind="estate",
                confidence=LIKELY,
                ask=ask,
            )
        ]
    pieces = [p.strip(" ,") for p in re.split(r" ?& ?| AND ", text) if p.strip(" ,")]
    if _entity_kind(text) and not _acts_for(text) and (len(pieces) == 1 or not _separate(pieces)):
        return [_entity(text)]
    acting = [_capacity_of(p) for p in pieces]
    owners: list[Owner] = []
    for n, (piece, _, _) in enumerate(acting):
        if _entity_kind(piece):
            owners.append(_entity(piece))
        elif n and owners and owners[0].kind == "person":
            owners.append(_joined_person(piece, acting[0][0], owners[0]))
        else:
            owners.append(_person(piece))
    # A capacity at the end of the line speaks of all before it ("VOSS LENA & PAUL TRS"); elsewhere of its own
    # piece.
    shared = acting[-1][1:]
    in_what = [shared if shared[0] else own[1:] for own in acting]
    return [
        _in_capacity(o, *what) if what[0] and o.kind == "person" else o
        for o, what in zip(owners, in_what, strict=True)
    ]


def _capacity_of(piece: str) -> tuple[str, str, str]:
    """Return the piece without its capacity, the capacity ("" for none), and for what or whom."""
    for pattern, capacity in CAPACITY:
        if m := pattern.search(piece):
            return piece[: m.start()].strip(" ,"), capacity, (m["of"] or "").strip(" ,")
    return piece, "", ""


def _acts_for(text: str) -> bool:
    """Return whether a person acts for a named trust ("SMITH JOHN TR OF THE SMITH TRUST"); not so "SMITH
    FAMILY TR OF 2003"."""
    who, _, of = _capacity_of(text)
    return bool(of and who) and who.split()[-1] not in TRUST_WORDS | {"FAM"} and bool(TRUST.search(of))


def _in_capacity(owner: Owner, capacity: str, of: str) -> Owner:
    question = "What is the trust's name?" if capacity == "trustee" else "Who does this person act for?"
    ask = None if of else question
    shown = capacity + (f" of {_entity_case(of.removeprefix('THE '))}" if of else "")
    return Owner(
        owner.kind,
        owner.name,
        owner.given,
        owner.middle,
        owner.family,
        owner.suffix,
        shown,
        owner.entity_kind,
        min(owner.confidence, SURE if of else LIKELY),
        ask or owner.ask,
    )


def _separate(pieces: list[str]) -> bool:
    """Return whether "A & B LLC" names two owners: each side would stand alone ("VOSS LENA & RIDGELINE
    HOLDINGS LLC")."""
    return (
        all(len(p.split()) > 1 for p in pieces)
        and not all(_entity_kind(p) is None for p in pieces)
        and len(pieces[-1].split()) > 2
    )


def _entity_kind(text: str) -> str | None:
    if PUBLIC.match(text):
        return "company"
    if TRUST.search(text) and not re.search(r"\bTRUSTEES?\b", text):
        return "trust"
    bare = re.sub(r"[.,]", "", re.sub(r"\bL\.? ?L\.? ?C\b\.?", "LLC", text))
    words = bare.split()
    if len(words) < 2 or re.search(r"\bTRUSTEES?\b", text):
        return None
    telling = next((w for w in words[-2:] if w in ENTITY), None) or next(
        (w for w in words[1:] if w in ANYWHERE), None
    )
    return ENTITY[telling] if telling else None


def _entity(text: str) -> Owner:
    kind = _entity_kind(text) or "company"
    ask = "Who signs for the trust?" if kind == "trust" else None
    return Owner("entity", _entity_case(text), entity_kind=kind, confidence=LIKELY if ask else SURE, ask=ask)


def _entity_case(text: str) -> str:
    plain = re.sub(r"\bL\.? ?L\.? ?C\b\.?", "LLC", text)
    plain = re.sub(r"\b(FAMILY|FAM|LIVING|LVG|REVOCABLE|REV|IRREVOCABLE|IRREV) TR\b", r"\1 TRUST", plain)
    plain = re.sub(r"\b(?:DTD|UTD|U/?A/?D|U/?T/?D)\b", "DATED", plain)
    plain = re.sub(r"\bFAM\b", "FAMILY", re.sub(r"\bREV\b", "REVOCABLE", re.sub(r"\bLVG\b", "LIVING", plain)))
    words = plain.split()
    return " ".join(w.lower() if n and w in SMALL else _case(w) for n, w in enumerate(words))


def _person(text: str) -> Owner:
    """Return one person, surname first (or "SURNAME, GIVEN")."""
    if "," in text:
        family, _, rest = text.partition(",")
        words, head = rest.replace(",", " ").split(), family.split()
        suffix = next((w for w in head[1:] if w.strip(".") in SUFFIX), "")
        head = [w for w in head if w != suffix]
        return _named(head, words, suffix, SURE, None)
    words = text.split()
    if len(words) == 1:
        return Owner(
            "person",
            _case(words[0]),
            family=_case(words[0]),
            confidence=UNSURE,
            ask="The tax roll has only one name. What is the full name?",
        )
    ask = None
    sure = SURE
    if words[0] == "O" and len(words) > 2:
        words = [f"O'{words[1]}", *words[2:]]
        sure, ask = LIKELY, f"Is the family name “{_case(words[0])}”?"
    size = _surname_size(words)
    if size > 1 and len(words) > size:
        sure, ask = LIKELY, f"Is the family name “{' '.join(_particle_case(words[:size]))}”?"
    elif len([w for w in words[1:] if w.strip(".") not in SUFFIX]) > 3:
        sure, ask = UNSURE, "Which part is the family name?"
    return _named(words[:size], words[size:], "", sure, ask)


def _surname_size(words: list[str]) -> int:
    size = 0
    while size < len(words) - 2 and words[size] in PARTICLES:
        size += 1
    if size and words[0] in ("MC", "MAC", "ST") and size == 1:
        return 2
    return size + 1


def _named(
    family_words: list[str], rest: list[str], suffix: str, confidence: float, ask: str | None
) -> Owner:
    plain = [w.strip(".") for w in rest if w.strip(".")]
    found = suffix.strip(".")
    if not found:
        at = next(
            (
                n
                for n, w in enumerate(plain)
                if w in SUFFIX and (n or len(plain) > 1) and not (w == "V" and n < len(plain) - 1)
            ),
            None,
        )
        if at is not None:
            found = plain.pop(at)
    family = " ".join(_particle_case(family_words)).strip()
    given = _case(plain[0]) if plain else ""
    middle = " ".join(map(_case, plain[1:]))
    ending = SUFFIX.get(found, "")
    if not given:
        confidence, ask = UNSURE, ask or "The given name is missing. What is it?"
    name = " ".join(p for p in (given, middle, family, ending) if p)
    return Owner("person", name, given, middle, family, ending, confidence=confidence, ask=ask)


def _joined_person(text: str, first_text: str, first: Owner) -> Owner:
    """Return a second owner: "CHIDI" shares the first one's surname; three names or a known surname bring
    their own."""
    if "," in text:
        return _person(text)
    words = [w for w in text.split() if w]
    core = [w for w in words if w.strip(".") not in SUFFIX]
    surname = first.family.upper()
    size = _surname_size(words) if len(core) > 1 else 1
    if " ".join(words[: len(surname.split())]) == surname and len(core) > len(surname.split()):
        return _person(text)
    if len(core) > 1 and " ".join(core[-len(surname.split()) :]) == surname:
        given = [w for w in words if w not in surname.split()]
        return _named(surname.split(), given, "", SURE, None)
    if len(core) == 1 or (len(core) == 2 and len(core[1].strip(".")) == 1):
        return _named(surname.split(), words, "", first.confidence, first.ask)
    if len(core) == 2 and core[0] in GIVEN and core[1] in GIVEN:
        return _named(
            surname.split(), words, "", LIKELY, f"Does this owner share the family name {first.family}?"
        )
    own = _named(words[:size], words[size:], "", LIKELY, None)
    return _with(own, LIKELY, f"Is the family name {own.family}, and not {first.family}?")


def _with(owner: Owner, confidence: float, ask: str | None) -> Owner:
    return Owner(
        owner.kind,
        owner.name,
        owner.given,
        owner.middle,
        owner.family,
        owner.suffix,
        owner.capacity,
        owner.entity_kind,
        confidence,
        ask,
    )


def _particle_case(words: list[str]) -> list[str]:
    if len(words) == 1:
        return [_case(words[0])]
    if words[0] in ("MC", "MAC"):
        return [words[0].capitalize() + _case("".join(words[1:]))]
    return [
        w.lower() if w in LOWER_PARTICLES and n < len(words) - 1 else _case(w) for n, w in enumerate(words)
    ]


def _case(word: str) -> str:
    """Return a word as a name is written: O'Brien-Tate, McAllister, 1st, LLC."""
    if word.strip(".,") in UPPER:
        return word.strip(",")
    if "-" in word:
        return "-".join(_case(p) for p in word.split("-"))
    if "'" in word:
        head, _, tail = word.partition("'")
        return (
            f"{head.capitalize()}'{tail.lower() if tail == 'S' else _case(tail)}"
            if tail
            else head.capitalize()
        )
    if word.startswith("MC") and len(word) > 3:
        return "Mc" + word[2:].capitalize()
    if word in MAC:
        return "Mac" + word[3:].capitalize()
    return word.capitalize()
