"""The shapes of what the clients endpoints take and give; the web's types are generated from them."""

from __future__ import annotations

from rest_framework import serializers as s

from goodquill.contacts.shapes import HomeSerializer
from goodquill.deals.models import STAGES
from goodquill.deals.shapes import DealRowSerializer
from goodquill.http.choices import SIDES
from goodquill.http.limits import MOST_CLIENTS, MOST_TEMPLATES


class ClientSerializer(s.Serializer):
    """A client as known when the deal starts: a picked contact, or a name."""

    given = s.CharField(max_length=100, allow_blank=True, required=False)
    family = s.CharField(max_length=100, allow_blank=True, required=False)
    entity_name = s.CharField(max_length=200, allow_blank=True, required=False)
    entity_kind = s.CharField(max_length=60, allow_blank=True, required=False)
    email = s.CharField(max_length=254, allow_blank=True, required=False)
    phone = s.CharField(max_length=60, allow_blank=True, required=False)
    contact = s.UUIDField(required=False, allow_null=True)


class NewDealSerializer(s.Serializer):
    """The start of a deal: ``template``, and ``templates`` in the order in which they are applied. Without a
    name one is made from address and surname, and follows them. ``price`` is what is asked, offered or the
    rent, as typed; ``agent`` whose deal it is, where one starts it for somebody else."""

    side = s.ChoiceField(choices=SIDES)
    template = s.UUIDField(required=False, allow_null=True)
    templates = s.ListField(child=s.UUIDField(), required=False, max_length=MOST_TEMPLATES)
    name = s.CharField(max_length=250, allow_blank=True, required=False)
    clients = ClientSerializer(many=True, required=False, max_length=MOST_CLIENTS)
    price = s.CharField(max_length=60, allow_blank=True, required=False)
    agent = s.UUIDField(required=False, allow_null=True)


class UseContactSerializer(s.Serializer):
    """A contact for a group of facts; ``party`` names the party that it fills in, without which it becomes
    another one."""

    change = s.UUIDField()
    contact = s.UUIDField()
    group = s.CharField(max_length=40)
    party = s.CharField(max_length=12, required=False, allow_blank=True, default="")


class KeepContactSerializer(s.Serializer):
    """A group of facts, or the party at a ``position`` of a group of parties, to be kept as a contact."""

    group = s.CharField(max_length=40)
    position = s.IntegerField(
        required=False, allow_null=True, default=None, min_value=1, max_value=MOST_CLIENTS
    )


class HandOnSerializer(s.Serializer):
    """Starting the client's next deal; ``fell_through`` closes this one."""

    fell_through = s.BooleanField()


class StageSerializer(s.Serializer):
    """The stage of a deal."""

    stage = s.ChoiceField(choices=STAGES)


class ClientPaperSerializer(s.Serializer):
    """A paper on a client's record; ``ended`` where it is an agreement that has run out."""

    id = s.IntegerField()
    title = s.CharField()
    number = s.CharField(allow_blank=True)
    pages = s.IntegerField()
    represents = s.BooleanField()
    begins = s.DateField(allow_null=True)
    ends = s.DateField(allow_null=True)
    ended = s.BooleanField()
    kept = s.DateTimeField()
    deal = s.UUIDField(allow_null=True)


class RecordSerializer(s.Serializer):
    """A client's record.  ``advice`` says what should be there before the next step; "" where nothing is
    missing."""

    papers = ClientPaperSerializer(many=True)
    homes = HomeSerializer(many=True)
    deals = DealRowSerializer(many=True)
    advice = s.CharField(allow_blank=True)


class UploadedPaperSerializer(s.Serializer):
    """A PDF for a client's record."""

    file = s.FileField()
    title = s.CharField(max_length=200, allow_blank=True, required=False, default="")
    represents = s.BooleanField(required=False, allow_null=True, default=None)
    ends = s.DateField(required=False, allow_null=True, default=None)


class LeavingSerializer(s.Serializer):
    """The member who takes over from one who leaves; needed where there is anything."""

    to = s.UUIDField(required=False, allow_null=True, default=None)


class PassedSerializer(s.Serializer):
    """The number of deals that passed to somebody else."""

    passed = s.IntegerField()
