"""``make bench-server``: what requests cost, as ratios in one run, against an empty request by somebody
signed in.

In one process, over a private database: a fact saved, a deal of 101 pages opened, with a short and a long
history, the list and finding among 500 and among 50,000 deals, a poll with nothing new, a template applied,
papers sent to be signed, and a download against the same package made in process. Each pair is measured turn
by turn, so that a machine
that pauses slows both; medians are printed.
"""

from __future__ import annotations

import gzip
import os
import sys
import uuid
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from typing import Any

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "tests.settings")
sys.path[:0] = ["server"]

import django

django.setup()

from django.conf import settings
from django.core.cache import cache
from django.test import Client
from django.test.utils import setup_databases, setup_test_environment, teardown_databases
from goodquill.changelog.models import Change, FactEntry, Kind, Record
from goodquill.deals.models import Deal, DealWord, Offer
from goodquill.deals.opening import open_deal
from goodquill.deals.payload import whole
from goodquill.offices.models import User
from goodquill.runtime.ready import make_ready
from goodquill.templates.models import Template
from quillcore.assembly import assemble
from quillcore.assembly.coverage import count_coverage
from quillcore.values import KINDS

from bench.paired_timing import turns as measured
from ops.processes import make_seal, start_database
from tests.server import world as made_world
from tests.server.world import FIFTEEN, Speaker, World, make_world, new_deal
from tests.settings import FOLDER

# Tests hold every answer against the schema, which takes longer than making it.
made_world.CheckedClient = Client  # type: ignore[misc]
ROUNDS = int(os.environ.get("ROUNDS", 15))
FEW, MANY = 500, 50_000
LONG = 5_000


def typed(speaker: Speaker, key: str, text: str) -> None:
    """Send one edit."""
    assert speaker.edit({"op": "type", "key": key, "text": text}).status_code == 200


def turns(*actions: Callable[[], object], rounds: int = ROUNDS) -> list[float]:
    """Return median seconds of each action, with nothing kept from the round before."""
    return measured(*actions, rounds=rounds, between=cache.clear)


def fill(speaker: Speaker) -> None:
    """Answer every fact and blank of the deal that the agent may answer and that has no answer."""
    opened = speaker.open()
    texts = {
        "money": "412,500",
        "percent": "20",
        "integer": "30",
        "year": "1962",
        "number": "3",
        "date": "6/15/2027",
        "time": "5pm",
    }
    texts |= {"phone": "5555550123", "email": "a@post.example", "yes_no": "yes", "area": "2150"}
    edits, seen = [], set()
    for blank in opened["blanks"]:
        if blank["state"] != "open" or blank["key"] in seen or not blank["editable"]:
            continue
        seen.add(blank["key"])
        text = blank["options"][0] if blank["options"] else texts.get(blank["kind"], "As agreed between them")
        edits.append({"op": "type", "key": blank["key"], "text": text})
    for n in range(0, len(edits), 150):
        speaker.edit(*edits[n : n + 150])


def large_deal(world: World, user: User) -> Speaker:
    """Return a deal whose package has 101 pages, filled."""
    speaker = Speaker(user, new_deal(user, world.template, "Amara", "Okafor"))
    pages = sum(d["pages"] for d in speaker.open()["documents"])
    while pages < 101:
        answer = speaker.post(
            f"{speaker.path}/package",
            change=str(uuid.uuid4()),
            op="add",
            number="301" if pages < 93 else "101",
        )
        assert answer.status_code == 200, answer.content
        pages = sum(d["pages"] for d in answer.json()["documents"])
    speaker.edit(
        *({"op": "party_add", "key": group, "party": uuid.uuid4().hex[:8]} for group in ("sellers",))
    )
    fill(speaker)
    return speaker


def lengthen(deal: Deal, lines: int) -> None:
    """Give a deal a long history: the same fact typed again and again."""
    record, now = deal.record, FactEntry.objects.get(record=deal.pk, key="terms.purchase_price", newest=True)
    changes = [
        Change(record=record, seq=record.seq + n, by=deal.owner, kind=Kind.EDIT, said="Purchase price")
        for n in range(1, lines + 1)
    ]
    Change.objects.bulk_create(changes, batch_size=1_000)
    kept = KINDS["money"].keep
    rows = [
        FactEntry(
            record=record,
            scope=now.scope,
            key=now.key,
            slot=now.slot,
            source=now.source,
            act="state",
            change=change,
            newest=n == lines,
            value=kept(KINDS["money"].restore("400000.00") + n),
        )
        for n, change in enumerate(changes, 1)
    ]
    FactEntry.objects.filter(pk=now.pk).update(newest=False)
    FactEntry.objects.bulk_create(rows, batch_size=1_000)
    Record.objects.filter(pk=record.pk).update(seq=record.seq + lines)


