"""The shapes of what the offers endpoints take and give; the web's types are generated from them."""

from __future__ import annotations

from rest_framework import serializers as s

from goodquill.deals.shapes import MOST_ID, DeltaSerializer, OfferSerializer

MOST_TERMS, MOST_TERM = 120, 10_000
"""Of one turn: the catalog has some seventy; and characters of one, as of any answer."""


class OfferColumnSerializer(OfferSerializer):
    """An offer beside others: who speaks for the other side, how many documents are this offer's own, and how
    many turns its negotiation has had; ``came`` is how it was accepted, "" of one that wasn't."""

    came = s.CharField(allow_blank=True)
    agent = s.CharField(allow_blank=True)
    firm = s.CharField(allow_blank=True)
    documents = s.IntegerField()
    turns = s.IntegerField()


class OfferCellSerializer(s.Serializer):
    """One term in one offer."""

    shown = s.CharField(allow_blank=True)
    source = s.CharField(allow_null=True)


class OfferRowSerializer(s.Serializer):
    """One term across offers, in their order; ``apart`` where they don't all say the same."""

    key = s.CharField()
    label = s.CharField()
    kind = s.CharField()
    apart = s.BooleanField()
    cells = OfferCellSerializer(many=True)


class OffersSerializer(s.Serializer):
    """All offers of a deal side by side; ``other`` is the party group that they come from or go to."""

    offers = OfferColumnSerializer(many=True)
    rows = OfferRowSerializer(many=True)
    other = s.CharField()


class NewOfferSerializer(s.Serializer):
    """Another offer; ``like`` names one whose terms and documents are copied."""

    change = s.UUIDField()
    name = s.CharField(max_length=120, allow_blank=True, required=False, default="")
    like = s.IntegerField(required=False, allow_null=True, default=None, min_value=1, max_value=MOST_ID)


class OfferEditSerializer(s.Serializer):
    """An edit of an offer; ``name`` is a new name."""

    change = s.UUIDField()
    op = s.ChoiceField(choices=["name", "remove", "open", "declined", "withdrawn", "back-up", "several"])
    name = s.CharField(max_length=120, allow_blank=True, required=False, default="")


class TermSaidSerializer(s.Serializer):
    """A term as it is typed."""

    key = s.CharField(max_length=80)
    text = s.CharField(max_length=MOST_TERM, allow_blank=True, trim_whitespace=False)


class StatedTermSerializer(s.Serializer):
    """A term that a turn states, as it is typed over, and how it stood before."""

    key = s.CharField()
    text = s.CharField(allow_blank=True)
    before = s.CharField(allow_blank=True)


class TurnSerializer(s.Serializer):
    """One turn: what it is called, who makes it, when, by which paper, until when it may be accepted, and
    whether it was agreed on.  ``status`` is how it stands, ``said`` its terms as they are typed over."""

    id = s.IntegerField()
    maker = s.CharField()
    day = s.DateField()
    amends = s.BooleanField()
    name = s.CharField()
    agreed = s.BooleanField()
    paper = s.CharField(allow_blank=True)
    title = s.CharField(allow_blank=True)
    status = s.CharField()
    may_change = s.BooleanField()
    may_send = s.BooleanField()
    may_agree = s.BooleanField()
    expires = s.DateField(allow_null=True)
    expires_at = s.CharField(allow_blank=True)
    said = StatedTermSerializer(many=True)


class TurnRowSerializer(s.Serializer):
    """One term as offered and after each turn; ``is_result`` of what it comes to for our client, ``is_words``
    of what a paper says in words that no term can be read from."""

    key = s.CharField()
    label = s.CharField()
    is_result = s.BooleanField()
    is_words = s.BooleanField()
    cells = s.ListField(child=s.CharField(allow_blank=True))


class TermSerializer(s.Serializer):
    """A term that may be put otherwise, and how it stands now; ``usual`` where the turn's form has a line for
    it."""

    key = s.CharField()
    label = s.CharField()
    kind = s.CharField()
    options = s.ListField(child=s.CharField())
    now = s.CharField(allow_blank=True)
    usual = s.BooleanField()


class TurnPaperSerializer(s.Serializer):
    """A paper that came, by which the other side may have made its turn."""

    code = s.CharField()
    title = s.CharField()


class TurnsSerializer(s.Serializer):
    """An offer's turns; ``sides`` are our client's group and the other one, ``binding`` once it was
    accepted."""

    binding = s.BooleanField()
    sides = s.ListField(child=s.CharField())
    turns = TurnSerializer(many=True)
    rows = TurnRowSerializer(many=True)
    terms = TermSerializer(many=True)
    papers = TurnPaperSerializer(many=True)


class TurnSaidSerializer(s.Serializer):
    """The content of a turn; ``paper`` is the document by which the other side made it."""

    change = s.UUIDField()
    day = s.DateField()
    expires = s.DateField(required=False, allow_null=True, default=None)
    expires_at = s.TimeField(required=False, allow_null=True, default=None)
    terms = TermSaidSerializer(many=True, max_length=MOST_TERMS)
    paper = s.CharField(max_length=12, allow_blank=True, required=False, default="")


class NewTurnSerializer(TurnSaidSerializer):
    """A turn that is made."""

    maker = s.CharField(max_length=10)


class AgreedSerializer(s.Serializer):
    """The agreement of both sides: when it was reached, by the property's clock, and what shows it: a paper
    of the package, or ``how`` somebody knows."""

    change = s.UUIDField()
    day = s.DateField()
    hour = s.TimeField(required=False, allow_null=True, default=None)
    paper = s.CharField(max_length=12, allow_blank=True, required=False, default="")
    how = s.CharField(max_length=150, allow_blank=True, required=False, default="")


class AcceptOfferSerializer(AgreedSerializer):
    """The acceptance of an offer; with ``decline_others`` the other open ones are declined."""

    decline_others = s.BooleanField(required=False, default=False)


class AcceptedTermSerializer(s.Serializer):
    """A term as it is in force now, and as it will be."""

    label = s.CharField()
    now = s.CharField(allow_blank=True)
    then = s.CharField(allow_blank=True)
    differs = s.BooleanField()


class TurnWordsSerializer(s.Serializer):
    """Words on a turn's paper from which no term can be read."""

    label = s.CharField()
    text = s.CharField()


class AcceptanceSerializer(s.Serializer):
    """The terms that will be in force; ``against`` is what stands against it whatever is said, with its mend.
    ``needs_paper`` is why only a paper of the other side shows that they agreed, "" where it needs none."""

    against = s.CharField(allow_blank=True)
    mend = s.CharField(allow_blank=True)
    needs_paper = s.CharField(allow_blank=True)
    rows = AcceptedTermSerializer(many=True)
    words = TurnWordsSerializer(many=True)
    papers = TurnPaperSerializer(many=True)


class TurnTakenSerializer(DeltaSerializer):
    """The effects of a turn, and the code of the paper that was made for it, "" without one."""

    paper = s.CharField(allow_blank=True)
