"""The shapes of what the schedule's endpoints take and give; the web's types are generated from them."""

from __future__ import annotations

from quillcore.facts.keys import RESPONSIBLE
from quillcore.tasks import Progress, Urgency
from quillcore.templates.model import MOST_DAYS_BEFORE
from rest_framework import serializers as s

PROGRESS = [(p.value, p.value) for p in Progress]
URGENCY = [(u.value, u.value) for u in Urgency]
WHO = [(who, who) for who in RESPONSIBLE]
OPS = [
    (op, op)
    for op in ("add", "set", "remove", "done", "not done", "not needed", "needed", "give back", "bring back")
]


class TaskSerializer(s.Serializer):
    """A task as it stands.  ``own``: somebody or a template stated it; else a form asks for it, and its day
    is the fact's or blank's of ``key``.  ``by_hand``: its day was set by hand, ``ruled`` is what its rule
    says.  ``waits_for`` are labels of what its rule wants to know."""

    code = s.CharField()
    what = s.CharField()
    who = s.CharField(allow_blank=True)
    named = s.CharField(allow_blank=True)
    group = s.CharField(allow_blank=True)
    own = s.BooleanField()
    key = s.CharField(allow_blank=True)
    when = s.CharField(allow_blank=True)
    day = s.DateField(allow_null=True)
    by_hand = s.BooleanField()
    ruled = s.DateField(allow_null=True)
    why = s.CharField(allow_blank=True)
    progress = s.ChoiceField(choices=PROGRESS)
    urgency = s.ChoiceField(choices=URGENCY)
    waits_for = s.ListField(child=s.CharField())
    fault = s.CharField(allow_blank=True)
    settled_by = s.CharField(allow_blank=True)
    remind = s.IntegerField(allow_null=True)
    note = s.CharField(allow_blank=True)
    done = s.DateField(allow_null=True)
    done_by = s.CharField(allow_blank=True)
    origin = s.CharField(allow_blank=True)


class KeyDateSerializer(s.Serializer):
    """A date that a rule may count from."""

    key = s.CharField()
    label = s.CharField()


class SettlingPaperSerializer(s.Serializer):
    """A paper that may settle a task: by a form's number, or by what is expected."""

    name = s.CharField()
    title = s.CharField()


class TasksSerializer(s.Serializer):
    """A deal's tasks by day; what a new one may count from, be of, and be settled by."""

    tasks = TaskSerializer(many=True)
    key_dates = KeyDateSerializer(many=True)
    papers = SettlingPaperSerializer(many=True)
    who = s.ListField(child=s.CharField())


class TaskOpSerializer(s.Serializer):
    """A change to one task, as one undoable step.  ``when`` is a date as people type it, a period ("3
    business days after acceptance"), "= " and a formula that gives a date, or "" for none."""

    change = s.UUIDField()
    op = s.ChoiceField(choices=OPS)
    code = s.CharField(max_length=160, required=False, allow_blank=True, default="")
    what = s.CharField(max_length=200, required=False, allow_blank=True)
    who = s.ChoiceField(choices=WHO, required=False, allow_blank=True)
    group = s.CharField(max_length=80, required=False, allow_blank=True)
    when = s.CharField(max_length=300, required=False, allow_blank=True)
    settled_by = s.CharField(max_length=200, required=False, allow_blank=True)
    remind = s.IntegerField(min_value=0, max_value=MOST_DAYS_BEFORE, required=False, allow_null=True)
    note = s.CharField(max_length=300, required=False, allow_blank=True)


class DuesQuery(s.Serializer):
    """The filter of tasks: between two days, of a progress, late ones included where ``since`` is left
    out."""

    since = s.DateField(required=False, allow_null=True, default=None)
    until = s.DateField(required=False, allow_null=True, default=None)
    progress = s.ChoiceField(choices=PROGRESS, required=False, allow_blank=True, default="")


class DueRowSerializer(s.Serializer):
    """A task of one of many deals."""

    deal = s.UUIDField()
    deal_name = s.CharField()
    address = s.CharField(allow_blank=True)
    agent = s.CharField()
    code = s.CharField()
    what = s.CharField()
    who = s.CharField(allow_blank=True)
    named = s.CharField(allow_blank=True)
    day = s.DateField(allow_null=True)
    why = s.CharField(allow_blank=True)
    note = s.CharField(allow_blank=True)
    progress = s.ChoiceField(choices=PROGRESS)
    urgency = s.ChoiceField(choices=URGENCY)


class FeedSerializer(s.Serializer):
    """The address at which a calendar program reads the member's dates; "" while nobody may."""

    address = s.CharField(allow_blank=True)
