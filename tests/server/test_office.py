"""The office: invited by mail, placed, gone; and a password forgotten."""

from __future__ import annotations

import re
from typing import Any

import pytest
from django.contrib.auth.tokens import default_token_generator
from goodquill.contacts.models import Contact
from goodquill.deals.models import Deal
from goodquill.mail.models import Letter
from goodquill.offices import links
from goodquill.offices.links import MOST_LETTERS
from goodquill.offices.models import User

from tests.server.world import PASSWORD, Speaker, World, new_deal

NEW = "a-new-one-of-their-own"


@pytest.fixture
def rosa(world: World) -> Speaker:
    return Speaker(world.rosa)


def invite(rosa: Speaker, world: World, email: str = "Mira@Office.example", **more: Any) -> Any:
    given = {"email": email, "name": "Mira", "role": "agent", "office": str(world.ines.office_id), **more}
    return rosa.post("/api/members/invitations", **given)


def link_to(email: str) -> dict[str, str]:
    """What the last letter's link says."""
    letter = Letter.objects.filter(to=email).order_by("-made").first()
    assert letter is not None
    found = re.search(r"/welcome#([0-9a-f-]{36})\.(\S+)", letter.text)
    assert found is not None, letter.text
    return {"user": found[1], "token": found[2]}


def signs_in(email: str, password: str) -> bool:
    return bool(Speaker(None).post("/api/session", email=email, password=password).status_code == 200)


def member(rosa: Speaker, name: str) -> dict[str, Any]:
    return next(m for m in rosa.get("/api/members").json()["members"] if m["name"] == name)


def test_who_is_invited_sets_a_password_and_signs_in(rosa: Speaker, world: World) -> None:
    assert invite(rosa, world).status_code == 200
    assert member(rosa, "Mira")["invited"] is not None
    link = link_to("mira@office.example")
    nobody = Speaker(None)
    looked = nobody.post("/api/password/link", **link).json()
    assert (looked["name"], looked["brokerage"], looked["invited"]) == ("Mira", "Ours", True)
    short = nobody.post("/api/password/new", **link, password="short")
    assert short.status_code == 400 and not signs_in("mira@office.example", "short")
    assert nobody.post("/api/password/new", **link, password=NEW).status_code == 204
    assert signs_in("mira@office.example", NEW)
    assert member(rosa, "Mira")["invited"] is None and member(rosa, "Mira")["active"]
    assert nobody.post("/api/password/new", **link, password=NEW).status_code == 404, "a link is used once"


def test_an_invitation_taken_back_lets_nobody_in(rosa: Speaker, world: World) -> None:
    invite(rosa, world)
    link, mira = link_to("mira@office.example"), member(rosa, "Mira")["id"]
    assert rosa.post(f"/api/members/{mira}", op="give_access").status_code == 200
    assert not User.objects.get(pk=mira).is_active, "who never had a password is let in by the link alone"
    rosa.post(f"/api/members/{mira}", op="take_back_invitation")
    assert Speaker(None).post("/api/password/new", **link, password=NEW).status_code == 404
    assert rosa.post(f"/api/members/{mira}", op="invite_again").status_code == 409


def test_nobody_is_invited_twice_nor_by_anybody(rosa: Speaker, world: World) -> None:
    assert invite(rosa, world, email=" INES@office.example ").status_code == 409
    assert invite(rosa, world, office=str(world.nadia.office_id)).status_code == 400
    assert invite(rosa, world, email="no address").status_code == 400
    for agent in (world.ines, world.tom):
        assert invite(Speaker(agent), world).status_code == 403
    assert not User.objects.filter(email="mira@office.example").exists()


def test_an_invitation_is_written_again_but_fills_no_box(rosa: Speaker, world: World) -> None:
    invite(rosa, world)
    mira = member(rosa, "Mira")["id"]
    codes = [rosa.post(f"/api/members/{mira}", op="invite_again").status_code for _ in range(MOST_LETTERS)]
    assert codes == [200] * (MOST_LETTERS - 1) + [429]
    assert Letter.objects.filter(to="mira@office.example").count() == MOST_LETTERS


