"""Two offers from beginning to end: one that goes back and forth and is delivered, one with a paper of no
form, signed by link and by pen."""

from __future__ import annotations

import io
import re
import subprocess
from pathlib import Path
from typing import Any

import pikepdf
import pytest
from playwright.sync_api import BrowserContext, Locator, Page, expect

from tests.core.foreign import inked, lined_form
from tests.journeys.conftest import PAPERS_FOR_PACKAGE, all_facts, open_deal, saved, signed_in, told
from tests.journeys.signers import (
    begin,
    link_of,
    look_and_send,
    make_signature,
    sign_every_place,
)
from tests.journeys.test_access import findings
from tests.running import Running, until

pytestmark = [pytest.mark.journey, pytest.mark.usefixtures("stamps")]
BERTIL = "bertil@marrowfinch.example"
DESMOND = "desmond@tidewater.example"
BEATRIZ, SEAN, OMAR = "beatriz.1@post.example", "sean.2@post.example", "omar.1@post.example"


def go_to(page: Page, place: str) -> None:
    page.get_by_role("navigation", name="Sections of this deal").get_by_role("link", name=place).click()


def signed_on(phone: Page, link: str) -> None:
    """All that one signer does, on a phone."""
    phone.goto("about:blank")
    phone.goto(link)
    phone.get_by_role("button", name="I agree").click()
    make_signature(phone)
    assert sign_every_place(phone) > 0
    phone.get_by_role("button", name="Finish").click()
    expect(phone.get_by_role("heading", name=re.compile("signed|Signed"))).to_be_visible()


def documents_of(page: Page) -> list[dict[str, Any]]:
    deal = page.url.split("/deals/")[1].split("/")[0]
    return list(told(page, f"/api/deals/{deal}")["documents"])


def type_price(page: Page, price: str) -> None:
    go_to(page, "Facts")
    all_facts(page)
    field = page.get_by_label("Purchase price", exact=True)
    field.fill(price)
    field.press("Tab")
    saved(page)


def test_an_offer_is_signed_countered_compared_accepted_and_delivered(
    running: Running, worker: None, product: str, context: BrowserContext, phone: Page, tmp_path: Path
) -> None:
    page = context.new_page()
    errors = signed_in(page, product)
    open_deal(page, "Pereira", "Facts")
    deal = page.url.split("/deals/")[1].split("/")[0]
    type_price(page, "425,000")

    # Sent to both buyers, who sign on a phone; then it is sealed and takes its place.
    begin(page, "Our offer", only="301")
    look_and_send(page, "Beatriz Pereira and Sean Brannigan")
    for email in (BEATRIZ, SEAN):
        signed_on(phone, link_of(running, email))
    expect(phone.get_by_role("heading", name="Signed and sealed")).to_be_visible()
    page.goto(f"{product}/deals/{deal}/package")
    expect(page.get_by_text("301 Residential Purchase Agreement, signed")).to_be_visible()

    # The other side sends the agreement back with another price.
    agreement = next(d["id"] for d in documents_of(page) if d["number"] == "301")
    type_price(page, "431,000")
    theirs = context.request.get(f"{product}/api/deals/{deal}/documents/{agreement}.pdf").body()
    type_price(page, "425,000")
    back = tmp_path / "Their counter.pdf"
    back.write_bytes(theirs)
    go_to(page, "Package")
    page.get_by_label(PAPERS_FOR_PACKAGE).set_input_files(back)
    page.get_by_role("textbox", name=re.compile("^Title")).fill("Their counter")
    page.get_by_role("button", name="Put it there").click()
    dialog = page.get_by_role("dialog")
    page.get_by_role("button", name=re.compile("^Changes in (?!.*signed$)")).click()
    expect(dialog.get_by_role("checkbox", name="Purchase price: 431,000.00")).to_be_visible()
    dialog.get_by_role("button", name="Keep as what they countered").click()

    # Both agree on what they countered, and the deal says so.
    turns = page.get_by_role("region", name="Turns of")
    expect(turns.get_by_role("columnheader", name="Counter-offer 1")).to_be_visible()
    turns.get_by_role("button", name="Both agreed on Counter-offer 1").click()
    dialog.get_by_label("How you know").fill("Told by their agent by phone")
    dialog.get_by_role("button", name="Accept").click()
    expect(page.get_by_text("agreed on").first).to_be_visible()
    saved(page)
    facts = {f["key"]: f.get("shown") for f in told(page, f"/api/deals/{deal}")["facts"]}
    assert facts["terms.purchase_price"] == "$431,000.00"

    # The signed paper goes to the other side by a link, and holds for any reader.
    go_to(page, "Signing")
    page.get_by_role("button", name="Deliver papers").click()
    dialog.get_by_label(re.compile("^Name of")).fill("Desmond Falk")
    dialog.get_by_label(re.compile("^E-mail of")).fill(DESMOND)
    dialog.get_by_role("button", name="Add").click()
    dialog.get_by_role("checkbox", name=re.compile("^301 .*signed")).check()
    dialog.get_by_label("Subject").fill("Signed, as agreed")
    dialog.get_by_role("button", name=re.compile("^Deliver")).click()
    expect(dialog).to_have_count(0)
    row = page.get_by_role("region", name="Delivered").get_by_role("listitem").first
    expect(row).to_contain_text("not opened yet")
    found = re.search(r"http\S+/papers#\S+", running.letter_to(DESMOND, "/papers#"))
    assert found is not None
    phone.goto(found.group(0))
    with phone.expect_download() as coming:
        phone.get_by_role("link", name=re.compile("^Download 301 .*signed")).click()
    path = tmp_path / "301.pdf"
    coming.value.save_as(path)
    said = subprocess.run(["pdfsig", path], capture_output=True, text=True, check=False).stdout
    assert "Signature is Valid" in said and "Total document signed" in said
    assert errors == []


