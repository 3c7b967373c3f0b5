"""A deal, its offers, its documents, and who looked at it."""

from __future__ import annotations

import uuid
from typing import Any

from django.conf import settings
from django.db import models
from quillcore.facts import Side

from goodquill.changelog.models import Record
from goodquill.contacts.models import Contact
from goodquill.forms.models import Edition, MappingVersion, Release
from goodquill.http.choices import SIDES
from goodquill.offices.models import Brokerage, Office
from goodquill.templates.models import Template

STAGES = [("filling", "filling"), ("fell through", "fell through"), ("closed", "closed")]
OVER = ("fell through", "closed")
"""Stages in which a deal asks for nothing any more."""
LONGEST_WORD = 40
"""Characters of a word that is found: parcel numbers have some twenty."""


class DealManager(models.Manager["Deal"]):
    """Makes deals with what each of them needs."""

    def start(self, **fields: Any) -> Deal:
        """Return a deal with its record and its first offer."""
        deal = self.create(record=Record.objects.create(), **fields)
        Offer.objects.create(deal=deal)
        return deal


class Deal(models.Model):
    """One client's business on one property, known by its record's id.  ``summary`` is what lists show,
    stored at each change: {"open", "blanks", "pages", "map", "address", "price", "dates"}; ``words`` is what
    finding looks in, parted into ``DealWord``.
    """

    record = models.OneToOneField(Record, models.CASCADE, primary_key=True, related_name="deal")
    brokerage = models.ForeignKey(Brokerage, models.PROTECT, related_name="deals")
    office = models.ForeignKey(Office, models.PROTECT, related_name="deals")
    owner = models.ForeignKey(settings.AUTH_USER_MODEL, models.PROTECT, related_name="deals")
    team = models.ManyToManyField(settings.AUTH_USER_MODEL, related_name="team_deals", blank=True)
    release = models.ForeignKey(Release, models.PROTECT)
    side = models.CharField(max_length=20, choices=SIDES)
    name = models.CharField(max_length=250)
    name_typed = models.BooleanField(default=False)
    stage = models.CharField(max_length=20, choices=STAGES, default="filling")
    clients = models.ManyToManyField(Contact, related_name="deals", blank=True)
    template = models.OneToOneField(Template, models.CASCADE, null=True, related_name="working_copy")
    """The template that is written here: then it is nobody's deal, and in no list of deals."""
    began_with = models.ManyToManyField(Template, related_name="deals", blank=True)
    """The templates that were applied to it."""
    before = models.ForeignKey("self", models.SET_NULL, null=True, related_name="after")
    """The deal that handed on to this one."""
    summary = models.JSONField(default=dict)
    states = models.JSONField(default=dict)
    """The states of the blanks in each offer, by its id: {"seq", "letters"}, where letters are by document
    code, a letter a blank in reading order (``quillcore.assembly.blanks.STATES``; w where something waits),
    as of the step of that number."""
    words = models.CharField(max_length=600, blank=True)
    made = models.DateTimeField(auto_now_add=True)
    touched = models.DateTimeField(auto_now=True)
    removed_at = models.DateTimeField(null=True)
    """The moment of deletion; owner and broker find it again for thirty days."""

    objects = DealManager()
    knows_step = False
    """Whether a step that was asked about was made before (see ``opening.find_deal``)."""

    @property
    def on(self) -> Side:
        """Whom the agent acts for."""
        return Side(self.side)

    @property
    def is_over(self) -> bool:
        """Whether it asks for nothing any more."""
        return self.stage in OVER

    class Meta:
        indexes = [
            models.Index(fields=["brokerage", "-touched"]),
            models.Index(fields=["owner", "-touched"]),
            models.Index(fields=["office", "-touched"]),
        ]


class DealWord(models.Model):
    """A word by which a deal is found, from its beginning on."""

    deal = models.ForeignKey(Deal, models.CASCADE, related_name="found_by")
    brokerage = models.ForeignKey(Brokerage, models.CASCADE, related_name="+")
    word = models.CharField(max_length=LONGEST_WORD, db_collation="utf8mb4_bin")

    class Meta:
        unique_together = [("deal", "word")]
        indexes = [models.Index(fields=["brokerage", "word", "deal"])]


