"""The shapes of what the signing endpoints give; the web's types are generated from them."""

from __future__ import annotations

from rest_framework import serializers as s

from goodquill.deals.shapes import MOST_ID, OfferQuery
from goodquill.signing.models import HOW_FAR, STATES
from goodquill.signing.shapes import MARKS, PageSizeShape


class UnsignedPaperSerializer(s.Serializer):
    """A paper of the package."""

    document = s.CharField()
    number = s.CharField(allow_blank=True)
    title = s.CharField()


class SignedPaperSerializer(UnsignedPaperSerializer):
    """A paper with one person's places in it, counted, and the pages of it that have some, from 1."""

    signatures = s.IntegerField()
    initials = s.IntegerField()
    dates = s.IntegerField()
    pages = s.ListField(child=s.IntegerField())


class SignerSerializer(s.Serializer):
    """Somebody in whose places a package is signed: ``key`` as ``buyers.1`` or ``listing_agent``; ``name``
    who holds the pen, ``signs_as`` how that is printed (for a trust, say), "" while nobody is named."""

    key = s.CharField()
    name = s.CharField(allow_blank=True)
    signs_as = s.CharField(allow_blank=True)
    role = s.CharField()
    email = s.CharField(allow_blank=True)
    papers = SignedPaperSerializer(many=True)


class AgainstSerializer(s.Serializer):
    """A fault against sending, with its mend; ``who`` the person it is about, ``place`` the fact that would
    mend it, each "" for none."""

    message = s.CharField()
    mend = s.CharField()
    who = s.CharField(allow_blank=True)
    place = s.CharField(allow_blank=True)


class WhoSignsSerializer(s.Serializer):
    """The signers of a package: ``unsigned`` are its papers that nobody signs."""

    people = SignerSerializer(many=True)
    unsigned = UnsignedPaperSerializer(many=True)
    against = AgainstSerializer(many=True)


class CopiedSerializer(s.Serializer):
    """Somebody who gets a copy once all is signed."""

    name = s.CharField(max_length=200)
    email = s.CharField(max_length=254)


class ChangeRoundSerializer(s.Serializer):
    """The plan: papers in order by their documents' ids, the turn of each signer by key (0: not in this
    round). A second step is a ``code`` or a ``question``, one of them; its ``answer`` is never told again."""

    papers = s.ListField(child=s.CharField(max_length=12), required=False, max_length=250)
    turns = s.DictField(child=s.IntegerField(min_value=0, max_value=24), required=False)
    copied = CopiedSerializer(many=True, required=False)
    subject = s.CharField(max_length=150, required=False)
    message = s.CharField(max_length=4_000, required=False, allow_blank=True)
    ends = s.DateTimeField(required=False, allow_null=True)
    remind_every = s.IntegerField(min_value=0, max_value=30, required=False)
    code = s.BooleanField(required=False)
    question = s.CharField(max_length=200, required=False, allow_blank=True)
    answer = s.CharField(max_length=100, required=False, allow_blank=True)


class BeginRoundSerializer(s.Serializer):
    """A new round, ``like`` an earlier one of the deal, or with these papers alone, by their documents'
    codes."""

    like = s.UUIDField(required=False, allow_null=True, default=None)
    papers = s.ListField(
        child=s.CharField(max_length=12), required=False, allow_null=True, default=None, max_length=250
    )


class SendSerializer(s.Serializer):
    """Sending; with why, where the proofread says that something must be mended."""

    reason = s.CharField(max_length=300, allow_blank=True, default="")


class RecallSerializer(s.Serializer):
    """Why a round is recalled; its signers read it."""

    said = s.CharField(max_length=500, allow_blank=True)


class AddressSerializer(s.Serializer):
    """The address that is right."""

    email = s.CharField(max_length=254)


class SpotShape(s.Serializer):
    """A place on a paper: ``who`` signs it, by key."""

    id = s.CharField()
    page = s.IntegerField()
    rect = s.ListField(child=s.FloatField(), min_length=4, max_length=4)
    sign = s.ChoiceField(choices=MARKS)
    who = s.CharField()


class RoundPaperShape(s.Serializer):
    """A paper as it is sent; ``progress`` says who has signed it, and who still has to."""

    id = s.UUIDField()
    document = s.CharField()
    title = s.CharField()
    pages = PageSizeShape(many=True)
    places = SpotShape(many=True)
    finished = s.BooleanField()
    progress = s.CharField(allow_blank=True)


