"""The shapes of what the signing endpoints give; the web's types are generated from them."""

from __future__ import annotations

from rest_framework import serializers as s


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
    """What stands against sending, with its mend; ``who`` the person it is about, ``place`` the fact that
    would mend it, each "" for none."""

    message = s.CharField()
    mend = s.CharField()
    who = s.CharField(allow_blank=True)
    place = s.CharField(allow_blank=True)


class WhoSignsSerializer(s.Serializer):
    """Who signs a package: ``unsigned`` are its papers that nobody signs."""

    people = SignerSerializer(many=True)
    unsigned = UnsignedPaperSerializer(many=True)
    against = AgainstSerializer(many=True)