class Looked(models.Model):
    """An entry of a deal's access log: who opened, downloaded or took what; written, never changed, and kept
    when the deal is gone. ``document`` is what the paper was called, ``content`` the SHA-256 of what left."""

    WHAT = [("opened", "opened"), ("downloaded", "downloaded")]

    brokerage = models.ForeignKey(Brokerage, models.PROTECT, related_name="+")
    deal = models.UUIDField(db_index=True)
    deal_name = models.CharField(max_length=250)
    by = models.ForeignKey(settings.AUTH_USER_MODEL, models.PROTECT, related_name="+")
    at = models.DateTimeField(auto_now_add=True)
    what = models.CharField(max_length=12, choices=WHAT)
    document = models.CharField(max_length=250, blank=True)
    how = models.CharField(max_length=12, blank=True)
    content = models.CharField(max_length=64, blank=True)

    def save(self, *args: Any, **kwargs: Any) -> None:
        """Save it once."""
        if self.pk is not None:
            raise TypeError("what was noted is never changed")
        super().save(*args, **kwargs)

    def delete(self, *args: Any, **kwargs: Any) -> Any:
        """Refuse: it is never deleted."""
        raise TypeError("what was noted is never taken away")


class Offer(models.Model):
    """One set of terms within a deal, made to the other side or received from it.  A deal starts with one;
    the one ``in_force`` is what lists show and what an opened deal shows unless another is asked for."""

    OUTCOMES = [
        ("open", "open"),
        ("accepted", "accepted"),
        ("declined", "declined"),
        ("withdrawn", "withdrawn"),
        ("back-up", "back-up"),
    ]

    deal = models.ForeignKey(Deal, models.CASCADE, related_name="offers")
    name = models.CharField(max_length=120, default="Offer 1")
    in_force = models.BooleanField(default=True)
    parties = models.CharField(max_length=200, blank=True)
    """The other side's names, stored at each change for whoever chooses among offers."""
    outcome = models.CharField(max_length=10, choices=OUTCOMES, default="open")
    came = models.CharField(max_length=300, blank=True)
    """Of an accepted one: when, how, and who recorded it."""
    removed = models.BooleanField(default=False)

    class Meta:
        ordering = ["pk"]


class Document(models.Model):
    """One item of a package: a form copy (edition and mapping pinned), or a paper expected from somebody.
    ``code`` is part of the keys of its own blanks and never changes."""

    deal = models.ForeignKey(Deal, models.CASCADE, related_name="documents")
    offer = models.ForeignKey(Offer, models.CASCADE, null=True, related_name="documents")
    code = models.CharField(max_length=12)
    position = models.PositiveSmallIntegerField()
    section = models.CharField(max_length=80, blank=True)
    edition = models.ForeignKey(Edition, models.PROTECT, null=True)
    mapping = models.ForeignKey(MappingVersion, models.PROTECT, null=True)
    expected = models.CharField(max_length=200, blank=True)
    expected_from = models.CharField(max_length=80, blank=True)
    why = models.CharField(max_length=200, blank=True)
    stands_for = models.CharField(max_length=200, blank=True)
    """Of a paper that came: the number or title of the form whose place it took."""
    by_hand = models.JSONField(default=list)
    """The changes made on its pages, in order (quillcore.assembly.markup)."""
    spots = models.JSONField(default=list)
    """Places put on its pages for those who sign it (quillcore.assembly.added_places)."""
    came = models.JSONField(default=dict)
    """Of a known form that came filled in: the labels of its blanks that are ``open``."""
    set_aside = models.BooleanField(default=False)
    removed = models.BooleanField(default=False)

    class Meta:
        unique_together = [("deal", "code")]
        ordering = ["position", "pk"]

    def like(self, **changed: Any) -> Document:
        """Return an unsaved copy with a code of its own; ``changed`` names what is otherwise."""
        same = (
            "deal_id",
            "offer_id",
            "position",
            "section",
            "edition_id",
            "mapping_id",
            "expected",
            "expected_from",
            "why",
            "stands_for",
            "spots",
            "set_aside",
        )
        return Document(
            **{"code": uuid.uuid4().hex[:12], **{name: getattr(self, name) for name in same}, **changed}
        )