def multiply(like: Deal, count: int) -> None:
    """Add deals to the brokerage, among which one of them is searched: each with an address and names of its
    own, one in a hundred the agent's."""
    others = list(User.objects.filter(brokerage=like.brokerage).exclude(pk=like.owner_id))
    for begin in range(0, count, 2_000):
        records = [Record() for _ in range(min(2_000, count - begin))]
        Record.objects.bulk_create(records)
        deals, words = [], []
        for n, record in enumerate(records, begin):
            owner = like.owner if n % 100 == 0 else others[n % len(others)]
            said = f"{n} north alder street millbrook family{n % 10:03d} cw-{n:05d}"
            deals.append(
                Deal(
                    record=record,
                    brokerage=like.brokerage,
                    office=owner.office,
                    owner=owner,
                    release=like.release,
                    side=like.side,
                    name=f"{n} N Alder Street",
                    words=said,
                    summary=like.summary,
                )
            )
            words += [
                DealWord(deal_id=record.pk, brokerage=like.brokerage, word=word) for word in said.split()
            ]
        Deal.objects.bulk_create(deals)
        DealWord.objects.bulk_create(words, batch_size=5_000)
        Offer.objects.bulk_create([Offer(deal=deal) for deal in deals])


def applied(world: World, empty: Callable[[], object]) -> float:
    """Return a template of 15 forms applied to new deals, as a ratio to an empty request."""
    documents = [{"section": "All", "form": number} for number in FIFTEEN]
    data = {**world.template.data, "name": "Fifteen", "documents": documents}
    fifteen = Template.objects.create(
        release=world.template.release, slug="fifteen", name="Fifteen", side="buying", data=data
    )
    bare = Speaker(world.ines)
    made = [bare.post("/api/deals", side="buying", clients=[]).json()["id"] for _ in range(ROUNDS + 1)]
    waiting = iter(made)

    def apply() -> object:
        body = {"change": str(uuid.uuid4()), "template": str(fifteen.pk)}
        answer = bare.post(f"/api/deals/{next(waiting)}/templates", **body)
        assert answer.status_code == 200, answer.content
        return answer

    nothing, all_of_it = turns(empty, apply)
    return all_of_it / nothing


def sent_to_four(large: Speaker, empty: Callable[[], object]) -> tuple[float, int]:
    """Return papers of 60 pages sent to four signers, as a ratio to an empty request; and how many pages
    they have. Looking at them before, which makes them, is another request."""
    make_seal(settings.SEAL_FOLDER)
    for party in ("bbbb2222", "cccc3333", "dddd4444"):
        large.edit({"op": "party_add", "key": "buyers", "party": party})
    for n in range(1, 5):
        for field, text in (("given", "A"), ("family", f"Name{n}"), ("email", f"a{n}@post.example")):
            large.type(f"buyers.{n}.{field}", text)
    turns_of = {f"buyers.{n}": 1 for n in range(1, 5)}
    pages = {d["id"]: d["pages"] for d in large.open()["documents"]}
    looked = []
    for _ in range(ROUNDS + 1):
        made = large.post(f"{large.path}/rounds").json()
        chosen: list[str] = []
        for paper in made["choice"]["papers"]:
            if paper["signatures"] and sum(pages[d] for d in chosen) + pages[paper["document"]] <= 60:
                chosen.append(paper["document"])
        large.post(f"/api/rounds/{made['id']}", papers=chosen, turns=turns_of)
        assert large.post(f"/api/rounds/{made['id']}/look").status_code == 200
        looked.append(made["id"])
        cache.clear()
    waiting = iter(looked)

    def send() -> object:
        answer = large.post(f"/api/rounds/{next(waiting)}/send", reason="Tried")
        assert answer.status_code == 200, answer.content
        return answer

    nothing, all_of_it = turns(empty, send)
    return all_of_it / nothing, sum(pages[d] for d in chosen)


def covered(large: Speaker) -> float:
    """Return opening a package and counting who answers its questions, as a ratio to opening it as a deal."""
    assert large.deal is not None
    user, deal = large.deal.owner, large.deal.pk

    def count() -> object:
        return count_coverage(open_deal(user, deal).package)

    opened, counted = turns(lambda: whole(open_deal(user, deal)), count)
    return counted / opened


