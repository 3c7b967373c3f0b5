"""Requests and answers of the money endpoints."""

from __future__ import annotations

from rest_framework import serializers as s

from goodquill.deals.shapes import OfferQuery

MOST_COLUMNS = 3
"""As many as can be compared at a glance, and stand beside each other on a page."""
MOST_OTHERWISE = 30


class OtherwiseSerializer(s.Serializer):
    """A fact that is otherwise, as it is typed."""

    key = s.CharField(max_length=100)
    text = s.CharField(max_length=200)


class CaseSerializer(OfferQuery):
    """A case to be reckoned: an offer of the deal (none: the one in force), and what is otherwise in it."""

    otherwise = OtherwiseSerializer(many=True, required=False, default=list, max_length=MOST_OTHERWISE)


class ReckonSerializer(s.Serializer):
    """A sheet over up to three cases."""

    sheet = s.CharField(max_length=20, required=False, allow_blank=True, default="")
    columns = CaseSerializer(many=True, min_length=1, max_length=MOST_COLUMNS)


class SheetNameSerializer(s.Serializer):
    """A sheet that this side of a deal has; ``form`` is the number of the form that it is printed on."""

    name = s.CharField()
    title = s.CharField()
    form = s.CharField()


class SheetLineSerializer(s.Serializer):
    """A line: what it adds (``sign`` 1) or takes away (-1), and how deep it stands.  ``is_sum``: the lines
    below it are its own."""

    key = s.CharField()
    label = s.CharField()
    sign = s.IntegerField()
    level = s.IntegerField()
    is_sum = s.BooleanField()


class SetBySerializer(s.Serializer):
    """A fact that moves the sheet."""

    key = s.CharField()
    label = s.CharField()


class AskSerializer(s.Serializer):
    """A question that can be asked backwards."""

    vary = s.CharField()
    of = s.CharField()
    says = s.CharField()


class CellSerializer(s.Serializer):
    """A fact in one case: its ``amount`` in dollars (null: open, or no amount), as it is shown and as it is
    typed over, where it comes from, how it was worked out, and what it waits for."""

    key = s.CharField()
    amount = s.DecimalField(max_digits=20, decimal_places=2, allow_null=True)
    shown = s.CharField(allow_blank=True)
    edit = s.CharField(allow_blank=True)
    source = s.CharField(allow_null=True)
    basis = s.CharField(allow_blank=True)
    waits = s.ListField(child=s.CharField())


class WrongSerializer(s.Serializer):
    """A changed value that can't be read, with the reason."""

    key = s.CharField()
    message = s.CharField()
    mend = s.CharField(allow_blank=True)


class ReckonedColumnSerializer(s.Serializer):
    """One case, reckoned: a cell for each line, for the result and for each fact that moves it."""

    name = s.CharField()
    offer = s.IntegerField()
    cells = CellSerializer(many=True)
    wrong = WrongSerializer(many=True)


class ReckonedSerializer(s.Serializer):
    """A sheet over its cases."""

    sheets = SheetNameSerializer(many=True)
    sheet = s.CharField()
    result = s.CharField()
    result_label = s.CharField()
    lines = SheetLineSerializer(many=True)
    set_by = SetBySerializer(many=True)
    asks = AskSerializer(many=True)
    columns = ReckonedColumnSerializer(many=True)


class SolveSerializer(s.Serializer):
    """A question backwards: the ``wanted`` value of which sum, by which fact, in which case."""

    column = CaseSerializer()
    vary = s.CharField(max_length=100)
    of = s.CharField(max_length=100)
    wanted = s.CharField(max_length=60)


class SolvedSerializer(s.Serializer):
    """A solution, as it is typed and shown; or the reason why there is none."""

    text = s.CharField(allow_blank=True)
    shown = s.CharField(allow_blank=True)
    reached = s.CharField(allow_blank=True)
    exact = s.BooleanField()
    message = s.CharField(allow_blank=True)
    mend = s.CharField(allow_blank=True)
