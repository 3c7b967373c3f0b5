"""The shapes of what the offices endpoints take and give; the web's types are generated from them."""

from __future__ import annotations

from rest_framework import serializers as s

from goodquill.offices.choice_shapes import ChoicesShape
from goodquill.offices.models import MemberRole


class AgentShape(s.Serializer):
    """A member, by name."""

    id = s.UUIDField()
    name = s.CharField()

    class Meta:
        ref_name = "Agent"


class SessionShape(s.Serializer):
    """The signed-in member. ``owes_second_step`` says that it has to be set up before anything else; the
    ``may_…`` whether they keep and approve clauses for others; ``choices`` is what screens offer."""

    id = s.UUIDField()
    name = s.CharField()
    email = s.CharField()
    role = s.CharField()
    brokerage = s.CharField()
    office = s.CharField()
    owes_second_step = s.BooleanField()
    may_keep_clauses = s.BooleanField()
    may_approve_clauses = s.BooleanField()
    choices = ChoicesShape()

    class Meta:
        ref_name = "Session"


class SignInShape(s.Serializer):
    """The sign-in; ``code`` is the second step's, where there is one."""

    email = s.CharField(max_length=254)
    password = s.CharField(max_length=200, trim_whitespace=False)
    code = s.CharField(max_length=40, required=False, allow_blank=True, default="")

    class Meta:
        ref_name = "SignIn"


class OwnSessionShape(s.Serializer):
    """A session of one's own: where, since when, last used when; ``here`` is the one that asks."""

    device = s.CharField(allow_blank=True)
    address = s.CharField(allow_blank=True)
    began = s.DateTimeField(allow_null=True)
    seen = s.DateTimeField()
    here = s.BooleanField()


class PasswordShape(s.Serializer):
    """The password as it is, and as it is to be."""

    old = s.CharField(max_length=200, trim_whitespace=False)
    new = s.CharField(max_length=200, trim_whitespace=False)


class TwoStepsShape(s.Serializer):
    """The state of the second step: on or not, asked for by the brokerage or not, how many recovery codes are
    left."""

    on = s.BooleanField()
    asked_for = s.BooleanField()
    recovery_codes = s.IntegerField()


class BegunShape(s.Serializer):
    """The setup of an authenticator: as a picture (SVG), and as a key to be typed."""

    picture = s.CharField()
    key = s.CharField()


class CodeShape(s.Serializer):
    """Six digits of the authenticator.  None begins setting one up, which takes the password or an old code
    as ``proof``."""

    code = s.CharField(max_length=20, required=False, allow_blank=True, default="")
    proof = s.CharField(max_length=200, required=False, allow_blank=True, default="", trim_whitespace=False)


class RecoveryShape(s.Serializer):
    """Codes for the day when the authenticator is lost: each works once, and they are shown only now.  While
    it is being set up, what it is set up with."""

    codes = s.ListField(child=s.CharField())
    begun = BegunShape(allow_null=True)


class OffShape(s.Serializer):
    """The password or a code, so that nobody else at this screen turns the second step off."""

    proof = s.CharField(max_length=200, trim_whitespace=False)


class PersonSerializer(s.Serializer):
    """A member or an office, to be chosen."""

    id = s.UUIDField()
    name = s.CharField()


OPS = [
    "confirm",
    "let_save_papers",
    "stop_saving_papers",
    "reset_second_step",
    "give_access",
    "invite_again",
    "take_back_invitation",
    "place",
]


class MemberShape(s.Serializer):
    """A member as the broker sees to it.  ``confirmed`` says that name and license are those the broker
    confirmed; ``invited`` since when an invitation waits to be accepted."""

    id = s.UUIDField()
    name = s.CharField()
    email = s.CharField()
    role = s.ChoiceField(choices=MemberRole.choices)
    office = s.CharField()
    office_id = s.UUIDField()
    licence = s.CharField(allow_blank=True)
    confirmed = s.BooleanField()
    saves_papers = s.BooleanField()
    second_step = s.BooleanField()
    active = s.BooleanField()
    invited = s.DateTimeField(allow_null=True)
    me = s.BooleanField()


