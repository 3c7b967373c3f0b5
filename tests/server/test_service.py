"""The service around the deals: counted queries, files, headers, sign-in, the schema."""

from __future__ import annotations

import errno
import gzip
import hashlib
import json
import os
import re
import stat
import subprocess
import sys
import uuid
from collections.abc import Iterator
from pathlib import Path

import pytest
from django.conf import settings
from django.core.files.base import ContentFile
from django.core.management import call_command
from django.db import connection
from django.test import Client
from django.test.utils import CaptureQueriesContext
from django_tasks_db.models import DBTaskResult
from goodquill.forms.models import Edition
from goodquill.forms.pages import AHEAD, draw_ahead
from goodquill.packs.actions import take_in
from goodquill.storage import files
from goodquill.templates.models import Template

from ops import wire_types
from tests.core.small import ROOT, demo_pack, second_pack
from tests.server.world import FIFTEEN, PASSWORD, Speaker, World, new_deal


def counted(action: object) -> int:
    with CaptureQueriesContext(
        connection,
    ) as queries:
        answer = action()  # type: ignore[operator]
    assert answer.status_code < 300, answer.content
    return sum(not q["sql"].startswith(("SAVEPOINT", "RELEASE")) for q in queries)


def test_queries_are_few_and_do_not_grow(world: World, ines: Speaker) -> None:
    ines.open()  # forms are immutable and kept by the process once read
    ines.type("terms.purchase_price", "500")  # from the second value on there is one to be replaced
    opening, saving = (
        counted(lambda: ines.get(ines.path)),
        counted(lambda: ines.edit({"op": "type", "key": "terms.purchase_price", "text": "1k"})),
    )
    listing = counted(lambda: ines.get("/api/deals"))
    for n in range(6):
        new_deal(world.ines, world.template, "Bo", f"Falk{n}")
        ines.post(f"{ines.path}/package", change=str(uuid.uuid4()), op="add", number="301")
        ines.type("terms.seller_concessions", str(n))
    assert counted(lambda: ines.get(ines.path)) == opening <= 12
    assert counted(lambda: ines.get("/api/deals")) == listing <= 6
    assert (
        counted(lambda: ines.edit({"op": "type", "key": "terms.purchase_price", "text": "2k"}))
        == saving
        <= 12
    )


def test_applying_a_template_takes_as_many_queries_for_fifteen_forms_as_for_five(world: World) -> None:
    def asked(forms: int) -> int:
        documents = [{"section": f"Part {n}", "form": FIFTEEN[n]} for n in range(forms)]
        data = {**world.template.data, "name": f"{forms} forms", "documents": documents}
        made = Template.objects.create(
            release=world.template.release, slug=f"of-{forms}", name=data["name"], side="buying", data=data
        )
        bare = Speaker(world.ines)
        deal = bare.post("/api/deals", side="buying", clients=[]).json()["id"]
        body = {"change": str(uuid.uuid4()), "template": str(made.pk)}
        return counted(lambda: bare.post(f"/api/deals/{deal}/templates", **body))

    asked(15)  # forms are kept by the process once read
    Template.objects.filter(slug="of-15").delete()
    # Among the fifteen is the form of a counter-offer: whether it is a turn's is asked, once.
    assert asked(5) + 1 == asked(15) <= 30


def test_the_package_is_downloaded_filled_and_holds_nothing_of_another_deal(
    world: World, ines: Speaker, tmp_path: Path
) -> None:
    other = Speaker(world.ines, new_deal(world.ines, world.template, "Zofia", "Kowalczyk"))
    other.type("terms.purchase_price", "999,999")
    ines.type("terms.purchase_price", "412.5k")
    answer = ines.get(f"{ines.path}/package.pdf")
    assert answer["content-type"] == "application/pdf"
    assert "Okafor" in answer["content-disposition"]
    (tmp_path / "x.pdf").write_bytes(answer.content)
    text = subprocess.run(
        ["pdftotext", "-layout", str(tmp_path / "x.pdf"), "-"], capture_output=True, text=True, check=True
    ).stdout
    assert "412,500.00" in text
    assert text.count("Amara Okafor") >= 4
    assert "Kowalczyk" not in text
    assert "999,999" not in text
    one = next(d for d in ines.open()["documents"] if d["number"] == "510")
    assert ines.get(f"{ines.path}/documents/{one['id']}.pdf").status_code == 200
    empty = Speaker(world.ines).post("/api/deals", side="buying").json()
    assert Speaker(world.ines).get(f"/api/deals/{empty['id']}/package.pdf").status_code == 409


