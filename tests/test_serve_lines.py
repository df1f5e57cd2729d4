"""A list of credits on a page: its lines are typed, pasted and taken away by hand, and read by the engine; nothing of it is lost on the way."""

import base64
import csv
import io
import json
import random
import shutil

import msgspec
import pytest
from browsing import forget, needs_browser, until
from conftest import DEMO
from selenium.webdriver.common.keys import Keys
from serving import flat_png, serving

from avlet.document.fields.credits import answer_of, blocks_of
from avlet.document.lists.blocks import Gap, Heading, Names, PageBreak, Pictures, Role, RuleLine, Words, pictures_in
from avlet.document.parts import PictureFile
from avlet.serve.cards import typed_words
from avlet.storage.package import open_template, save_template
from avlet.text.fonts import bundled_fonts

# A package's pictures begin with a few figures of what they are.
MARKS = {"4e27e1f355-mark": (255, 0, 0), "aad7e07df1-mark": (0, 0, 255)}
BLOCKS = (
    Heading(text="Saltmarsh Stories"), Words(text="Episode one"), Gap(height=70.0), Role(role="Written by", names=("Bo Li", "Íris Þórdal")),
    Role(role='Said "so"', names=("A\tB",)), Names(names=("Dag Fenn", "Ruta Quay"), columns=2, filled="across", sorted_in="cy"),
    RuleLine(thickness=3.0, width=410.0), PageBreak(),
    Pictures(pictures=tuple(PictureFile(f"{name}.png", flat_png(colour, 4)) for name, colour in MARKS.items()), height=90.0),
)  # fmt: skip


@pytest.fixture(scope="module")
def client(tmp_path_factory):
    library = tmp_path_factory.mktemp("lines")
    shutil.copytree(DEMO / "end-roll.avlet", library / "end-roll.avlet")
    own = open_template(DEMO / "end-roll.avlet").template
    replace = msgspec.structs.replace
    sections = tuple(
        replace(s, fields=tuple(replace(f, default=BLOCKS) if f.id == "list" else f for f in s.fields)) for s in own.card.sections
    )
    short = replace(own, name="Short list", card=replace(own.card, sections=sections), length=200)
    save_template(short, library / "short-list.avlet", bundled_fonts())
    with serving(library, workers=1) as made:
        yield made


def test_the_words_of_a_list_are_all_of_it(client):
    """Kinds, heights, columns and pictures survive the page; before, headings, words, gaps and pictures all came back as headings."""
    fields = [field for section in client.get("/api/titles/short-list").json["sections"] for field in section["fields"]]
    words = next(field["words"] for field in fields if field["id"] == "list")
    assert words.splitlines()[0].split("\t") == ["kind", "section", "role", "name", "words", "picture", "height", "columns"]
    told = client.post("/api/titles/short-list/look", {"typed": {"list": words}, "width": 64}).json
    assert blocks_of(told["answers"]["list"]) == BLOCKS, "pictures by their names"
    assert told["typed"]["list"] == words
    changed = words.replace("Bo Li", "Wren Tidd").replace("4e27e1f355-mark.png", "gone.png")
    answer = blocks_of(client.post("/api/titles/short-list/look", {"typed": {"list": changed}, "width": 64}).json["answers"]["list"])
    assert answer[3] == Role(role="Written by", names=("Wren Tidd", "Íris Þórdal")) and answer[8].pictures[0] == PictureFile("gone.png")


def test_columns_that_nothing_stands_in_are_left_out():
    template = open_template(DEMO / "end-roll.avlet").template
    field = template.card.field("list")
    assert typed_words(field, answer_of((Role(role="Grip", names=("Bo",)),))) == "kind\trole\tname\nrole\tGrip\tBo\n"
    assert typed_words(field, answer_of(())) == "kind\trole\tname\n"


@pytest.mark.parametrize("path", ["../../etc/passwd", "/etc/passwd", "@/etc/passwd", "file:///etc/passwd", "mark.png/../../x"])
def test_a_picture_of_a_list_is_no_file_of_the_machine(client, path):
    words = f"kind\tpicture\npicture\t{path}\n"
    answer = client.post("/api/titles/short-list/look", {"typed": {"list": words}, "width": 64})
    assert answer.status == 200 and answer.json["answers"]["list"][0]["pictures"][0]["data"] == ""


GREEN = (0, 255, 0)


