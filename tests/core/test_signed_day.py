"""The day that a paper bears beside a signature: the property's, whoever signed wherever."""

from __future__ import annotations

from datetime import UTC, date, datetime
from zoneinfo import ZoneInfo

import pytest
from quillcore.signing.puts import signed_on
from quillcore.values.clock import day_of, in_zone

DENVER = ZoneInfo("America/Denver")


@pytest.mark.parametrize(
    ("put", "by_pen", "day"),
    [
        ({}, "", None),
        ({"other": "2026-12-01T12:00:00+00:00"}, "", None),
        ({"a": "2026-12-01T23:59:00-07:00"}, "", date(2026, 12, 1)),
        ({"a": "2026-12-02T05:30:00+00:00"}, "", date(2026, 12, 1)),  # still the evening before, there
        ({"a": "2026-12-02T07:00:00+00:00"}, "", date(2026, 12, 2)),
        ({"a": "2026-12-01T12:00:00+00:00", "b": "2026-12-03T12:00:00+00:00"}, "", date(2026, 12, 3)),
        # Moments are compared, not their texts: the first is later.
        ({"a": "2026-12-01T20:00:00-07:00", "b": "2026-12-02T01:00:00+00:00"}, "", date(2026, 12, 1)),
        ({"a": "2026-12-01T12:00:00+00:00"}, "2026-11-28", date(2026, 11, 28)),
    ],
)
def test_the_last_place_on_a_paper_dates_it(put: dict[str, str], by_pen: str, day: date | None) -> None:
    assert signed_on(put, {"a", "b"}, DENVER, by_pen) == day


def test_a_moment_falls_on_the_day_that_it_is_there() -> None:
    moment = datetime(2026, 12, 2, 5, 30, tzinfo=UTC)
    assert day_of(moment, DENVER) == date(2026, 12, 1) and day_of(moment, ZoneInfo("UTC")) == date(
        2026, 12, 2
    )
    with in_zone(DENVER):
        assert day_of(moment) == date(2026, 12, 1)