def test_a_paper_without_places_gets_them_by_keys_and_is_signed_by_link_and_by_pen(
    running: Running, worker: None, product: str, context: BrowserContext, phone: Page, tmp_path: Path
) -> None:
    page = context.new_page()
    errors = signed_in(page, product, BERTIL)
    open_deal(page, "Haddad", "Package")
    well = tmp_path / "Shared well agreement.pdf"
    well.write_bytes(lined_form([("Well owner", "a"), ("Depth", "b")], title="SHARED WELL AGREEMENT"))
    page.get_by_label(PAPERS_FOR_PACKAGE).set_input_files(well)
    page.get_by_role("textbox", name=re.compile("^Title")).fill("Shared well agreement")
    page.get_by_role("button", name=re.compile("^Put (it|them) there$")).click()
    expect(page.get_by_role("dialog")).to_have_count(0)

    # From the round that can't be sent for it, to the paper; places by keys alone.
    go_to(page, "Signing")
    page.get_by_role("button", name="Send for signature").click()
    page.get_by_label("Identity check").select_option("None")
    expect(page.get_by_text("Anyone who gets the link can sign.")).to_be_visible()
    page.get_by_role("link", name="Add places to sign on Shared well agreement").click()
    lens = page.locator("[data-spots-lens]")
    expect(lens.get_by_role("heading", name="Places to sign")).to_be_visible()
    expect(lens.get_by_text("Shared well agreement")).to_be_visible()
    expect(lens.get_by_role("combobox").first).to_contain_text("Omar Haddad")
    page.keyboard.press("s")
    page.keyboard.press("Enter")
    mine = page.get_by_role("button", name="Signature, Omar Haddad, page 1")
    expect(mine).to_be_focused()
    for _ in range(6):
        page.keyboard.press("Shift+ArrowDown")
    page.keyboard.press("a")
    expect(page.get_by_role("button", name=re.compile("^Signature, (?!Omar).*, page 1$"))).to_be_focused()
    page.keyboard.press("t")
    page.keyboard.press("Enter")
    lens.get_by_label("Whose").select_option("buyers.1")
    lens.get_by_label("Asked as").fill("Well number")
    assert findings(page) == []

    # By the pointer: pressed, dragged with its date, taken off.
    sheet = page.get_by_role("region", name="Shared well agreement, page 1")
    lens.get_by_role("button", name="Box").click()
    edges = sheet.bounding_box()
    assert edges is not None
    page.mouse.click(edges["x"] + edges["width"] * 0.8, edges["y"] + 260)
    box = page.get_by_role("button", name=re.compile("^Box: "))
    expect(box).to_be_focused()
    page.keyboard.press("Delete")
    expect(box).to_have_count(0)
    before, date = mine.bounding_box(), page.get_by_role("button", name="Date signed, Omar Haddad, page 1")
    assert before is not None
    beside = date.bounding_box()
    page.mouse.move(before["x"] + 20, before["y"] + 8)
    page.mouse.down()
    page.mouse.move(before["x"] + 20, before["y"] - 52, steps=4)
    page.mouse.up()
    assert beside is not None
    is_higher(page, mine, before["y"] - 40)
    is_higher(page, date, beside["y"] - 40)
    page.reload()  # at once: what was put is kept in the browser until the server has it
    expect(page.get_by_role("button", name=re.compile("^Text: .*Omar Haddad, page 1$"))).to_be_visible()
    expect(lens.get_by_role("status")).to_have_text("Saved")
    spots = next(d["spots"] for d in documents_of(page) if "ell agreement" in d["title"])
    assert sorted(s["what"] for s in spots) == ["date", "date", "signature", "signature", "text"]
    assert next(s["label"] for s in spots if s["what"] == "text") == "Well number"
    page.keyboard.press("Escape")
    expect(lens).to_have_count(0)
    expect(sheet.get_by_text("signs here: Omar Haddad")).to_be_visible()

    # Sent to both; the buyer fills in and signs on a phone, the other one signs on paper.
    go_to(page, "Signing")
    page.get_by_role("link", name=re.compile("to sign|papers", re.I)).first.click()
    other = next(s for s in spots if s["what"] == "signature" and s["who"] != "buyers.1")
    only_the_well(page)
    when = page.get_by_label(f"When {other['name']} signs")
    when.select_option("signs second")
    expect(when).to_have_value("2")
    expect(when).to_be_enabled()
    look_and_send(page, "Omar Haddad")
    phone.goto(link_of(running, OMAR))
    phone.get_by_role("button", name="I agree").click()
    phone.get_by_role("button", name="Answer 1 question").click()
    phone.get_by_role("textbox").fill("W-4471")
    phone.get_by_role("button", name="Keep and go on").click()
    phone.get_by_role("button", name="Go on to signing").click()
    assert findings(phone) == []
    make_signature(phone)
    sign_every_place(phone)
    phone.get_by_role("button", name="Finish").click()
    expect(phone.get_by_role("heading", name="Thank you, you have signed")).to_be_visible()

    # The scan comes back, its ink is found, and the round is finished with it.
    page.reload()
    asked = page.get_by_role("region", name="Signers").get_by_role("listitem").filter(has_text=other["name"])
    expect(asked).to_contain_text("was asked")
    paper = context.request.get(f"{product}{sent_paper(page)}").body()
    scan = tmp_path / "Scan.pdf"
    scan.write_bytes(inked(paper, [other]))
    asked.get_by_role("button", name="Signed on paper").click()
    page.get_by_role("dialog").locator("input[type=file]").set_input_files(scan)
    page.get_by_role("textbox", name=re.compile("^Title")).fill("Scan of the well agreement")
    page.get_by_role("button", name=re.compile("^Put (it|them) there$")).click()
    expect(page.get_by_role("dialog")).to_have_count(0)
    asked.get_by_role("button", name="Signed on paper").click()
    dialog = page.get_by_role("dialog", name=f"{other['name']} signed on paper")
    dialog.get_by_label("Scan of the well agreement").check()
    expect(dialog.get_by_text("Ink in 1 of 1 place")).to_be_visible()
    assert findings(page) == []
    dialog.get_by_role("button", name=f"{other['name']} has signed").click()
    expect(asked).to_contain_text("signed on paper")
    expect(page.get_by_text("Signed and sealed").first).to_be_visible()
    content = context.request.get(f"{product}{sent_paper(page)}").body()
    with pikepdf.open(io.BytesIO(content)) as pdf:
        assert any(name.startswith("scan-") for name in pdf.attachments)
    assert errors == []


def is_higher(page: Page, thing: Locator, than: float) -> None:
    """Wait until something stands higher on the screen than that."""

    def stands_higher() -> bool:
        box = thing.bounding_box()
        return box is not None and box["y"] < than

    assert until(stands_higher), "it has not moved"


def only_the_well(page: Page) -> None:
    """Of the round that is being made only that paper."""
    page.get_by_label("Subject").fill("The well")
    for paper in page.get_by_role("region", name="Papers of this round").get_by_role("checkbox").all():
        is_well = "ell agreement" in str(paper.evaluate("e => e.closest('label').textContent"))
        if paper.is_checked() != is_well:
            paper.click()
            expect(paper).to_be_checked(checked=is_well)
            expect(paper).to_be_enabled()


def sent_paper(page: Page) -> str:
    """Where the first paper of the round on the screen is downloaded."""
    return str(page.get_by_role("region", name="Papers").get_by_role("link").first.get_attribute("href"))