def test_new_pictures_come_with_the_words_that_name_them(client):
    data = flat_png(GREEN, 4)
    wanted = {"typed": {"list": "kind\tpicture\npicture\t own.png \n"}, "width": 64}
    told = client.post("/api/titles/short-list/look", {**wanted, "pictures": {"own.png": base64.b64encode(data).decode()}}).json
    assert blocks_of(told["answers"]["list"])[0].pictures == (PictureFile("own.png", data),)
    own = f"kind\tpicture\npicture\t{next(iter(MARKS))}.png\n"
    newer = {"typed": {"list": own}, "pictures": {f"{next(iter(MARKS))}.png": base64.b64encode(data).decode()}, "width": 64}
    assert blocks_of(client.post("/api/titles/short-list/look", newer).json["answers"]["list"])[0].pictures[0].data == data, "what was sent"
    without = client.post("/api/titles/short-list/look", wanted).json
    assert blocks_of(without["answers"]["list"])[0].pictures == (PictureFile("own.png"),) and without["picture"] != told["picture"]


@pytest.mark.parametrize(
    ("data", "said"),
    [
        ("no base64!", ""), (7, ""), (base64.b64encode(b"<html>").decode(), "is not a PNG"),
        (base64.b64encode(flat_png(GREEN, 4)[:40]).decode(), "is not a PNG"), ("", "is not in the package"),
        (base64.b64encode(b"<!DOCTYPE s [<!ENTITY a 'x'>]><svg/>").decode(), "defines entities"),
    ],
)  # fmt: skip
def test_what_is_no_picture_is_said_for_a_list_too(client, data, said):
    wanted = {"typed": {"list": "kind\tpicture\npicture\town.png\n"}, "width": 64, "pictures": {"own.png": data}}
    answer = client.post("/api/titles/short-list/look", wanted)
    if said:
        assert any("own.png" in words and said in words for words in answer.json["said"]), answer.json
    else:
        assert answer.status == 400 and answer.json["detail"]


def test_a_large_picture_named_many_times_is_refused(client):
    """The answer would have it as often: 2,000 times 3 MB ended the server."""
    data = base64.b64encode(bytes(3_000_000)).decode()
    wanted = {"typed": {"list": "kind\tpicture\n" + "picture\town.png\n" * 2000}, "width": 64, "pictures": {"own.png": data}}
    answer = client.post("/api/titles/short-list/look", wanted)
    assert answer.status == 422 and "more than 32 MB" in answer.json["detail"]
    ten = client.post("/api/titles/short-list/look", {**wanted, "typed": {"list": "kind\tpicture\n" + "picture\town.png\n" * 11}})
    assert ten.status == 200 and len(pictures_in(blocks_of(ten.json["answers"]["list"]))) == 11


# In a browser


@pytest.fixture
def page(client, browser):
    browser.get("about:blank")
    browser.get_log("browser")  # what the page before told is its own
    browser.get(f"http://127.0.0.1:{client.port}/titles/short-list")
    until(lambda: lines(browser))
    until(lambda: seen(browser) > 0)
    yield browser
    assert not [one for one in browser.get_log("browser") if one["level"] == "SEVERE" and " 422 " not in one["message"]]


def seen(browser):
    return int(browser.execute_script("return document.getElementById('canvas')?.dataset.seen ?? 0"))


def lines(browser):
    """What stands in each line: its kind, and its two sides."""
    return browser.execute_script(
        "return [...document.querySelectorAll('.lines li')].map((li) => [li.querySelector('select').value,"
        " ...['left', 'right'].map((side) => li.querySelector(`[data-side=${side}]`)?.value ?? null)])"
    )


def cell(browser, number, side):
    return browser.find_elements("css selector", ".lines li")[number].find_element("css selector", f"[data-side={side}]")


def focus(browser):
    return browser.execute_script("return document.activeElement.getAttribute('aria-label')")


def answer(browser, client):
    """What the engine makes of what stands on the page."""
    words = browser.execute_script("return document.getElementById('field-list').value")
    return blocks_of(client.post("/api/titles/short-list/look", {"typed": {"list": words}, "width": 64}).json["answers"]["list"])


