"""The page of a table in a real browser: pasted, put right in its cells, threads redrawn, all rows taken away; by keyboard, at any width."""

import shutil
import time
from pathlib import Path

import pytest
from browsing import needs_browser, until
from conftest import DEMO
from serving import flat_png, serving, with_portrait

from avlet.storage.package import save_template
from avlet.text.fonts import bundled_fonts

pytestmark = needs_browser
PASTED = "Guest\tRole\tStays\nBo Li\tRinger\t\nÍris Þórdal\tTide tables\tsoon\n<b>Odalys</b>\tMarsh\t3 s\n"
AXE = Path(__file__).parent / "javascript" / "node_modules" / "axe-core" / "axe.min.js"


@pytest.fixture(scope="module")
def client(tmp_path_factory):
    library = tmp_path_factory.mktemp("pages")
    for name in ("name-strap", "hectares"):
        shutil.copytree(DEMO / f"{name}.avlet", library / f"{name}.avlet")
    save_template(with_portrait(), library / "portrait-strap.avlet", bundled_fonts())
    with serving(library) as made:
        yield made


@pytest.fixture
def page(client, browser):
    """The page of a table, with nothing kept from before."""
    address = f"http://127.0.0.1:{client.port}/titles/name-strap/table"
    browser.get(address)
    browser.execute_script("sessionStorage.clear()")
    browser.get(address)
    until(lambda: browser.find_element("id", "name").text == "Name strap")
    yield browser
    faults = [one["message"] for one in browser.get_log("browser") if one["level"] == "SEVERE" and "status of 422" not in one["message"]]
    assert not faults


def paste(browser, words):
    browser.execute_script("arguments[0].value = arguments[1]", browser.find_element("id", "paste"), words)
    browser.find_element("css selector", "#give button").click()


def rows(browser):
    """Each row's number, verdict and cells."""
    return browser.execute_script(
        "return [...document.querySelectorAll('#lines tr')].map((one) => [one.querySelector('th').textContent,"
        " one.querySelector('.verdict').dataset.verdict, [...one.querySelectorAll('textarea')].map((cell) => cell.value)])"
    )


def looked_at(browser):
    until(lambda: "looked at" not in browser.find_element("id", "counted").text.rpartition("·")[2])
    return browser.find_element("id", "counted").text


def leads(browser):
    return [one.get_property("value") for one in browser.find_elements("css selector", "#heads select")]


def test_a_pasted_table_is_put_right_and_taken_away(page, client):
    paste(page, PASTED)
    until(lambda: len(rows(page)) == 3)
    lists = page.find_elements("css selector", "#heads select")
    assert leads(page) == ["name", "role", ""] and lists[2].get_attribute("aria-label") == "Stays leads to"
    lists[2].send_keys("Length")
    until(lambda: leads(page)[2] == "@length" and len(rows(page)) == 3 and rows(page)[1][1] == "cannot be rendered")
    assert looked_at(page) == "3 rows · 1 cannot be rendered · 2 holds"
    assert "soon" in page.find_elements("css selector", ".verdict")[1].text and rows(page)[2][2][0] == "<b>Odalys</b>"
    assert [one.get_property("value") for one in page.find_elements("css selector", "textarea[aria-invalid]")] == ["soon"]
    assert [bool(one) for one in page.execute_script("return [...document.querySelectorAll('#lines img')].map((i) => i.naturalWidth)")] == [
        True, False, True,
    ]  # fmt: skip
    assert page.find_element("id", "take").text == "Make 2 files"
    cell = page.find_element("css selector", "[aria-label='Stays, row 2']")
    cell.clear()
    cell.send_keys("4 s\ue007")
    until(lambda: page.find_element("id", "take").text == "Make 3 files")
    assert looked_at(page) == "3 rows · 3 holds"
    assert page.switch_to.active_element.get_attribute("aria-label") == "Stays, row 3", "Return goes on to the next row"
    for kind in ("prores", "still"):
        page.find_element("css selector", f"#kinds [value={kind}]").click()
    until(lambda: page.find_element("id", "take").is_enabled())
    page.find_element("id", "take").click()
    until(lambda: page.find_elements("css selector", "#made .there"), 60)
    film = list(client.app.state.studio.films.values())[-1]
    assert film.state == "done" and film.asked.wanted.kinds == ("still",) and film.asked.wanted.rows[2][2] == "4 s"
    assert page.find_element("css selector", "#made .there").text.startswith("name-strap-table.zip")


def test_rows_are_shown_by_what_is_said_of_them(page):
    paste(page, PASTED.replace("Stays", "Duration"))
    until(lambda: len(rows(page)) == 3)
    looked_at(page)
    chips = page.find_elements("css selector", "#verdicts button")
    assert [one.text for one in chips] == ["All rows", "cannot be rendered", "holds"]
    chips[1].click()
    until(lambda: [one[0] for one in rows(page)] == ["2"])
    chips[1].send_keys("\ue014")
    until(lambda: [one[0] for one in rows(page)] == ["1", "3"])
    assert page.switch_to.active_element.text == "holds"