class RoundSignerShape(s.Serializer):
    """Somebody of a round: ``turn`` 0 gets a copy alone; ``read`` are the papers that were opened;
    ``by_pen`` the day on which they signed on paper, "" for those who didn't; ``refused`` what the mail
    server said of a letter that it didn't take."""

    id = s.UUIDField()
    key = s.CharField()
    turn = s.IntegerField()
    name = s.CharField()
    role = s.CharField()
    email = s.CharField()
    at = s.ChoiceField(choices=HOW_FAR)
    waited_on = s.BooleanField()
    in_person = s.BooleanField()
    by_pen = s.CharField(allow_blank=True)
    asked = s.DateTimeField(allow_null=True)
    reminded = s.DateTimeField(allow_null=True)
    put = s.IntegerField()
    places = s.IntegerField()
    asked_of = s.IntegerField()
    answered = s.IntegerField()
    read = s.ListField(child=s.CharField())
    refused = s.CharField(allow_blank=True)


class ScanQuery(s.Serializer):
    """Papers that came, by their documents' codes: those looked through for a signer's own."""

    documents = s.CharField(required=False, default="", allow_blank=True, max_length=200)


class LookedScanSerializer(s.Serializer):
    """A paper that somebody is to sign: which ``document`` is most likely its scan ("" for none), and in how
    many of their ``places`` that one has ink."""

    paper = s.UUIDField()
    title = s.CharField()
    places = s.IntegerField()
    document = s.CharField(allow_blank=True)
    inked = s.IntegerField()


class MayBeScanSerializer(s.Serializer):
    """A paper that came."""

    document = s.CharField()
    title = s.CharField()


class ScansSerializer(s.Serializer):
    """The papers that could be scans, and what was found in those that were named."""

    came = MayBeScanSerializer(many=True)
    papers = LookedScanSerializer(many=True)


class ScanSerializer(s.Serializer):
    """The document that is the scan of a paper."""

    paper = s.UUIDField()
    document = s.CharField(max_length=12)


class ByPenSerializer(s.Serializer):
    """A signature on paper: when, and the scan of each of their papers."""

    day = s.DateField()
    scans = ScanSerializer(many=True, max_length=100)


class RoundSerializer(s.Serializer):
    """A round.  ``must`` is what the proofread says must be mended in it; ``looked`` whether its papers were
    made and looked at; ``doubt`` how it differs from its signing record, "" where it doesn't; ``done`` how
    far its papers are once everybody has signed who was asked to, "" before."""

    id = s.UUIDField()
    deal = s.UUIDField()
    offer = s.IntegerField(allow_null=True)
    state = s.ChoiceField(choices=STATES)
    subject = s.CharField()
    message = s.CharField(allow_blank=True)
    by = s.CharField()
    ends = s.DateTimeField(allow_null=True)
    zone = s.CharField()
    remind_every = s.IntegerField()
    code = s.BooleanField()
    question = s.CharField(allow_blank=True)
    has_answer = s.BooleanField()
    must = s.ListField(child=s.CharField())
    reason = s.CharField(allow_blank=True)
    said = s.CharField(allow_blank=True)
    made = s.DateTimeField()
    sent = s.DateTimeField(allow_null=True)
    ended = s.DateTimeField(allow_null=True)
    sealed = s.DateTimeField(allow_null=True)
    doubt = s.CharField(allow_blank=True)
    done = s.CharField(allow_blank=True)
    looked = s.BooleanField()
    copied = CopiedSerializer(many=True)
    papers = RoundPaperShape(many=True)
    signers = RoundSignerShape(many=True)


class RoundOutSerializer(RoundSerializer):
    """A round that is out, with its deal's name."""

    deal_name = s.CharField()


class ChosenPaperShape(SignedPaperSerializer):
    """A paper that a round may take; whether it does."""

    chosen = s.BooleanField()


class ChosenPersonShape(s.Serializer):
    """Somebody with places in the chosen papers: ``turn`` 0 isn't in this round."""

    key = s.CharField()
    name = s.CharField(allow_blank=True)
    signs_as = s.CharField(allow_blank=True)
    role = s.CharField()
    email = s.CharField(allow_blank=True)
    name_key = s.CharField(allow_blank=True)
    email_key = s.CharField(allow_blank=True)
    turn = s.IntegerField()
    places = s.IntegerField()


