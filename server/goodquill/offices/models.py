"""Brokerages, offices, users; their sessions; what was done once and may not be done again by a
repetition."""

from __future__ import annotations

import unicodedata
import uuid
from typing import Any

from django.contrib.auth.base_user import AbstractBaseUser, BaseUserManager
from django.contrib.sessions.base_session import AbstractBaseSession
from django.db import models


def normal_email(text: str) -> str:
    """Return the form in which e-mails are kept and compared: exactly, letter by letter, after this."""
    return unicodedata.normalize("NFKC", text).strip().lower()


class Brokerage(models.Model):
    """One firm; nothing of it is ever seen from another.  ``two_steps`` asks every member for a code besides
    the password."""

    id = models.UUIDField(primary_key=True, default=uuid.uuid4)
    name = models.CharField(max_length=200)
    licence = models.CharField(max_length=40, blank=True)
    broker = models.ForeignKey("offices.User", models.SET_NULL, null=True, related_name="+")
    two_steps = models.BooleanField(default=False)


class Office(models.Model):
    """A branch of a brokerage, with its own code in the listing service; ``supervisor`` answers for its
    agents."""

    id = models.UUIDField(primary_key=True, default=uuid.uuid4)
    brokerage = models.ForeignKey(Brokerage, models.CASCADE, related_name="offices")
    name = models.CharField(max_length=200)
    address = models.CharField(max_length=300, blank=True)
    phone = models.CharField(max_length=40, blank=True)
    code = models.CharField(max_length=40, blank=True)
    supervisor = models.ForeignKey("offices.User", models.SET_NULL, null=True, related_name="+")


class MemberRole(models.TextChoices):
    """The role of a member in the brokerage."""

    AGENT = "agent"
    COORDINATOR = "coordinator"
    BROKER = "broker"


class UserManager(BaseUserManager["User"]):
    """Makes users known by their e-mail."""

    def create_user(self, email: str, password: str | None = None, **fields: Any) -> User:
        """Return a user with a hashed password."""
        user = self.model(email=normal_email(email), **fields)
        user.set_password(password)
        user.save(using=self._db)
        return user

    def get_by_natural_key(self, username: str | None) -> User:
        """Return the member of that e-mail."""
        return self.select_related("brokerage", "office").get(email=normal_email(username or ""))


class User(AbstractBaseUser):
    """A member of one brokerage.  Name, license and the rest are the profile that forms print; ``licences``
    are those of other states, by the state's two letters.

    ``confirmed_name`` and ``confirmed_licence`` are what the broker has seen on the member's license: an
    association's registry is asked about these, and about nothing that the member typed alone.
    """

    id = models.UUIDField(primary_key=True, default=uuid.uuid4)
    # An accent-blind collation would take two people's addresses for one.
    email = models.EmailField(unique=True, db_collation="utf8mb4_nopad_bin")
    name = models.CharField(max_length=200)
    role = models.CharField(max_length=20, choices=MemberRole.choices, default=MemberRole.AGENT)
    brokerage = models.ForeignKey(Brokerage, models.PROTECT, related_name="users")
    office = models.ForeignKey(Office, models.PROTECT, related_name="users")
    licence = models.CharField(max_length=40, blank=True)
    licences = models.JSONField(default=dict, blank=True)
    listing_code = models.CharField(max_length=40, blank=True)
    phone = models.CharField(max_length=40, blank=True)
    is_active = models.BooleanField(default=True)
    time_zone = models.CharField(max_length=60, blank=True)
    """The member's time zone, as their browser last said."""
    invited = models.DateTimeField(null=True)
    """The moment of the invitation; None once it was accepted."""
    confirmed_name = models.CharField(max_length=200, blank=True)
    confirmed_licence = models.CharField(max_length=40, blank=True)
    saves_papers = models.BooleanField(default=False)
    """Whether the broker lets this member put office papers to use; others propose them."""
    not_told = models.JSONField(default=list, blank=True)
    """Of what in rounds of signing no letter is wanted, by the kind of event ("done")."""

    def licence_in(self, state: str) -> str:
        """Return the license that counts in a state: its own, where there is one, else the first."""
        return str(self.licences.get(state) or self.licence)

    @property
    def is_confirmed(self) -> bool:
        """Whether name and license are still those that the broker confirmed."""
        return bool(self.licence) and (self.name, self.licence) == (
            self.confirmed_name,
            self.confirmed_licence,
        )

    objects = UserManager()
    USERNAME_FIELD = "email"


class Membership(models.Model):
    """A member's number with an association, as its registry last answered, for the ``licence`` that it was
    asked about.  It opens the association's pack while it is active and the license is still the member's."""

    user = models.ForeignKey(User, models.CASCADE, related_name="memberships")
    association = models.CharField(max_length=200)
    number = models.CharField(max_length=40)
    licence = models.CharField(max_length=40, blank=True)
    active = models.BooleanField()
    expires = models.DateField()
    checked = models.DateTimeField(auto_now=True)

    class Meta:
        unique_together = [("user", "association")]


class Session(AbstractBaseSession):
    """One sign-in on one device.  Its row is the only place where it stands: ended there, it is ended
    everywhere."""

    user = models.ForeignKey(User, models.CASCADE, null=True, related_name="sessions")
    device = models.CharField(max_length=200, blank=True)
    address = models.CharField(max_length=45, blank=True)
    began = models.DateTimeField(null=True)
    seen = models.DateTimeField(auto_now=True)

    class Meta(AbstractBaseSession.Meta):
        abstract = False

    @classmethod
    def get_session_store_class(cls) -> Any:
        """Return Django's store, which stands in ``sessions``; that module imports this one."""
        raise NotImplementedError


class Done(models.Model):
    """A request that was carried out under a key of its sender's (the header Idempotency-Key): repeated, it
    is answered with what it did.  ``digest`` tells a repetition from something else under the same key."""

    user = models.ForeignKey(User, models.CASCADE, related_name="+")
    key = models.UUIDField()
    digest = models.CharField(max_length=64)
    status = models.PositiveSmallIntegerField(default=0)
    answer = models.TextField(blank=True)
    at = models.DateTimeField(auto_now_add=True, db_index=True)

    class Meta:
        unique_together = [("user", "key")]
