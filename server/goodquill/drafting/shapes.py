"""The shapes of what the drafting endpoints take and give; the web's types are generated from them."""

from __future__ import annotations

from rest_framework import serializers as s

from goodquill.http.choices import SIDES
from goodquill.templates.models import OWN_REACH, TemplateWeight
from goodquill.templates.shapes import TemplateSerializer

MOST_KINDS = 12
MOST_NAMED = 60
"""Members or offices that a template is published to: beyond it is the brokerage."""


class NewTemplateSerializer(s.Serializer):
    """A template to be written: from nothing, like another (``copy_of``), or from a deal (``from_deal``).
    What isn't said is as in what it is made from; ``without`` names answers of the deal that are left
    out."""

    name = s.CharField(max_length=200)
    side = s.ChoiceField(choices=SIDES, required=False)
    kinds = s.ListField(child=s.CharField(max_length=60), required=False, max_length=MOST_KINDS)
    copy_of = s.UUIDField(required=False, allow_null=True)
    from_deal = s.UUIDField(required=False, allow_null=True)
    without = s.ListField(child=s.CharField(max_length=200), required=False, max_length=2_000)


class BegunSerializer(s.Serializer):
    """A template that was begun; ``stayed_out`` names the answers of the deal that it doesn't have."""

    id = s.UUIDField()
    name = s.CharField()
    stayed_out = s.ListField(child=s.CharField())


class VersionSerializer(s.Serializer):
    """One published version: by whom, and their note."""

    number = s.IntegerField()
    said = s.CharField(allow_blank=True)
    by = s.CharField()
    at = s.DateTimeField()


class NamedSerializer(s.Serializer):
    """A member or office."""

    id = s.CharField()
    name = s.CharField()


class HabitSerializer(s.Serializer):
    """The answer in ``times`` of ``of`` deals: as it is typed, and as it is shown."""

    text = s.CharField(allow_blank=True)
    shown = s.CharField(allow_blank=True)
    times = s.IntegerField()
    of = s.IntegerField()


class LeftSerializer(s.Serializer):
    """A question that the template leaves open: of which form first, what it asks, who answers it, and what
    the reader answers in most deals."""

    number = s.CharField(allow_blank=True)
    document = s.CharField()
    key = s.CharField()
    field = s.CharField()
    label = s.CharField()
    by = s.CharField()
    habit = HabitSerializer(allow_null=True)


class UpstreamSerializer(s.Serializer):
    """A change in the template that this was copied from: its text before, its text now, and the text here;
    "" where it isn't there."""

    id = s.CharField()
    label = s.CharField()
    was = s.CharField(allow_blank=True)
    now = s.CharField(allow_blank=True)
    mine = s.CharField(allow_blank=True)


class WrittenTemplateSerializer(TemplateSerializer):
    """A template with its working copy: the record that deal endpoints write it under.  ``left`` are the
    questions that it doesn't answer itself; ``members`` and ``offices`` say whom it is published to,
    ``everybody`` and ``branches`` whom it could be; ``upstream`` what changed in what it was copied from, and
    ``faults`` what in it can't be published as it is; ``people`` are contacts by the group of facts that they
    fill in each deal."""

    working_copy = s.UUIDField(allow_null=True)
    copied_from = NamedSerializer(allow_null=True)
    versions = VersionSerializer(many=True)
    members = s.ListField(child=s.CharField())
    offices = s.ListField(child=s.CharField())
    everybody = NamedSerializer(many=True)
    branches = NamedSerializer(many=True)
    may_publish = s.BooleanField()
    may_lock = s.BooleanField()
    left = LeftSerializer(many=True)
    upstream = UpstreamSerializer(many=True)
    people = s.DictField(child=NamedSerializer())
    faults = s.ListField(child=s.CharField())


