"""The shapes of what a signer's page asks and gets."""

from __future__ import annotations

from typing import Any

from drf_spectacular.utils import extend_schema_field
from quillcore.signing.rounds import RoundState
from rest_framework import serializers as s

from goodquill.signing.models import HOW_FAR, STATES
from goodquill.signing.shapes import MARKS, SIGNS, PageSizeShape, SenderShape

SENT_STATES = [(value, value) for value, _ in STATES if value != RoundState.MAKING.value]


class CodeSerializer(s.Serializer):
    """Six digits out of a letter."""

    code = s.CharField(max_length=100, allow_blank=True)


class MarkShape(s.Serializer):
    """A mark as outlines: ``box`` is left, top, width and height, ``pen`` the width of its stroke, 0 where it
    is filled."""

    box = s.ListField(child=s.FloatField(), min_length=4, max_length=4)
    path = s.CharField()
    pen = s.FloatField()


class OverShape(s.Serializer):
    """Why nothing is to be done here any more."""

    message = s.CharField()
    mend = s.CharField()


class PlaceShape(s.Serializer):
    """A place of the signer's own: ``rect`` left, bottom, right and top in points; ``put`` when it was
    signed; ``text`` the date as the paper prints it there, "" before and where no date is."""

    id = s.CharField()
    page = s.IntegerField()
    rect = s.ListField(child=s.FloatField(), min_length=4, max_length=4)
    sign = s.ChoiceField(choices=MARKS)
    put = s.CharField(allow_null=True)
    text = s.CharField(allow_blank=True)


class QuestionShape(s.Serializer):
    """A question of the signer's own; ``wrong`` what is wrong with the answer, ``applies`` whether it is to
    be asked, by the other answers, ``must`` whether it may not stay empty, ``open`` whether an answer is
    still wanted."""

    key = s.CharField()
    asked = s.CharField()
    help = s.CharField(allow_blank=True)
    kind = s.CharField()
    options = s.ListField(child=s.CharField())
    lines = s.IntegerField()
    page = s.IntegerField()
    rect = s.ListField(child=s.FloatField(), min_length=4, max_length=4)
    text = s.CharField(allow_blank=True)
    wrong = s.CharField(allow_blank=True)
    applies = s.BooleanField()
    must = s.BooleanField()
    open = s.BooleanField()


class WrittenShape(s.Serializer):
    """The print of an answer: a mark in a box, or a text."""

    page = s.IntegerField()
    rect = s.ListField(child=s.FloatField(), min_length=4, max_length=4)
    text = s.CharField(allow_blank=True)
    mark = s.BooleanField()
    size = s.FloatField()


class AnswerSerializer(s.Serializer):
    """An answer to a question of a paper; empty takes it back."""

    paper = s.UUIDField()
    key = s.CharField(max_length=120)
    text = s.CharField(max_length=5_000, allow_blank=True, trim_whitespace=False)


class SignersPaperShape(s.Serializer):
    """A paper with the signer's places."""

    id = s.UUIDField()
    title = s.CharField()
    pages = PageSizeShape(many=True)
    places = PlaceShape(many=True)
    written = WrittenShape(many=True)
    questions = QuestionShape(many=True)
    sealed = s.BooleanField()


class OtherSignerShape(s.Serializer):
    """Somebody else who signs."""

    name = s.CharField()
    role = s.CharField()
    done = s.BooleanField()


class SignersRoundSerializer(s.Serializer):
    """A round as one of its signers sees it; ``left`` counts the places still to be signed; ``party`` whether
    it is a buyer or seller, tenant or landlord, and no agent; ``wants_code`` whether a code that was sent to
    ``code_to``, or the answer to ``question``, is wanted before anything is shown."""

    state = s.ChoiceField(choices=SENT_STATES)
    over = OverShape(allow_null=True)
    ended = s.BooleanField(help_text="Whether the link has ended, and a new one may be asked for.")
    wants_code = s.BooleanField()
    question = s.CharField(allow_blank=True)
    code_to = s.CharField(allow_blank=True)
    subject = s.CharField()
    message = s.CharField(allow_blank=True)
    sender = SenderShape()
    ends = s.DateTimeField(allow_null=True)
    zone = s.CharField()
    name = s.CharField()
    signs_as = s.CharField(allow_blank=True)
    letters = s.CharField(allow_blank=True)
    role = s.CharField()
    at = s.ChoiceField(choices=HOW_FAR)
    copied = s.BooleanField()
    in_person = s.BooleanField()
    party = s.BooleanField()
    signature = MarkShape(allow_null=True)
    initials = MarkShape(allow_null=True)
    papers = SignersPaperShape(many=True)
    others = OtherSignerShape(many=True)
    left = s.IntegerField()
    sealed = s.DateTimeField(allow_null=True)


class SaidSerializer(s.Serializer):
    """A reason."""

    said = s.CharField(max_length=500, allow_blank=True, default="")


class PutSerializer(s.Serializer):
    """Places to be signed."""

    places = s.ListField(child=s.CharField(max_length=60), min_length=1, max_length=2_000)


class FacesQuerySerializer(s.Serializer):
    """A name and initials to be set."""

    name = s.CharField(max_length=120, allow_blank=True)
    initials = s.CharField(max_length=20, allow_blank=True)


class FaceShape(s.Serializer):
    """Both in one face; ``trouble`` says why not."""

    face = s.CharField()
    signature = MarkShape(allow_null=True)
    initials = MarkShape(allow_null=True)
    trouble = s.CharField(allow_blank=True)


@extend_schema_field(
    {
        "type": "object",
        "properties": {
            "name": {"type": "string"},
            "face": {"type": "string"},
            "strokes": {
                "type": "array",
                "items": {"type": "array", "items": {"type": "array", "items": {"type": "number"}}},
            },
        },
    }
)
class MarkField(s.Field):
    """A mark: ``name`` and ``face`` of a typed one, ``strokes`` of a drawn one.  The core says what is wrong
    with it."""

    def to_internal_value(self, data: Any) -> dict[str, Any]:
        """Return it as it is, without anything else."""
        if not isinstance(data, dict):
            raise s.ValidationError("This is not a signature or initials.")
        return {name: data[name] for name in ("name", "face", "strokes") if name in data}

    def to_representation(self, value: Any) -> Any:
        """Return it as it is."""
        return value


class AdoptSerializer(s.Serializer):
    """The mark that is signed with."""

    sign = s.ChoiceField(choices=SIGNS)
    mark = MarkField()
