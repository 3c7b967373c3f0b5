"""The Forms room in a browser: finding, an office's own papers from any PDF, releases, and choices that
depend on each other."""

from __future__ import annotations

import io
import re
from pathlib import Path

import pikepdf
import pypdf
from playwright.sync_api import Browser, Page, expect
from quillcore.packs.reading import write_zip

from tests.core.foreign import lined_form
from tests.core.small import demo_pack
from tests.journeys.conftest import open_deal, saved, signed_in

ROWS = [
    ("Purchaser(s):", "Text1"),
    ("Premises known as:", "Text2"),
    ("Total sale price: $", "Text3"),
    ("Buyer's signature", "Text4"),
]


def go_to_forms(page: Page, place: str = "") -> None:
    page.get_by_role("navigation", name="Places", exact=True).get_by_role("link", name="Forms").click()
    if place:
        page.get_by_role("link", name=place).click()


def drop(page: Page, content: bytes, name: str = "paper.pdf") -> None:
    page.get_by_label("PDF to read").set_input_files(
        {"name": name, "mimeType": "application/pdf", "buffer": content}
    )


def test_a_form_is_found_by_words_in_its_text_and_kept_at_hand(page: Page, product: str) -> None:
    errors = signed_in(page, product)
    go_to_forms(page)
    page.get_by_label("Find a form").fill("picocuries")
    rows = page.get_by_role("list", name="Forms").get_by_role("listitem")
    expect(rows).to_have_count(2)
    expect(rows.first).to_contain_text("410")
    page.get_by_role("button", name="Bookmark 512", exact=False).click()
    page.get_by_label("Find a form").fill("")
    page.get_by_label("Bookmarked").check()
    expect(rows).to_have_count(1)
    expect(page.get_by_role("region", name="Form 512")).to_contain_text("brochure")
    page.reload()
    expect(page.get_by_role("button", name="Bookmark 512", exact=False)).to_have_attribute(
        "aria-pressed", "true"
    )
    assert not errors


def test_a_form_by_others_is_confirmed_by_keyboard_saved_and_filled_in_a_deal(
    page: Page, browser: Browser, product: str, tmp_path: Path
) -> None:
    errors = signed_in(page, product)
    go_to_forms(page, "Own papers")
    drop(page, lined_form(ROWS, title="HOUSE OFFER"))
    status = page.get_by_text("of 4 blanks confirmed")
    expect(status).to_contain_text("0 of 4")
    for n in range(1, 5):
        page.keyboard.press("Enter")
        expect(status).to_contain_text(f"{n} of 4")
    page.keyboard.press("Escape")
    page.get_by_role("button", name="Text", exact=True).click()
    sheet = page.locator("[data-page='1']").bounding_box()
    assert sheet is not None
    page.mouse.move(sheet["x"] + 200, sheet["y"] + 500)
    page.mouse.down()
    page.mouse.move(sheet["x"] + 420, sheet["y"] + 522, steps=4)
    page.mouse.up()
    page.get_by_label("Called").fill("House remarks")
    page.get_by_label("Number", exact=True).fill("952")
    expect(page.get_by_label("Title")).to_have_value("HOUSE OFFER")
    page.get_by_role("button", name="Propose as a form").click()
    expect(page.get_by_text("proposed by Inês Calloway-Bright")).to_be_visible()
    broker = browser.new_page()
    signed_in(broker, product, "rosalind@marrowfinch.example")
    go_to_forms(broker, "Own papers")
    broker.get_by_role("link", name="HOUSE OFFER").click()
    broker.get_by_role("button", name="Save as a form").click()
    expect(broker.get_by_role("heading", name="952 HOUSE OFFER")).to_be_visible()
    broker.close()
    page.get_by_role("link", name="Today", exact=True).click()
    open_deal(page, "Nguyễn", "Package")
    page.get_by_role("button", name="Add forms").click()
    page.get_by_label("Find a form").fill("952")
    page.get_by_role("button", name="Add 952 HOUSE OFFER").click()
    page.keyboard.press("Escape")
    page.get_by_role("link", name="HOUSE OFFER", exact=True).click()
    expect(page.get_by_role("region", name="952 HOUSE OFFER, page 1")).to_contain_text("Thanh Nguyễn")
    page.get_by_role("textbox", name="House remarks").fill("Keep the well house keys")
    page.keyboard.press("Tab")
    saved(page)
    page.get_by_role("button", name="Download in another way").click()
    with page.expect_download() as download:
        page.get_by_role("menuitem", name="Still fillable").click()
    fields = pypdf.PdfReader(download.value.path()).get_fields()
    assert (
        fields is not None
        and fields["952.blank"]["/V"] == "Keep the well house keys"
        and fields["952.text1"]["/V"] == "Thanh Nguyễn"
    )
    assert not errors


