"""The people of the demo world, and their deals. Days are counted from the day it is loaded."""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import Any

PASSWORD = "inkwell-and-vellum"


@dataclass(frozen=True)
class DemoPerson:
    """A member with a sign-in."""

    email: str
    name: str
    role: str
    office: str
    licence: str
    code: str
    phone: str

    @property
    def member_number(self) -> str:
        """The number under which the association's registry knows them."""
        return self.licence.replace("CW-", "CL-")


@dataclass(frozen=True)
class DemoDeal:
    """A deal as far as it has come.  ``typed`` answers are as people type them; ``offers`` are those received
    on a listing, each with the buyers' names under "buyers" and what it says."""

    owner: str
    side: str
    template: str | None
    clients: list[tuple[str, str]]
    listing: int | None = None
    typed: dict[str, str] = field(default_factory=dict)
    parcel: str = ""
    offers: list[dict[str, str]] = field(default_factory=list)


BROKERAGES: dict[str, Any] = {
    "Marrow & Finch Realty": {
        "licence": "CW-F2041",
        "broker": "Rosalind Achterberg",
        "offices": {
            "Port Linden": ("41 Dovetail Lane, Port Linden, CW 09914", "(555) 555-0110"),
            "Harrow Falls": ("9 Millrace Road, Harrow Falls, CW 09932", "(555) 555-0120"),
        },
        "people": [
            DemoPerson(
                "rosalind@marrowfinch.example",
                "Rosalind Achterberg",
                "broker",
                "Port Linden",
                "CW-10488",
                "MF-0001",
                "(555) 555-0111",
            ),
            DemoPerson(
                "tomas@marrowfinch.example",
                "Tomas Wray",
                "coordinator",
                "Port Linden",
                "CW-22019",
                "MF-0007",
                "(555) 555-0112",
            ),
            DemoPerson(
                "ines@marrowfinch.example",
                "Inês Calloway-Bright",
                "agent",
                "Port Linden",
                "CW-35504",
                "MF-0012",
                "(555) 555-0113",
            ),
            DemoPerson(
                "bertil@marrowfinch.example",
                "Bertil Osei",
                "agent",
                "Harrow Falls",
                "CW-36120",
                "MF-0015",
                "(555) 555-0121",
            ),
        ],
    },
    "Cobbler's Gate Homes": {
        "licence": "CW-F3310",
        "broker": "Nadia Ferreira-Lund",
        "offices": {"Tern Harbor": ("2 Ropewalk, Tern Harbor, CW 09948", "(555) 555-0130")},
        "people": [
            DemoPerson(
                "nadia@cobblersgate.example",
                "Nadia Ferreira-Lund",
                "broker",
                "Tern Harbor",
                "CW-18812",
                "CG-0001",
                "(555) 555-0131",
            )
        ],
    },
}