class MembersShape(s.Serializer):
    """All members; ``two_steps`` says whether the brokerage asks everybody for a second step; ``offices`` are
    those that a member can be of, ``roles`` what they can be."""

    two_steps = s.BooleanField()
    offices = PersonSerializer(many=True)
    roles = s.ListField(child=s.ChoiceField(choices=MemberRole.choices))
    members = MemberShape(many=True)


class MemberOpShape(s.Serializer):
    """An operation on a member; ``name`` and ``licence`` are those that the broker looked at when confirming,
    ``role`` and ``office`` the member's new ones."""

    op = s.ChoiceField(choices=OPS)
    name = s.CharField(max_length=200, required=False, allow_blank=True, default="")
    licence = s.CharField(max_length=40, required=False, allow_blank=True, default="")
    role = s.ChoiceField(choices=MemberRole.choices, required=False)
    office = s.UUIDField(required=False)


class InvitationShape(s.Serializer):
    """The invited person, with role and office."""

    email = s.EmailField(max_length=254)
    name = s.CharField(max_length=200)
    role = s.ChoiceField(choices=MemberRole.choices)
    office = s.UUIDField()


class ForgottenShape(s.Serializer):
    """The e-mail that somebody signs in with."""

    email = s.CharField(max_length=254)


class LinkShape(s.Serializer):
    """The part behind the # of a link by mail."""

    user = s.UUIDField()
    token = s.CharField(max_length=100)


class LinkedShape(s.Serializer):
    """The owner of a link; ``invited``: they have never signed in."""

    name = s.CharField()
    email = s.CharField()
    brokerage = s.CharField()
    invited = s.BooleanField()


class NewPasswordShape(LinkShape):
    """A link, and the password that is to be."""

    password = s.CharField(max_length=200, trim_whitespace=False)


class LetterShape(s.Serializer):
    """A letter that hasn't arrived: what the mail server said, and when it is tried next."""

    id = s.UUIDField()
    to = s.CharField()
    subject = s.CharField()
    about = s.CharField()
    state = s.CharField()
    said = s.CharField(allow_blank=True)
    tries = s.IntegerField()
    next_try = s.DateTimeField(allow_null=True)
    made = s.DateTimeField()


class RequireShape(s.Serializer):
    """Whether everybody needs a second step."""

    two_steps = s.BooleanField()


class OfficeSerializer(s.Serializer):
    """A branch; ``supervisor`` is a member's id.  One without an ``id`` is new."""

    id = s.UUIDField(allow_null=True)
    name = s.CharField(max_length=200)
    address = s.CharField(max_length=300, allow_blank=True)
    phone = s.CharField(max_length=40, allow_blank=True)
    code = s.CharField(max_length=40, allow_blank=True)
    supervisor = s.UUIDField(allow_null=True)


class BrokerageSerializer(s.Serializer):
    """The brokerage; ``broker`` is a member's id."""

    name = s.CharField(max_length=200)
    licence = s.CharField(max_length=40, allow_blank=True)
    broker = s.UUIDField(allow_null=True)
    offices = OfficeSerializer(many=True, max_length=200)


class ProfileSerializer(s.Serializer):
    """The own profile; ``licences`` are those of other states by their two letters, ``memberships`` the
    associations that know one."""

    name = s.CharField(max_length=200)
    email = s.CharField(read_only=True)
    phone = s.CharField(max_length=40, allow_blank=True)
    licence = s.CharField(max_length=40, allow_blank=True)
    licences = s.DictField(child=s.CharField(max_length=40, allow_blank=True))
    listing_code = s.CharField(max_length=40, allow_blank=True)
    office = s.CharField(read_only=True)
    memberships = s.ListField(child=s.CharField(), read_only=True)
    brokerage = BrokerageSerializer(read_only=True)
    may_change_brokerage = s.BooleanField(read_only=True)
    may_manage_members = s.BooleanField(read_only=True)
    confirmed = s.BooleanField(read_only=True)
    members = PersonSerializer(many=True, read_only=True)