class AboutSerializer(s.Serializer):
    """A template's description, as one undoable step; a missing member stays."""

    change = s.UUIDField()
    name = s.CharField(max_length=200, required=False)
    kinds = s.ListField(child=s.CharField(max_length=60), required=False, max_length=MOST_KINDS)
    about = s.CharField(max_length=300, allow_blank=True, required=False)
    rule = s.CharField(max_length=300, allow_blank=True, required=False)
    weight = s.ChoiceField(choices=TemplateWeight.values, allow_blank=True, required=False)
    people = s.DictField(child=s.UUIDField(allow_null=True), required=False)


class UpstreamChangeSerializer(s.Serializer):
    """A step under its sender's id."""

    change = s.UUIDField()


class PublishSerializer(s.Serializer):
    """To whom, and in a line what changed."""

    reach = s.ChoiceField(choices=OWN_REACH)
    members = s.ListField(child=s.UUIDField(), required=False, max_length=MOST_NAMED)
    offices = s.ListField(child=s.UUIDField(), required=False, max_length=MOST_NAMED)
    said = s.CharField(max_length=300, allow_blank=True, required=False, default="")


class TrySerializer(s.Serializer):
    """A rule to be tried on the member's own deals."""

    rule = s.CharField(max_length=300, allow_blank=True)


class TriedSerializer(s.Serializer):
    """Of how many deals, the newest ones of the side, it would have held; or what is wrong with it."""

    held = s.IntegerField()
    of = s.IntegerField()
    fault = s.CharField(allow_blank=True)


class TemplateFileSerializer(s.Serializer):
    """A template's file."""

    file = s.FileField()


class SampleQuery(s.Serializer):
    """The deal; the newest of that side without it."""

    deal = s.UUIDField(required=False, allow_null=True, default=None)


class TriedFormulaSerializer(s.Serializer):
    """The result of a standing formula there, or the keys that it waits for."""

    key = s.CharField()
    label = s.CharField()
    shown = s.CharField(allow_blank=True)
    waits_for = s.ListField(child=s.CharField())
    fault = s.CharField(allow_blank=True)


class SampleSerializer(s.Serializer):
    """A template tried on a deal: how its blanks would stand; ``deals`` are those that it can be tried on."""

    deal = s.UUIDField()
    filled = s.IntegerField()
    open = s.IntegerField()
    deals = NamedSerializer(many=True)
    formulas = TriedFormulaSerializer(many=True)


class GoesWithSerializer(s.Serializer):
    """A form that goes with those of a package, and why."""

    number = s.CharField()
    title = s.CharField()
    why = s.CharField()


class KeptAnswerSerializer(s.Serializer):
    """An answer of a deal that a template would keep: where it stands (``of``), and how it is typed."""

    key = s.CharField()
    label = s.CharField()
    of = s.CharField()
    text = s.CharField(allow_blank=True)


class FromDealSerializer(s.Serializer):
    """The content of a template made of a deal: its answers, the labels of those left out, and its tasks."""

    kept = KeptAnswerSerializer(many=True)
    left = s.ListField(child=s.CharField())
    tasks = s.ListField(child=s.CharField())


class FormMovesSerializer(s.Serializer):
    """The changes that a form's newer edition brings."""

    number = s.CharField()
    title = s.CharField()
    retired = s.BooleanField()
    blanks = s.ListField(child=s.CharField())
    wording = s.ListField(child=s.CharField())
    answers_lost = s.ListField(child=s.CharField())


class MoveManySerializer(s.Serializer):
    """The templates that are moved on."""

    templates = s.ListField(child=s.UUIDField(), max_length=200)


class MovedSerializer(s.Serializer):
    """A template that was moved on, and what was done."""

    id = s.UUIDField()
    name = s.CharField()
    said = s.CharField()


class TakeOverSerializer(s.Serializer):
    """Parts of upstream's changes: to be taken over, or with ``keep`` left as they are here."""

    change = s.UUIDField()
    parts = s.ListField(child=s.CharField(max_length=300), max_length=2_000)
    keep = s.BooleanField(required=False, default=False)
