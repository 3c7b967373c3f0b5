"""Turns in the negotiation of an offer: who put which terms otherwise, when, and by which paper."""

from __future__ import annotations

from django.db import models

from goodquill.changelog.parts import register
from goodquill.deals.models import Offer
from goodquill.deals.parts import Part


class Turn(models.Model):
    """One counter-offer, or one amendment once the agreement binds.

    ``maker`` is the group of parties that makes it; ``changes`` the terms that it states, by key: [before,
    after], as values are kept, "" for "nothing stated"; ``paper`` the code of the document that says so, ""
    without one.  ``words`` are what somebody wrote on it in the place of terms, by blank, and ``shown`` what
    stood in its blanks when it was read last: [as it is kept, whether it was typed].  ``agreed``: its terms,
    with those of the turns before it, are the deal's; ``came`` is how that came about, in words.
    """

    offer = models.ForeignKey(Offer, models.CASCADE, related_name="turns")
    maker = models.CharField(max_length=10)
    day = models.DateField()
    amends = models.BooleanField(default=False)
    changes = models.JSONField(default=dict)
    paper = models.CharField(max_length=12, blank=True)
    words = models.JSONField(default=dict)
    shown = models.JSONField(default=dict)
    expires = models.DateField(null=True)
    expires_at = models.TimeField(null=True)
    agreed = models.BooleanField(default=False)
    came = models.CharField(max_length=300, blank=True)
    removed = models.BooleanField(default=False)
    made = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["pk"]

    @property
    def what(self) -> str:
        """Its name."""
        return "amendment" if self.amends else "counter-offer"


TURNS = register(
    Part(
        "turns",
        things=lambda record: Turn.objects.filter(offer__deal=record.pk),
        key="pk",
        settable=(
            "agreed",
            "came",
            "removed",
            "changes",
            "words",
            "shown",
            "day",
            "expires",
            "expires_at",
            "paper",
        ),
        label=lambda turn: f"the {turn.what} of {turn.day}",
    )
)
