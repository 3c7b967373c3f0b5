"""The words of owner lines: what makes an entity, a trust or a capacity, and what says nothing of who owns.

Counties write in capitals, and each in its own way; the cases are in docs/names.md.
"""

from __future__ import annotations

import re

ENTITY = {
    "LLC": "company",
    "LC": "company",
    "INC": "corporation",
    "INCORPORATED": "corporation",
    "CORP": "corporation",
    "CORPORATION": "corporation",
    "CO": "company",
    "COMPANY": "company",
    "LTD": "company",
    "LP": "partnership",
    "LLP": "partnership",
    "LLLP": "partnership",
    "PARTNERSHIP": "partnership",
    "PARTNERS": "partnership",
    "TRUST": "trust",
    "BANK": "company",
    "CHURCH": "company",
    "FOUNDATION": "company",
    "ASSOCIATION": "company",
    "ASSN": "company",
    "HOA": "company",
    "PLLC": "company",
    "PC": "company",
    "MINISTRIES": "company",
    "DISTRICT": "company",
    "AUTHORITY": "company",
    "HOLDINGS": "company",
    "PROPERTIES": "company",
    "INVESTMENTS": "company",
    "ENTERPRISES": "company",
    "UNIVERSITY": "company",
    "COOPERATIVE": "company",
}
ANYWHERE = {
    "BANK",
    "CHURCH",
    "UNIVERSITY",
    "DISTRICT",
    "FOUNDATION",
    "ASSOCIATION",
    "AUTHORITY",
    "COOPERATIVE",
}
PUBLIC = re.compile(r"^(CITY|COUNTY|STATE|TOWN|VILLAGE|UNITED STATES|HOUSING AUTHORITY)( OF\b| |$)")
TRUST_WORDS = {"FAMILY", "LIVING", "REVOCABLE", "REV", "IRREVOCABLE", "IRREV", "LVG", "TESTAMENTARY"}
TRUST = re.compile(r"\b(TRUST|(?:FAMILY|FAM|LIVING|LVG|REVOCABLE|REV|IRREVOCABLE|IRREV) TR)\b")
CAPACITY = [
    (
        re.compile(
            r"[ ,]+(?:AS )?(?:CO-?|SUCC(?:ESSOR)? )?(?:TRUSTEES?|TTEES?|TRS?|TTES?)(?: (?:OF|FOR)"
            r" (?P<of>.+))?$"
        ),
        "trustee",
    ),
    (
        re.compile(
            r"[ ,]+(?:AS )?(?:PERS(?:ONAL)?"
            r" REP(?:RESENTATIVE)?S?|PR|EXECUTORS?|EXECUTRIX|ADMINISTRATORS?|ADMR|EXR)(?: (?:OF|FOR)"
            r" (?P<of>.+))?$"
        ),
        "personal representative",
    ),
    (
        re.compile(
            r"[ ,]+(?:AS )?(?:POA|ATTY[ -]IN[ -]FACT|ATTORNEY[ -]IN[ -]FACT|AIF)(?: (?:OF|FOR) (?P<of>.+))?$"
        ),
        "attorney-in-fact",
    ),
]
SUFFIX = {"JR": "Jr", "SR": "Sr", "II": "II", "III": "III", "IV": "IV", "V": "V", "ESQ": "Esq", "MD": "MD"}
NOISE = re.compile(
    r"[ ,]+(?:H ?/ ?W|H&W|HUSBAND (?:&|AND) WIFE|WIFE (?:&|AND) HUSBAND|JT ?TEN(?:ANTS)?|JOINT"
    r" TENANTS?|JTWROS|JTRS|JT|WROS|TIC|TEN(?:ANTS)? (?:IN )?COM(?:MON)?|"
    r"TEN(?:ANTS)? BY (?:THE )?ENT(?:IRETY|IRETIES)?|T ?/ ?E|CPWROS|COMM(?:UNITY)? PROP(?:ERTY)?|(?:AN?"
    r" )?(?:UN)?MARRIED (?:MAN|WOMAN|PERSON|COUPLE)|"
    r"(?:A )?SINGLE (?:MAN|WOMAN|PERSON)|UNMARRIED|M/M|SURV(?:IVORSHIP)?|\(?\d+ ?/ ?\d+\)?(?:"
    r" INT(?:EREST)?)?|\d+(?:\.\d+)? ?%(?: INT(?:EREST)?)?|UND(?:IVIDED)? \S+ INT(?:EREST)?)\.?(?=[ ,]|$)"
)
NOBODY = re.compile(
    r"^(?:(?:UNKNOWN|UNASSIGNED|CONFIDENTIAL)(?: OWNERS?)?|OWNERS? (?:UNKNOWN|OF RECORD|NOT"
    r" AVAILABLE)|N/?A|NOT AVAILABLE|NONE)$"
)
ESTATE = re.compile(
    r"^(?:THE )?EST(?:ATE)?\.? OF (?P<after>.+)$|^(?P<before>.+?),? \(?(?:EST(?:ATE)?(?:"
    r" OF)?|DECEASED|DEC'?D)\)?$"
    r"|^(?:THE )?(?:UNKNOWN )?HEIRS(?: AND DEVISEES)? OF (?P<heirs>.+)$|^(?P<heirs2>.+?),? HEIRS(?: OF)?$"
)
CUSTODIAN = re.compile(r"[ ,]+(?:AS )?CUST(?:ODIAN)?\.?(?: FOR| F/?B/?O)? (?P<of>.+)$")
TITLE = re.compile(r"^(?:MR|MRS|MS|DR)\.? (?P<both>(?:&|AND) (?:MR|MRS|MS|DR)\.? )?")
LIFE = re.compile(r"[ ,]+(?:LIFE (?:EST(?:ATE)?|TENANT)|L/E|LE|REMAINDERMAN|REM)(?=$|[ ,])")
CARE_OF = re.compile(r"[ ,]+(?:C/O|% |ATTN:?|DBA|D/B/A|AKA|A/K/A|FKA|F/K/A)\b.*$")
PARTICLES = {
    "VAN",
    "VON",
    "DE",
    "DEL",
    "DELLA",
    "DER",
    "DEN",
    "DI",
    "DU",
    "DA",
    "DOS",
    "DAS",
    "LA",
    "LE",
    "LOS",
    "LAS",
    "TER",
    "TEN",
    "VANDER",
    "VANDEN",
    "ST",
    "BIN",
    "IBN",
    "AL",
    "EL",
    "MC",
    "MAC",
    "SAN",
}
LOWER_PARTICLES = {
    "VAN",
    "VON",
    "DE",
    "DER",
    "DEN",
    "DI",
    "DU",
    "DA",
    "DOS",
    "DAS",
    "LA",
    "TER",
    "TEN",
    "DEL",
    "DELLA",
}
MAC = {
    "MACDONALD",
    "MACKENZIE",
    "MACLEOD",
    "MACARTHUR",
    "MACGREGOR",
    "MACINTYRE",
    "MACPHERSON",
    "MACLEAN",
    "MACMILLAN",
    "MACDOUGALL",
    "MACDUFF",
}
UPPER = {"LLC", "LLLP", "LP", "LLP", "PLLC", "PC", "LC", "HOA", "USA", "US", "II", "III", "IV", "MD"}
SMALL = {"OF", "THE", "AND", "FOR", "IN", "ON", "AT", "BY", "A", "TO", "DATED"}
# Given names common enough that two of them side by side are more likely "MARY ANN" than a family name and a
# given one.
GIVEN = {
    "MARY",
    "ANN",
    "ANNE",
    "SUE",
    "JO",
    "LOU",
    "LEE",
    "BETH",
    "JEAN",
    "JANE",
    "KAY",
    "LYNN",
    "MAE",
    "ROSE",
    "MARIE",
    "ELLEN",
    "GRACE",
    "JOHN",
    "PAUL",
    "JAMES",
    "ROBERT",
    "WILLIAM",
    "DAVID",
    "JOSEPH",
    "THOMAS",
    "CHARLES",
    "MICHAEL",
    "ELIZABETH",
    "MARGARET",
    "KATHERINE",
    "CAROL",
    "LINDA",
    "BARBARA",
    "PATRICIA",
    "NANCY",
    "SARAH",
    "EMMA",
    "ANNA",
    "LUIS",
    "JOSE",
    "MARIA",
    "JUAN",
    "CARLOS",
    "BETTY",
    "PEGGY",
    "BOBBY",
    "BILLY",
}

_ALIKE = (
    ("ESTATE", "EST"),
    ("TRUSTEE", "TTEE", "TRS", "TR"),
    ("COMPANY", "CO"),
    ("PARTNERSHIP", "PTSHP", "PRTNRSHP"),
    ("INCORPORATED", "INC"),
    ("JUNIOR", "JR"),
    ("SENIOR", "SR"),
)
OWNER_WRITINGS: dict[str, tuple[str, ...]] = {word: ways for ways in _ALIKE for word in ways}
"""Words of recorded owners that each county writes in its own way, with all of the ways."""