def test_a_wrong_suggestion_costs_one_key(page: Page, product: str) -> None:
    signed_in(page, product)
    go_to_forms(page, "Own papers")
    drop(
        page, lined_form([("Buyer's agent:", "a"), ("Phone:", "b"), ("Listing agent:", "c")], title="ONE KEY")
    )
    expect(page.get_by_text("of 3 blanks confirmed")).to_contain_text("0 of 3")
    before = page.get_by_label("Asks for").input_value()
    suggestion = page.get_by_role("list").filter(has=page.locator("kbd")).get_by_role("button").first
    expect(suggestion).not_to_contain_text("_")  # facts are called by their labels once the catalog is there
    first = suggestion.inner_text()
    page.keyboard.press("1")
    expect(page.get_by_text("of 3 blanks confirmed")).to_contain_text("1 of 3")
    page.locator("[data-placed='a']").focus()
    expect(page.get_by_label("Asks for")).to_have_value(re.sub(r"^1\s*", "", first).strip())
    assert page.get_by_label("Asks for").input_value() != before
    page.get_by_role("button", name="Drop this paper").click()
    expect(page.get_by_text("Drop a PDF here")).to_be_visible()


def test_blanks_are_placed_on_a_flat_paper_nudged_copied_and_put_on_every_page(
    page: Page, product: str
) -> None:
    signed_in(page, product)
    flat = pikepdf.new()
    for _ in range(3):
        flat.add_blank_page(page_size=(612, 792))
    out = io.BytesIO()
    flat.save(out)
    go_to_forms(page, "Own papers")
    drop(page, out.getvalue(), "flat.pdf")
    expect(page.get_by_text("This paper has no fields.")).to_be_visible()
    page.keyboard.press("s")
    sheet = page.locator("[data-page='1']").bounding_box()
    assert sheet is not None
    page.mouse.move(sheet["x"] + 100, sheet["y"] + 100)
    page.mouse.down()
    page.mouse.move(sheet["x"] + 200, sheet["y"] + 130, steps=4)
    page.mouse.up()
    spot = page.locator("[data-placed='sign']")
    left = float(spot.evaluate("e => parseFloat(e.style.left)"))
    page.keyboard.press("Shift+ArrowRight")
    assert abs(float(spot.evaluate("e => parseFloat(e.style.left)")) - left - 1000 / 612) < 0.05
    page.get_by_role("button", name="On every page").click()
    expect(page.locator("[data-placed^='sign@']")).to_have_count(3)
    page.keyboard.press("Control+d")
    expect(page.locator("[data-placed]")).to_have_count(4)
    page.keyboard.press("Delete")
    expect(page.locator("[data-placed]")).to_have_count(3)
    expect(page.get_by_role("status").filter(has_text="Saved").first).to_be_visible()
    page.reload()
    expect(page.locator("[data-placed]")).to_have_count(3)


def test_a_file_that_is_no_pdf_is_refused_beside_the_drop_place(page: Page, product: str) -> None:
    signed_in(page, product)
    go_to_forms(page, "Own papers")
    drop(page, b"PK not a pdf", "holiday.pdf")
    expect(page.get_by_role("alert")).to_contain_text("This isn't a PDF.")


def test_a_broker_sees_what_a_release_changes_before_taking_it_in(page: Page, product: str) -> None:
    signed_in(page, product, "nadia@cobblersgate.example")
    go_to_forms(page, "Releases and membership")
    expect(page.get_by_role("heading", name="Changes in the release of Nov 2, 2026")).to_be_visible()
    expect(page.get_by_text("Appraisal Gap Addendum")).to_be_visible()
    files = {"name": "pack.zip", "mimeType": "application/zip", "buffer": write_zip(demo_pack())}
    page.get_by_label("Release to read").set_input_files(files)
    expect(page.get_by_role("heading", name="The release of Sep 15, 2026 would change this")).to_be_visible()
    page.get_by_role("button", name="Cancel").click()
    page.get_by_label("Release to read").set_input_files({**files, "buffer": b"no zip"})
    expect(page.get_by_text("Nothing was changed.")).to_be_visible()


def test_a_broker_goes_back_from_a_release_and_on_again(page: Page, product: str) -> None:
    errors = signed_in(page, product, "nadia@cobblersgate.example")
    go_to_forms(page, "Releases and membership")
    later = page.get_by_role("listitem").filter(has_text="Nov 2, 2026")
    page.get_by_role("button", name="Go back from the release of Nov 2, 2026").click()
    expect(later).to_contain_text("not used: your brokerage went back")
    expect(page.get_by_role("listitem").filter(has_text="Sep 15, 2026")).to_contain_text(
        "in use for new deals"
    )
    page.get_by_role("button", name="Use again the release of Nov 2, 2026").click()
    expect(later).to_contain_text("in use for new deals")
    assert errors == []


def test_a_city_is_chosen_from_those_of_its_county(page: Page, product: str) -> None:
    signed_in(page, product)
    open_deal(page, "Delacroix", "Package")
    page.get_by_role("button", name="Add forms").click()
    page.get_by_label("Find a form").fill("210")
    page.get_by_role("button", name="Add 210").click()
    page.keyboard.press("Escape")
    page.get_by_role("link", name="Listing Data Sheet, Residential", exact=True).click()
    county = page.locator("[data-blank$='/county']")
    county.click()
    page.get_by_role("region", name="Lens").get_by_role("button", name="Stonewater").click()
    page.locator("[data-blank$='/city']").click()
    lens = page.get_by_role("region", name="Lens")
    expect(lens).to_contain_text("County seat on the falls")
    lens.get_by_role("button", name="Quarry Bend").click()
    saved(page)
    expect(page.get_by_role("region", name="210 Listing Data Sheet, Residential, page 1")).to_contain_text(
        "Quarry Bend"
    )
