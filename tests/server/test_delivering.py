"""Papers delivered: what may leave, by mail or by a link that ends, on record, and sent again as it was."""

from __future__ import annotations

import hashlib
import re
import uuid
from datetime import timedelta
from typing import Any

import pytest
from django.core import mail
from django.utils import timezone
from goodquill.deals.models import Looked
from goodquill.delivering.links import address_of
from goodquill.delivering.models import DeliveredFile, Delivery, Recipient
from goodquill.mail.models import Letter
from goodquill.mail.sending import deliver_due
from goodquill.storage import files
from quillcore.pdf.renderer import plain_text

from tests.server.answers import CheckedClient
from tests.server.world import Speaker, World

LINK = re.compile(r"/papers#([0-9a-f-]{36})\.([0-9a-f]{64})")
LENDER = {"name": "Lena Lender", "email": "lena@bank.example"}


class Deliverer(Speaker):
    """An agent who hands papers on."""

    def proposal(self) -> dict[str, Any]:
        answer = self.get(f"{self.path}/deliveries")
        assert answer.status_code == 200, answer.content
        return dict(answer.json())

    def deliver(self, **said: Any) -> Any:
        papers = [p["document"] for p in self.proposal()["papers"]]
        body = {"papers": papers[:2], "to": [LENDER], "subject": "The agreement", "how": "link"} | said
        return self.post(f"{self.path}/deliveries", **body)


@pytest.fixture
def agent(world: World) -> Deliverer:
    return Deliverer(world.ines, world.deal)


def reader_of(text: str) -> tuple[CheckedClient, str, str]:
    found = LINK.search(text)
    assert found is not None
    return CheckedClient(), f"/api/papers-for/{found.group(1)}", found.group(2)


def opened(client: CheckedClient, path: str, secret: str) -> Any:
    return client.post(f"{path}/open", {"secret": secret}, content_type="application/json")


def test_what_may_leave_is_proposed_by_whom_it_concerns(agent: Deliverer) -> None:
    agent.type("buyers.1.email", "amara@post.example")
    told = agent.proposal()
    titles = {p["title"][:3]: p["audience"] for p in told["papers"]}
    assert titles["301"] == ["client", "other side"]
    assert [p["email"] for p in told["people"] if p["concerns"] == "client"] == ["amara@post.example"]
    assert all(p["audience"] for p in told["papers"]), "the broker's own file is none of them"
    for_others = {p["title"][:3] for p in told["papers"] if "others" in p["usually_for"]}
    assert "301" in for_others
    assert for_others == {number for number, whom in titles.items() if len(whom) == 2}, "what both sides have"


def test_papers_go_by_a_link_and_are_read_without_an_account(agent: Deliverer) -> None:
    agent.type("terms.purchase_price", "411,000")
    assert agent.deliver().status_code == 201
    [letter] = Letter.objects.filter(about="delivery")
    client, path, secret = reader_of(letter.text)
    assert client.get(path).status_code == 404, "an address alone opens nothing"
    seen = opened(client, path, secret).json()
    assert seen["subject"] == "The agreement" and len(seen["files"]) == 2
    agent.type("terms.purchase_price", "455,000")
    said = "".join(plain_text(client.get(f"{path}/{f['id']}").content) for f in seen["files"])
    assert "455,000" not in said, "what was delivered stays as it was"
    [told] = agent.proposal()["sent"]
    assert told["to"][0]["opened"] and told["ends"]
    for file in told["files"]:
        assert hashlib.sha256(files.fetch(file["hash"])).hexdigest() == file["hash"]
    assert Looked.objects.filter(what="delivered").count() == 2


def test_a_link_ends_and_says_so(agent: Deliverer) -> None:
    agent.deliver()
    person = Recipient.objects.get()
    client, path, secret = reader_of(address_of(person))
    file = DeliveredFile.objects.all()[0].pk
    assert opened(client, path, secret).status_code == 200
    Delivery.objects.update(ends=timezone.now() - timedelta(minutes=1))
    over = client.get(path)
    assert over.status_code == 410 and "expired" in over.json()["detail"]
    assert client.get(f"{path}/{file}").status_code == 410
    for wrong in ("0" * 64, "x", ""):
        assert opened(client, path, wrong).status_code in (400, 404)