def test_page_pictures_are_private_and_never_change(ines: Speaker) -> None:
    edition = ines.open()["documents"][0]["edition"]
    answer = ines.get(f"/api/editions/{edition}/pages/1/110.png")
    assert answer.content[:8] == b"\x89PNG\r\n\x1a\n"
    assert answer["cache-control"] == "private, max-age=31536000, immutable"
    assert ines.get(f"/api/editions/{edition}/pages/1/110.png").content == answer.content
    assert ines.get(f"/api/editions/{edition}/pages/9/110.png").status_code == 404
    assert ines.get(f"/api/editions/{edition}/pages/1/9999.png").status_code == 404


def test_the_pages_of_a_release_are_drawn_before_anybody_looks(
    world: World, ines: Speaker, monkeypatch: pytest.MonkeyPatch
) -> None:
    there, later = (
        {form.edition.page_content for form in pack.forms.values()} for pack in (demo_pack(), second_pack())
    )
    take_in(second_pack())
    queued = DBTaskResult.objects.filter(task_path=draw_ahead.module_path)
    drawn = [row.args_kwargs["args"][0] for row in queued]
    assert sorted(drawn) == sorted(later - there) != [], "each new one once, and not those that were there"

    edition = Edition.objects.get(number="101")
    calls: list[int] = []
    with monkeypatch.context() as slow:
        slow.setattr("goodquill.forms.pages.AHEAD_SECONDS", 0.0)
        slow.setattr("goodquill.forms.pages.print_picture", lambda pdf, page, dots: calls.append(page))
        draw_ahead.call(edition.page_content, edition.pages, edition.foreign)
    assert calls == [], "a form without end does not hold up letters"

    draw_ahead.call(edition.page_content, edition.pages, edition.foreign)
    for drawing in ("print_picture", "words_inside"):
        monkeypatch.setattr(f"goodquill.forms.pages.{drawing}", lambda *_: pytest.fail("drawn again"))
    draw_ahead.call(edition.page_content, edition.pages, edition.foreign)
    for page in range(1, edition.pages + 1):
        for sharpness in AHEAD:
            seen = ines.get(f"/api/editions/{edition.pk}/pages/{page}/{sharpness}.png")
            assert seen.content[:8] == b"\x89PNG\r\n\x1a\n"
    assert ines.get(f"/api/editions/{edition.pk}/words").json()["pages"]


def test_the_words_of_pages_come_with_where_they_stand_and_are_read_once(
    ines: Speaker, monkeypatch: pytest.MonkeyPatch
) -> None:
    row = next(d for d in ines.open()["documents"] if d["number"] == "301")
    address = f"/api/editions/{row['edition']}/words"
    answer = ines.get(address)
    assert answer["cache-control"] == "private, max-age=31536000, immutable"
    pages = answer.json()["pages"]
    assert len(pages) == row["pages"]
    assert " ".join(word[4] for word in pages[0][:60]).count("Residential Purchase Agreement") == 1
    assert all(
        0 <= left < right <= 612 and 0 <= bottom < top <= 792 for left, bottom, right, top, _ in pages[0]
    )
    monkeypatch.setattr("goodquill.forms.pages.words_inside", lambda pdf: pytest.fail("read again"))
    assert ines.get(address).content == answer.content


