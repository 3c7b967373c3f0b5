"""The shapes of what the sources endpoints take and give; the web's types are generated from them."""

from __future__ import annotations

from rest_framework import serializers as s

from goodquill.contacts.models import HOME_CHOICES


class FoundSerializer(s.Serializer):
    """One home in either source."""

    listing = s.CharField(allow_blank=True)
    parcel = s.CharField(allow_blank=True)
    county = s.CharField(allow_blank=True)
    address = s.CharField()
    status = s.CharField(allow_blank=True)
    price = s.CharField(allow_blank=True)
    owner = s.CharField(allow_blank=True)
    kind = s.ChoiceField(choices=HOME_CHOICES)
    category = s.CharField(allow_blank=True)


class SearchSerializer(s.Serializer):
    """The finds of both sources, how many more they have, and which of them could not be asked."""

    found = FoundSerializer(many=True)
    more = s.IntegerField()
    troubles = s.ListField(child=s.CharField())


class PropertyQuery(s.Serializer):
    """The search for a property, within a county where one is named."""

    text = s.CharField(max_length=120)
    county = s.CharField(required=False, allow_blank=True, default="", max_length=60)


class LookSerializer(s.Serializer):
    """The home to look up: a listing number, a parcel number within a county, a ``row`` (from 0) of a file,
    or the one brought in before."""

    listing = s.CharField(max_length=40, allow_blank=True, required=False, default="")
    parcel = s.CharField(max_length=40, allow_blank=True, required=False, default="")
    county = s.CharField(max_length=40, allow_blank=True, required=False, default="")
    file = s.UUIDField(required=False, allow_null=True, default=None)
    row = s.IntegerField(required=False, default=0, min_value=0, max_value=2**31 - 1)
    again = s.BooleanField(required=False, default=False)


class RowSerializer(s.Serializer):
    """One fact: now, at each source, and what it will become.  ``status``: new, same, differs, kept.  ``was``
    is what a source said when it was brought in before, where it says something else now."""

    key = s.CharField()
    label = s.CharField()
    group = s.CharField()
    now = s.CharField(allow_blank=True)
    now_source = s.CharField(allow_null=True)
    listing = s.CharField(allow_blank=True)
    roll = s.CharField(allow_blank=True)
    becomes = s.CharField(allow_blank=True)
    becomes_source = s.CharField(allow_null=True)
    status = s.ChoiceField(choices=["new", "same", "differs", "kept"])
    heavy = s.BooleanField()
    was = s.DictField(child=s.CharField())


class AttachedSerializer(s.Serializer):
    """A paper attached to the listing; ``place`` is what the package expects and it would take the
    place of."""

    key = s.CharField()
    title = s.CharField()
    place = s.CharField(allow_blank=True)


class ComparisonSerializer(s.Serializer):
    """A comparison, to be accepted or left.  ``before`` is when something was last brought into the deal;
    ``remark`` what is to be known of the listing itself."""

    id = s.UUIDField()
    address = s.CharField(allow_blank=True)
    listing = s.CharField(allow_blank=True)
    status = s.CharField(allow_blank=True)
    parcel = s.CharField(allow_blank=True)
    county = s.CharField(allow_blank=True)
    file = s.CharField(allow_blank=True)
    before = s.DateTimeField(allow_null=True)
    rows = RowSerializer(many=True)
    papers = AttachedSerializer(many=True)
    troubles = s.ListField(child=s.CharField())
    remark = s.CharField(allow_blank=True)
    unread = s.ListField(child=s.CharField())


class AcceptSerializer(s.Serializer):
    """Accepting a comparison; ``take`` names the source to believe where it isn't the proposed one."""

    change = s.UUIDField()
    comparison = s.UUIDField()
    take = s.DictField(child=s.ChoiceField(choices=["listing", "roll"]), required=False)
    papers = s.ListField(child=s.CharField(max_length=80), required=False, max_length=30)


class ColumnSerializer(s.Serializer):
    """A column of the file with what its first row says."""

    name = s.CharField()
    sample = s.CharField(allow_blank=True)


class RowFoundSerializer(FoundSerializer):
    """A home in the file; ``row`` is its number (from 0)."""

    row = s.IntegerField()


class SourceFileSerializer(s.Serializer):
    """A file: its columns, how they are mapped (our column: the file's), and homes found in it.
    ``remembered`` says that such columns were mapped before; ``ours`` are the columns that can be mapped,
    with what they are called.
    """

    id = s.UUIDField()
    name = s.CharField()
    kind = s.ChoiceField(choices=["listing", "roll"])
    rows = s.IntegerField()
    columns = ColumnSerializer(many=True)
    mapping = s.DictField(child=s.CharField())
    remembered = s.BooleanField()
    ours = s.DictField(child=s.CharField())
    found = RowFoundSerializer(many=True)


class FileSerializer(s.Serializer):
    """A file to be read."""

    file = s.FileField()


class ColumnsSerializer(s.Serializer):
    """Our columns, each with the file's that holds it."""

    mapping = s.DictField(child=s.CharField(max_length=300))


class FindQuery(s.Serializer):
    """Words that a row has to have."""

    find = s.CharField(required=False, allow_blank=True, default="", max_length=120)


class ParcelQuery(s.Serializer):
    """The parcel."""

    parcel = s.CharField(max_length=60)
    county = s.CharField(required=False, allow_blank=True, default="", max_length=60)


class LineSerializer(s.Serializer):
    """One thing that the roll says."""

    label = s.CharField()
    text = s.CharField()


class SectionSerializer(s.Serializer):
    """Lines under a title."""

    title = s.CharField()
    rows = LineSerializer(many=True)


class ReportOwnerSerializer(s.Serializer):
    """A recorded owner as read; ``ask`` is what isn't sure."""

    name = s.CharField()
    capacity = s.CharField(allow_blank=True)
    ask = s.CharField(allow_blank=True)


class YearSerializer(s.Serializer):
    """One year of assessment and tax, as texts."""

    year = s.IntegerField()
    assessed = s.CharField(allow_blank=True)
    change = s.CharField(allow_blank=True)
    tax = s.CharField(allow_blank=True)


class SaleSerializer(s.Serializer):
    """One sale, as texts."""

    on = s.CharField()
    price = s.CharField(allow_blank=True)
    per_foot = s.CharField(allow_blank=True)
    deed = s.CharField(allow_blank=True)


class ReportSerializer(s.Serializer):
    """A property report."""

    address = s.CharField()
    parcel = s.CharField()
    county = s.CharField()
    sections = SectionSerializer(many=True)
    owners = ReportOwnerSerializer(many=True)
    years = YearSerializer(many=True)
    sales = SaleSerializer(many=True)
