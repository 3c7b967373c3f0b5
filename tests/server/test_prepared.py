"""Prepared queries: they find what the ORM finds, for everybody, and nothing stays in them that moves."""

from __future__ import annotations

import json
import uuid
from collections.abc import Callable
from datetime import UTC, date, datetime, timedelta
from decimal import Decimal
from typing import Any
from unittest.mock import patch

import pytest
from django.db.models import Q
from django.http import Http404
from django.utils.translation import gettext_lazy
from goodquill.deals.models import Deal, Document, Due, Task
from goodquill.deals.opening import Kept, find_deal
from goodquill.deals.queries import newest_step
from goodquill.deals.tasks import stated_tasks
from goodquill.forms.models import ReleaseForm
from goodquill.forms.queries import forms_of
from goodquill.http.endpoints import JSONRenderer
from goodquill.offices.access import may_see_deals, may_use_templates, whoever
from goodquill.offices.models import MemberRole, Membership, User
from goodquill.storage.prepared import MOST_SHAPES, Prepared, insert
from goodquill.templates import queries
from goodquill.templates.models import Template
from goodquill.templates.queries import find_template, forms_named, read_kept
from quillcore.facts import Group
from quillcore.templates import TemplateContent
from rest_framework.renderers import JSONRenderer as FrameworkRenderer

from tests.server.world import World, new_deal


def finds(look: Callable[[], object]) -> bool:
    try:
        look()
    except Http404:
        return False
    return True


def test_a_deal_is_open_to_just_those_to_whom_the_rule_opens_it(world: World) -> None:
    people = [world.ines, world.bertil, world.rosa, world.tom, world.nadia]
    deals = [new_deal(user, world.template, "A", user.name) for user in (world.ines, world.bertil)]
    deals[0].team.add(world.bertil)
    deals += [new_deal(world.ines, world.template, "A", "Gone")]
    Deal.objects.filter(pk=deals[2].pk).update(removed_at="2026-01-02T03:04:05Z")
    seen = {
        (u.name, n): finds(lambda u=u, d=d: find_deal(u, d.pk)) for u in people for n, d in enumerate(deals)
    }
    by_rule = {
        (u.name, n): Deal.objects.filter(may_see_deals(u), pk=d.pk).exists()
        for u in people
        for n, d in enumerate(deals)
    }
    assert seen == by_rule
    assert [who for who, _ in seen if seen[who, 1]] and not any(seen[u.name, 2] for u in people)


def test_a_template_is_open_to_just_those_to_whom_the_rule_opens_it(world: World) -> None:
    people = [world.ines, world.bertil, world.rosa, world.tom, world.nadia]
    own = Template.objects.create(
        release=world.template.release,
        brokerage=world.ines.brokerage,
        owner=world.ines,
        name="Own",
        side="buying",
        data={},
        reach="members",
        version=1,
    )
    own.members.add(world.tom)
    for template in (world.template, own):
        for user in people:
            by_rule = Template.objects.filter(may_use_templates(user), pk=template.pk).exists()
            assert finds(lambda u=user, t=template: find_template(u, t.pk)) is by_rule, user.name


def test_a_membership_that_ends_closes_its_templates_on_the_day_after(world: World) -> None:
    Membership.objects.filter(user=world.ines).update(expires=date(2026, 3, 1))
    for day, is_open in ((date(2026, 3, 1), True), (date(2026, 3, 2), False), (date(2026, 2, 27), True)):
        with (
            patch("quillcore.values.clock.today", return_value=day),
            patch.object(queries, "today", lambda d=day: d),
        ):
            assert finds(lambda: find_template(world.ines, world.template.pk)) is is_open, day


def test_what_is_joined_comes_along_without_another_question(
    world: World, django_assert_num_queries: Any
) -> None:
    find_deal(world.ines, world.deal.pk)
    with django_assert_num_queries(1):
        deal = find_deal(world.ines, world.deal.pk)
        said = (deal.owner.name, deal.owner.office.name, deal.owner.brokerage.broker, deal.release.pk)
    assert said == ("Ines", "First", world.rosa, world.template.release_id)
    assert (deal.record.seq, deal.knows_step) == (Deal.objects.get(pk=deal.pk).record.seq, False)
    for field in Deal._meta.concrete_fields:
        assert getattr(deal, field.attname) == getattr(Deal.objects.get(pk=deal.pk), field.attname), field


def test_lists_are_those_of_the_orm(world: World) -> None:
    deal, kept = world.deal, Kept.of(world.deal)
    assert kept.documents == list(
        Document.objects.filter(deal=deal, removed=False).order_by("position", "pk")
    )
    assert kept.offers == list(deal.offers.filter(removed=False))
    assert stated_tasks(deal) == list(Task.objects.filter(deal=deal, removed=False))
    named = forms_named(world.template.release_id, world.ines.brokerage_id)
    own = Q(release__own_papers=True, release__brokerage=world.ines.brokerage)
    every = ReleaseForm.objects.filter(Q(release=world.template.release) | own)
    assert set(named.values()) == set(every)


