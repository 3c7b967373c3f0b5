"""Papers sent, signed on a phone, in person and by the agent, recalled and replaced, and checked afterwards
by software that knows nothing of ours."""

from __future__ import annotations

import re
import subprocess
from pathlib import Path

import pytest
from playwright.sync_api import BrowserContext, Page, expect

from tests.journeys.conftest import all_facts, go_to_page, open_deal, saved, signed_in
from tests.journeys.signers import (
    answer_all,
    begin,
    link_of,
    look_and_send,
    make_signature,
    sign_every_place,
    without_signer,
)
from tests.journeys.test_access import findings
from tests.running import Running

pytestmark = [pytest.mark.journey, pytest.mark.usefixtures("stamps")]
THANH, BEATRIZ = "thanh.1@post.example", "beatriz.1@post.example"
EDWIN, ZOFIA = "edwin.1@post.example", "zofia.1@post.example"
BERTIL = "bertil@marrowfinch.example"


def test_an_offer_is_signed_on_a_phone_and_by_its_agent_and_holds_for_any_reader(
    running: Running, worker: None, product: str, context: BrowserContext, phone: Page, tmp_path: Path
) -> None:
    page = context.new_page()
    errors = signed_in(page, product)
    open_deal(page, "Nguyễn")
    begin(page, "Your offer on Nettle Drive")
    # What is typed is there after a reload.
    page.reload()
    expect(page.get_by_label("Subject")).to_have_value("Your offer on Nettle Drive")
    expect(page.get_by_label("Message")).to_have_value("As we spoke.")
    assert findings(page) == []
    look_and_send(page, "Thanh Nguyễn")
    assert findings(page) == []
    expect(page.get_by_role("listitem").filter(has_text="Thanh Nguyễn").first).to_contain_text("was asked")

    phone.goto(link_of(running, THANH))
    expect(phone.get_by_role("heading", name="Hello Thanh Nguyễn")).to_be_visible()
    assert "." not in phone.url.split("#")[1], "the secret no longer stands in the address"
    assert findings(phone) == []
    phone.get_by_role("button", name="Read as text").first.click()
    expect(phone.get_by_role("region", name=re.compile("as text$"))).to_contain_text("Thanh Nguyễn")
    phone.get_by_role("button", name="I agree").click()
    phone.get_by_role("button", name=re.compile(r"^Answer \d+ questions$")).click()
    answer_all(phone)
    make_signature(phone)
    phone.get_by_role("button", name="To the next place").click()
    phone.get_by_role("button", name=re.compile("^(Sign|Initial) here$")).last.click()
    expect(phone.get_by_role("status")).to_contain_text(re.compile("^1 of"))
    # Closed in the middle, it goes on where it was.
    phone.reload()
    expect(phone.get_by_role("status")).to_contain_text(re.compile("^1 of"))
    assert findings(phone) == []
    assert sign_every_place(phone) > 5
    phone.get_by_role("button", name="Finish").click()
    expect(phone.get_by_role("heading", name="Thank you, you have signed")).to_be_visible()
    assert findings(phone) == []

    # The agent hears of it while working elsewhere; then the own turn, at once.
    page.get_by_role("navigation", name="Sections of this deal").get_by_role("link", name="Tasks").click()
    expect(page.get_by_text("Thanh Nguyễn has signed “Your offer on Nettle Drive”")).to_be_visible()
    page.get_by_role("button", name="Look", exact=True).click()
    expect(page.get_by_role("button", name="Sign yours")).to_be_visible()
    page.get_by_role("navigation", name="Sections of this deal").get_by_role("link", name="Write").click()
    go_to_page(page, "101 Agency Relationships Disclosure, page 2")
    page.get_by_role("region", name="101 Agency Relationships Disclosure, page 2").get_by_role(
        "button", name="Sign here"
    ).click()
    page.get_by_role("button", name="I agree").click()
    make_signature(page)
    expect(page.get_by_role("button", name="Sign here", exact=True)).to_be_visible()  # where it was pressed
    page.get_by_role("button", name=re.compile(r"^Sign all \d+ places$")).click()
    page.get_by_role("button", name="Finish").click()
    expect(page.get_by_role("heading", name="Signed and sealed")).to_be_visible()
    with page.expect_download() as coming:
        page.get_by_role("link", name=re.compile("Download 301")).click()
    coming.value.save_as(tmp_path / "301.pdf")
    said = subprocess.run(
        ["pdfsig", tmp_path / "301.pdf"], capture_output=True, text=True, check=False
    ).stdout
    assert "Signature is Valid" in said and "Total document signed" in said

    # Anybody checks it, and whoever changes a byte is found out.
    phone.goto(f"{product}/verify")
    phone.get_by_label("Choose a signed PDF").set_input_files(tmp_path / "301.pdf")
    expect(phone.get_by_role("heading", name=re.compile("^This file is valid"))).to_be_visible()
    assert findings(phone) == []
    content = bytearray((tmp_path / "301.pdf").read_bytes())
    content[len(content) // 3] ^= 1
    (tmp_path / "changed.pdf").write_bytes(content)
    phone.get_by_label("Choose a signed PDF").set_input_files(tmp_path / "changed.pdf")
    expect(phone.get_by_text(re.compile("This file is not valid|can.t be read"))).to_be_visible()

    # The signed papers took their places.
    page.goto(product)
    open_deal(page, "Nguyễn", "Package")
    expect(page.get_by_text("301 Residential Purchase Agreement, signed")).to_be_visible()
    assert errors == []


def test_a_round_is_recalled_and_replaced_and_the_other_buyer_signs_in_person(
    running: Running, worker: None, product: str, context: BrowserContext, phone: Page
) -> None:
    page = context.new_page()
    signed_in(page, product)
    open_deal(page, "Pereira")
    begin(page, "First try", only="101|301")
    without_signer(page, "Inês Calloway-Bright")
    look_and_send(page, "Beatriz Pereira and Sean Brannigan")
    first = link_of(running, BEATRIZ)
    phone.goto(first)
    phone.get_by_role("button", name="I agree").click()
    make_signature(phone)
    every = sign_every_place(phone)
    phone.get_by_role("button", name="Finish").click()
    expect(phone.get_by_role("heading", name="Thank you, you have signed")).to_be_visible()

    # A term changes: the round says so, is recalled, and its link says so, too.
    page.get_by_role("link", name="Facts").click()
    all_facts(page)
    included = page.get_by_label("Included items")
    included.fill("the porch swing")
    page.keyboard.press("Tab")
    saved(page)
    page.get_by_role("link", name="Signing").click()
    page.get_by_role("link", name="First try").click()
    expect(page.get_by_role("region", name="Changed since it was sent")).to_contain_text("the porch swing")
    page.get_by_role("button", name="Recall").click()
    dialog = page.get_by_role("dialog", name="Recall these papers")
    assert findings(page) == []
    dialog.get_by_label("Reason (signers will read it)").fill("The swing was missing")
    dialog.get_by_role("button", name="Recall").click()
    expect(page.get_by_text("Recalled", exact=True)).to_be_visible()
    phone.reload()
    expect(phone.get_by_role("heading", name=re.compile("recalled"))).to_contain_text("The swing was missing")
    expect(phone.get_by_role("img")).to_have_count(0)
    assert findings(phone) == []

    # Its successor: what is the same stays signed.
    page.get_by_role("button", name="Send a new one like it").click()
    expect(page.get_by_role("heading", name="Before it is sent")).to_be_visible()
    look_and_send(page, "Beatriz Pereira and Sean Brannigan")
    again = link_of(running, BEATRIZ)
    assert again != first
    phone.goto("about:blank")
    phone.goto(again)
    phone.get_by_role("button", name="I agree").click()
    expect(phone.get_by_role("status")).to_contain_text(re.compile("^1 of"))
    assert sign_every_place(phone) == every - 1
    phone.get_by_role("button", name="Finish").click()
    expect(phone.get_by_role("heading", name="Thank you, you have signed")).to_be_visible()

    # Sean is in the room, and takes the agent's device.
    page.reload()
    sean = page.get_by_role("region", name="Signers").get_by_role("listitem").filter(has_text="Sean")
    sean.get_by_role("button", name="Sign here").click()
    page.get_by_role("button", name="Sign me out and hand over").click()
    page.get_by_role("button", name="I agree").click()
    make_signature(page)
    sign_every_place(page)
    page.get_by_role("button", name="Finish").click()
    expect(page.get_by_text("please hand it back")).to_be_visible()
    page.get_by_role("link", name="To the sign-in page").click()
    expect(page.get_by_label("Password")).to_be_visible()


def test_a_signer_declines_with_a_reason_that_is_kept_while_it_is_typed(
    running: Running, product: str, context: BrowserContext, phone: Page
) -> None:
    page = context.new_page()
    signed_in(page, product)
    open_deal(page, "938 Quarry")
    begin(page, "Lead paint", only="503")
    without_signer(page, "Inês Calloway-Bright")
    look_and_send(page, "Edwin Delacroix")
    phone.goto(link_of(running, EDWIN))
    phone.get_by_role("button", name="Not signing?").click()
    assert findings(phone) == []
    phone.get_by_label("Or decline, and say why").fill("I never saw that report")
    phone.get_by_role("button", name="Close").press("Enter")
    expect(phone.get_by_role("button", name="Not signing?")).to_be_focused()
    phone.reload()
    phone.get_by_role("button", name="Not signing?").click()
    expect(phone.get_by_label("Or decline, and say why")).to_have_value("I never saw that report")
    phone.get_by_role("button", name="Decline these papers").click()
    expect(phone.get_by_role("heading", name=re.compile("declined"))).to_be_visible()
    page.reload()
    expect(page.get_by_text("I never saw that report").first).to_be_visible()
    page.goto(product)
    out = page.get_by_role("region", name="Out for signature")
    expect(page.get_by_role("heading", name="Today")).to_be_visible()
    expect(out.filter(has_text="938 Quarry")).to_have_count(0)


def test_a_signer_without_a_network_is_told_and_nothing_is_shown_as_signed(
    running: Running, product: str, context: BrowserContext, phone: Page
) -> None:
    page = context.new_page()
    signed_in(page, product, BERTIL)
    open_deal(page, "835 Willow")
    begin(page, "Agency", only="101")
    without_signer(page, "Bertil Osei")
    step = page.get_by_label("Identity check")
    step.select_option("code")  # as it is unless somebody turns it off
    expect(step).to_have_value("code")
    expect(page.get_by_text("Anyone who gets the link can sign.")).to_have_count(0)
    expect(page.get_by_role("button", name="Preview before sending")).to_be_enabled()
    look_and_send(page, "Zofia Kowalczyk")
    phone.goto(link_of(running, ZOFIA))
    expect(phone.get_by_role("heading", name="Enter your code")).to_be_visible()
    expect(phone.get_by_role("img")).to_have_count(0)
    assert findings(phone) == []
    phone.get_by_label("Six digits").fill("12")
    expect(phone.get_by_role("button", name="Go on")).to_be_disabled()
    sent = re.search(r"^    (\d{3} \d{3})$", running.letter_to(ZOFIA, "enter this code"), re.MULTILINE)
    assert sent is not None
    phone.get_by_label("Six digits").fill(sent.group(1))
    phone.get_by_label("Six digits").press("Enter")
    phone.get_by_role("button", name="I agree").click()
    # By keyboard alone, drawn by hand: a pointer's strokes are kept as lines.
    phone.get_by_role("button", name="Make my signature").press("Enter")
    phone.get_by_role("button", name="Draw it").click()
    pad = phone.get_by_role("img", name=re.compile("^Draw your signature")).bounding_box()
    assert pad is not None
    phone.mouse.move(pad["x"] + 30, pad["y"] + 40)
    phone.mouse.down()
    for n in range(12):
        phone.mouse.move(pad["x"] + 30 + 18 * n, pad["y"] + 40 + (25 if n % 2 else 0))
    phone.mouse.up()
    expect(phone.get_by_role("img", name="Draw your signature: drawn")).to_be_visible()
    phone.get_by_role("button", name="Use this signature").click()
    phone.get_by_role("button", name="To the next place").click()
    here = phone.get_by_role("button", name="Sign here").last
    expect(here).to_be_visible()
    phone.context.set_offline(True)
    here.click()
    expect(phone.get_by_role("alert")).to_contain_text("can't be reached")
    expect(phone.get_by_role("status")).to_contain_text(re.compile("^0 of"))
    phone.context.set_offline(False)
    here.click()
    expect(phone.get_by_role("button", name="Finish")).to_be_visible()


# Each question that is on the screen before it has the focus: the keys for it would find nothing.
WATCH_FOCUS = """
window.late = [];
window.asked = document.querySelector('h2[tabindex]');
new MutationObserver(() => {
  const heading = document.querySelector('h2[tabindex]');
  if (heading === window.asked) return;
  window.asked = heading;
  if (document.activeElement !== heading) window.late.push(heading?.textContent);
}).observe(document.body, { childList: true, subtree: true });
"""


def test_a_disclosure_is_answered_by_its_seller_over_two_sittings(
    running: Running, worker: None, product: str, context: BrowserContext, phone: Page
) -> None:
    page = context.new_page()
    signed_in(page, product)
    open_deal(page, "938 Quarry", "Package")
    page.get_by_role("button", name="Add forms").click()
    page.get_by_label("Find a form").fill("501")
    page.get_by_role("button", name=re.compile("^Add 501")).click()
    page.keyboard.press("Escape")
    saved(page)
    begin(page, "Your disclosure", only="501")
    for row in page.get_by_role("region", name="Papers of this round").get_by_role("checkbox").all():
        if (
            str(row.evaluate("e => e.closest('label').textContent")).startswith("501")
            and not row.is_checked()
        ):
            row.click()
            expect(row).to_be_checked()
    look_and_send(page, "Edwin Delacroix")

    phone.goto(link_of(running, EDWIN))
    phone.get_by_role("button", name="I agree").click()
    phone.get_by_role("button", name=re.compile(r"^Answer \d+ questions$")).click()
    assert findings(phone) == []
    phone.evaluate(WATCH_FOCUS)
    phone.get_by_label("Owned since: which day?").fill("sometime")
    phone.get_by_role("button", name="Keep and go on").click()
    expect(phone.get_by_role("alert")).to_be_visible()
    phone.get_by_label("Owned since: which day?").fill("3/1/2010")
    phone.get_by_role("button", name="Keep and go on").click()
    heading = phone.get_by_role("heading", level=2)
    expect(heading).not_to_contain_text("Owned since")
    phone.keyboard.press("1")
    expect(heading).to_contain_text("2.1")
    phone.get_by_role("button", name=re.compile("yes$")).click()
    expect(heading).to_contain_text("2.2")
    assert phone.evaluate("late") == [], "a question was seen before its keys were heard"

    # Another evening.
    phone.reload()
    phone.get_by_role("button", name="Go on answering").click()
    expect(heading).to_contain_text("2.2")
    answer_all(phone)
    make_signature(phone)
    sign_every_place(phone)
    phone.get_by_role("button", name="Finish").click()
    expect(phone.get_by_role("heading", name="Signed and sealed")).to_be_visible()


def test_papers_are_delivered_to_the_other_side_by_a_link(
    running: Running, product: str, context: BrowserContext, phone: Page, tmp_path: Path
) -> None:
    page = context.new_page()
    errors = signed_in(page, product, BERTIL)
    open_deal(page, "Haddad", "Signing")
    page.get_by_role("button", name="Deliver papers").click()
    dialog = page.get_by_role("dialog", name="Deliver papers")
    dialog.get_by_label("Subject").fill("The offer on Yarrow Lane")
    # Half typed, it is there again after a reload.
    page.reload()
    page.get_by_role("button", name="Deliver papers").click()
    expect(dialog.get_by_label("Subject")).to_have_value("The offer on Yarrow Lane")
    dialog.get_by_role("checkbox", name=re.compile("^Desmond Falk")).check()
    expect(dialog.get_by_role("checkbox", name=re.compile("^301"))).to_be_checked()
    expect(dialog.get_by_role("checkbox", name=re.compile("^110"))).to_have_count(0)
    assert findings(page) == []
    dialog.get_by_role("button", name=re.compile("^Deliver")).click()
    expect(dialog).to_have_count(0)
    row = page.get_by_role("region", name="Delivered").get_by_role("listitem").first
    expect(row).to_contain_text("Desmond Falk")
    expect(row).to_contain_text("not opened yet")
    found = re.search(r"http\S+/papers#\S+", running.letter_to("desmond@tidewater.example", "/papers#"))
    assert found is not None
    phone.goto(found.group(0))
    expect(phone.get_by_role("heading", name="The offer on Yarrow Lane")).to_be_visible()
    assert findings(phone) == []
    with phone.expect_download() as coming:
        phone.get_by_role("link", name=re.compile("^Download 301")).click()
    coming.value.save_as(tmp_path / "301.pdf")
    assert (tmp_path / "301.pdf").read_bytes().startswith(b"%PDF")
    page.reload()
    expect(row).to_contain_text("opened")
    expect(row).not_to_contain_text("not opened")
    row.get_by_role("button", name="Send again").click()
    expect(page.get_by_text("The same papers were sent once more.")).to_be_visible()
    assert errors == []


def test_a_letter_open_in_two_windows_is_not_taken_back_by_the_idle_one(page: Page, product: str) -> None:
    errors = signed_in(page, product)
    open_deal(page, "Ridgeline")
    begin(page, "First thoughts")
    idle = page.context.new_page()
    idle.goto(page.url)
    subject = idle.get_by_label("Subject")
    expect(subject).to_have_value("First thoughts")
    sent: list[str] = []
    idle.on("request", lambda r: sent.append(r.url) if r.method == "POST" and "/rounds/" in r.url else None)
    with page.expect_response(
        lambda r: "/api/rounds/" in r.url and "Second thoughts" in (r.request.post_data or "")
    ):
        page.get_by_label("Subject").fill("Second thoughts")
        page.get_by_label("Subject").press("Tab")
    # Back in the other window all is asked for again; it shows what was saved, and sends nothing of its own.
    idle.evaluate("window.dispatchEvent(new Event('visibilitychange'))")
    expect(subject).to_have_value("Second thoughts")
    idle.wait_for_timeout(1_500)
    assert sent == []
    page.reload()
    expect(page.get_by_label("Subject")).to_have_value("Second thoughts")
    assert errors == []
