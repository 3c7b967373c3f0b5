"""What is said of a paper that was sent, and of a turn: only what was checked."""

from __future__ import annotations

from datetime import UTC, date, datetime, time

from hypothesis import given
from hypothesis import strategies as st
from quillcore.offers.agreement import against_accepting
from quillcore.offers.status import expired_by, turn_stands
from quillcore.signing.rounds import RoundState
from quillcore.signing.sendings import FULLY_SIGNED, Sending, round_in_words, signed_in_words
from quillcore.signing.spots import needed_signatures
from quillcore.values import Value

from tests.core.small import OFFER, demo_pack, package, people

NOW = datetime(2026, 12, 2, 12, tzinfo=UTC)
NAMES = st.lists(st.sampled_from(["Ana", "Bo", "Cy", "the seller"]), unique=True, max_size=3)
SENDINGS = st.builds(
    Sending,
    st.sampled_from([s for s in RoundState if s is not RoundState.MAKING]),
    st.just(NOW),
    st.sampled_from([None, NOW]),
    NAMES.map(tuple),
    NAMES.map(tuple),
    st.sampled_from(["", "Too late"]),
)
EXPIRES = st.tuples(
    st.sampled_from([None, date(2026, 12, 1), date(2026, 12, 2), date(2026, 12, 3)]),
    st.sampled_from([None, time(9), time(17)]),
)


@given(NAMES, NAMES)
def test_fully_signed_is_said_only_where_somebody_signed_and_nobody_is_missing(
    signed: list[str], missing: list[str]
) -> None:
    said = signed_in_words(signed, missing)
    assert (said == FULLY_SIGNED) == bool(signed and not missing)
    assert all(name in said for name in missing) or not signed


@given(st.lists(SENDINGS, min_size=1, max_size=3))
def test_a_round_is_fully_signed_where_each_of_its_papers_is(papers: list[Sending]) -> None:
    said = round_in_words(papers)
    assert (said == FULLY_SIGNED) == all(not paper.missing for paper in papers)


@given(
    st.booleans(),
    st.sampled_from(["", "d1"]),
    st.none() | SENDINGS,
    st.sampled_from([None, "", "Agreed December 1, 2026"]),
    st.sampled_from([None, "Answered by Counter-offer 2"]),
    EXPIRES,
)
def test_a_turn_says_what_was_checked_and_offers_what_can_be(
    ours: bool,
    paper: str,
    sending: Sending | None,
    agreed: str | None,
    following: str | None,
    expires: tuple[date | None, time | None],
) -> None:
    stands = turn_stands(
        ours=ours,
        other="seller",
        paper=paper,
        sending=sending,
        agreed=agreed,
        following=following,
        expires=expires,
        now=NOW,
    )
    settled = agreed is not None or following is not None
    frozen = sending is not None and sending.is_frozen
    assert stands.words
    assert ("Agreed" in stands.words) == (agreed is not None)
    assert stands.may_change == (not settled and not frozen), "what was sent stays as it is"
    assert stands.may_send == (not settled and not frozen and ours and bool(paper)), "nothing goes out twice"
    assert not (stands.may_agree and settled)
    if not settled:
        day, hour = expires
        is_over = day is not None and (day, hour or time(23, 59)) < (NOW.date(), NOW.time())
        assert ("Expired" in stands.words) == is_over


def test_the_other_sides_agreement_is_never_ours_to_give() -> None:
    def against(**said: object) -> str | None:
        known = {"accepted": None, "unanswered": None, "has_paper": False, "how": ""} | said
        fault = against_accepting(**known)  # type: ignore[arg-type]
        return fault.rule if fault is not None else None

    assert against(how="told by phone") is None and against(has_paper=True) is None
    assert against() == "how"
    assert against(unanswered="Counter-offer 1", how="told by phone") == "unanswered"
    assert against(unanswered="Counter-offer 1", has_paper=True) is None
    assert against(accepted="Offer 2", has_paper=True, how="told") == "accepted"
    assert against(expired="November 25, 2026", has_paper=True) == "expired"
    assert expired_by((date(2026, 12, 2), time(11)), NOW) == "December 2, 2026, 11:00 AM"
    assert expired_by((date(2026, 12, 2), None), NOW) == expired_by((None, time(9)), NOW) == ""


def test_a_paper_needs_everybody_it_has_lines_for_named_or_not() -> None:
    form = demo_pack().forms["301"]
    assert dict(needed_signatures(package(form), package(form).documents[0])) == {
        "buyers.1": "Ana Ruiz",
        "buyers.2": "Łukasz Nguyễn",
        "sellers": "the seller",
    }
    said: dict[str, Value] = OFFER | people("sellers", ("Lena", "Voss"))
    both = package(form, said=said)
    assert [name for _, name in needed_signatures(both, both.documents[0])] == [
        "Ana Ruiz",
        "Łukasz Nguyễn",
        "Lena Voss",
    ]
    listing = demo_pack().forms["201"]
    assert "the seller" in dict(needed_signatures(package(listing), package(listing).documents[0])).values()
