"""Nobody gets in and nothing falls over: sessions, sign-in, headers, what is sent that can't be kept, work a
few at a time."""

from __future__ import annotations

import io
import json
import os
import subprocess
import sys
import threading
import time
import uuid
from collections import Counter
from collections.abc import Iterator
from datetime import timedelta
from pathlib import Path
from typing import Any

import pytest
from django.conf import settings as live_settings
from django.core.management import call_command
from django.db import connection
from django.http import HttpResponse
from django.test import Client, RequestFactory, override_settings
from django.test.utils import CaptureQueriesContext
from django.utils import timezone
from django_otp.oath import totp
from django_otp.plugins.otp_static.models import StaticDevice
from django_otp.plugins.otp_totp.models import TOTPDevice
from goodquill.contacts.models import Contact
from goodquill.deals.models import Deal, Looked
from goodquill.http.callers import new_key
from goodquill.http.limits import AT_ONCE, BURST, LATELY, MOST_UPLOAD
from goodquill.http.middleware import HEADERS, FairShareMiddleware, StaticFilesMiddleware
from goodquill.mail.models import Letter
from goodquill.offices.attempts import Attempts, FairQueue
from goodquill.offices.models import Done, Session, User
from goodquill.offices.once import _place, forget_old
from goodquill.storage import files
from quillcore.sandbox import CARDS, PACK, TABLE

from tests.core.foreign import lined_form
from tests.running import PATIENCE
from tests.server.world import PASSWORD, Speaker, World

JSON = "application/json"


def sign_in(email: str, password: str = PASSWORD, client: Client | None = None, **more: Any) -> Any:
    return (client or Client()).post(
        "/api/session", {"email": email, "password": password, **more}, content_type=JSON
    )


# Sessions


def test_a_session_that_has_ended_has_ended_in_every_worker(world: World) -> None:
    client = Client()
    assert sign_in("ines@office.example", client=client).status_code == 200
    stolen = Client()
    stolen.cookies = client.cookies.copy()
    assert stolen.get("/api/deals").status_code == 200
    client.delete("/api/session")
    assert stolen.get("/api/deals").status_code == 401
    assert Session.objects.filter(user=world.ines).count() == 0


def test_own_sessions_are_listed_and_all_others_ended(world: World) -> None:
    here, there = Client(), Client(HTTP_USER_AGENT="Mozilla/5.0 (iPhone; CPU iPhone OS 18_0) Safari/605.1")
    for client in (here, there):
        sign_in("ines@office.example", client=client)
    listed = here.get("/api/sessions").json()
    assert {(s["device"], s["here"]) for s in listed} == {("A program", True), ("Safari on iPhone", False)}
    assert [s["here"] for s in here.delete("/api/sessions").json()] == [True]
    assert (here.get("/api/deals").status_code, there.get("/api/deals").status_code) == (200, 401)


def test_a_changed_password_ends_every_other_session_and_has_to_be_a_good_one(world: World) -> None:
    here, there = Client(), Client()
    for client in (here, there):
        sign_in("ines@office.example", client=client)
    for new in ("short", "123456789012", "password1234", "ines@office.example"):
        refused = here.post("/api/password", {"old": PASSWORD, "new": new}, content_type=JSON)
        assert (refused.status_code, refused.json()["rule"]) == (400, "new"), new
    assert (
        here.post("/api/password", {"old": "wrong", "new": "vellum and ink 9"}, content_type=JSON).json()[
            "rule"
        ]
        == "old"
    )
    assert (
        here.post(
            "/api/password", {"old": PASSWORD, "new": "vellum and ink 9"}, content_type=JSON
        ).status_code
        == 204
    )
    assert (here.get("/api/deals").status_code, there.get("/api/deals").status_code) == (200, 401)
    assert sign_in("ines@office.example", "vellum and ink 9").status_code == 200


def test_ended_access_ends_at_once(world: World) -> None:
    client = Client()
    sign_in("bertil@office.example", client=client)
    Speaker(world.rosa).post(f"/api/members/{world.bertil.pk}/leave")
    assert client.get("/api/deals").status_code == 401
    assert sign_in("bertil@office.example").status_code == 401
    assert Speaker(world.rosa).post(f"/api/members/{world.rosa.pk}/leave").status_code == 409


