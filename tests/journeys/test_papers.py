"""Papers that come: dropped together, arranged, put in their places, and taken back."""

from __future__ import annotations

import io
import re
from pathlib import Path

import pytest
from PIL import Image
from playwright.sync_api import BrowserContext, Page, expect
from quillcore.assembly import assemble
from quillcore.pdf.renderer import plain_text

from tests.core.foreign import lined_form
from tests.core.small import OFFER, every_form, package
from tests.journeys.conftest import PAPERS_FOR_PACKAGE, deals_of, saved, signed_in

pytestmark = pytest.mark.journey
BERTIL = "bertil@marrowfinch.example"


@pytest.fixture
def deal(product: str, context: BrowserContext) -> Page:
    """The package of one deal."""
    page = context.new_page()
    signed_in(page, product, BERTIL)
    found = next(d["id"] for d in deals_of(page) if "Tanaka" in d["name"])
    page.goto(f"{product}/deals/{found}/package")
    expect(page.get_by_role("button", name="Add forms")).to_be_visible()
    return page


def choose(page: Page, *files: tuple[str, str, bytes]) -> None:
    page.get_by_label(PAPERS_FOR_PACKAGE).set_input_files(
        [{"name": name, "mimeType": kind, "buffer": content} for name, kind, content in files]
    )


def picture() -> bytes:
    out = io.BytesIO()
    Image.new("L", (850, 1100), 250).save(out, "PNG")
    return out.getvalue()


def test_who_signs_is_told_leads_to_what_is_missing_and_to_the_file_for_the_pen(deal: Page) -> None:
    opener = deal.get_by_role("button", name="Who signs")
    opener.click()
    told = deal.get_by_role("dialog", name="Who signs this package")
    expect(told.get_by_text("Buyer 1")).to_be_visible()
    with deal.expect_download() as begun:
        told.get_by_role("button", name="Download to sign by hand").click()
    assert begun.value.suggested_filename.endswith(".pdf")
    text = plain_text(begun.value.path().read_bytes())
    assert "Tanaka" in text
    expect(told).to_have_count(0)
    opener.press("Enter")
    expect(told).to_be_visible()
    told.get_by_role("button", name="Close").press("Enter")
    expect(opener).to_be_focused()
    opener.press("Enter")
    told.get_by_role("link", name="Name the seller.").click()
    expect(deal.get_by_role("heading", name="Sellers")).to_be_in_viewport()
    expect(deal.get_by_text("It no longer exists.")).to_have_count(0)
    deal.go_back()
    opener.press("Enter")
    told.get_by_role("link", name=re.compile("^Residential Purchase|^301|Purchase Agreement")).first.click()
    expect(deal.get_by_test_id("paper")).to_be_visible()


def test_several_are_read_arranged_put_there_and_taken_back(deal: Page) -> None:
    disclosure = assemble(package(every_form()["503"], said=OFFER), "x").pdf
    letter = lined_form([("Approval letter", "a")])
    choose(
        deal,
        ("their-503.pdf", "application/pdf", disclosure),
        ("approval_letter.pdf", "application/pdf", letter),
        ("IMG_7.png", "image/png", picture()),
        ("broken.pdf", "application/pdf", b"%PDF-1.7 nothing"),
    )
    papers = deal.get_by_role("dialog", name="Papers for the package")
    expect(papers.get_by_role("alert")).to_contain_text("broken.pdf")
    expect(papers.get_by_role("button", name="Put 3 papers there")).to_be_enabled()
    expect(papers.get_by_text("form 503, as it came")).to_be_visible()
    expect(papers.get_by_text("unanswered").first).to_be_visible()
    titles = papers.get_by_label("Title")
    titles.last.fill("Photo of the well")
    # A reload in between loses nothing: neither the files nor what was typed.
    deal.reload()
    deal.get_by_role("button", name="Look at them").click()
    expect(titles.last).to_have_value("Photo of the well")
    papers.get_by_role("button", name="Turn page 1 of Photo of the well").click()
    papers.get_by_role("button", name="Join Photo of the well to the paper before").click()
    papers.get_by_role("button", name="Put 2 papers there").click()
    expect(papers).to_have_count(0)
    saved(deal)
    there = deal.get_by_role("button", name="Take out", exact=False)
    expect(deal.get_by_text("received by Bertil Osei").first).to_be_visible()
    count = there.count()
    deal.get_by_role("button", name="Undo my last change").click()
    expect(deal.get_by_text("3 papers wait to be put in their places.")).to_be_visible()
    expect(there).to_have_count(count - 2)
    deal.get_by_role("button", name="Look at them").click()
    papers.get_by_role("button", name="Leave all of them out").click()
    expect(papers.get_by_text("Every paper has a place.")).to_be_visible()


def test_on_a_phone_a_photographed_paper_is_put_there(deal: Page, tmp_path: Path) -> None:
    deal.set_viewport_size({"width": 390, "height": 844})
    choose(deal, ("IMG_8.png", "image/png", picture()))
    papers = deal.get_by_role("dialog", name="Papers for the package")
    expect(papers.get_by_role("button", name="Put it there")).to_be_enabled()
    wide = papers.evaluate("node => node.scrollWidth - node.clientWidth")
    assert wide <= 1, "nothing is cut at the side"
    papers.get_by_label("Title").fill("Receipt")
    papers.get_by_role("button", name="Put it there").click()
    expect(deal.get_by_text("Receipt", exact=True)).to_be_visible()