def test_a_rule_that_asks_for_more_than_the_stand_in_knows_is_refused() -> None:
    someone = whoever(uuid.uuid4(), uuid.uuid4(), uuid.uuid4(), MemberRole.AGENT)
    assert (someone.role, someone.office_id == someone.office.pk) == (MemberRole.AGENT, True)
    with pytest.raises(Exception, match=r"Database access not allowed|does not exist|not have"):
        _ = someone.saves_papers


def test_a_date_can_not_stay_in_the_text(world: World) -> None:
    since = date(2026, 1, 1)
    frozen = Prepared(lambda pk: Deal.objects.filter(pk=pk, touched__date__gte=since))
    with pytest.raises(TypeError, match="for ever"):
        frozen.rows(world.deal.pk)
    told = Prepared(lambda pk, day: Deal.objects.filter(pk=pk, touched__date__gte=day))
    assert told.rows(world.deal.pk, shape=(since,)) == [world.deal]
    assert told.rows(world.deal.pk, shape=(date.today() + timedelta(days=2),)) == []


def test_shapes_are_kept_up_to_a_bound(world: World) -> None:
    asked = Prepared(lambda pk, n: User.objects.filter(pk=pk))
    for n in range(MOST_SHAPES + 5):
        assert asked.first(world.ines.pk, shape=(n,)) == world.ines
    assert len(asked._written) <= MOST_SHAPES
    assert asked.first(uuid.uuid4(), shape=(1,)) is None


def test_rows_are_inserted_in_order_with_their_ids(world: World) -> None:
    day = date(2026, 5, 6)
    rows = [
        Due(
            deal=world.deal, code=f"c{n}", what=f"Łódź “{n}” 100 %s", progress="to do", day=day if n else None
        )
        for n in range(3)
    ]
    insert(rows)
    assert [row.pk for row in rows] == sorted(row.pk for row in rows)
    assert list(Due.objects.filter(pk__in=[row.pk for row in rows]).order_by("pk")) == rows
    kept = {row.code: (row.what, row.day) for row in Due.objects.filter(deal=world.deal)}
    assert {row.code: (row.what, row.day) for row in rows}.items() <= kept.items()
    rows[0].what = "Otherwise"
    rows[0].save()  # it is known as one that is there
    assert Due.objects.get(pk=rows[0].pk).what == "Otherwise"
    insert([])


def test_lists_within_rows_are_kept_as_they_are(world: World) -> None:
    made = Document(
        deal=world.deal, code="zz", position=900, by_hand=[{"page": 1, "text": "é"}], came={"a": [1]}
    )
    insert([made])
    kept = Document.objects.get(pk=made.pk)
    assert (kept.by_hand, kept.came, kept.set_aside) == ([{"page": 1, "text": "é"}], {"a": [1]}, False)


def test_values_are_asked_for_without_models(world: World) -> None:
    asked = Prepared(lambda pk: Deal.objects.filter(pk=pk).values_list("name", "record__seq", "name_typed"))
    deal = Deal.objects.get(pk=world.deal.pk)
    assert asked.rows(deal.pk) == [(deal.name, deal.record.seq, False)]
    assert [finds(lambda u=u: newest_step(u, deal.pk)) for u in (world.ines, world.nadia)] == [True, False]
    assert newest_step(world.tom, deal.pk) == deal.record.seq


def test_a_template_that_changes_is_read_anew(world: World) -> None:
    data = {**world.template.data, "name": "Mine"}
    forms = forms_of(forms_named(world.template.release_id, None).values())
    first, again = (read_kept(data, forms, "Mine") for _ in range(2))
    assert first is again and isinstance(first, TemplateContent)
    other = read_kept({**data, "about": "Otherwise"}, forms, "Mine")
    assert isinstance(other, TemplateContent) and other.about == "Otherwise"
    assert isinstance(read_kept(data, {}, "Mine"), list)  # none of its forms is to be had any more


def test_answers_are_written_as_the_framework_writes_them() -> None:
    moment = datetime(2026, 3, 4, 5, 6, 7, 890_000, tzinfo=UTC)
    data = {
        "when": moment,
        "day": moment.date(),
        "id": uuid.UUID(int=7),
        "price": Decimal("12.50"),
        "role": MemberRole.BROKER,
        Group.BUYERS: [{"name": "Łódź “ß” \u2028", "none": None, "share": 0.1}],
        3: (1, True),
        "later": gettext_lazy("soon"),
    }
    ours, theirs = JSONRenderer().render(data), FrameworkRenderer().render(data)
    assert json.loads(ours) == json.loads(theirs)
    assert JSONRenderer().render(None) == b""
    assert json.loads(JSONRenderer().render({"many": 2**70})) == {"many": 2**70}
