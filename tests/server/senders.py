"""Who sends papers to be signed in tests, and who signs them."""

from __future__ import annotations

import re
from typing import Any

from goodquill.mail.models import Letter

from tests.server.answers import CheckedClient
from tests.server.world import Speaker

LINK = re.compile(r"/sign#([0-9a-f-]{36})\.([0-9a-f]{64})")


class Sender(Speaker):
    """An agent who sends papers to be signed."""

    def ready(self) -> None:
        """A second buyer, and everybody's e-mail."""
        self.edit({"op": "party_add", "key": "buyers", "party": "abcd1234"})
        for key, text in (
            ("buyers.1.email", "amara@post.example"),
            ("buyers.2.given", "Ben"),
            ("buyers.2.family", "Okafor"),
            ("buyers.2.email", "ben@post.example"),
        ):
            self.type(key, text)

    def begun(self) -> dict[str, Any]:
        """A new round, without the codes that are usual."""
        answer = self.post(f"{self.path}/rounds")
        assert answer.status_code == 201, answer.content
        return self.changed(dict(answer.json()), code=False)

    def changed(self, row: dict[str, Any], **said: Any) -> dict[str, Any]:
        answer = self.post(f"/api/rounds/{row['id']}", **said)
        assert answer.status_code == 200, answer.content
        return dict(answer.json())

    def looked(self, row: dict[str, Any]) -> dict[str, Any]:
        answer = self.post(f"/api/rounds/{row['id']}/look")
        assert answer.status_code == 200, answer.content
        return dict(answer.json())

    def of(self, row: dict[str, Any]) -> dict[str, Any]:
        return dict(self.get(f"/api/rounds/{row['id']}").json())

    def only_the_offer(self) -> dict[str, Any]:
        """A round of the purchase agreement alone, to both buyers one after the other, without codes."""
        row = self.begun()
        offer = next(p["document"] for p in row["choice"]["papers"] if p["number"] == "301")
        turns = {"buyers.1": 1, "buyers.2": 2}
        return self.changed(row, papers=[offer], turns=turns, subject="Your offer", message="As we spoke.")

    def sent(self) -> dict[str, Any]:
        row = self.looked(self.only_the_offer())
        answer = self.post(f"/api/rounds/{row['id']}/send", reason="Agreed on the phone")
        assert answer.status_code == 200, answer.content
        return dict(answer.json())


class Reader:
    """Somebody with a link out of a letter."""

    def __init__(self, email: str) -> None:
        letters = Letter.objects.filter(to=email, text__contains="/sign#").order_by("made", "pk")
        links = [LINK.search(letter.text) for letter in letters]
        found = [link for link in links if link is not None][-1]
        self.signer, self.secret = found.group(1), found.group(2)
        self.client = CheckedClient()

    @property
    def path(self) -> str:
        return f"/api/sign/{self.signer}"

    def post(self, what: str, **body: Any) -> Any:
        return self.client.post(f"{self.path}/{what}", body, content_type="application/json")

    def opened(self) -> dict[str, Any]:
        answer = self.post("open", secret=self.secret)
        assert answer.status_code == 200, answer.content
        return dict(answer.json())

    def see(self) -> dict[str, Any]:
        return dict(self.client.get(self.path).json())

    def own_places(self) -> list[str]:
        seen = self.see()
        places = [place for paper in seen["papers"] for place in paper["places"]]
        return [place["id"] for place in places if place["sign"] != "date"]

    def sign_all(self) -> Any:
        name = self.opened()["name"]
        for answer in (
            self.post("agree"),
            self.post("mark", sign="signature", mark={"name": name, "face": "flowing"}),
            self.post("mark", sign="initials", mark={"strokes": [[[0, 0], [40, 30], [80, 5], [60, 60]]]}),
            self.post("put", places=self.own_places()),
        ):
            assert answer.status_code == 200, answer.content
        return self.post("finish")
