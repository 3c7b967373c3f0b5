"""The shapes of what the contacts endpoints take and give; the web's types are generated from them."""

from __future__ import annotations

from rest_framework import serializers as s

from goodquill.contacts.models import HOME_CHOICES, ContactChange
from goodquill.http.choices import CONTACT_KINDS
from goodquill.http.endpoints import named
from goodquill.http.limits import MOST_CONTACTS


class TwinSerializer(s.Serializer):
    """Another contact that is probably the same, and why."""

    id = s.UUIDField()
    name = s.CharField()
    why = s.CharField()


class RecentSerializer(s.Serializer):
    """A field of a shared contact that somebody changed in the last thirty days, and what it said before."""

    field = s.CharField()
    label = s.CharField()
    by = s.CharField()
    at = s.DateTimeField()
    before = s.CharField(allow_blank=True)


class ContactSerializer(s.Serializer):
    """A contact.  ``twins`` are others that are probably the same; ``merged`` says that another was merged
    into it; ``may_merge`` whether merging, sharing and removing it is the reader's to do."""

    may_merge = s.BooleanField()
    recent = RecentSerializer(many=True)

    id = s.UUIDField()
    kind = s.ChoiceField(choices=CONTACT_KINDS)
    name = s.CharField()
    fields_said = s.DictField(child=s.CharField())
    shared = s.BooleanField()
    mine = s.BooleanField()
    merged = s.BooleanField()
    twins = TwinSerializer(many=True)


class TypedContactSerializer(s.Serializer):
    """A contact as it is typed."""

    kind = s.ChoiceField(choices=CONTACT_KINDS)
    fields_said = s.DictField(child=s.CharField(max_length=2000, allow_blank=True, trim_whitespace=False))
    shared = s.BooleanField(required=False, default=False)


class SaveContactSerializer(TypedContactSerializer):
    """A contact as it is to be kept.  ``over`` is what it said when that was typed: what others changed since
    stays, and where both changed one thing nothing is kept.  ``unless_known`` gives the one that is probably
    the same instead of a second one."""

    over = TypedContactSerializer(required=False, allow_null=True, default=None)
    unless_known = s.BooleanField(required=False, default=False)


class MergeSerializer(s.Serializer):
    """The contact to merge into this one; none takes the last merging back."""

    other = s.UUIDField(required=False, allow_null=True, default=None)


class CardsSerializer(s.Serializer):
    """A vCard or CSV file."""

    file = s.FileField()


class TakenInSerializer(s.Serializer):
    """The counts of a contacts file: how many it had, how many are new, how many were there already."""

    read = s.IntegerField()
    added = s.IntegerField()
    known = s.IntegerField()


class ContactsQuery(s.Serializer):
    """The search; ``skip`` as many as are shown already."""

    find = s.CharField(required=False, allow_blank=True, default="", max_length=200)
    kind = s.CharField(required=False, allow_blank=True, default="", max_length=20)
    skip = s.IntegerField(required=False, default=0, min_value=0, max_value=MOST_CONTACTS)


FileQuery = named(
    "FileQuery",
    ContactsQuery,
    "The search, and the format of the file.",
    **{"as": s.ChoiceField(choices=["vcf", "csv"], required=False, default="vcf")},
)


class ContactChangeSerializer(s.Serializer):
    """One change of a contact: which fields said what before and after."""

    id = s.IntegerField()
    at = s.DateTimeField()
    by = s.CharField()
    what = s.ChoiceField(choices=ContactChange.WHAT)
    moves = s.ListField(child=s.DictField(child=s.CharField(allow_blank=True)))


class UndoChangeSerializer(s.Serializer):
    """The change to take back."""

    change = s.IntegerField(min_value=1, max_value=2**62)


class UndoneSerializer(s.Serializer):
    """The contact, and the fields that were changed since and stay."""

    contact = ContactSerializer()
    left = s.ListField(child=s.CharField())


class HomeSerializer(s.Serializer):
    """A home that a client has seen."""

    id = s.IntegerField(read_only=True)
    listing = s.CharField(max_length=40, allow_blank=True)
    parcel = s.CharField(max_length=40, allow_blank=True)
    county = s.CharField(max_length=40, allow_blank=True)
    address = s.CharField(max_length=250)
    price = s.CharField(max_length=40, allow_blank=True)
    kind = s.ChoiceField(choices=HOME_CHOICES)
    category = s.CharField(max_length=40, allow_blank=True)
    seen_on = s.DateField()
    note = s.CharField(max_length=500, allow_blank=True)
