"""Brokerages, offices, users."""

from __future__ import annotations

import uuid
from typing import Any

from django.contrib.auth.base_user import AbstractBaseUser, BaseUserManager
from django.db import models


class Brokerage(models.Model):
    """One firm; nothing of it is ever seen from another."""

    id = models.UUIDField(primary_key=True, default=uuid.uuid4)
    name = models.CharField(max_length=200)
    licence = models.CharField(max_length=40, blank=True)
    broker = models.ForeignKey("offices.User", models.SET_NULL, null=True, related_name="+")


class Office(models.Model):
    """A branch of a brokerage, with its own code in the listing service; ``supervisor`` answers for its agents."""

    id = models.UUIDField(primary_key=True, default=uuid.uuid4)
    brokerage = models.ForeignKey(Brokerage, models.CASCADE, related_name="offices")
    name = models.CharField(max_length=200)
    address = models.CharField(max_length=300, blank=True)
    phone = models.CharField(max_length=40, blank=True)
    code = models.CharField(max_length=40, blank=True)
    supervisor = models.ForeignKey("offices.User", models.SET_NULL, null=True, related_name="+")


class Role(models.TextChoices):
    """What somebody does in the brokerage."""

    AGENT = "agent"
    COORDINATOR = "coordinator"
    BROKER = "broker"


class UserManager(BaseUserManager["User"]):
    """Makes users known by their e-mail."""

    def create_user(self, email: str, password: str | None = None, **fields: Any) -> User:
        """A user with a hashed password."""
        user = self.model(email=self.normalize_email(email).lower(), **fields)
        user.set_password(password)
        user.save(using=self._db)
        return user

    def get_by_natural_key(self, username: str | None) -> User:
        """By e-mail, whatever its case."""
        return self.get(email=(username or "").lower())


class User(AbstractBaseUser):
    """A member of one brokerage.  Name, licence and the rest are the profile that forms print; ``licences`` are those of other
    states, by the state's two letters."""

    id = models.UUIDField(primary_key=True, default=uuid.uuid4)
    email = models.EmailField(unique=True)
    name = models.CharField(max_length=200)
    role = models.CharField(max_length=20, choices=Role.choices, default=Role.AGENT)
    brokerage = models.ForeignKey(Brokerage, models.PROTECT, related_name="users")
    office = models.ForeignKey(Office, models.PROTECT, related_name="users")
    licence = models.CharField(max_length=40, blank=True)
    licences = models.JSONField(default=dict, blank=True)
    listing_code = models.CharField(max_length=40, blank=True)
    phone = models.CharField(max_length=40, blank=True)
    is_active = models.BooleanField(default=True)

    def licence_in(self, state: str) -> str:
        """The licence that counts in a state: its own, where there is one, else the first."""
        return str(self.licences.get(state) or self.licence)

    objects = UserManager()
    USERNAME_FIELD = "email"


class Membership(models.Model):
    """A member's number with an association, as its registry last answered.  It opens the association's pack while it is active."""

    user = models.ForeignKey(User, models.CASCADE, related_name="memberships")
    association = models.CharField(max_length=200)
    number = models.CharField(max_length=40)
    active = models.BooleanField()
    expires = models.DateField()
    checked = models.DateTimeField(auto_now=True)

    class Meta:
        unique_together = [("user", "association")]