def test_the_words_of_a_strangers_pages_are_read_in_the_limited_child_alone(
    ines: Speaker, world: World, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr("goodquill.forms.pages.words_inside", lambda pdf: pytest.fail("read here"))
    edition = world.deal.documents.exclude(edition=None)[0].edition
    edition.foreign = True
    edition.save()
    answer = ines.get(f"/api/editions/{edition.pk}/words")
    assert len(answer.json()["pages"]) == edition.pages and answer["cache-control"] == "no-store"
    edition.page_content = files.keep(b"no PDF at all")
    edition.save()
    refused = ines.get(f"/api/editions/{edition.pk}/words")
    assert refused.status_code == 422 and refused.json()["mend"]


def test_a_stored_file_that_was_tampered_with_is_not_read(db: None) -> None:
    digest = files.keep(b"the page")
    Path(settings.FILES_FOLDER, digest[:2], digest[2:4], digest).write_bytes(b"another page")
    with pytest.raises(files.Corrupt):
        files.fetch(digest)


@pytest.mark.django_db
def test_a_file_is_there_whole_or_not_at_all(monkeypatch: pytest.MonkeyPatch) -> None:
    content = uuid.uuid4().bytes * 20_000
    path = Path(settings.FILES_FOLDER, files.path_of(hashlib.sha256(content).hexdigest()))

    def full(self: ContentFile, *_: object) -> Iterator[bytes]:
        yield content[:1_000]
        raise OSError(errno.ENOSPC, "No space left on device")

    with monkeypatch.context() as disk:
        disk.setattr(ContentFile, "chunks", full)
        with pytest.raises(OSError, match="No space"):
            files.keep(content)
    assert not path.exists(), "a piece under its name would be taken for the file"
    assert not list(Path(settings.FILES_FOLDER, "parts").iterdir()), "nor does it take the room"
    assert files.fetch(files.keep(content)) == content
    assert {stat.S_IMODE(one.stat().st_mode) for one in path.parents[:2]} == {0o700}

    path.write_bytes(content[:1_000])  # as a server left it that was killed before files were written whole
    assert files.fetch(files.keep(content)) == content

    parts = Path(settings.FILES_FOLDER, "parts")
    old, new = parts / "old", parts / "new"
    for part in (old, new):
        part.write_bytes(b"half")
    strange = parts / "strange"
    strange.mkdir()
    for one in (old, strange):
        os.utime(one, (0, 0))
    call_command("keep_time", once=True)
    assert (old.exists(), new.exists()) == (False, True), "what is being written stays"
    new.unlink()
    strange.rmdir()


def test_taking_the_same_pack_in_twice_changes_nothing(world: World) -> None:
    before = Edition.objects.count()
    assert take_in(demo_pack()).pk == world.template.release_id
    assert Edition.objects.count() == before


def test_signing_in_and_out(world: World) -> None:
    client = Client()
    assert client.get("/api/session").status_code == 204
    wrong = client.post(
        "/api/session", {"email": "ines@office.example", "password": "no"}, content_type="application/json"
    )
    assert (wrong.status_code, wrong.json()["detail"]) == (401, "Wrong e-mail or password.")
    right = client.post(
        "/api/session",
        {"email": " INES@office.example", "password": PASSWORD},
        content_type="application/json",
    )
    assert right.json()["name"] == "Ines"
    assert client.get("/api/session").json()["brokerage"] == "Ours"
    assert client.delete("/api/session").status_code == 204
    assert client.get("/api/deals").status_code == 401


def test_guessing_passwords_is_stopped(world: World) -> None:
    client = Client()
    codes = [
        client.post(
            "/api/session",
            {"email": "tom@office.example", "password": f"{n}"},
            content_type="application/json",
        ).status_code
        for n in range(10)
    ]
    assert codes[0] == 401
    assert codes[-1] == 429
    assert (
        client.post(
            "/api/session",
            {"email": "tom@office.example", "password": PASSWORD},
            content_type="application/json",
        ).status_code
        == 429
    )


def test_the_page_carries_a_nonce_and_a_strict_policy(client: Client, settings: object) -> None:
    first, second = client.get("/"), client.get("/deals/x/write")
    policy = first["content-security-policy"]
    nonce = re.search(r"'nonce-([^']+)'", policy)
    assert nonce is not None
    assert nonce[1] in first.content.decode()
    assert nonce[1] not in second.content.decode()
    assert "unsafe-inline" not in policy
    assert "default-src 'none'" in policy
    assert "__NONCE__" not in first.content.decode()
    assert client.get("/api/nothing").json()["detail"] == "This address doesn't exist."


def test_errors_leave_as_problems(ines: Speaker) -> None:
    answer = ines.post(f"{ines.path}/changes", change="no uuid", edits=[])
    assert (answer.status_code, answer["content-type"]) == (400, "application/problem+json")
    assert "change" in answer.json()["errors"]
    assert ines.client.post(ines.path + "/changes", "{", content_type="application/json").status_code == 400


def test_the_committed_schema_is_current(tmp_path: Path, db: None) -> None:
    call_command("spectacular", file=str(tmp_path / "schema.yaml"), validate=True)
    assert (tmp_path / "schema.yaml").read_text() == (ROOT / "server" / "schema.yaml").read_text(), (
        "run `make schema` and commit the result"
    )


def test_the_webs_types_are_those_of_the_schema(tmp_path: Path) -> None:
    web = ROOT / "web"
    subprocess.run(
        ["npx", "openapi-typescript", "../server/schema.yaml", "-o", str(tmp_path / "schema.d.ts")],
        cwd=web,
        check=True,
        capture_output=True,
    )
    subprocess.run(
        ["npx", "prettier", "--write", "--config", ".prettierrc.json", str(tmp_path / "schema.d.ts")],
        cwd=web,
        check=True,
        capture_output=True,
    )
    assert (tmp_path / "schema.d.ts").read_text() == (web / "src" / "api" / "schema.d.ts").read_text(), (
        "run `make schema` and commit the result"
    )


def test_the_servers_types_are_those_of_the_schema() -> None:
    assert wire_types.TYPES.read_text() == wire_types.written(), "run `make schema` and commit the result"


UNTYPED = {
    "http/endpoints.py": "what was asked, as its shape says",
    "contacts/actions.py": "what is sent back to be saved",
    "deals/incoming/actions.py": "rows kept as JSON",
    "deals/payload.py": "the map as it is kept",
    "deals/markup/spots.py": "rows kept as JSON",
    "drafting/actions.py": "a template's content, kept as JSON",
    "packs/api.py": "what Django gives by key",
    "http/problems.py": "errors by field, as they come",
    "tasks/actions.py": "fields to be set",
    "offers/taking.py": "fields to be set",
    "http/schema.py": "the schema itself",
    "signing/rounds/by_pen.py": "rows kept as JSON",
    "signing/rounds/making.py": "a plan, kept as JSON",
    "signing/signer/shapes.py": "what was asked",
    "sources/actions.py": "what a service said",
    "sources/clients.py": "what a service said",
}
"""Rooms that hand on something that is no answer, and what."""


def test_what_rooms_answer_has_a_type() -> None:
    untyped = re.compile(r"\) -> [^\n]*dict\[str, Any\]")
    server = ROOT / "server" / "goodquill"
    found = {
        str(path.relative_to(server))
        for path in server.rglob("*.py")
        if untyped.search(path.read_text(encoding="utf-8"))
    }
    assert found == UNTYPED.keys()


def test_every_file_of_endpoints_is_held_apart_from_those_of_other_rooms() -> None:
    contract = (ROOT / "pyproject.toml").read_text().partition("No endpoints call another package")[2]
    for path in (ROOT / "server" / "goodquill").rglob("*_api.py"):
        assert f'"goodquill.{path.parent.name}.{path.stem}"' in contract


def test_migrations_are_complete(db: None) -> None:
    call_command("makemigrations", check=True, dry_run=True, verbosity=0)


def test_the_first_screen_needs_little_script_and_the_paper_comes_when_it_is_wanted() -> None:
    dist = ROOT / "web" / "dist"
    page = (dist / "app.html").read_text()
    first = [dist / path.lstrip("/") for path in re.findall(r'(?:src|href)="(/assets/[^"]+\.js)"', page)]
    assert first
    assert not [p for p in first if "write-screen" in p.name]
    assert sum(len(gzip.compress(p.read_bytes(), 9)) for p in first) <= 250_000


def test_lock_files_carry_no_address() -> None:
    lock = json.loads((ROOT / "web" / "package-lock.json").read_text())
    assert not [name for name, package in lock["packages"].items() if "resolved" in package]
    for part in ("run", "check"):
        pins = (ROOT / "requirements" / f"{part}.txt").read_text()
        assert "://" not in pins and pins.count("--hash=sha256:") > pins.count("==") > 10, (
            "pinned with hashes, and from nowhere named"
        )


FOR_ONE_JOB = {"weasyprint", "cv2", "numpy", "pyhanko", "cryptography"}
"""What seals, compares scans and sets reports: it takes longer to import than all the rest."""


def test_settings_for_production_are_clean_and_what_one_job_needs_is_not_imported_by_all() -> None:
    env = {"QUILL_SECRET_KEY": "k" * 60 + "aA1!bB2", "QUILL_HOSTS": "quill.example", "PATH": "/usr/bin:/bin"}
    code = (
        "import sys, django; django.setup(); from django.core.management import call_command;"
        " call_command('check', deploy=True, fail_level='WARNING'); print(*sys.modules)"
    )
    done = subprocess.run(
        [sys.executable, "-c", code],
        cwd=ROOT / "server",
        env=env | {"DJANGO_SETTINGS_MODULE": "goodquill.runtime.settings", "QUILL_BEHIND_PROXY": "1"},
        capture_output=True,
        text=True,
    )
    assert done.returncode == 0, done.stderr
    loaded = set(done.stdout.split())
    assert "goodquill.signing.rounds.api" in loaded and not loaded & FOR_ONE_JOB


TOO_MUCH = {"notes": "x" * 2_500}


@pytest.mark.parametrize(
    ("body", "said", "mend"),
    [
        (
            {"kind": "client", "fields_said": TOO_MUCH},
            "“Notes” is too long: at most 2,000 characters.",
            "Make it shorter.",
        ),
        ({"kind": "client"}, "“Fields said” is missing.", "Fill it in."),
        ({"kind": "client", "fields_said": None}, "“Fields said” is missing.", "Fill it in."),
        ({"kind": "ghost", "fields_said": TOO_MUCH}, "“Kind” doesn't fit. ", "Check it and try again."),
        ({}, "“Kind” is missing. The same applies to 1 more.", "Fill it in."),
    ],
)
def test_what_does_not_fit_is_named(ines: Speaker, body: dict[str, object], said: str, mend: str) -> None:
    answer = ines.post("/api/contacts", **body)
    told = answer.json()
    assert answer.status_code == 400
    assert told["detail"].startswith(said)
    assert told["mend"] == f"{mend} Nothing was changed, and what you typed is still here."
    assert told["errors"]
