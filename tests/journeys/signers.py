"""What journeys do with papers to be signed: sent by an agent, signed on a phone."""

from __future__ import annotations

import re

from playwright.sync_api import Page, expect

from tests.running import Running

LINK = re.compile(r"http\S+/sign#\S+")


def link_of(running: Running, email: str) -> str:
    found = LINK.search(running.letter_to(email))
    assert found is not None
    return found.group(0)


def begin(page: Page, subject: str, only: str = "") -> None:
    """A round being made; of the papers alone whose numbers fit, where some are named."""
    page.get_by_role("navigation", name="Sections of this deal").get_by_role("link", name="Signing").click()
    rounds = page.get_by_role("link", name="All rounds")
    if rounds.count():
        rounds.click()
    page.get_by_role("button", name="Send for signature").click()
    expect(page.get_by_role("heading", name="Before it is sent")).to_be_visible()
    for paper in page.get_by_role("region", name="Papers of this round").get_by_role("checkbox").all():
        name = str(paper.evaluate("e => e.closest('label').textContent"))
        if only and paper.is_checked() and not re.match(only, name):
            paper.click()
            expect(paper).not_to_be_checked()
            expect(paper).to_be_enabled()
    page.get_by_label("Identity check").select_option("None")  # its own journey has the code
    expect(page.get_by_text("Anyone who gets the link can sign.")).to_be_visible()
    page.get_by_label("Subject").fill(subject)
    with page.expect_response(
        lambda r: "/api/rounds/" in r.url and "As we spoke." in (r.request.post_data or "")
    ):
        page.get_by_label("Message").fill("As we spoke.")
        page.get_by_label("Message").press("Tab")


def look_and_send(page: Page, to: str) -> None:
    with page.expect_response(lambda r: r.url.endswith("/look")):
        page.get_by_role("button", name="Preview before sending").click()
    expect(page.locator("[data-spot=mine]").first).to_be_attached()
    reason = page.get_by_label("Reason for sending it as is")
    if reason.count():
        reason.fill("Agreed on the phone")
    page.get_by_role("button", name=f"Send to {to}").click()
    expect(page.get_by_role("heading", name="Events")).to_be_visible()


def without_signer(page: Page, name: str) -> None:
    when = page.get_by_label(f"When {name} signs")
    when.select_option("not in this round")
    expect(when).to_have_value("0")
    expect(when).to_be_enabled()


def make_signature(page: Page) -> None:
    page.get_by_role("button", name="Make my signature").click()
    expect(page.get_by_role("radio").first).to_be_enabled()
    page.get_by_role("button", name="Use this signature").click()
    expect(page.get_by_role("dialog")).to_have_count(0)


def answer_all(page: Page) -> None:
    """Each question that is left, by its last option or in words; then on to signing."""
    told, heading = page.get_by_role("status"), page.get_by_role("heading", level=2)
    for _ in range(90):
        if "no questions left" in told.inner_text():
            break
        before = told.inner_text()
        field = page.get_by_role("textbox")
        if field.count():
            field.fill("A cousin holds a tenth of it.")
            page.get_by_role("button", name="Keep and go on").click()
        else:
            page.get_by_role("group", name=heading.inner_text()).get_by_role("button").last.click()
        expect(told).not_to_have_text(before)
    expect(told).to_contain_text("no questions left")
    page.get_by_role("button", name="Go on to signing").click()


def sign_every_place(page: Page) -> int:
    """From place to place by the one button, until nothing is left."""
    status = page.get_by_role("status")
    page.get_by_role("button", name="To the next place").click()
    for n in range(60):
        if page.get_by_role("button", name="Finish").count():
            return n
        told = status.inner_text()
        page.get_by_role("button", name=re.compile("^(Sign|Initial) here$")).last.click()
        expect(status).not_to_have_text(told)
    raise AssertionError("it never ends")