class RememberedSpots(models.Model):
    """The places that were put last on a paper with this content, for everybody of the brokerage: offered
    when it comes again."""

    brokerage = models.ForeignKey(Brokerage, models.CASCADE, related_name="+")
    content = models.CharField(max_length=64)
    spots = models.JSONField()
    by = models.ForeignKey(settings.AUTH_USER_MODEL, models.SET_NULL, null=True, related_name="+")
    at = models.DateTimeField(auto_now=True)

    class Meta:
        unique_together = [("brokerage", "content")]


class Incoming(models.Model):
    """A file that was sent for a package and isn't put in its place yet: its clean pages, their sizes and
    texts, and what was ``found`` on them (see ``incoming``)."""

    id = models.UUIDField(primary_key=True, default=uuid.uuid4)
    deal = models.ForeignKey(Deal, models.CASCADE, related_name="incoming")
    by = models.ForeignKey(settings.AUTH_USER_MODEL, models.PROTECT, related_name="+")
    at = models.DateTimeField(auto_now_add=True)
    name = models.CharField(max_length=200)
    content = models.CharField(max_length=64)
    sizes = models.JSONField(default=list)
    texts = models.JSONField(default=list)
    found = models.JSONField(default=list)
    left_out = models.JSONField(default=list)
    settled = models.BooleanField(default=False)

    class Meta:
        ordering = ["at", "pk"]
        indexes = [models.Index(fields=["deal", "settled"])]


class Task(models.Model):
    """Something to be done, as a template or somebody says it; see ``quillcore.tasks.PlannedTask``.  ``code``
    names it within the deal; of one that a form asks for it is the key of the fact or blank that has its
    day, and there is a row only once something was said of it."""

    deal = models.ForeignKey(Deal, models.CASCADE, related_name="tasks")
    code = models.CharField(max_length=160, db_collation="utf8mb4_bin")
    what = models.CharField(max_length=200)
    who = models.CharField(max_length=30, blank=True)
    group = models.CharField(max_length=80, blank=True)
    rule = models.CharField(max_length=300, blank=True)
    day = models.DateField(null=True)
    settled_by = models.CharField(max_length=200, blank=True)
    remind = models.PositiveSmallIntegerField(null=True)
    note = models.CharField(max_length=300, blank=True)
    why = models.CharField(max_length=200, blank=True)
    done = models.DateField(null=True)
    done_by = models.ForeignKey(settings.AUTH_USER_MODEL, models.PROTECT, null=True, related_name="+")
    needed = models.BooleanField(default=True)
    removed = models.BooleanField(default=False)

    class Meta:
        unique_together = [("deal", "code")]
        ordering = ["pk"]

    @property
    def is_of_a_form(self) -> bool:
        """Whether a form or the catalog asks for it."""
        return "." in self.code


class Due(models.Model):
    """A task as it stood after the deal's last step, for whatever looks over many deals: lists, calendars,
    reminders.  Made anew from the deal, never a source."""

    deal = models.ForeignKey(Deal, models.CASCADE, related_name="dues")
    code = models.CharField(max_length=160, db_collation="utf8mb4_bin")
    what = models.CharField(max_length=200)
    who = models.CharField(max_length=30, blank=True)
    named = models.CharField(max_length=200, blank=True)
    progress = models.CharField(max_length=12)
    day = models.DateField(null=True)
    why = models.CharField(max_length=500, blank=True)
    note = models.CharField(max_length=300, blank=True)
    remind_on = models.DateField(null=True)
    reminded = models.DateField(null=True)
    """For which day the reminder was written: a day that moves is reminded of again."""

    class Meta:
        unique_together = [("deal", "code")]
        indexes = [
            models.Index(fields=["deal", "progress", "day"]),
            models.Index(fields=["remind_on", "progress"]),
        ]
