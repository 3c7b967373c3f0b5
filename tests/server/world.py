"""A small world for server tests: two brokerages, a deal, and a way to speak to the API."""

from __future__ import annotations

import json
import uuid
from dataclasses import dataclass
from datetime import date, timedelta
from functools import cache
from typing import Any

from django.contrib.auth.hashers import make_password
from django.core.files.uploadedfile import SimpleUploadedFile
from django_tasks_db.models import DBTaskResult
from goodquill.clients.starting import start_deal
from goodquill.deals.models import Deal
from goodquill.forms.catalog import catalog_digest, catalog_sheet
from goodquill.offices.models import Brokerage, Membership, Office, User
from goodquill.packs.actions import take_in
from goodquill.templates.models import Template

from tests.core.small import demo_pack
from tests.server.answers import CheckedClient

PASSWORD = "only-for-tests"
FIFTEEN = (
    "301",
    "101",
    "110",
    "112",
    "310",
    "320",
    "322",
    "326",
    "401",
    "414",
    "405",
    "410",
    "412",
    "510",
    "512",
)
"""Forms of the demo pack for a package of fifteen."""


@cache
def hashed() -> str:
    """The password's hash, made once: making one is slow on purpose."""
    return make_password(PASSWORD)


@dataclass
class World:
    """``ines`` and ``bertil`` are agents in two offices of one brokerage, ``rosa`` its broker, ``tom``
    coordinates the first office; ``nadia`` is the broker of another brokerage.  ``deal`` is Inês's."""

    ines: User
    bertil: User
    rosa: User
    tom: User
    nadia: User
    deal: Deal
    template: Template


def make_world() -> World:
    pack = demo_pack()
    release = take_in(pack)
    DBTaskResult.objects.all().delete()  # its pages are drawn where a test looks at them
    ours, theirs = (Brokerage.objects.create(name=n, licence=f"CW-{n[0]}") for n in ("Ours", "Theirs"))
    first, second = (
        Office.objects.create(brokerage=ours, name=n, address="1 Eddy Lane", phone="(555) 555-0100")
        for n in ("First", "Second")
    )
    away = Office.objects.create(brokerage=theirs, name="Away")

    def person(name: str, role: str, office: Office) -> User:
        email = f"{name.lower()}@office.example"
        user = User.objects.create(
            email=email,
            password=hashed(),
            name=name,
            role=role,
            brokerage=office.brokerage,
            office=office,
            licence="CW-1",
            confirmed_name=name,
            confirmed_licence="CW-1",
        )
        Membership.objects.create(
            user=user,
            association=pack.sheet.association,
            number="CL-00001",
            licence="CW-1",
            active=True,
            expires=date.today() + timedelta(days=30),
        )
        return user

    ines, bertil = person("Ines", "agent", first), person("Bertil", "agent", second)
    rosa, tom, nadia = (
        person("Rosa", "broker", first),
        person("Tom", "coordinator", first),
        person("Nadia", "broker", away),
    )
    ours.broker = rosa
    ours.save()
    template = Template.objects.get(release=release, slug="buying-home")
    deal = new_deal(ines, template, "Amara", "Okafor")
    return World(ines, bertil, rosa, tom, nadia, deal, template)


def world_made() -> World | None:
    """The world as it was committed; None where there is none."""
    people = {u.name: u for u in User.objects.filter(email__endswith="@office.example")}
    if not people:
        return None
    deal, template = Deal.objects.get(owner=people["Ines"]), Template.objects.get(slug="buying-home")
    return World(*(people[name] for name in ("Ines", "Bertil", "Rosa", "Tom", "Nadia")), deal, template)


def new_deal(user: User, template: Template, given: str, family: str) -> Deal:
    return start_deal(
        user, {"side": "buying", "template": template.pk, "clients": [{"given": given, "family": family}]}
    )


STATES = {"o": "open", "f": "filled", "p": "optional", "i": "idle", "t": "theirs", "s": "sign"}
USUAL = {
    "text": "",
    "marked": False,
    "source": None,
    "only_here": False,
    "overflow": False,
    "version": 0,
    "set": [],
    "waits_for": [],
    "findings": [],
    "draft": None,
    "clashes": [],
    "explained": {},
}


@cache
def catalog_as_sent(digest: str) -> dict[str, Any]:
    """The catalog as screens keep it, by its digest."""
    assert digest == catalog_digest()
    return dict(json.loads(json.dumps(catalog_sheet())))


FACT = {
    "shown": "",
    "edit": "",
    "source": None,
    "version": 0,
    "places": 0,
    "missing": [],
    "differs": False,
    "locked": False,
    "left": False,
    "findings": [],
    "beside": [],
    "replaced": "",
    "draft": None,
    "clashes": [],
}


LAYOUTS: dict[str, list[dict[str, Any]]] = {}
"""What forms fix, by where it is asked for."""


