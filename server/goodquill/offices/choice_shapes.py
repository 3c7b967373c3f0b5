"""The shapes of what screens offer to choose from."""

from __future__ import annotations

from rest_framework import serializers as s

from goodquill.http.choices import CONTACT_KINDS, SIDES


class SideChoiceShape(s.Serializer):
    """A side of a deal: what the client is called, which group of parties is the client, the other side, the
    owner of the home; whether offers come to it (or it makes them); what its price is called at the start,
    with an example; from whom papers may be expected; how it ends, and what its client goes on to."""

    side = s.ChoiceField(choices=SIDES)
    client = s.CharField()
    clients = s.CharField()
    others = s.CharField()
    owners = s.CharField()
    is_lease = s.BooleanField()
    gets_offers = s.BooleanField()
    price = s.CharField()
    price_example = s.CharField(allow_blank=True)
    brings = s.ListField(child=s.CharField())
    ends_well = s.CharField()
    ends_without = s.CharField()
    goes_on_to = s.CharField()

    class Meta:
        ref_name = "SideChoice"


class ContactKindShape(s.Serializer):
    """A kind of contact, and the fields that it has, in order."""

    kind = s.ChoiceField(choices=CONTACT_KINDS)
    label = s.CharField()
    fields_asked = s.ListField(child=s.CharField())

    class Meta:
        ref_name = "ContactKind"


class ContactFieldShape(s.Serializer):
    """A field of contacts; ``of_entity`` is asked only where a company or entity is named."""

    field = s.CharField()
    label = s.CharField()
    of_entity = s.BooleanField()

    class Meta:
        ref_name = "ContactField"


class RecurringShape(s.Serializer):
    """A role that recurs in a template's deals: the group of facts that a contact of that kind fills."""

    group = s.CharField()
    kind = s.ChoiceField(choices=CONTACT_KINDS)
    label = s.CharField()

    class Meta:
        ref_name = "Recurring"


class SignerRoleShape(s.Serializer):
    """A role that may sign a paper by others; only a party may be the one who alone answers a blank."""

    role = s.CharField()
    label = s.CharField()
    is_party = s.BooleanField()

    class Meta:
        ref_name = "SignerRole"


class ChoicesShape(s.Serializer):
    """The choices that screens offer."""

    sides = SideChoiceShape(many=True)
    property_kinds = s.ListField(child=s.CharField())
    loan_types = s.ListField(child=s.CharField())
    contact_kinds = ContactKindShape(many=True)
    contact_fields = ContactFieldShape(many=True)
    recurring = RecurringShape(many=True)
    value_kinds = s.ListField(child=s.CharField())
    signer_roles = SignerRoleShape(many=True)
    sign_kinds = s.ListField(child=s.CharField())

    class Meta:
        ref_name = "Choices"
