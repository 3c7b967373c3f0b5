"""Papers that come several at a time: told apart, arranged, put in their places, their answers taken over."""

from __future__ import annotations

import io
import uuid
from typing import Any

import pytest
from django.core.files.uploadedfile import SimpleUploadedFile
from goodquill.deals.models import Incoming
from PIL import Image, ImageDraw
from quillcore.assembly import assemble
from quillcore.pdf.renderer import plain_text

from tests.core.foreign import lined_form
from tests.core.small import OFFER, every_form, package
from tests.server.world import Speaker, World


def filled(*numbers: str) -> bytes:
    """Forms of the association, filled in by somebody."""
    forms = every_form()
    return assemble(package(*(forms[n] for n in numbers), said=OFFER), "x").pdf


def photo() -> bytes:
    """A sheet on a dark table, askew."""
    picture = Image.new("L", (1200, 1500), 60)
    draw = ImageDraw.Draw(picture)
    draw.polygon([(220, 160), (1020, 220), (1080, 1320), (120, 1260)], fill=235)
    draw.line([(320, 420), (900, 460)], fill=20, width=6)
    out = io.BytesIO()
    picture.save(out, "JPEG")
    return out.getvalue()


def send(by: Speaker, content: bytes, name: str = "paper.pdf") -> Any:
    file = SimpleUploadedFile(name, content, "application/octet-stream")
    return by.client.post(f"{by.path}/incoming", {"file": file})


def place(by: Speaker, *papers: dict[str, Any], change: str = "") -> Any:
    return by.post(f"{by.path}/incoming/place", change=change or str(uuid.uuid4()), papers=list(papers))


def whole(row: dict[str, Any], n: int = 0, **more: Any) -> dict[str, Any]:
    """A paper as it was found."""
    found = row["found"][n]
    pages = [{"of": row["id"], "page": p} for p in range(found["first"], found["last"] + 1)]
    return {
        "title": found["title"],
        "place": found["place"],
        "section": found["section"],
        "pages": pages,
        **more,
    }


def documents(by: Speaker) -> list[dict[str, Any]]:
    return list(by.open()["documents"])


def test_known_forms_are_told_apart_in_one_file_with_what_is_filled_in_and_open(ines: Speaker) -> None:
    row = ines.take_in(filled("503", "301"))
    lead, offer = row["found"]
    assert (lead["number"], lead["first"], lead["last"]) == ("503", 1, 2)
    assert (offer["number"], offer["first"], offer["last"]) == ("301", 3, 10)
    answers = {a["label"]: a for a in offer["answers"]}
    assert answers["Purchase price"]["text"] == "412,500.00" and answers["Purchase price"]["may"]
    assert not answers["Purchase price"]["same"]
    assert answers["Loan"]["text"] == "conventional", "a marked box"
    assert "Deed" not in answers, "an empty one"
    assert "Closing by" in offer["open"] and "Purchase price" not in offer["open"]
    assert lead["open"] and lead["title"] == "Lead-Based Paint Disclosure"


def test_put_in_place_their_copy_replaces_our_blank_one_and_answers_are_taken_over(ines: Speaker) -> None:
    ines.post(f"{ines.path}/package", change=str(uuid.uuid4()), op="add", numbers=["503"])
    ours = next(d for d in documents(ines) if d["number"] == "503")
    row = ines.take_in(filled("503", "301"))
    lead = whole(row, 0)
    assert lead["place"] == ours["id"]
    answer = place(ines, lead, whole(row, 1, place="", take=["terms.purchase_price", "terms.loan_type"]))
    assert answer.status_code == 200, answer.content
    there = documents(ines)
    assert next(d for d in there if d["id"] == ours["id"])["set_aside"]
    assert {"503 Lead-Based Paint Disclosure", "301 Residential Purchase Agreement"} <= {
        d["title"] for d in there
    }
    assert ines.fact("terms.purchase_price")["shown"] == "$412,500.00"
    assert ines.get(f"{ines.path}/incoming").json() == []
    again = {a["label"]: a for a in ines.take_in(filled("301"))["found"][0]["answers"]}
    assert again["Purchase price"]["same"] and again["Purchase price"]["ours"] == "$412,500.00"
    ines.client.delete(f"{ines.path}/incoming/{ines.get(f'{ines.path}/incoming').json()[0]['id']}")
    remarks = [r for r in ines.get(f"{ines.path}/proof").json()["remarks"] if r["rule"] == "came open"]
    assert len(remarks) == 2 and all("came with" in r["message"] for r in remarks)
    # Taken back, the file waits again and the package is as it was.
    ines.undo(answer.json()["change"])
    assert len(ines.get(f"{ines.path}/incoming").json()) == 1
    assert not next(d for d in documents(ines) if d["id"] == ours["id"])["set_aside"]
    assert ines.fact("terms.purchase_price")["shown"] != "$412,500.00"