def test_a_brokerage_sends_so_many_invitations_a_day_and_no_more(
    rosa: Speaker, world: World, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr(links, "MOST_INVITATIONS", 2)
    codes = [invite(rosa, world, email=f"m{n}@office.example").status_code for n in range(3)]
    assert codes == [200, 200, 429]
    assert not User.objects.filter(email="m2@office.example").exists(), "nobody half invited is left"


def forgotten(email: str) -> Any:
    """Somebody asks for a new password, and a worker has written the letter."""
    answer = Speaker(None).post("/api/password/forgotten", email=email)
    links.write_forgotten.func(email)
    return answer


def test_a_forgotten_password_is_set_anew_and_every_session_ends(world: World) -> None:
    ines, nobody = Speaker(world.ines), Speaker(None)
    assert forgotten("INES@office.example").status_code == 204
    link = link_to("ines@office.example")
    assert nobody.post("/api/password/link", **link).json()["invited"] is False
    assert nobody.post("/api/password/new", **link, password=NEW).status_code == 204
    assert ines.get("/api/deals").status_code == 401
    assert signs_in("ines@office.example", NEW) and not signs_in("ines@office.example", PASSWORD)


def test_who_asks_is_told_the_same_for_every_address(world: World) -> None:
    world.bertil.is_active = False
    world.bertil.save()
    answers = [
        forgotten(email)
        for email in ("ines@office.example", "bertil@office.example", "nobody@else.example", "x")
    ]
    assert {(a.status_code, a.content) for a in answers} == {(204, b"")}
    assert list(Letter.objects.values_list("to", flat=True)) == ["ines@office.example"]


def test_one_box_gets_few_letters_however_often_somebody_asks(world: World) -> None:
    for _ in range(MOST_LETTERS + 3):
        forgotten("ines@office.example")
    assert Letter.objects.count() == MOST_LETTERS


def test_a_link_of_somebody_else_or_made_up_opens_nothing(world: World) -> None:
    token = default_token_generator.make_token(world.ines)
    for user, secret in ((world.bertil.pk, token), (world.ines.pk, "x-y"), (world.ines.pk, token[:-1])):
        answer = Speaker(None).post("/api/password/new", user=str(user), token=secret, password=NEW)
        assert answer.status_code == 404
    assert signs_in("ines@office.example", PASSWORD)


def test_the_second_step_still_stands_after_a_new_password(world: World) -> None:
    forgotten("ines@office.example")
    answer = Speaker(None).post("/api/password/new", **link_to("ines@office.example"), password=NEW)
    assert answer.status_code == 204 and "sessionid" not in answer.cookies


def test_who_leaves_passes_everything_on_and_is_out_at_once(rosa: Speaker, world: World) -> None:
    ines, his = Speaker(world.ines), new_deal(world.ines, world.template, "Bela", "Ruiz")
    begun = ines.post("/api/templates", name="Hers", side="buying").json()
    path = f"/api/members/{world.ines.pk}/leave"
    refused = rosa.post(path)
    assert refused.status_code == 409 and ines.get("/api/deals").status_code == 200
    assert rosa.post(path, to=str(world.nadia.pk)).status_code == 404
    assert rosa.post(path, to=str(world.bertil.pk)).json() == {"passed": 2}
    assert ines.get("/api/deals").status_code == 401
    assert not signs_in("ines@office.example", PASSWORD)
    bertil = Speaker(world.bertil, his)
    assert {d["agent"] for d in bertil.get("/api/deals").json()} == {"Bertil"}
    assert bertil.fact("buyer_agent.name")["shown"] == "Bertil"
    assert "Ines passed it to Bertil" in [row["said"] for row in bertil.get(f"{bertil.path}/history").json()]
    assert bertil.get(f"/api/templates/{begun['id']}").json()["mine"]
    assert not Contact.objects.filter(owner=world.ines).exists()
    assert Deal.objects.get(pk=his.pk).office_id == world.bertil.office_id


def test_only_the_broker_ends_access_and_never_the_own(rosa: Speaker, world: World) -> None:
    path = f"/api/members/{world.tom.pk}/leave"
    assert Speaker(world.ines).post(path).status_code == 403
    assert Speaker(world.nadia).post(path).status_code == 404
    assert rosa.post(f"/api/members/{world.rosa.pk}/leave").status_code == 409
    assert rosa.post(path).json() == {"passed": 0}
    assert not member(rosa, "Tom")["active"]
    assert rosa.post(f"/api/members/{world.tom.pk}", op="give_access").status_code == 200
    assert member(rosa, "Tom")["active"]


def test_a_member_is_placed_in_another_role_and_office(rosa: Speaker, world: World) -> None:
    second = str(world.bertil.office_id)
    rosa.post(f"/api/members/{world.ines.pk}", op="place", role="coordinator", office=second)
    ines = member(rosa, "Ines")
    assert (ines["role"], ines["office"]) == ("coordinator", "Second")
    theirs = str(world.nadia.office_id)
    assert rosa.post(f"/api/members/{world.ines.pk}", op="place", office=theirs).status_code == 404
    assert rosa.post(f"/api/members/{world.rosa.pk}", op="place", role="agent").status_code == 409


def test_a_branch_is_added(rosa: Speaker, world: World) -> None:
    firm = rosa.get("/api/profile").json()["brokerage"]
    new = {"id": None, "name": "Third", "address": "", "phone": "", "code": "", "supervisor": None}
    saved = rosa.post("/api/brokerage", **{**firm, "offices": [*firm["offices"], new]})
    assert saved.status_code == 200, saved.json()
    assert [o["name"] for o in saved.json()["brokerage"]["offices"]] == ["First", "Second", "Third"]