CONTACTS: dict[str, list[tuple[str, bool, dict[str, str]]]] = {
    "ines@marrowfinch.example": [
        (
            "title",
            True,
            {
                "given": "Wilhelmina",
                "family": "Strand",
                "company": "Keystone & Vault Title",
                "email": "wstrand@keystonevault.example",
                "phone": "(555) 555-0161",
                "address": "3 Vault Row, Ashgrove, CW 09921",
            },
        ),
        (
            "lender",
            True,
            {
                "given": "Otto",
                "family": "Blume",
                "company": "Millrace Savings Bank",
                "email": "otto.blume@millracebank.example",
                "phone": "(555) 555-0162",
                "address": "17 Millrace Road, Harrow Falls, CW 09932",
            },
        ),
        (
            "inspector",
            False,
            {
                "given": "Fenna",
                "family": "Dijkgraaf",
                "company": "Plumb Line Inspections",
                "email": "fenna@plumbline.example",
                "phone": "(555) 555-0163",
            },
        ),
        (
            "attorney",
            False,
            {
                "given": "Cyril",
                "family": "Adeyemi",
                "company": "Adeyemi & Thorne",
                "email": "cyril@adeyemithorne.example",
                "phone": "(555) 555-0164",
                "address": "80 Court Street, Port Linden, CW 09914",
            },
        ),
        ("warranty", False, {"company": "Hearthkeep Home Warranty", "phone": "(555) 555-0165"}),
        (
            "agent",
            True,
            {
                "given": "Ilse",
                "family": "Brandvold",
                "company": "Harrow Bridge Realty",
                "licence": "CW-40255",
                "code": "HB-2207",
                "email": "ilse@harrow.example",
                "phone": "(555) 555-0157",
                "address": "5 Bridge Street, Harrow Falls, CW 09932",
            },
        ),
        (
            "lender",
            False,
            {
                "given": "Otto",
                "family": "Blume",
                "company": "Millrace Savings",
                "phone": "555 555 0162",
                "notes": "Met at the chamber breakfast.",
            },
        ),
    ],
    "nadia@cobblersgate.example": [
        ("title", False, {"company": "Tern Harbor Abstract", "email": "desk@ternharborabstract.example"})
    ],
}
HOMES_SEEN = {"Amara Okafor": ["26-1104", "26-1118", "26-1153"]}
_TERMS = {
    "terms.offer_date": "today",
    "terms.expiry_date": "+2",
    "deal.agreement_date": "today",
    "representation.begins": "-12",
}
_SAID = {
    "terms.deposit_holder": "title company",
    "terms.possession": "at closing",
    "terms.expiry_date": "+1",
    "terms.expiry_time": "6 pm",
}
_OFFERS = [
    {
        **_SAID,
        "buyers": "Thandiwe Mokoena, Joris Mokoena",
        "buyer_agent.name": "Ilse Brandvold",
        "buyer_agent.firm": "Harrow Bridge Realty",
        "terms.purchase_price": "781,000",
        "terms.deposit_percent": "1",
        "terms.loan_type": "conventional",
        "terms.down_payment_percent": "20",
        "terms.seller_concessions": "6,500",
        "terms.inspection_days": "10",
        "terms.closing_date": "+38",
        "terms.title_payer": "seller",
        "terms.sale_contingency": "no",
    },
    {
        **_SAID,
        "buyers": "Lumen Yard LLC",
        "buyer_agent.name": "Desmond Falk",
        "buyer_agent.firm": "Tidewater & Oak Homes",
        "terms.purchase_price": "755,000",
        "terms.deposit_amount": "25,000",
        "terms.loan_type": "cash",
        "terms.seller_concessions": "0",
        "terms.inspection_days": "5",
        "terms.closing_date": "+16",
        "terms.title_payer": "buyer",
        "terms.sale_contingency": "no",
    },
    {
        **_SAID,
        "buyers": "Rosamund Achterberg-Quill",
        "buyer_agent.name": "Marguerite Oyelaran",
        "buyer_agent.firm": "Tidewater & Oak Homes",
        "terms.purchase_price": "802,500",
        "terms.deposit_percent": "1",
        "terms.loan_type": "VA",
        "terms.down_payment_percent": "0",
        "terms.seller_concessions": "12,000",
        "terms.inspection_days": "10",
        "terms.closing_date": "+45",
        "terms.title_payer": "seller",
        "terms.sale_contingency": "yes",
        "terms.additional_terms": "Seller leaves the workbench and the two shelves above it.",
    },
]
DEALS = [
    DemoDeal(
        "ines@marrowfinch.example",
        "buying",
        "buying-home",
        [("Amara", "Okafor"), ("Chidi", "Okafor")],
        2,
        {
            **_TERMS,
            "terms.purchase_price": "429k",
            "terms.seller_concessions": "0",
            "sellers.1.entity_name": "Voss Family Trust",
            "sellers.1.signer": "Lena Voss",
            "terms.offer_date": "-3",
            "terms.acceptance_date": "-1",
        },
    ),
    DemoDeal(
        "ines@marrowfinch.example",
        "buying",
        "buying-home",
        [("Thanh", "Nguyễn")],
        6,
        {**_TERMS, "terms.purchase_price": "318,750", "terms.deposit_amount": "5,000"},
    ),
    DemoDeal(
        "ines@marrowfinch.example",
        "buying",
        "buying-cash",
        [("", "Ridgeline Holdings LLC")],
        12,
        {"terms.purchase_price": "251,000"},
    ),
    DemoDeal(
        "ines@marrowfinch.example",
        "buying",
        "buying-home",
        [("Beatriz", "Pereira"), ("Sean", "Brannigan")],
        None,
        {"terms.down_payment_percent": "10"},
    ),
    DemoDeal(
        "ines@marrowfinch.example",
        "listing",
        "listing-disclosures",
        [("Edwin", "Delacroix")],
        None,
        {"listing.price": "789,000", "listing.list_date": "-9"},
        "3-0403-0089",
        _OFFERS,
    ),
    DemoDeal(
        "bertil@marrowfinch.example",
        "buying",
        "buying-home",
        [("Zofia", "Kowalczyk")],
        18,
        {**_TERMS, "terms.purchase_price": "500,001"},
    ),
    DemoDeal(
        "bertil@marrowfinch.example",
        "buying",
        "buying-cash",
        [("Kenji", "Tanaka"), ("Clara", "Whitfield")],
        24,
        {"terms.purchase_price": "612,500", "terms.closing_date": "+30"},
    ),
    DemoDeal(
        "bertil@marrowfinch.example",
        "buying",
        "buying-home",
        [("Marguerite Anne-Sophie", "van der Meer-Castellanos")],
        20,
        {"terms.purchase_price": "1.25m"},
    ),
    DemoDeal("bertil@marrowfinch.example", "buying", "buying-home", [("Omar", "Haddad")], 1, {}),
    DemoDeal(
        "tomas@marrowfinch.example",
        "buying",
        "buying-home",
        [("Aino", "Saarinen")],
        8,
        {
            **_TERMS,
            "terms.purchase_price": "364,900",
            "terms.loan_type": "FHA",
            "terms.down_payment_percent": "3.5",
        },
    ),
    DemoDeal(
        "nadia@cobblersgate.example",
        "buying",
        "buying-home",
        [("Emeka", "Oduya")],
        30,
        {"terms.purchase_price": "404,000"},
    ),
    DemoDeal(
        "nadia@cobblersgate.example",
        "buying",
        "buying-cash",
        [("Priya", "Gupta")],
        36,
        {"terms.purchase_price": "299,000"},
    ),
]