def test_a_link_opens_its_own_delivery_alone(agent: Deliverer) -> None:
    agent.deliver(subject="One")
    agent.deliver(subject="Two", to=[{"name": "B", "email": "b@post.example"}])
    one, two = Delivery.objects.get(subject="One"), Delivery.objects.get(subject="Two")
    client, path, secret = reader_of(address_of(one.recipients.get()))
    opened(client, path, secret)
    assert client.get(f"{path}/{two.files.all()[0].pk}").status_code == 404
    assert client.get(f"/api/papers-for/{two.recipients.get().pk}").status_code == 404
    assert client.get("/api/deals").status_code in (401, 403)


def test_papers_go_as_attachments_in_one_pdf(agent: Deliverer, settings: Any) -> None:
    settings.EMAIL_BACKEND = "django.core.mail.backends.locmem.EmailBackend"
    assert agent.deliver(how="mail", whole=True).status_code == 201
    deliver_due.call()
    [sent] = [m for m in mail.outbox if m.to == [LENDER["email"]]]
    [(name, content, kind)] = sent.attachments
    assert name.endswith(".pdf") and kind == "application/pdf"
    assert hashlib.sha256(content).hexdigest() == DeliveredFile.objects.get().content
    assert "/papers#" not in sent.body
    person = Recipient.objects.get()
    client, path, secret = reader_of(address_of(person))
    assert opened(client, path, secret).status_code == 404, "there is no link to what went by mail"


def test_the_same_papers_are_sent_again_as_they_were(agent: Deliverer) -> None:
    agent.deliver()
    before = list(DeliveredFile.objects.values_list("content", flat=True))
    row = Delivery.objects.get()
    agent.type("terms.purchase_price", "455,000")
    assert agent.post(f"/api/deliveries/{row.pk}/again").status_code == 200
    assert list(DeliveredFile.objects.values_list("content", flat=True)) == before
    letters = Letter.objects.filter(about="delivery", to=LENDER["email"])
    assert letters.count() == 2
    assert len({LINK.search(letter.text).group(2) for letter in letters}) == 1  # type: ignore[union-attr]


@pytest.mark.parametrize(
    "said",
    [
        {"to": []},
        {"to": [{"name": "x", "email": "nowhere"}]},
        {"to": [{"name": "x", "email": "a@b.example"}] * 30},
        {"papers": []},
        {"papers": ["nothing"]},
        {"subject": " "},
        {"how": "pigeon"},
        {"days": 0},
    ],
)
def test_what_can_not_be_delivered_is_refused_in_words(agent: Deliverer, said: dict[str, Any]) -> None:
    answer = agent.deliver(**said)
    assert answer.status_code == 400 and answer.json()["detail"]
    assert not Delivery.objects.exists() and not Letter.objects.filter(about="delivery").exists()


def test_the_brokers_own_file_never_leaves(agent: Deliverer) -> None:
    added = agent.post(f"{agent.path}/package", change=str(uuid.uuid4()), op="add", numbers=["710"])
    assert added.status_code == 200
    [code] = [d["id"] for d in agent.open()["documents"] if d["number"] == "710"]
    assert code not in {p["document"] for p in agent.proposal()["papers"]}
    refused = agent.deliver(papers=[code])
    assert refused.status_code == 400 and "is internal to the brokerage" in refused.json()["detail"]
    assert not Delivery.objects.exists()


def test_deliveries_are_the_deals_own(agent: Deliverer, world: World) -> None:
    agent.deliver()
    row = Delivery.objects.get()
    for other in (world.nadia, world.bertil):
        stranger = Speaker(other)
        assert stranger.get(f"{agent.path}/deliveries").status_code == 404
        assert stranger.post(f"/api/deliveries/{row.pk}/again").status_code == 404
    assert Letter.objects.filter(about="delivery").count() == 1