def test_what_is_said_in_another_frame_is_told_with_its_size(page):
    """The same row may hold in one frame and not in another: the worst of them counts, and each sentence says where."""
    paste(page, "Guest\tRole\nBo Li\tRinger\nIoana Crețu-Whitlock of the northern reaches of the Farrow Estuary\tRinger\n")
    until(lambda: len(rows(page)) == 2)
    first = looked_at(page)
    sizes = page.find_elements("css selector", "#frames input")
    assert sizes[1].get_attribute("value") == "1080x1920"
    sizes[1].click()
    until(lambda: page.find_element("id", "take").text == "Make 4 files")
    looked_at(page)
    said = page.find_elements("css selector", "#lines tr")[1].find_element("css selector", ".verdict").text
    assert "1080×1920: " in said, (first, said)
    assert rows(page)[0][1] == "holds" and rows(page)[1][1] != "holds"


def test_a_file_is_taken_and_stays_over_a_reload(page, browser):
    page.find_element("id", "file").send_keys(str(DEMO / "guests.xlsx"))
    until(lambda: len(rows(page)) == 24)
    assert page.find_element("id", "table").text == "guests.xlsx"
    assert [one.text for one in page.find_elements("css selector", "#languages label")] == ["English", "Welsh"]
    page.refresh()
    until(lambda: len(rows(page)) == 24)
    page.find_element("id", "other").click()
    until(lambda: page.find_element("id", "paste").is_displayed())
    assert not page.find_element("id", "away").is_displayed()
    page.refresh()
    until(lambda: page.find_element("id", "name").text == "Name strap")
    assert page.find_element("id", "paste").is_displayed()


@pytest.mark.parametrize("way", ["another", "dropped"])
def test_a_table_after_another_begins_anew(page, way):
    """Languages, a pattern and threads of the table before are not asked of this one, whose columns are others."""
    page.find_element("id", "file").send_keys(str(DEMO / "guests.xlsx"))
    until(lambda: len(rows(page)) == 24)
    for one in page.find_elements("css selector", "#languages input"):
        if not one.is_selected():
            one.click()
    pattern = page.find_element("id", "pattern")
    pattern.send_keys("{Name}\ue004")
    until(lambda: page.find_element("id", "take").is_enabled() and not page.find_element("id", "fault").text)
    if way == "another":
        page.find_element("id", "other").click()
        paste(page, "Guest\tRole\nBo Li\tRinger\n")
    else:
        page.execute_script(
            "const data = new DataTransfer(); data.items.add(new File(['Guest,Role\\nBo Li,Ringer\\n'], 'few.csv'));"
            "document.body.dispatchEvent(new DragEvent('drop', { dataTransfer: data, bubbles: true, cancelable: true }))"
        )
    until(lambda: len(rows(page)) == 1 and page.find_element("id", "take").is_enabled())
    assert leads(page) == ["name", "role"] and not page.find_element("id", "fault").text and not pattern.get_property("value")
    assert not page.find_element("id", "spoken").is_displayed() and page.find_element("id", "take").text == "Make one file"


def test_a_table_whose_heads_say_nothing_is_led_by_hand(page):
    paste(page, "xq\tzw\nBo Li\tRinger\n")
    until(lambda: "No column" in page.find_element("id", "fault").text)
    until(lambda: leads(page) == ["", ""])
    page.find_elements("css selector", "#heads select")[0].send_keys("Name")
    until(lambda: len(rows(page)) == 1)
    assert leads(page) == ["name", ""] and not page.find_element("id", "fault").text
    page.find_elements("css selector", "#heads select")[1].send_keys("Name")
    until(lambda: leads(page) == ["", "name"])


@pytest.mark.parametrize("words", ["", "   ", "Name", "\t\t\n"])
def test_what_is_no_table_is_told_where_it_was_pasted(page, words):
    paste(page, words)
    until(lambda: page.find_element("id", "paste-fault").text)
    assert page.find_element("id", "paste").is_displayed()


def test_many_rows_come_a_hundred_at_a_time(page):
    paste(page, "Name\n" + "".join(f"Guest {n}\n" for n in range(130)))
    until(lambda: len(rows(page)) == 100)
    page.find_element("id", "more").click()
    until(lambda: len(rows(page)) == 130)
    assert not page.find_element("id", "more").is_displayed()


@pytest.mark.parametrize("width", [320, 1280, 3840])
def test_nothing_is_cut_off_at_any_width(page, width):
    page.execute_cdp_cmd("Emulation.setDeviceMetricsOverride", {"width": width, "height": 900, "deviceScaleFactor": 1, "mobile": False})
    try:
        for words in ("", PASTED):
            if words:
                paste(page, words)
                until(lambda: len(rows(page)) == 3)
            time.sleep(0.2)
            assert page.execute_script("return document.documentElement.scrollWidth") <= width
    finally:
        page.execute_cdp_cmd("Emulation.clearDeviceMetricsOverride", {})