@needs_browser
def test_a_list_is_shown_as_lines_with_names_for_all(page, client):
    assert lines(page)[:6] == [
        ["heading", "Saltmarsh Stories", None], ["words", "Episode one", None], ["gap", "70", None], ["role", "Written by", "Bo Li"],
        ["and", None, "Íris Þórdal"], ["role", 'Said "so"', "A\tB"],
    ]  # fmt: skip
    assert lines(page)[-3:] == [["page break", None, None], ["picture", "4e27e1f355-mark.png", None], ["and", "aad7e07df1-mark.png", None]]
    assert answer(page, client) == BLOCKS
    assert (
        cell(page, 3, "right").accessible_name == "List, line 4: name"
        and cell(page, 2, "left").accessible_name == "List, line 3: height in px"
    )
    named = page.execute_script("return [...document.querySelectorAll('.lines :is(input, select, button)')].every((one) => one.ariaLabel)")
    assert named


@needs_browser
def test_names_roles_and_lines_by_the_keyboard_alone(page, client):
    before = seen(page)
    cell(page, 4, "right").send_keys(Keys.ENTER)
    assert focus(page) == "List, line 6: name"
    page.switch_to.active_element.send_keys("Wren Tidd", Keys.ENTER, Keys.ENTER)
    assert focus(page) == "List, line 7: role"
    page.switch_to.active_element.send_keys("Grip", Keys.TAB, "Emeka")
    assert answer(page, client)[3:5] == (
        Role(role="Written by", names=("Bo Li", "Íris Þórdal", "Wren Tidd")),
        Role(role="Grip", names=("Emeka",)),
    )
    until(lambda: seen(page) > before)
    page.switch_to.active_element.send_keys(Keys.ARROW_UP)
    assert focus(page) == "List, line 6: name"
    page.switch_to.active_element.send_keys(*[Keys.BACKSPACE] * 9)
    assert focus(page) == "List, line 6: name", "an empty line goes with the next one"
    page.switch_to.active_element.send_keys(Keys.BACKSPACE)
    assert focus(page) == "List, line 5: name" and answer(page, client)[3] == BLOCKS[3]
    kinds = page.find_elements("css selector", ".lines li")[0].find_element("tag name", "select")
    kinds.send_keys("W")
    assert answer(page, client)[0] == Words(text="Saltmarsh Stories") or lines(page)[0][0] == "words"


@needs_browser
def test_lines_are_taken_away_and_added_by_the_mouse(page, client):
    page.find_element("css selector", '[aria-label="Take line 1 away"]').click()
    assert answer(page, client) == BLOCKS[1:]
    page.find_element("xpath", "//button[text()='+ Heading']").click()
    page.switch_to.active_element.send_keys("Ashore")
    assert answer(page, client) == (*BLOCKS[1:], Heading(text="Ashore"))
    for _ in range(len(lines(page))):
        page.find_element("css selector", ".lines li button").click()
    assert lines(page) == [] and answer(page, client) == ()


def paste(page, number, side, words):
    page.execute_script(
        "const data = new DataTransfer(); data.setData('text/plain', arguments[1]);"
        "arguments[0].dispatchEvent(new ClipboardEvent('paste', { clipboardData: data, bubbles: true, cancelable: true }))",
        cell(page, number, side), words,
    )  # fmt: skip


@needs_browser
def test_lines_of_a_spreadsheet_are_pasted_as_the_engine_reads_them(page, client):
    before = len(lines(page))
    paste(page, 4, "right", "Cut by\tUlf Quay\n\tRuta Quay\n")
    until(lambda: len(lines(page)) == before + 2)
    assert answer(page, client)[3:5] == (BLOCKS[3], Role(role="Cut by", names=("Ulf Quay", "Ruta Quay")))
    cell(page, 6, "right").send_keys(Keys.ENTER)
    paste(page, 7, "right", "Role\tName\nBoom\tTove\n")
    until(lambda: ["role", "Boom", "Tove"] in lines(page))
    assert ["and", None, ""] not in lines(page), "an empty line gives way"
    paste(page, 0, "left", "".join(f"Role {n}\tName {n}\n" for n in range(400)))
    until(lambda: "Paste so many as text" in page.find_element("css selector", ".list-lines .hint").text)


@needs_browser
def test_as_text_and_back(page, client):
    button = page.find_element("xpath", "//button[text()='As text']")
    button.click()
    text = page.find_element("id", "field-list")
    assert text.is_displayed() and not page.find_element("css selector", ".lines").is_displayed()
    before = seen(page)
    text.clear()
    text.send_keys("Photographed by\\tBo Sandholt".replace("\\t", ", "))
    button.click()  # at once: what the engine made of other words does not count
    until(lambda: not text.is_displayed() and len(lines(page)) == 1 and "Bo Sandholt" in str(lines(page)))
    assert button.get_attribute("aria-pressed") == "false"
    until(lambda: seen(page) > before)
    button.click()
    text.clear()
    button.click()
    assert lines(page) == [] and not text.is_displayed(), "an empty list has no lines, and takes some"


