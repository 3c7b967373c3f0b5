"""Rounds of signing: what was sent, who signs it, how far they are, and the chain of what happened."""

from __future__ import annotations

import uuid
from typing import TYPE_CHECKING

from django.conf import settings
from django.db import models
from quillcore.signing.rounds import At, RoundState

from goodquill.deals.models import Deal

if TYPE_CHECKING:
    from goodquill.http import wire

STATES = [(state.value, state.value) for state in RoundState]
HOW_FAR = [(at.value, at.value) for at in At]


class Round(models.Model):
    """One sending for signature.  While it is being made, ``plan`` is what was chosen: {"papers": codes in
    order, "turns": {a signer's key: turn}, "copied": [{"name", "email"}]}, "papers" and "turns" only once
    somebody chose.  ``looked`` is the step of the deal's record at which its papers were made and looked at;
    just these are sent.  ``reason`` is why it was sent in spite of what the proofread says must be mended;
    ``said`` why it was declined or recalled."""

    id = models.UUIDField(primary_key=True, default=uuid.uuid4)
    deal = models.ForeignKey(Deal, models.PROTECT, related_name="rounds")
    offer = models.PositiveIntegerField(null=True)
    """The offer that was at hand; of a round that was made long ago none is known, and it is the one in
    force."""
    by = models.ForeignKey(settings.AUTH_USER_MODEL, models.PROTECT, related_name="+")
    state = models.CharField(max_length=12, choices=STATES, default=RoundState.MAKING.value)
    plan = models.JSONField(default=dict)
    subject = models.CharField(max_length=150)
    message = models.TextField(blank=True)
    ends = models.DateTimeField(null=True)
    remind_every = models.PositiveSmallIntegerField(default=2)
    """Days; 0 for never."""
    code = models.BooleanField(default=True)
    """Whether whoever opens a link has to know a code that is sent to its address: or a forwarded link
    signs."""
    question = models.CharField(max_length=200, blank=True)
    """Or what whoever opens a link has to answer, as the sender told them; "" for nothing."""
    answer = models.CharField(max_length=64, blank=True)
    """Its answer's hash, "" while there is none (see ``codes``)."""
    zone = models.CharField(max_length=40)
    looked = models.BigIntegerField(null=True)
    replaces = models.ForeignKey("self", models.PROTECT, null=True, related_name="replaced_by")
    """The round that ended unsigned and that this one comes after: what was signed in it on papers that are
    just the same stays signed."""
    must = models.JSONField(default=list)
    """The proofread's remarks that must be mended, as of when the papers were looked at."""
    reason = models.CharField(max_length=300, blank=True)
    said = models.CharField(max_length=500, blank=True)
    made = models.DateTimeField(auto_now_add=True)
    sent = models.DateTimeField(null=True)
    ended = models.DateTimeField(null=True)
    sealed = models.DateTimeField(null=True)
    """The moment when all its papers were sealed, and everybody was told."""
    filed = models.DateTimeField(null=True)
    """The moment when the sealed papers took the places of those that were sent."""
    checked = models.DateTimeField(null=True)
    """The moment of the last comparison with its chain."""
    doubt = models.CharField(max_length=500, blank=True)
    """The differences from its chain; "" for none. Nothing of such a round is sealed."""

    class Meta:
        ordering = ["-made", "pk"]
        indexes = [
            models.Index(fields=["state", "ends"]),
            models.Index(fields=["state", "sealed"]),
            models.Index(fields=["checked"]),
        ]

    @property
    def second_step(self) -> str:
        """The identity check for whoever opens a link: "code", "question" or "none"."""
        return "question" if self.question else "code" if self.code else "none"


