"""The shapes of what the forms endpoints take and give; the web's types are generated from them."""

from __future__ import annotations

from rest_framework import serializers as s

from goodquill.http.choices import CONTACT_KINDS


class FormSerializer(s.Serializer):
    """A form that can be added to a package.  ``own`` papers are the brokerage's; ``filled_by`` are the sides
    on which it is ours to fill (none: all); ``found`` is the text around what was looked for, where only the
    text has it."""

    number = s.CharField()
    title = s.CharField()
    topic = s.CharField()
    purpose = s.CharField(allow_blank=True)
    sides = s.ListField(child=s.CharField())
    kinds = s.ListField(child=s.CharField())
    audience = s.ListField(child=s.CharField())
    filled_by = s.ListField(child=s.CharField())
    pages = s.IntegerField()
    blanks = s.IntegerField()
    edition = s.CharField()
    released = s.DateField()
    association = s.CharField()
    own = s.BooleanField()
    favourite = s.BooleanField()
    found = s.CharField(allow_blank=True)


class FormsQuery(s.Serializer):
    """The search for forms."""

    find = s.CharField(required=False, allow_blank=True, default="", max_length=200)
    side = s.CharField(required=False, allow_blank=True, default="", max_length=20)
    kind = s.CharField(required=False, allow_blank=True, default="", max_length=60)
    topic = s.CharField(required=False, allow_blank=True, default="", max_length=60)


class FormBlankSerializer(s.Serializer):
    """One blank of a form: page from 1, rectangle in points, what it asks for and of whom."""

    id = s.CharField()
    page = s.IntegerField()
    rect = s.ListField(child=s.FloatField())
    shape = s.CharField()
    label = s.CharField()
    key = s.CharField(allow_blank=True)
    who = s.CharField(allow_blank=True)


class FormSheetSerializer(FormSerializer):
    """A form with its pages' sizes in points and its blanks."""

    sizes = s.ListField(child=s.ListField(child=s.FloatField()))
    fields_on_pages = FormBlankSerializer(many=True)


class FactSheetSerializer(s.Serializer):
    """A fact of the catalog; ``reads`` are the keys that it is worked out from, ``ask`` how somebody is asked
    for it, in which ``section`` of the work ("": with the rest of its form). One that ``states_parts`` states
    what it is otherwise worked out from."""

    key = s.CharField()
    group = s.CharField()
    label = s.CharField()
    kind = s.CharField()
    options = s.ListField(child=s.CharField())
    also = s.CharField(allow_blank=True)
    help = s.CharField(allow_blank=True)
    example = s.CharField(allow_blank=True)
    worked_out = s.BooleanField()
    reads = s.ListField(child=s.CharField())
    ask = s.CharField()
    section = s.CharField(allow_blank=True)
    states_parts = s.BooleanField()


class WorkSectionSerializer(s.Serializer):
    """A part of the work."""

    name = s.CharField()
    title = s.CharField()


class PartyGroupSerializer(s.Serializer):
    """A group of parties, and what one of them is called."""

    group = s.CharField()
    one = s.CharField()


class ContactGroupSerializer(s.Serializer):
    """A group of facts that a contact of that kind fills."""

    group = s.CharField()
    kind = s.ChoiceField(choices=CONTACT_KINDS)


class PartyFieldSerializer(s.Serializer):
    """A field that every party has; ``of`` whether a person or an entity alone is asked for it."""

    field = s.CharField()
    kind = s.CharField()
    label = s.CharField()
    options = s.ListField(child=s.CharField())
    example = s.CharField(allow_blank=True)
    worked_out = s.BooleanField()
    of = s.CharField(allow_blank=True)


class CatalogSerializer(s.Serializer):
    """The catalog of facts; ``groups`` are their groups' labels, in order."""

    facts = FactSheetSerializer(many=True)
    groups = s.DictField(child=s.CharField())
    sections = WorkSectionSerializer(many=True)
    contact_groups = ContactGroupSerializer(many=True)
    party_groups = PartyGroupSerializer(many=True)
    party_fields = PartyFieldSerializer(many=True)


class PageWordsSerializer(s.Serializer):
    """The words of each page: left, bottom, right and top in points from the lower left, and the text."""

    pages = s.ListField(child=s.ListField(child=s.ListField(child=s.JSONField())))


class LayoutBlankSerializer(s.Serializer):
    """One blank as its form fixes it: rectangle in points from the lower left. Its key is ``fact``, or a
    document's prefix and ``own`` where it has none; a value for it alone stands under the latter. ``role``
    says who signs or alone answers, a party by group and position too; ``line`` how far below the page's top
    its line of print is, in points; ``beside`` what is printed around it; ``reads`` are the facts that the
    form works it out from; ``ask`` is how somebody is asked for one of the form's own ("": as for its
    fact)."""

    field = s.CharField()
    page = s.IntegerField()
    rect = s.ListField(child=s.FloatField())
    shape = s.ChoiceField(choices=["text", "box", "sign"])
    lines = s.IntegerField()
    line = s.FloatField()
    beside = s.CharField(allow_blank=True)
    align = s.CharField()
    size = s.FloatField()
    fact = s.CharField(allow_blank=True)
    own = s.CharField()
    kind = s.CharField()
    options = s.ListField(child=s.CharField())
    value = s.CharField(allow_blank=True)
    label = s.CharField()
    help = s.CharField(allow_blank=True)
    ask = s.CharField(allow_blank=True)
    role = s.CharField(allow_blank=True)
    role_group = s.CharField(allow_blank=True)
    role_position = s.IntegerField()
    sign = s.CharField(allow_blank=True)
    editable = s.BooleanField()
    reads = s.ListField(child=s.CharField())


class FavouriteSerializer(s.Serializer):
    """A form to be kept at hand, or no longer."""

    association = s.CharField(max_length=200)
    number = s.CharField(max_length=20)
    favourite = s.BooleanField()


class CatalogFactSerializer(s.Serializer):
    """A fact that a blank can be bound to."""

    key = s.CharField()
    label = s.CharField()
    group = s.CharField()
    kind = s.CharField()
    options = s.ListField(child=s.CharField())