class Speaker:
    """Speaks to the API as one user."""

    def __init__(self, user: User | None, deal: Deal | None = None) -> None:
        self.client = CheckedClient()
        self.deal = deal
        if user is not None:
            self.client.force_login(user, backend="goodquill.offices.signing_in.Members")

    def get(self, path: str, **query: Any) -> Any:
        return self.client.get(path, query)

    def post(self, path: str, **body: Any) -> Any:
        return self.client.post(path, body, content_type="application/json")

    @property
    def path(self) -> str:
        assert self.deal is not None
        return f"/api/deals/{self.deal.pk}"

    def take_in(self, content: bytes, name: str = "paper.pdf") -> dict[str, Any]:
        """A file that came, read and waiting to be put in its place."""
        file = SimpleUploadedFile(name, content, "application/octet-stream")
        answer = self.client.post(f"{self.path}/incoming", {"file": file})
        assert answer.status_code == 201, answer.content
        return dict(answer.json())

    def put_in_place(self, row: dict[str, Any], change: str = "", **said: Any) -> Any:
        """What came of putting the whole file, as one paper, where it was found to belong, or as ``said``."""
        found = row["found"][0]
        pages = [{"of": row["id"], "page": n} for n in range(1, len(row["pages"]) + 1)]
        paper = {"title": found["title"], "place": found["place"], "section": found["section"]}
        body = {"change": change or str(uuid.uuid4()), "papers": [{**paper, "pages": pages, **said}]}
        return self.post(f"{self.path}/incoming/place", **body)

    def received(self, content: bytes, title: str) -> str:
        """The document that a file became at the package's end."""
        row, before = self.take_in(content), {d["id"] for d in self.open()["documents"]}
        answer = self.put_in_place(row, title=title, place="")
        assert answer.status_code == 200, answer.content
        return next(str(d["id"]) for d in self.open()["documents"] if d["id"] not in before)

    def open(self) -> dict[str, Any]:
        answer = self.get(self.path)
        assert answer.status_code == 200, answer.content
        return self.expanded(answer)

    def expanded(self, answer: Any) -> dict[str, Any]:
        """An answer with whole blanks, as screens put them together: what forms fix, and what is said beside
        that."""
        data = dict(answer.json())
        rows = {(row["document"], row["place"]): row for row in data["blanks"]}
        every = data.get("whole", True)
        data["facts"] = [
            FACT | self.catalog(data, row["key"]) | {"edit": row.get("shown", "")} | row
            for row in data["facts"]
        ]
        data["blanks"] = []
        for d in data["documents"]:
            for place, fixed in enumerate(self.layout(d, data["head"]["side"]) if d["edition"] else []):
                row = rows.get((d["id"], place))
                if row is None and not every:
                    continue
                own_key = d["prefix"] + fixed["own"]
                keys = {"document": d["id"], "key": fixed["fact"] or own_key, "own_key": own_key}
                row = row or {"state": STATES[d["states"][place]]}
                options = list(row["explained"]) if "explained" in row else fixed["options"]
                data["blanks"].append(USUAL | fixed | keys | row | {"options": options})
        return data

    def catalog(self, data: dict[str, Any], key: str) -> dict[str, Any]:
        """What the catalog says of a fact, a party's by position among them."""
        sheet = catalog_as_sent(data["head"]["catalog"])
        found = next((f for f in sheet["facts"] if f["key"] == key), None)
        if found is not None:
            return dict(found)
        group, position, field = key.split(".")
        one = next(g["one"] for g in sheet["party_groups"] if g["group"] == group)
        spec = next(f for f in sheet["party_fields"] if f["field"] == field)
        return {**spec, "label": f"{one} {position} {spec['label']}", "group": group, "help": ""}

    def layout(self, document: dict[str, Any], side: str) -> list[dict[str, Any]]:
        """What the form fixes, asked for once, as screens do: its digests tell it from any other."""
        path = f"/api/layouts/{document['edition']}/{document['mapping']}/{side.replace(' ', '-')}"
        if path not in LAYOUTS:
            answer = self.get(path)
            assert answer.status_code == 200, answer.content
            LAYOUTS[path] = list(answer.json())
        return LAYOUTS[path]

    def fact(self, key: str) -> dict[str, Any]:
        return next(f for f in self.open()["facts"] if f["key"] == key)

    def edit(self, *edits: dict[str, Any], change: uuid.UUID | None = None) -> Any:
        return self.post(f"{self.path}/changes", change=str(change or uuid.uuid4()), edits=list(edits))

    def type(self, key: str, text: str, based_on: int | None = None) -> dict[str, Any]:
        answer = self.edit({"op": "type", "key": key, "text": text, "based_on": based_on})
        assert answer.status_code == 200, answer.content
        return self.expanded(answer)

    def undo(self, target: str) -> dict[str, Any]:
        answer = self.post(f"{self.path}/undo", change=str(uuid.uuid4()), target=target)
        assert answer.status_code == 200, answer.content
        return self.expanded(answer)