def downloaded(world: World, empty: Callable[[], object]) -> tuple[float, str, str]:
    """Return a package of an agreement and what goes with it downloaded, as a ratio to what it can't be
    without: an empty request, and the same in process (the deal opened and its package made).  What the
    server adds is its places for long requests, and writing down who took what.  Against the latter alone
    the figure would say how long the package takes: it takes little more than two empty requests."""
    speaker = Speaker(world.ines, new_deal(world.ines, world.template, "Bo", "Paper"))
    speaker.post(f"{speaker.path}/package", change=str(uuid.uuid4()), op="add", number="301")
    fill(speaker)
    assert speaker.deal is not None
    deal = speaker.deal.pk

    def made() -> int:
        return assemble(open_deal(world.ines, deal).package, "x").pages

    def download() -> None:
        assert speaker.get(f"{speaker.path}/package.pdf").status_code == 200

    nothing, in_process, sent = turns(empty, made, download)
    alone = f"({made()} pages; {sent / in_process:.2f} times the latter alone)"
    return sent / (nothing + in_process), "at most 1.3", alone


@contextmanager
def database() -> Iterator[None]:
    """Return a private database with the schema in it."""
    with start_database(FOLDER / "db", int(settings.DATABASES["default"]["PORT"])):
        setup_test_environment()
        # One session asks for all of it here.
        settings.MIDDLEWARE.remove("goodquill.http.middleware.FairShareMiddleware")
        made = setup_databases(verbosity=0, interactive=False, keepdb=True)
        try:
            yield
        finally:
            teardown_databases(made, verbosity=0)


def row(what: str, ratio: float, figure: str, note: str = "") -> None:
    """Print one line of the table."""
    print(f"{what:58}{ratio:8.2f}   {figure:12}{note}", flush=True)


def main() -> None:
    """Measure and print."""
    with database():
        world = make_world()
        make_ready()  # as those who serve are
        ines, rosa = Speaker(world.ines), Speaker(world.rosa)
        large = large_deal(world, world.ines)
        blanks = sum(d["blanks"] for d in large.open()["documents"])

        def empty() -> object:
            return ines.get("/api/session")

        def save(speaker: Speaker, key: str = "title.officer") -> Callable[[], Any]:
            return lambda: typed(speaker, key, uuid.uuid4().hex[:8])

        def poll() -> Any:
            return large.get(f"{large.path}/changes", since=large_seq)

        large_seq = large.open()["head"]["seq"]
        nothing, polled, opened = turns(empty, poll, lambda: large.get(large.path))
        print(f"\n{'':58}{'ratio':>8}   figure")
        row("a poll with nothing new, empty requests", polled / nothing, "at most 1.2")
        content = large.get(large.path).content
        row(f"opening 101 pages, {blanks} blanks, empty requests", opened / nothing, "at most 25")
        row(
            "the same on the wire, kB",
            len(gzip.compress(content, 5)) / 1000,
            "at most 60",
            f"({len(content) / 1000:.0f} unpacked)",
        )
        nothing, saved, priced = turns(
            empty,
            save(large),
            lambda: typed(large, "terms.purchase_price", str(400_000 + uuid.uuid4().int % 99_999)),
        )
        row("one lone fact saved, empty requests", saved / nothing, "at most 5")
        row("the price saved, empty requests", priced / nothing, "")

        row("a template of 15 forms applied, empty requests", applied(world, empty), "at most 10")

        ratio, pages = sent_to_four(large, empty)
        row(f"{pages} pages sent to four signers, empty requests", ratio, "at most 20")

        row("counting who answers, against opening", covered(large), "at most 1.5")

        short, long = (
            Speaker(world.ines, new_deal(world.ines, world.template, "Bo", name))
            for name in ("Short", "Long")
        )
        for speaker in (short, long):
            speaker.type("terms.purchase_price", "400,000")
            fill(speaker)
        assert long.deal is not None
        lengthen(Deal.objects.get(pk=long.deal.pk), LONG)
        a, b, c, d = turns(
            lambda: short.get(short.path), lambda: long.get(long.path), save(short), save(long)
        )
        row(f"opening with {LONG} lines of history, against few", b / a, "at most 1.1")
        row("saving likewise", d / c, "at most 1.1")

        row("a package downloaded, against a request and in process", *downloaded(world, empty))

        lists = {"the agent's list": (ines, ""), "the broker's list": (rosa, "")}
        lists |= {"finding a name, agent": (ines, "family007"), "finding a name, broker": (rosa, "family007")}
        lists |= {
            "finding a street, broker": (rosa, "north alder"),
            "finding a number, broker": (rosa, "cw-00400"),
            "finding nothing": (rosa, "zzz"),
        }
        asked = [lambda s=s, find=find: s.get("/api/deals", find=find) for s, find in lists.values()]
        multiply(world.deal, FEW)
        beside, *before = turns(empty, *asked)
        multiply(world.deal, MANY - FEW)
        still, *after = turns(empty, *asked)  # a machine that became slower meanwhile is so for both
        for (what, _), few, many in zip(lists.items(), before, after, strict=True):
            row(f"{what}, {MANY} deals against {FEW}", (many / still) / (few / beside), "at most 1.3")


if __name__ == "__main__":
    Client()
    main()