@pytest.mark.skipif(not AXE.is_file(), reason="needs npm: npm ci in tests/javascript")
def test_axe_finds_nothing_serious(page):
    """axe-core 4.11, by the rules of WCAG 2.1 A and AA and of best practice."""
    for words in ("", PASTED):
        if words:
            paste(page, words)
            until(lambda: len(rows(page)) == 3)
            looked_at(page)
        page.execute_script(AXE.read_text(encoding="utf-8"))
        found = page.execute_async_script("const done = arguments[0]; axe.run().then((t) => done(t.violations), (e) => done([String(e)]))")
        assert [(one["id"], one["nodes"][0]["html"][:120]) for one in found if one["impact"] in ("serious", "critical", None)] == []


def test_what_is_being_typed_stays_while_the_rows_come_back(page):
    """Tab to the next cell and type at once: the answer to the first cell comes while the second is typed."""
    paste(page, PASTED.replace("Stays", "Nothing"))
    until(lambda: len(rows(page)) == 3)
    page.execute_script(
        "const ask = fetch; window.fetch = (...given) => new Promise((go) => setTimeout(go, 600)).then(() => ask(...given))"
    )
    one = page.find_element("css selector", "[aria-label='Guest, row 1']")
    one.send_keys(" Senior\ue004")
    page.switch_to.active_element.send_keys(" of eider ducks")
    until(lambda: rows(page)[0][2][:2] == ["Bo Li Senior", "Ringer of eider ducks"])
    time.sleep(1.5)
    assert rows(page)[0][2][:2] == ["Bo Li Senior", "Ringer of eider ducks"]
    assert page.switch_to.active_element.get_attribute("aria-label") == "Role, row 1"


def test_pictures_that_cells_name_are_added_on_the_page(page, client, tmp_path):
    for name, colour in (("bo.png", (255, 0, 0)), ("iris.png", (0, 255, 0))):
        (tmp_path / name).write_bytes(flat_png(colour))
    page.get(f"http://127.0.0.1:{client.port}/titles/portrait-strap/table")
    until(lambda: page.find_element("id", "name").text == "Portrait strap")
    paste(page, "Name\tNotes\nBo Li\tbo.png\nÍris\tiris.png\n")
    until(lambda: len(rows(page)) == 2)
    assert not page.find_element("id", "named").is_displayed(), "nothing leads to a field that takes a file"
    page.find_elements("css selector", "#heads select")[1].send_keys("Portrait")
    until(lambda: looked_at(page) == "2 rows · 2 cannot be rendered")
    assert (
        "No file “bo.png” came with the table. Add it under “Files that cells name”." in page.find_element("css selector", ".verdict").text
    )
    page.find_element("id", "more-files").send_keys(f"{tmp_path / 'bo.png'}\n{tmp_path / 'iris.png'}")
    until(lambda: looked_at(page) == "2 rows · 2 holds")
    assert [one.text for one in page.find_elements("css selector", "#files li")] == ["bo.png×", "iris.png×"]
    assert page.find_element("id", "take").text == "Make 2 files"
    client.app.state.studio.sent.sweep(time.monotonic() + 1)  # the server keeps them no longer; the page does
    cell = page.find_element("css selector", "[aria-label='Name, row 1']")
    cell.clear()
    cell.send_keys("Bo\ue007")
    until(lambda: [one[2][0] for one in rows(page)] == ["Bo", "Íris"] and len(client.app.state.studio.sent) == 2)
    until(lambda: looked_at(page) == "2 rows · 2 holds")
    assert not page.find_element("id", "fault").text
    page.find_element("css selector", "[aria-label='Take away bo.png']").click()
    until(lambda: looked_at(page) == "2 rows · 1 cannot be rendered · 1 holds")
    assert page.switch_to.active_element.get_attribute("id") == "more-files"
    errors = [
        one
        for one in page.get_log("browser")
        if one["level"] == "SEVERE" and not any(s in one["message"] for s in (" 404 ", "status of 404"))
    ]
    assert not errors


def test_pictures_are_dropped_onto_a_table(page, client):
    page.get(f"http://127.0.0.1:{client.port}/titles/portrait-strap/table")
    until(lambda: page.find_element("id", "name").text == "Portrait strap")
    paste(page, "Name\tPortrait\nBo Li\tportraits/bo.svg\n")
    until(lambda: looked_at(page) == "1 row · 1 cannot be rendered")
    page.execute_script(
        """const drop = new DataTransfer();
        drop.items.add(new File(['<svg xmlns="http://www.w3.org/2000/svg" width="9" height="9"><rect width="9" height="9"/></svg>'], "bo.svg", { type: "image/svg+xml" }));
        dispatchEvent(new DragEvent("drop", { dataTransfer: drop, cancelable: true }));"""
    )
    until(lambda: looked_at(page) == "1 row · 1 holds")
    assert len(rows(page)) == 1, "the table stays"
