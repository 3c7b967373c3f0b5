"""The shapes of what the templates endpoints take and give; the web's types are generated from them."""

from __future__ import annotations

from quillcore.templates.choosing import Rank
from rest_framework import serializers as s

from goodquill.http.choices import SIDES
from goodquill.templates.models import TemplateReach, TemplateWeight

EVERY_SIDE = ["", *(side for side, _ in SIDES)]


class TemplatesQuery(s.Serializer):
    """A new deal as far as it is known: its side, the kind of property, county and loan."""

    side = s.ChoiceField(choices=EVERY_SIDE, required=False, default="")
    category = s.CharField(required=False, allow_blank=True, default="", max_length=60)
    county = s.CharField(required=False, allow_blank=True, default="", max_length=60)
    loan = s.CharField(required=False, allow_blank=True, default="", max_length=60)


class TemplateSerializer(s.Serializer):
    """A template as a choice.  ``rank`` says how it stands to the deal that was asked about, and ``why``;
    ``fits`` marks the one that fits it best, ``usual`` those that it begins with unless somebody says
    otherwise.  ``coverage`` counts who answers its questions;
    ``retired`` are its forms of which a newer release has another edition; ``may_write`` whether the reader
    may change it, ``unpublished`` whether what others get is older than what is written."""

    id = s.UUIDField()
    name = s.CharField()
    side = s.ChoiceField(choices=SIDES)
    kinds = s.ListField(child=s.CharField())
    about = s.CharField(allow_blank=True)
    rule = s.CharField(allow_blank=True)
    weight = s.ChoiceField(choices=TemplateWeight.values, allow_blank=True)
    whose = s.CharField()
    mine = s.BooleanField()
    reach = s.ChoiceField(choices=TemplateReach.choices)
    version = s.IntegerField()
    unpublished = s.BooleanField()
    may_write = s.BooleanField()
    documents = s.IntegerField()
    forms = s.ListField(child=s.CharField())
    answers = s.IntegerField()
    coverage = s.DictField(child=s.IntegerField())
    used = s.IntegerField()
    retired = s.ListField(child=s.CharField())
    fits = s.BooleanField()
    usual = s.BooleanField()
    rank = s.ChoiceField(choices=[r.name.lower() for r in Rank], allow_null=True)
    why = s.CharField(allow_blank=True)