class Paper(models.Model):
    """A paper of a round: ``frozen`` its bytes as they are sent, ``finished`` those that were signed and
    sealed, both by their SHA-256.  ``places`` are what is signed on it, rows of
    {"id", "page", "rect", "sign", "who"}; ``sizes`` its pages' in points."""

    id = models.UUIDField(primary_key=True, default=uuid.uuid4)
    round = models.ForeignKey(Round, models.CASCADE, related_name="papers")
    position = models.PositiveSmallIntegerField()
    document = models.CharField(max_length=12)
    number = models.CharField(max_length=40, blank=True)
    title = models.CharField(max_length=200)
    frozen = models.CharField(max_length=64)
    finished = models.CharField(max_length=64, blank=True)
    sizes = models.JSONField(default=list)
    places = models.JSONField(default=list)
    wants = models.JSONField(default=list)
    """Everybody whose signature it needs, in this round or not, when it was made: rows of {"key", "name"}."""
    asks = models.JSONField(default=list)
    """The questions to its signers alone (``quillcore.signing.asking``)."""
    answers = models.JSONField(default=dict)
    """Their answers, by question: {"text", "by", "at"}."""
    said = models.JSONField(default=dict)
    """The texts in its blanks when it was made, by field; those that were empty left out."""

    class Meta:
        ordering = ["position"]
        unique_together = [("round", "position")]

    @property
    def pages(self) -> list[wire.PageSizeShape]:
        """Its pages' sizes, as screens get them."""
        return [{"width": width, "height": height} for width, height in self.sizes]

    @property
    def given(self) -> str:
        """The place that answers count as among those of a round: they are given before anything is
        signed."""
        return f"{self.document}/answers"

    @property
    def texts(self) -> dict[str, str]:
        """The answers' texts, by question."""
        return {key: said["text"] for key, said in self.answers.items()}

    @property
    def texts_by_signer(self) -> dict[str, dict[str, str]]:
        """Each signer's own answers' texts, by question."""
        found: dict[str, dict[str, str]] = {}
        for key, said in self.answers.items():
            found.setdefault(said["by"], {})[key] = said["text"]
        return found

    @property
    def named(self) -> str:
        """Number and title."""
        return f"{self.number} {self.title}".strip()


class Signer(models.Model):
    """Somebody who signs in a round, or with ``turn`` 0 only gets a copy.  ``put`` are the places signed, by
    id, and when; ``signature`` and ``initials`` the adopted marks, as ``quillcore.signing.marks.adopted``
    takes them.  ``link`` counts the links: an earlier one is dead."""

    id = models.UUIDField(primary_key=True, default=uuid.uuid4)
    round = models.ForeignKey(Round, models.CASCADE, related_name="signers")
    key = models.CharField(max_length=40)
    turn = models.PositiveSmallIntegerField()
    name = models.CharField(max_length=200)
    signs_as = models.CharField(max_length=200)
    role = models.CharField(max_length=60)
    email = models.EmailField()
    at = models.CharField(max_length=10, choices=HOW_FAR, default=At.WAITS.value)
    put = models.JSONField(default=dict)
    read = models.JSONField(default=list)
    """The papers that were opened, by id."""
    signature = models.JSONField(null=True)
    initials = models.JSONField(null=True)
    in_person = models.BooleanField(default=False)
    """Whether they were handed the sender's device."""
    by_pen = models.JSONField(default=dict)
    """Of somebody who signed on paper: {"day", "scans": the content of the scan by paper}."""
    link = models.PositiveSmallIntegerField(default=1)
    code_hash = models.CharField(max_length=64, blank=True)
    code_made = models.DateTimeField(null=True)
    code_tries = models.PositiveSmallIntegerField(default=0)
    renewed = models.DateTimeField(null=True)
    """The moment when a new link was asked for after the round had ended."""
    asked = models.DateTimeField(null=True)
    reminded = models.DateTimeField(null=True)
    letter = models.UUIDField(null=True)
    """The newest letter to them, by which a refused one is known."""

    class Meta:
        ordering = ["turn", "key"]
        unique_together = [("round", "key")]

    @property
    def is_copied(self) -> bool:
        """Whether they only get a copy."""
        return self.turn == 0


class Happening(models.Model):
    """A link of a round's chain (``quillcore.signing.trail``).  Only ever added: the database refuses to
    change or delete one."""

    round = models.ForeignKey(Round, models.CASCADE, related_name="happenings")
    number = models.PositiveIntegerField()
    at = models.CharField(max_length=35)
    kind = models.CharField(max_length=20)
    who = models.CharField(max_length=40, blank=True)
    said = models.JSONField(default=dict)
    before = models.CharField(max_length=64, blank=True)
    hash = models.CharField(max_length=64)
    keyed = models.CharField(max_length=64)
    """Its keyed hash: the database alone can't write a link."""

    class Meta:
        ordering = ["number"]
        unique_together = [("round", "number")]