def test_a_session_ends_by_itself_unless_its_user_does_something(world: World, ines: Speaker) -> None:
    row = Session.objects.get(user=world.ines)
    almost = timezone.now() + timedelta(minutes=1)
    Session.objects.filter(pk=row.pk).update(expire_date=almost)
    ines.get(f"{ines.path}/changes", since=10_000)
    assert Session.objects.get(pk=row.pk).expire_date == almost, "a window that asks by itself is nobody"
    ines.get("/api/deals")
    assert Session.objects.get(pk=row.pk).expire_date > timezone.now() + timedelta(hours=11)
    Session.objects.filter(pk=row.pk).update(expire_date=timezone.now())
    assert ines.get("/api/deals").status_code == 401


# Signing in


def test_e_mails_are_compared_exactly_after_one_form(world: World) -> None:
    other = User.objects.create_user(
        "înes@office.example",
        "vellum and ink 9",
        name="Another",
        brokerage=world.ines.brokerage,
        office=world.ines.office,
    )
    assert sign_in("înes@office.example", "vellum and ink 9").json()["name"] == other.name
    assert sign_in(" INES@office.example ").json()["name"] == "Ines"
    assert sign_in("ｉｎｅｓ@office.example").json()["name"] == "Ines", "wide letters are the same letters"
    assert sign_in("înes@office.example").status_code == 401


def test_a_strangers_wrong_tries_lock_no_known_device_and_say_how_long(world: World) -> None:
    known, stranger = Client(), Client()
    assert sign_in("ines@office.example", client=known).status_code == 200
    codes = [sign_in("ines@office.example", "wrong", stranger).status_code for _ in range(9)]
    assert codes[0] == 401 and codes[-1] == 429
    locked = sign_in("ines@office.example", client=stranger)
    assert (locked.status_code, locked["Retry-After"], locked["content-type"]) == (
        429,
        "900",
        "application/problem+json",
    )
    assert "15 minutes" in locked.json()["detail"]
    assert sign_in("ines@office.example", client=Client()).status_code == 429, (
        "the account is locked wherever it is tried from"
    )
    assert sign_in("ines@office.example", client=known).status_code == 200
    codes = [sign_in("ines@office.example", "wrong", known).status_code for _ in range(9)]
    assert codes[-1] == 429, "but nobody guesses without end on it either"


