"""Payments, prorations, premiums and taxes.  Decimal in, Decimal out, unrounded unless said."""

from quillcore.money.loans import payment, prepaid_interest
from quillcore.money.prorations import part_month_rent, tax_owed
from quillcore.money.rates import Rates, title_premium, transfer_tax

__all__ = [
    "Rates",
    "part_month_rent",
    "payment",
    "prepaid_interest",
    "tax_owed",
    "title_premium",
    "transfer_tax",
]