def test_names_that_come_from_the_parties_are_shown_and_never_taken_over(ines: Speaker) -> None:
    row = ines.take_in(filled("301"))
    named = [a for a in row["found"][0]["answers"] if a["key"].startswith("buyers.")]
    assert named and not any(a["may"] for a in named)
    before = ines.fact("buyers.1.given")["shown"]
    assert place(ines, whole(row, place="", take=[a["key"] for a in named])).status_code == 200
    assert ines.fact("buyers.1.given")["shown"] == before


def test_who_may_see_a_paper_is_proposed_by_its_form_and_kept_as_chosen(ines: Speaker) -> None:
    row = ines.take_in(filled("503", "201"))
    assert [f["audience"] for f in row["found"]] == [["client", "other side"], ["client"]]
    place(ines, whole(row, 0, place="", title="Ours", audience=["client"]))
    assert next(d for d in documents(ines) if d["title"] == "503 Ours")["audience"] == ["client"]
    for nonsense in ([], ["everybody"]):
        assert place(ines, whole(row, 1, audience=nonsense)).status_code == 400


def test_pages_are_turned_taken_out_put_in_order_and_joined(ines: Speaker) -> None:
    first = ines.take_in(lined_form([("First page", "a")]), "one.pdf")
    second = ines.take_in(lined_form([("Second page", "b")]), "two.pdf")
    pages = [
        {"of": second["id"], "page": 1, "turn": 90},
        {"of": first["id"], "page": 1},
    ]
    answer = place(ines, {"title": "Both", "section": "Received", "pages": pages})
    assert answer.status_code == 200, answer.content
    made = next(d for d in documents(ines) if d["title"] == "Both")
    assert made["pages"] == 2 and made["section"] == "Received"
    assert made["sizes"] == [[792.0, 612.0], [612.0, 792.0]]
    text = plain_text(ines.get(f"{ines.path}/documents/{made['id']}.pdf").content)
    assert text.index("Second page") < text.index("First page")


def test_a_photograph_becomes_a_straight_page_and_a_scan_is_told(ines: Speaker) -> None:
    row = ines.take_in(photo(), "IMG_2041.jpg")
    [page] = row["pages"]
    assert page["scan"] and (page["width"], page["height"]) == (612.0, 792.0)
    assert row["found"][0]["title"] == "IMG 2041" and row["found"][0]["number"] == ""
    picture = ines.get(f"{ines.path}/incoming/{row['id']}/pages/1/48.png")
    with Image.open(io.BytesIO(picture.content)) as drawn:
        corners = [drawn.convert("L").getpixel((x, y)) for x in (20, 380) for y in (20, 500)]
    assert all(shade > 200 for shade in corners), "the table is cut away"
    assert place(ines, whole(row)).status_code == 200


@pytest.mark.parametrize(
    ("content", "name"),
    [(b"nothing", "x.pdf"), (b"\xff\xd8\xff nothing", "x.jpg"), (b"%PDF-1.7 nothing", "x.pdf"), (b"", "x")],
)
def test_what_is_no_paper_is_refused_with_a_sentence_and_not_kept(
    ines: Speaker, content: bytes, name: str
) -> None:
    refused = send(ines, content, name)
    assert refused.status_code == 400 and refused.json()["detail"]
    assert not Incoming.objects.exists()


def test_pages_that_are_not_there_and_places_that_are_taken_are_refused(ines: Speaker) -> None:
    row = ines.take_in(lined_form([("A page", "a")]))
    before = len(documents(ines))
    for page in ({"page": 9}, {"of": str(uuid.uuid4())}, {"of": "nonsense"}):
        assert place(ines, {"title": "X", "pages": [{"of": row["id"], "page": 1, **page}]}).status_code == 409
    assert place(ines, whole(row, place="0" * 12)).status_code == 409
    assert place(ines, whole(row, pages=[])).status_code == 400
    assert len(documents(ines)) == before and len(ines.get(f"{ines.path}/incoming").json()) == 1


def test_sent_again_it_is_put_there_once_and_left_out_it_is_gone(ines: Speaker) -> None:
    row, change = ines.take_in(lined_form([("A page", "a")])), str(uuid.uuid4())
    for _ in range(2):
        assert place(ines, whole(row, title="Once"), change=change).status_code == 200
    assert len([d for d in documents(ines) if d["title"] == "Once"]) == 1
    other = ines.take_in(lined_form([("Another", "b")]))
    assert ines.client.delete(f"{ines.path}/incoming/{other['id']}").status_code == 204
    assert ines.client.delete(f"{ines.path}/incoming/{other['id']}").status_code == 404


def test_another_agents_package_takes_nothing(world: World, ines: Speaker) -> None:
    assert send(Speaker(world.bertil, world.deal), filled("503")).status_code == 404
    assert not Incoming.objects.exists()
