"""Shapes that both sides of a round share: the agent's screens and the signers' pages."""

from __future__ import annotations

from rest_framework import serializers as s

SIGNS = ("signature", "initials")
MARKS = [(sign, sign) for sign in (*SIGNS, "date")]


class OpenLinkSerializer(s.Serializer):
    """The part behind the # of a link."""

    secret = s.RegexField(r"^[0-9a-f]{64}$")


class SenderShape(s.Serializer):
    """The sender of the papers."""

    name = s.CharField()
    firm = s.CharField()
    phone = s.CharField(allow_blank=True)
    email = s.CharField()


class PageSizeShape(s.Serializer):
    """A page's size in points."""

    width = s.FloatField()
    height = s.FloatField()