@needs_browser
def test_a_long_list_is_text(page, client):
    for many, shown in ((300, True), (301, False)):
        words = "kind\trole\tname\n" + "".join(f"role\tRole {n}\tName {n}\n" for n in range(many))
        page.execute_script("location.hash = new URLSearchParams({ list: arguments[0] })", words)
        until(lambda many=many, words=words: page.execute_script("return document.getElementById('field-list').value") == words)
        assert page.find_element("css selector", ".lines").is_displayed() == shown
        assert page.find_element("id", "field-list").is_displayed() != shown
    assert "301 lines is shown as text" in page.find_element("css selector", ".list-lines .hint").text


@needs_browser
def test_a_colleague_gets_the_lines_by_their_address(page, client):
    before = seen(page)
    cell(page, 3, "right").send_keys(" and sons")
    until(lambda: seen(page) > before and "and+sons" in page.current_url)
    there = page.current_url
    page.get("about:blank")
    page.get(there)
    until(lambda: lines(page) and lines(page)[3] == ["role", "Written by", "Bo Li and sons"])


@needs_browser
def test_tables_are_read_and_written_as_by_csv(page):
    """RFC 4180's quotes with tabs between cells, against Python's own csv."""
    chance = random.Random(7)
    tables = [[["".join(chance.choices('ab"\t\n ,é', k=chance.randrange(5))) for _ in range(3)] for _ in range(4)] for _ in range(200)]
    written = []
    for table in tables:
        out = io.StringIO(newline="")
        csv.writer(out, delimiter="\t", lineterminator="\n", quoting=csv.QUOTE_MINIMAL).writerows(table)
        written.append(out.getvalue())
    read = page.execute_async_script(
        "const done = arguments[1]; import('/pages/lines.mjs').then(({ rowsOf }) => done(arguments[0].map(rowsOf)))", written
    )
    assert read == tables
    made = page.execute_async_script(
        "const done = arguments[1]; import('/pages/lines.mjs').then(({ linesOf, wordsOf }) => done(arguments[0].map((w) => wordsOf(linesOf(w)))))",
        [f"kind\trole\tname\n{words}" for words in written],
    )  # fmt: skip
    for table, words in zip(tables, made, strict=True):
        rows = list(csv.reader(io.StringIO(words, newline=""), delimiter="\t"))[1:]
        assert [row[1:] for row in rows] == [row[1:] for row in table], json.dumps(words)


@needs_browser
def test_a_list_is_typed_and_pasted_on_the_on_air_page_too(client, browser):
    forget(browser, client.port)
    browser.get(f"http://127.0.0.1:{client.port}/air")
    until(lambda: len(browser.find_elements("css selector", "#add option")) == 3)
    browser.execute_script("const add = document.getElementById('add'); add.value = 'short-list'; add.dispatchEvent(new Event('change'))")
    until(lambda: lines(browser))
    cell(browser, 4, "right").send_keys(Keys.ENTER, "Wren Tidd")
    assert focus(browser) == "List, line 6: name" and "on air" not in browser.find_element("id", "rows").text, "Return takes nothing on air"
    paste(browser, 5, "right", "Cut by\tUlf Quay\n\tRuta Quay\n")
    until(lambda: ["role", "Cut by", "Ulf Quay"] in lines(browser))
    made = answer(browser, client)
    assert made[3:5] == (
        Role(role="Written by", names=("Bo Li", "Íris Þórdal", "Wren Tidd")),
        Role(role="Cut by", names=("Ulf Quay", "Ruta Quay")),
    )