class ChoiceShape(s.Serializer):
    """The choices of a round, and the faults against sending it."""

    papers = ChosenPaperShape(many=True)
    people = ChosenPersonShape(many=True)
    against = AgainstSerializer(many=True)


class ChangedShape(s.Serializer):
    """A blank that says something else now than when its paper was sent."""

    paper = s.CharField()
    label = s.CharField()
    was = s.CharField(allow_blank=True)
    now = s.CharField(allow_blank=True)


class RoundEventShape(s.Serializer):
    """An event; ``source`` the address that it came from."""

    at = s.CharField()
    said = s.CharField()
    source = s.CharField(allow_blank=True)


class WholeRoundSerializer(RoundSerializer):
    """A round with what happened; while it is being made ``choice``, and ``current``: whether the papers that
    were looked at are those of the deal as it is now."""

    events = RoundEventShape(many=True)
    changed = ChangedShape(many=True)
    choice = ChoiceShape(allow_null=True)
    current = s.BooleanField()


class ToldShape(s.Serializer):
    """A kind of event in rounds: whether a letter about it is wanted."""

    kind = s.CharField()
    label = s.CharField()
    told = s.BooleanField()


class NotToldSerializer(s.Serializer):
    """The kinds of which no letter is wanted."""

    not_told = s.ListField(child=s.CharField(max_length=20), max_length=20)


class OwnLinkSerializer(s.Serializer):
    """The address to go on signing."""

    address = s.CharField()


class DifferenceShape(s.Serializer):
    """One difference (see ``quillcore.papers.returned``): ``label`` of the blank that it is about, ``option``
    what its box stands for."""

    kind = s.ChoiceField(
        choices=["blank", "box", "words", "drawn", "gone", "missing page", "new page", "unread page"]
    )
    page = s.IntegerField()
    their_page = s.IntegerField()
    label = s.CharField(allow_blank=True)
    option = s.CharField(allow_blank=True)
    was = s.CharField(allow_blank=True)
    now = s.CharField(allow_blank=True)


class ComparedWithShape(s.Serializer):
    """A paper of ours that it may be compared with."""

    code = s.CharField()
    title = s.CharField()


class SaidTermShape(s.Serializer):
    """A term that their paper says otherwise, as it would be typed."""

    key = s.CharField()
    label = s.CharField()
    text = s.CharField()


class PenShape(s.Serializer):
    """Somebody who signs the paper; ``signed`` where there is ink in one of their places."""

    key = s.CharField()
    name = s.CharField()
    signed = s.BooleanField()


class ReturnedShape(s.Serializer):
    """A paper that came, compared with ours: ``against`` which one, ``sent`` when that was sent to be signed
    (null: as it is now); ``terms`` what can be taken over into a turn."""

    against = s.CharField()
    sent = s.DateTimeField(allow_null=True)
    choices = ComparedWithShape(many=True)
    differences = DifferenceShape(many=True)
    terms = SaidTermShape(many=True)
    people = PenShape(many=True)


class AgainstQuery(OfferQuery):
    """With which paper of ours, by its code; "" for the one that it is most like."""

    against = s.CharField(max_length=12, required=False, default="", allow_blank=True)


class SignedOnPaperSerializer(s.Serializer):
    """A paper that came and is one of ours, signed by pen: by whom (by key), and on which day the last."""

    change = s.UUIDField()
    ours = s.CharField(max_length=12)
    who = s.ListField(child=s.CharField(max_length=40), max_length=60)
    day = s.DateField()


class AfterQuery(s.Serializer):
    """After which event."""

    after = s.IntegerField(required=False, allow_null=True, default=None, min_value=0, max_value=MOST_ID)


class OneNewsShape(s.Serializer):
    """Something that happened, in words; ``wrong`` where something has to be done about it."""

    id = s.IntegerField()
    deal = s.UUIDField()
    round = s.UUIDField()
    wrong = s.BooleanField()
    said = s.CharField()


class NewsShape(s.Serializer):
    """Recent events, the last one last; ``upto`` is the event to ask after the next time."""

    upto = s.IntegerField()
    news = OneNewsShape(many=True)