def test_failed_sign_ins_are_counted_by_address_too_and_good_ones_are_not(
    world: World, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr(Attempts, "rate", "9/hour")
    office = {"REMOTE_ADDR": "10.9.9.9"}
    known = Client(**office)
    assert sign_in("bertil@office.example", client=known).status_code == 200
    for _ in range(12):
        assert sign_in("ines@office.example", client=Client(**office)).status_code == 200
    many = [sign_in(f"nobody{n}@office.example", "x", Client(**office)) for n in range(11)]
    assert many[0].status_code == 401 and many[-1].status_code == 429 and "Retry-After" in many[-1]
    assert many[-1].json()["again"] is False, "a screen that tried once more would be refused again"
    assert sign_in("ines@office.example", client=Client(**office)).status_code == 429
    assert sign_in("ines@office.example", client=Client(REMOTE_ADDR="10.9.9.8")).status_code == 200
    assert sign_in("bertil@office.example", client=known).status_code == 200, (
        "a known device has its own count"
    )


def test_each_thing_that_can_be_guessed_has_a_count_of_its_own(
    world: World, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr(Attempts, "rate", "4/hour")
    office = Client(REMOTE_ADDR="10.9.9.9")
    bad = {"user": str(world.ines.pk), "token": "x"}
    codes = [office.post("/api/password/link", bad, content_type=JSON).status_code for _ in range(6)]
    assert codes == [404] * 4 + [429] * 2
    assert sign_in("ines@office.example", client=office).status_code == 200, "the office still signs in"
    made_up = Client(REMOTE_ADDR="10.9.9.9")
    made_up.cookies[live_settings.SESSION_COOKIE_NAME] = "a" * 40
    assert made_up.post("/api/password/link", bad, content_type=JSON).status_code == 429


def test_a_session_key_that_somebody_made_up_reaches_no_limit_and_no_table(
    world: World, django_assert_num_queries: Any
) -> None:
    for key in ("a" * 32, "a" * 40, new_key()[:-1] + "_", new_key() + "a", ""):
        client = Client()
        client.cookies[live_settings.SESSION_COOKIE_NAME] = key
        with django_assert_num_queries(0):
            assert client.get("/api/deals").status_code == 401
        big = client.post("/api/session", b"x" * 20_000, content_type=JSON)
        assert big.status_code == 413, "before signing in few bytes are taken"
    honest = Client()
    sign_in("ines@office.example", client=honest)
    assert len(honest.cookies[live_settings.SESSION_COOKIE_NAME].value) == 40
    assert honest.get("/api/deals").status_code == 200


def test_a_forgotten_password_takes_as_much_work_for_a_member_as_for_nobody(world: World) -> None:
    asked = []
    for email in ("ines@office.example", "nobody@office.example"):
        with CaptureQueriesContext(connection) as queries:
            assert (
                Client().post("/api/password/forgotten", {"email": email}, content_type=JSON).status_code
                == 204
            )
        asked.append([q["sql"].split(" ", 1)[0] for q in queries])
    assert asked[0] == asked[1]
    assert not Letter.objects.exists(), "a worker looks who that is, and writes"


@override_settings(BEHIND_PROXY=True)
def test_behind_the_proxy_its_word_counts_and_a_strangers_does_not(world: World) -> None:
    client = Client(HTTP_X_REAL_IP="203.0.113.9", HTTP_X_FORWARDED_FOR="1.2.3.4")
    sign_in("ines@office.example", client=client)
    assert client.get("/api/sessions").json()[0]["address"] == "203.0.113.9"


def test_a_second_step_is_set_up_asked_for_and_reset(world: World) -> None:
    client = Client()
    sign_in("ines@office.example", client=client)
    for wrong in ({}, {"proof": "not it"}):
        assert client.post("/api/second-step", wrong, content_type=JSON).status_code == 400
    begun = client.post("/api/second-step", {"proof": PASSWORD}, content_type=JSON).json()["begun"]
    assert begun["picture"].startswith("<svg")
    device = TOTPDevice.objects.get(user=world.ines)
    assert client.post("/api/second-step", {"code": "000000"}, content_type=JSON).status_code == 400
    TOTPDevice.objects.update(throttling_failure_count=0, throttling_failure_timestamp=None)
    codes = client.post(
        "/api/second-step", {"code": f"{totp(device.bin_key):06d}"}, content_type=JSON
    ).json()["codes"]
    assert len(set(codes)) == 8
    asked = sign_in("ines@office.example")
    assert (asked.status_code, asked.json()["rule"]) == (401, "code")
    assert sign_in("ines@office.example", code="123456").status_code == 401
    for kind in (TOTPDevice, StaticDevice):  # each wrong code has to be waited for
        kind.objects.update(throttling_failure_count=0, throttling_failure_timestamp=None)
    assert sign_in("ines@office.example", code=codes[0]).status_code == 200
    assert sign_in("ines@office.example", code=codes[0]).status_code == 401, "each recovery code works once"
    for step in ({"proof": "not it"}, {"proof": ""}):
        assert client.put("/api/second-step", step, content_type=JSON).status_code == 400
    for kind in (TOTPDevice, StaticDevice):
        kind.objects.update(throttling_failure_count=0, throttling_failure_timestamp=None)
    again = client.post("/api/second-step", {"proof": codes[1]}, content_type=JSON)
    assert again.status_code == 200, "or with a code of the step that is in use"
    Speaker(world.rosa).post(f"/api/members/{world.ines.pk}", op="reset_second_step")
    assert sign_in("ines@office.example").status_code == 200
    told = Letter.objects.filter(to="ines@office.example", subject__startswith="Your sign-in").order_by(
        "made"
    )
    assert ["set up" in one.text for one in told] == [True, False]
    assert {one.to for one in told} == {"ines@office.example"}
    assert "turned off by Rosa" in told[1].text, "its owner is told who did it"


def test_a_brokerage_that_asks_for_a_second_step_opens_nothing_before(world: World) -> None:
    client, rosa = Client(), Speaker(world.rosa)
    sign_in("ines@office.example", client=client)
    rosa.post("/api/members", two_steps=True)
    shut = client.get("/api/deals")
    assert (shut.status_code, shut.json()["rule"]) == (403, "two-steps")
    assert client.get("/api/session").json()["owes_second_step"] is True
    client.post("/api/second-step", {"proof": PASSWORD}, content_type=JSON)
    device = TOTPDevice.objects.get(user=world.ines)
    assert (
        client.post(
            "/api/second-step", {"code": f"{totp(device.bin_key):06d}"}, content_type=JSON
        ).status_code
        == 200
    )
    assert client.get("/api/deals").status_code == 200
    assert Speaker(world.nadia).get("/api/deals").status_code == 200, "another brokerage is asked nothing"


# Headers


def every_kind_of_answer(world: World, ines: Speaker) -> Iterator[tuple[str, Any]]:
    asset = next((live_settings.ROOT / "web" / "dist" / "assets").glob("app-*.js"))
    yield "page", Client().get("/")
    yield "app.html", Client().get("/app.html")
    yield "script", Client().get(f"/assets/{asset.name}")
    yield "picture of ours", Client().get("/mark.svg")
    yield "json", ines.get("/api/deals")
    yield "problem", ines.get("/api/deals/x")
    yield "missing", Client().get("/nothing.txt")
    yield "signed out", Client().get("/api/deals")
    yield "file", ines.get(f"{ines.path}/package.pdf")
    edition = world.deal.documents.exclude(edition=None)[0].edition_id
    yield "page picture", ines.get(f"/api/editions/{edition}/pages/1/48.png")
    yield "too large", ines.client.post("/api/deals", b"x" * 6_000_000, content_type=JSON)


def test_every_kind_of_answer_carries_what_it_should(world: World, ines: Speaker) -> None:
    for kind, answer in every_kind_of_answer(world, ines):
        for name, value in HEADERS.items():
            assert answer.get(name) == value, (kind, name)
        assert "default-src 'none'" in answer.get("Content-Security-Policy", ""), kind
        assert "frame-ancestors 'none'" in answer["Content-Security-Policy"], kind
        assert answer.get("Access-Control-Allow-Origin") is None, kind
        if kind in ("json", "problem", "file", "signed out"):
            assert answer["Cache-Control"] == "no-store", kind
        if answer.status_code >= 400 and kind not in ("app.html", "missing"):
            assert answer["Content-Type"] == "application/problem+json", kind


def test_the_applications_page_is_served_with_its_policy_alone(client: Client, db: None) -> None:
    assert client.get("/app.html").status_code == 404
    assert "__NONCE__" not in client.get("/").content.decode()


def test_a_clients_paper_is_kept_by_no_browser(world: World, ines: Speaker) -> None:
    reading = ines.client.post("/api/papers", {"file": named("a.pdf", lined_form([("Buyer", "a")]))}).json()
    assert ines.get(f"/api/papers/{reading['id']}/pages/1/48.png")["Cache-Control"] == "no-store"


def test_signing_out_empties_the_browsers_cache(ines: Speaker) -> None:
    assert ines.client.delete("/api/session")["Clear-Site-Data"] == '"cache"'


def test_https_cookies_are_our_hosts_own() -> None:
    code = (
        "from django.conf import settings as s; print(s.SESSION_COOKIE_NAME, s.CSRF_COOKIE_NAME,"
        " s.SESSION_COOKIE_SECURE, s.SESSION_COOKIE_HTTPONLY)"
    )
    import_settings = _run(code, QUILL_SECURE="1")
    assert import_settings.split() == ["__Host-session", "__Host-csrf", "True", "True"]


def _run(code: str, **env: str) -> str:
    more = {
        **os.environ,
        "DJANGO_SETTINGS_MODULE": "goodquill.runtime.settings",
        "QUILL_SECRET_KEY": "7f" * 30 + "xyz0ABC",
        **env,
    }
    return subprocess.run(
        [sys.executable, "-c", code],
        cwd=live_settings.ROOT / "server",
        env=more,
        capture_output=True,
        text=True,
        check=True,
    ).stdout


def test_stored_files_are_for_the_server_alone(tmp_path: Path, settings: Any) -> None:
    digest = files.keep(b"somebody's paper " + uuid.uuid4().bytes)
    stored = next(Path(settings.FILES_FOLDER).rglob(digest))
    assert stored.stat().st_mode & 0o777 == 0o600
    assert {p.stat().st_mode & 0o777 for p in (stored.parent, stored.parent.parent)} == {0o700}


def test_a_file_that_a_new_build_took_away_is_not_there(tmp_path: Path, settings: Any) -> None:
    script = tmp_path / "assets" / "screen-a1b2c3d4.js"
    script.parent.mkdir()
    script.write_text("export {}")
    settings.WHITENOISE_ROOT = tmp_path
    served, request = (
        StaticFilesMiddleware(lambda _: HttpResponse(status=500)),
        RequestFactory().get(f"/assets/{script.name}"),
    )
    assert served(request).status_code == 200
    script.unlink()
    gone = served(request)
    assert gone.status_code == 404 and "max-age" not in gone.get("Cache-Control", "")


# What can't be kept


def raw(ines: Speaker, path: str, body: str | bytes) -> Any:
    return ines.client.post(path, body, content_type=JSON)


DEEP = '{"side":' + "[" * 100_000 + "]" * 100_000 + "}"


@pytest.mark.parametrize(
    ("path", "body"),
    [
        ("/api/deals", DEEP),
        ("/api/session", DEEP),
        ("/api/deals", '{"side": "buying", "name": "\\ud800"}'),
        ("/api/deals", '{"side": "buying", "name": "a\\u0000b"}'),
        ("/api/deals", '{"side": "buying", "name": "' + "n" * 300 + '"}'),
        ("/api/deals", json.dumps({"side": "buying", "clients": [{"family": f"F{n}"} for n in range(50)]})),
        ("/api/deals", '{"side": "buying", "name": NaN}'),
        ("/api/deals", "\ud800".encode("utf-8", "surrogatepass")),
        (
            "/api/profile",
            json.dumps({"name": "n" * 201, "phone": "", "licence": "", "licences": {}, "listing_code": ""}),
        ),
        (
            "/api/profile",
            '{"name": "x", "phone": "", "licence": "", "licences": {"\\udc00": "1"}, "listing_code": ""}',
        ),
        ("/api/contacts", '{"kind": "client", "fields_said": {"given": "\\ud800"}}'),
        ("/api/favourites", json.dumps({"association": "a" * 300, "number": "1", "favourite": True})),
        ("/api/memberships", json.dumps({"association": "a", "number": "CL-²²²²²"})),
        (
            "{deal}/changes",
            json.dumps({"change": "{new}", "edits": [{"op": "type", "key": "buyers.².email", "text": "x"}]}),
        ),
        (
            "{deal}/changes",
            json.dumps(
                {
                    "change": "{new}",
                    "edits": [{"op": "choose", "key": "terms.purchase_price", "source": "nobody"}],
                }
            ),
        ),
        (
            "{deal}/changes",
            json.dumps({"change": "{new}", "edits": [{"op": "party_add", "key": "buyers", "party": "²²²²"}]}),
        ),
        (
            "{deal}/changes",
            json.dumps(
                {
                    "change": "{new}",
                    "edits": [{"op": "type", "key": "terms.purchase_price", "text": "1", "based_on": 10**30}],
                }
            ),
        ),
        ("{deal}/comparison", json.dumps({"parcel": "1", "county": "../../\u0001"})),
        ("{deal}/comparison", json.dumps({"file": str(uuid.UUID(int=1)), "row": 10**40})),
        ("{deal}/offers", json.dumps({"change": "{new}", "like": 10**40})),
        ("{deal}/package", json.dumps({"change": "{new}", "op": "order", "order": ["\u0000"] * 3})),
    ],
)
def test_what_can_not_be_kept_is_refused_with_a_sentence(ines: Speaker, path: str, body: str | bytes) -> None:
    if isinstance(body, str):
        body = body.replace("{new}", str(uuid.uuid4()))
    answer = raw(ines, path.replace("{deal}", ines.path), body)
    assert 400 <= answer.status_code < 500, answer.content
    assert (
        answer["content-type"] == "application/problem+json" and answer.json()["status"] == answer.status_code
    )


@pytest.mark.parametrize("query", ["offer=²", "offer=" + "5" * 5_000, "offer=-1", "offer=x", "offer=%00"])
def test_an_offer_that_is_none_is_refused(ines: Speaker, query: str) -> None:
    assert ines.client.get(f"{ines.path}?{query}").status_code == 400
    assert ines.client.get(f"{ines.path}/changes?since=0&{query}").status_code == 400
    assert ines.client.get(f"{ines.path}/changes?since={query.partition('=')[2]}").status_code == 400


def test_a_county_with_slashes_leads_nowhere_else(ines: Speaker, stand_ins: None) -> None:
    for county in ("../members", "..", "a/b?c#d", "\u0007"):
        answer = ines.get("/api/properties/report", parcel="1-0001-0001", county=county)
        assert answer.status_code in (400, 404), answer.content


def test_one_change_id_in_two_deals_at_once_is_told_to_the_second(world: World, ines: Speaker) -> None:
    change = uuid.uuid4()
    edit = {"op": "type", "key": "terms.purchase_price", "text": "1k"}
    assert ines.edit(edit, change=change).status_code == 200
    other = Speaker(
        world.ines, Deal.objects.get(pk=Speaker(world.ines).post("/api/deals", side="buying").json()["id"])
    )
    assert other.edit(edit, change=change).status_code == 422
    assert other.post(f"{other.path}/undo", change=str(change), target=str(change)).status_code == 422


def test_before_signing_in_few_bytes_are_taken(db: None) -> None:
    big = Client().post("/api/session", b"x" * 20_000, content_type=JSON)
    assert (big.status_code, big["content-type"]) == (413, "application/problem+json")


def test_a_request_without_the_token_or_for_another_host_is_told_so(world: World) -> None:
    strict = Client(enforce_csrf_checks=True)
    strict.force_login(world.ines, backend="goodquill.offices.signing_in.Members")
    for answer in (
        strict.post("/api/deals", {}, content_type=JSON),
        Client().get("/api/deals", headers={"host": "evil.example"}),
    ):
        assert answer["content-type"] == "application/problem+json" and answer.status_code in (400, 403)


# Strangers' files


def named(name: str, content: bytes) -> Any:
    file = io.BytesIO(content)
    file.name = name
    return file


@pytest.mark.parametrize(
    ("path", "name", "content"),
    [
        ("/api/papers", "a.pdf", b"%PDF-1.7 nothing"),
        ("/api/contacts/cards", "a.vcf", b"\x00" * 100),
        ("/api/contacts/cards", "a.csv", b",".join([b"name"] * 40_000)),
        ("/api/property-files", "a.json", b"[" * 100_000),
        ("/api/property-files", "a.csv", b"PIN,Owner\n" + b"1,2\n" * 60_000),
    ],
)
def test_a_file_that_is_none_costs_a_sentence(ines: Speaker, path: str, name: str, content: bytes) -> None:
    answer = ines.client.post(path, {"file": named(name, content)})
    assert answer.status_code == 400 and answer.json()["detail"] and answer.json()["mend"], answer.content


def test_a_faulty_pack_is_told_fault_by_fault(world: World) -> None:
    answer = Speaker(world.rosa).client.post(
        "/api/releases", {"file": named("pack.zip", b"PK nothing"), "take": "true"}
    )
    assert answer.status_code == 200 and answer.json()["faults"] and not answer.json()["taken"]


def test_a_countys_rows_are_kept_and_found_without_opening_the_file_again(
    ines: Speaker, stand_ins: None
) -> None:
    rows = b"".join(b"%d-0001,ALDER ST %d,OKAFOR AMARA %d\n" % (n, n, n) for n in range(1200))
    made = ines.client.post(
        "/api/property-files", {"file": named("roll.csv", b"PIN,Situs Address,Owner\n" + rows)}
    ).json()
    assert made["rows"] == 1200
    found = ines.get(f"/api/property-files/{made['id']}", find="alder 1177").json()["found"]
    assert [f["row"] for f in found] == [1177]


def test_limits_of_files_hang_together() -> None:
    assert max(CARDS.most_bytes, TABLE.most_bytes, PACK.most_bytes) < MOST_UPLOAD


# A few at a time


@pytest.mark.django_db(transaction=True)
def test_two_long_requests_of_one_member_are_at_work_and_a_third_is_asked_back() -> None:
    user = User(pk=uuid.uuid4())
    held, free, release = threading.Barrier(3), [], threading.Event()

    def hold() -> None:
        with _place(user) as place:
            free.append(place)
            held.wait(10)
            release.wait(10)
        connection.close()

    threads = [threading.Thread(target=hold) for _ in range(2)]
    for t in threads:
        t.start()
    held.wait(10)
    with _place(user) as third:
        assert third is False
    with _place(User(pk=uuid.uuid4())) as other:
        assert other is True, "another member's place is another's"
    release.set()
    for t in threads:
        t.join()
    with _place(user) as again:
        assert again is True
    assert free == [True, True]


class Asking:
    """A worker's share keeper, with requests that are answered when they are released."""

    def __init__(self, rf: RequestFactory) -> None:
        self.rf, self.answers = rf, Counter[int]()
        self.inside, self.release = threading.Semaphore(0), threading.Event()
        self.fair = FairShareMiddleware(self.slow)
        self.threads: list[threading.Thread] = []

    def slow(self, _request: Any) -> HttpResponse:
        self.inside.release()
        self.release.wait(PATIENCE)
        return HttpResponse("done")

    def ask(self, key: str = "", address: str = "10.0.0.1", path: str = "/api/deals") -> int:
        request = self.rf.get(path, REMOTE_ADDR=address)
        if key:
            request.COOKIES[live_settings.SESSION_COOKIE_NAME] = key
        status = self.fair(request).status_code
        self.answers[status] += 1
        return status

    def at_work(self, *args: str) -> None:
        """One that is let in, and stays."""
        thread = threading.Thread(target=self.ask, args=args)
        thread.start()
        self.threads.append(thread)
        assert self.inside.acquire(timeout=PATIENCE)

    def end(self) -> None:
        self.release.set()
        for thread in self.threads:
            thread.join()
        assert all(used.at_work == 0 for used in self.fair.used.values())


def test_a_session_has_its_share_of_a_worker_and_is_refused_beyond_it_without_waiting(rf: Any) -> None:
    asking, one, other = Asking(rf), new_key(), new_key()
    for _ in range(AT_ONCE):
        asking.at_work(one)
    begun = time.monotonic()
    assert asking.ask(one) == 429
    assert time.monotonic() - begun < 1, "nothing waits in a thread that serves"
    asking.at_work(other)
    asking.at_work(one, "10.0.0.1", "/deals/1/write")
    asking.end()
    assert asking.answers == {200: AT_ONCE + 2, 429: 1}


def test_one_address_has_no_more_than_a_browser_asks_for(rf: Any) -> None:
    asking = Asking(rf)
    for n in range(AT_ONCE):
        asking.at_work(f"{n}" * 40, "2001:db8::1")
    assert asking.ask("", "2001:db8::2") == 429, "the same household"
    asking.at_work("", "2001:db8:0:1::1")
    asking.end()


def test_computing_that_nobody_else_asks_for_is_not_rationed(rf: Any) -> None:
    asking, one, other = Asking(rf), new_key(), new_key()
    asking.release.set()
    assert asking.ask(one) == 200
    asking.fair.used[one].seconds += 3 * BURST
    assert [asking.ask(one) for _ in range(9)] == [200] * 9, "nobody else is there"
    assert asking.ask(other) == 200
    assert asking.ask(one) == 429
    assert asking.ask(other) == 200, "who used little is answered"
    asking.fair.lately.last = asking.fair.lately.before = (other, time.monotonic() - 2 * LATELY)
    assert asking.ask(one) == 200, "the other has gone"


def test_those_who_sign_in_take_turns_and_who_guesses_all_the_time_comes_last() -> None:
    queue, order = FairQueue(1, 3, PATIENCE), []
    hold = threading.Event()

    def sign_in_from(who: str, is_known: bool) -> None:
        with queue.turn(who, is_known) as has_turn:
            order.append((who, has_turn))
            if who == "guesser" and len(order) == 1:
                hold.wait(PATIENCE)

    def begin(who: str, is_known: bool = False) -> threading.Thread:
        thread = threading.Thread(target=sign_in_from, args=(who, is_known))
        thread.start()
        return thread

    threads = [begin("guesser")]
    while not queue.working:
        time.sleep(0.01)
    for n, (who, known) in enumerate([("guesser", False), ("new", False), ("known", True)], 1):
        threads.append(begin(who, known))
        while len(queue.waiting) < n:
            time.sleep(0.01)
    sign_in_from("guesser", False)
    assert order[-1] == ("guesser", False), "one place an address"
    threads.append(begin("newer"))
    while "newer" not in queue.waiting:
        time.sleep(0.01)
    hold.set()
    for thread in threads:
        thread.join()
    assert [who for who, has_turn in order if has_turn] == ["guesser", "known", "new", "newer"]
    assert order.count(("guesser", False)) == 2, "the last in a full queue is sent away"


def test_what_was_done_long_ago_is_forgotten(world: World) -> None:
    Done.objects.create(user=world.ines, key=uuid.uuid4(), digest="x")
    Done.objects.update(at=timezone.now() - timedelta(days=8))
    Done.objects.create(user=world.ines, key=uuid.uuid4(), digest="y")
    assert forget_old() == 1


# What is done once, the record, contacts


def test_an_action_that_failed_leaves_its_key_free(world: World, ines: Speaker) -> None:
    key = {"Idempotency-Key": str(uuid.uuid4())}
    bad = {"kind": "client", "fields_said": {"email": "no address"}}
    assert ines.client.post("/api/contacts", bad, content_type=JSON, headers=key).status_code == 400
    good = {"kind": "client", "fields_said": {"given": "Bo", "family": "Falk"}}
    first, second = (
        ines.client.post("/api/contacts", good, content_type=JSON, headers=key) for _ in range(2)
    )
    assert first.status_code == second.status_code == 201 and first.json() == second.json()
    assert Contact.objects.filter(name="Bo Falk").count() == 1
    assert (
        ines.client.post(
            "/api/contacts", good, content_type=JSON, headers={"Idempotency-Key": "no key"}
        ).status_code
        == 400
    )


def test_an_uploaded_file_is_taken_in_once(ines: Speaker) -> None:
    key = {"Idempotency-Key": str(uuid.uuid4())}
    send = lambda text: ines.client.post("/api/contacts/cards", {"file": named("a.csv", text)}, headers=key)  # noqa: E731 - said twice, done once
    first, second = send(b"name\nBo Falk\n"), send(b"name\nBo Falk\n")
    assert first.json() == second.json() == {"read": 1, "added": 1, "known": 0}
    assert send(b"name\nZofia Kowalczyk\n").status_code == 422


def test_who_opened_and_took_what_is_written_down_for_the_broker(world: World, ines: Speaker) -> None:
    ines.open()
    ines.get(f"{ines.path}/package.pdf")
    code = world.deal.documents.exclude(edition=None)[0].code
    Speaker(world.rosa).get(f"{ines.path}/documents/{code}.pdf")
    rows = Speaker(world.rosa).get(f"{ines.path}/looks").json()
    assert [(r["by"], r["what"]) for r in rows] == [
        ("Rosa", "downloaded"),
        ("Ines", "downloaded"),
        ("Ines", "opened"),
    ]
    assert all(len(r["content"]) == 64 for r in rows[:2])
    assert ines.get(f"{ines.path}/looks").status_code == 403
    row = Looked.objects.first()
    assert row is not None
    with pytest.raises(TypeError):
        row.save()
    with pytest.raises(TypeError):
        row.delete()
    world.deal.delete()
    assert Looked.objects.filter(deal=world.deal.pk).count() == 3 or Looked.objects.count() == 3, (
        "it outlives the deal"
    )


def test_thrown_away_deals_are_gone_for_good_after_thirty_days(world: World, ines: Speaker) -> None:
    ines.client.delete(ines.path)
    Deal.objects.update(removed_at=timezone.now() - timedelta(days=31))
    assert ines.get("/api/deals", thrown_away="true").json() == [] and ines.post(ines.path).status_code == 404
    call_command("sweep")
    assert Deal.objects.count() == 0


def contact(speaker: Speaker, **said: Any) -> dict[str, Any]:
    body = {
        "kind": "title",
        "fields_said": {"company": "Keystone", "email": "desk@keystone.example"},
        "shared": True,
        **said,
    }
    return dict(speaker.post("/api/contacts", **body).json())


def test_a_colleagues_change_of_a_shared_contact_leaves_a_trace_and_can_be_taken_back(
    world: World, ines: Speaker
) -> None:
    made, bertil = contact(ines), Speaker(world.bertil)
    path = f"/api/contacts/{made['id']}"
    changed = bertil.post(
        path,
        kind="title",
        fields_said={"company": "Keystone", "email": "money@elsewhere.example"},
        shared=True,
    )
    assert changed.status_code == 200
    told = ines.get(path).json()["recent"]
    assert [(t["field"], t["by"], t["before"]) for t in told] == [
        ("email", "Bertil", "desk@keystone.example")
    ]
    used = ines.post(
        f"{ines.path}/contacts", change=str(uuid.uuid4()), contact=made["id"], group="title"
    ).json()
    assert "its e-mail was changed by Bertil" in used["said"]
    step = ines.get(f"{path}/history").json()[0]
    assert step["moves"] == [
        {"label": "E-mail", "before": "desk@keystone.example", "after": "money@elsewhere.example"}
    ]
    undone = ines.post(f"{path}/history", change=step["id"]).json()
    assert undone["contact"]["fields_said"]["email"] == "desk@keystone.example" and undone["left"] == []


def test_shared_contacts_are_merged_shared_and_removed_by_owner_or_broker_alone(
    world: World, ines: Speaker
) -> None:
    made, bertil = contact(ines), Speaker(world.bertil)
    path, own = (
        f"/api/contacts/{made['id']}",
        contact(bertil, fields_said={"company": "Keystone"}, shared=False),
    )
    assert bertil.post(f"{path}/merge", other=own["id"]).status_code == 403
    assert bertil.post(f"/api/contacts/{own['id']}/merge", other=made["id"]).status_code == 403
    assert bertil.client.delete(path).status_code == 403
    assert (
        bertil.post(path, kind="title", fields_said={"company": "Keystone"}, shared=False).status_code == 403
    )
    assert ines.post(f"{path}/restore").status_code == 409, "putting back what is there says so"
    assert Speaker(world.rosa).post(f"{path}/merge", other=own["id"]).status_code == 200
    assert ines.client.delete(path).status_code == 204 and ines.post(f"{path}/restore").status_code == 204


def test_keeping_as_a_contact_adds_what_is_not_there_and_overwrites_nothing(
    world: World, ines: Speaker
) -> None:
    ines.post(
        "/api/contacts", kind="client", fields_said={"given": "Bo", "family": "Falk", "phone": "5555550123"}
    )
    said = {"given": "Bo", "family": "Falk", "email": "bo@post.example", "phone": "5555550199"}
    kept = ines.post("/api/contacts", kind="client", fields_said=said, unless_known=True).json()
    assert (
        kept["fields_said"]["email"] == "bo@post.example" and kept["fields_said"]["phone"] == "(555) 555-0123"
    )