@needs_browser
def test_a_picture_of_ones_own_is_chosen_for_a_line(page, client, tmp_path):
    mark = tmp_path / "house mark.png"
    mark.write_bytes(flat_png(GREEN, 64))
    before = seen(page)
    page.find_element("xpath", "//button[text()='+ Name']").click()
    kinds = page.find_elements("css selector", ".lines li")[-1].find_element("tag name", "select")
    page.execute_script("arguments[0].value = 'picture'; arguments[0].dispatchEvent(new Event('change'))", kinds)
    last = len(lines(page))
    page.find_element("css selector", f'[aria-label="List, line {last}: file of the picture"]').send_keys(str(mark))
    until(lambda: lines(page)[-1] == ["picture", "house mark.png", None])
    until(lambda: seen(page) > before)
    given = page.execute_async_script(
        "const done = arguments[0]; const ask = window.fetch; window.fetch = (address, about) => { if (about?.body) done(JSON.parse(about.body));"
        "return ask(address, about); }; const box = document.querySelector('.lines li:first-child [data-side]'); box.value += '!';"
        "box.dispatchEvent(new Event('input'))"
    )
    assert base64.b64decode(given["pictures"]["house mark.png"]) == mark.read_bytes()
    told = client.post("/api/titles/short-list/look", {"typed": given["typed"], "pictures": given["pictures"], "width": 64}).json
    assert pictures_in(blocks_of(told["answers"]["list"]))[-1] == PictureFile("house mark.png", mark.read_bytes())


@needs_browser
@pytest.mark.parametrize(("width", "stacked"), [(390, True), (1280, False)])
def test_role_and_name_stand_one_above_the_other_where_it_is_narrow(page, width, stacked):
    page.execute_cdp_cmd("Emulation.setDeviceMetricsOverride", {"width": width, "height": 900, "deviceScaleFactor": 1, "mobile": False})
    try:
        role, name = (cell(page, 3, side).rect for side in ("left", "right"))
        assert (role["x"] == name["x"]) == (role["y"] < name["y"]) == stacked
        assert not stacked or role["width"] > 180
        heading, kind = cell(page, 0, "left").rect, page.find_element("css selector", ".lines li select").rect
        assert abs(heading["y"] - kind["y"]) < 8 and heading["x"] >= kind["x"] + kind["width"], "a heading stands beside its kind"
    finally:
        page.execute_cdp_cmd("Emulation.clearDeviceMetricsOverride", {})


@needs_browser
def test_names_in_other_scripts_have_letters_whose_fonts_come_only_then(page, client):
    fonts = (
        "return performance.getEntriesByType('resource').map((one) => one.name.split('/').pop()).filter((one) => /Noto/.test(one)).sort()"
    )
    assert page.execute_script(fonts) == []
    page.get(f"http://127.0.0.1:{client.port}/titles/end-roll")
    until(lambda: page.execute_script(fonts) == ["NotoSansArabic-Regular.ttf", "NotoSansDevanagari-Regular.ttf", "NotoSansJP-Regular.otf"])
    served = client.get("/pages/fonts/NotoSansJP-Regular.otf")
    assert (served.status, served.headers["content-type"]) == (200, "font/otf") and served.body[:4] == b"OTTO"


@needs_browser
def test_a_running_order_keeps_the_pictures_of_its_lists(client, browser, tmp_path):
    mark = tmp_path / "mark.png"
    mark.write_bytes(flat_png(GREEN, 64))
    forget(browser, client.port)
    browser.get(f"http://127.0.0.1:{client.port}/air")
    until(lambda: len(browser.find_elements("css selector", "#add option")) == 3)
    browser.execute_script("const add = document.getElementById('add'); add.value = 'short-list'; add.dispatchEvent(new Event('change'))")
    until(lambda: lines(browser))
    number = next(n for n, line in enumerate(lines(browser), 1) if line[0] == "picture")
    browser.execute_script(
        "const ask = window.fetch; window.asked = []; window.fetch = (address, about) => {"
        "if (String(address).endsWith('/look')) window.asked.push(JSON.parse(about.body)); return ask(address, about); }"
    )
    browser.find_element("css selector", f'[aria-label="List, line {number}: file of the picture"]').send_keys(str(mark))
    kept = "return JSON.parse(localStorage.getItem(Object.keys(localStorage)[0]) ?? '[]')[0]?.pictures ?? {}"
    until(lambda: "mark.png" in browser.execute_script(kept))
    asked = "return (window.asked ?? []).some((body) => body.pictures?.['mark.png'])"
    until(lambda: browser.execute_script(asked))
    browser.refresh()
    until(lambda: lines(browser) and lines(browser)[number - 1][1] == "mark.png")
    browser.execute_script(
        "const box = document.querySelector('.lines li:first-child [data-side]'); box.value += '!'; box.dispatchEvent(new Event('input'))"
    )
    until(lambda: "!" in browser.execute_script("return JSON.parse(localStorage.getItem(Object.keys(localStorage)[0]))[0].typed.list"))
    assert base64.b64decode(browser.execute_script(kept)["mark.png"]) == mark.read_bytes()
