"""The profile: what forms print of an agent, office and brokerage, and who may change it."""

from __future__ import annotations

from typing import Any

from goodquill.offices.models import User

from tests.server.world import Speaker, World


def profile(speaker: Speaker) -> dict[str, Any]:
    return dict(speaker.get("/api/profile").json())


def test_the_profile_feeds_the_forms_of_open_deals(ines: Speaker, world: World) -> None:
    said = profile(ines)
    assert (
        ines.post(
            "/api/profile",
            **{
                **said,
                "phone": "555.555.0177",
                "listing_code": "MF-9",
                "licences": {"cw": "CW-77", "NN": "N-1"},
            },
        ).status_code
        == 200
    )
    held = {
        k: ines.fact(f"buyer_agent.{k}")["shown"]
        for k in ("phone", "code", "licence", "firm", "branch", "broker", "broker_licence", "supervisor")
    }
    assert held == {
        "phone": "(555) 555-0177",
        "code": "MF-9",
        "licence": "CW-77",
        "firm": "Ours",
        "branch": "First",
        "broker": "Rosa",
        "broker_licence": "CW-1",
        "supervisor": "",
    }
    assert ines.fact("buyer_agent.phone")["source"] == "profile"
    assert profile(ines)["memberships"] == ["Calloway Association of Real Estate Licensees, CL-00001"]


def test_the_broker_changes_the_brokerage_and_names_supervisors(ines: Speaker, world: World) -> None:
    rosa = Speaker(world.rosa)
    firm = profile(rosa)["brokerage"]
    office = next(o for o in firm["offices"] if o["name"] == "First")
    office |= {"code": "OU-1", "supervisor": str(world.tom.pk), "phone": "555-555-0101"}
    assert ines.post("/api/brokerage", **firm).status_code == 403
    assert (
        rosa.post(
            "/api/brokerage", **{**firm, "licence": "CW-F9", "broker": str(world.bertil.pk)}
        ).status_code
        == 200
    )
    held = {
        k: ines.fact(f"buyer_agent.{k}")["shown"]
        for k in ("firm_licence", "broker", "supervisor", "branch_code", "firm_phone")
    }
    assert held == {
        "firm_licence": "CW-F9",
        "broker": "Bertil",
        "supervisor": "Tom",
        "branch_code": "OU-1",
        "firm_phone": "(555) 555-0101",
    }


def test_what_does_not_fit_is_refused_and_nothing_changes(ines: Speaker, world: World) -> None:
    said = profile(ines)
    for wrong in ({"phone": "12"}, {"licences": {"Calloway": "1"}}, {"name": " "}):
        assert ines.post("/api/profile", **{**said, **wrong}).status_code == 400
    rosa = Speaker(world.rosa)
    firm = profile(rosa)["brokerage"]
    assert rosa.post("/api/brokerage", **{**firm, "broker": str(world.nadia.pk)}).status_code == 400, (
        "nobody of another brokerage"
    )
    theirs = str(world.nadia.office_id)
    assert (
        rosa.post(
            "/api/brokerage", **{**firm, "name": "X", "offices": [{**firm["offices"][0], "id": theirs}]}
        ).status_code
        == 404
    )
    assert profile(ines) == said and User.objects.get(pk=world.nadia.pk).brokerage.name == "Theirs"
