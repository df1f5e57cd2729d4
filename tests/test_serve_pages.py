"""The pages in a real browser: they show the engine's own pictures and nothing else, by keyboard too, on any width."""

import base64
import io
import json
import shutil
import time
from pathlib import Path

import numpy as np
import pytest
from browsing import hosts_asked, needs_browser, until
from conftest import DEMO
from PIL import Image
from selenium.webdriver.support.select import Select
from serving import serving

from avlet.document.cards import carding
from avlet.document.cards.answers import check_answers
from avlet.document.editing import edits
from avlet.errors import AnswerError
from avlet.paint.scene import Scene
from avlet.storage.package import open_template, save_template
from avlet.text.fonts import bundled_fonts

pytestmark = needs_browser
NAMES = ("name-strap", "hectares", "strip-change", "guest-strap", "end-roll", "place-tag")


@pytest.fixture(scope="module")
def client(tmp_path_factory):
    library = tmp_path_factory.mktemp("pages")
    for name in NAMES:
        shutil.copytree(DEMO / f"{name}.avlet", library / f"{name}.avlet")
    free = open_template(DEMO / "name-strap.avlet").template
    free = edits.replace(replace_field(free, "name", may=("font", "size", "alignment")), name="Free words", keywords=())
    save_template(free, library / "free-strap.avlet", bundled_fonts())
    with serving(library, workers=1) as made:
        yield made


def replace_field(template, field_id, **values):
    return carding.put_field(template, edits.replace(template.card.field(field_id), **values))


@pytest.fixture
def page(client, browser):
    """Opens an address of the server and waits for what is shown there."""

    def show(path):
        browser.get("about:blank")
        browser.get(f"http://127.0.0.1:{client.port}{path}")
        if path.startswith("/titles/"):
            until(lambda: seen(browser) > 0)
        else:
            until(lambda: browser.find_elements("css selector", ".tile") or browser.find_element("id", "told").text)
        return browser

    yield show
    faults = [entry for entry in browser.get_log("browser") if entry["level"] == "SEVERE" and " 422 " not in entry["message"]]
    assert not [one for one in faults if "status of 422" not in one["message"] and "status of 404" not in one["message"]], faults


def seen(browser):
    return int(browser.execute_script("return document.getElementById('canvas')?.dataset.seen ?? 0"))


def canvas(browser):
    """What is on the canvas, premultiplied."""
    data = browser.execute_script("return document.getElementById('canvas').toDataURL('image/png')")
    rgba = np.asarray(Image.open(io.BytesIO(base64.b64decode(data.partition(",")[2]))).convert("RGBA")).astype(np.float64)
    rgba[..., :3] = (rgba[..., :3] * rgba[..., 3:] / 255).round()
    return rgba


def put(browser, field, words):
    """Type words into a field, and wait until they are on the canvas."""
    before = seen(browser)
    one = browser.find_element("id", f"field-{field}")
    one.clear()
    one.send_keys(words)
    until(lambda: seen(browser) > before)
    time.sleep(0.15)


def engine(name, answers, frame, size):
    opened = open_template(DEMO / f"{name.replace('free', 'name')}.avlet")
    if name.startswith("free"):
        free = replace_field(opened.template, "name", may=("font", "size", "alignment"))
        return Scene(free, opened.book, answers).picture(frame, *size).astype(np.float64)
    return Scene(opened.template, opened.book, answers).picture(frame, *size).astype(np.float64)


def off(browser, name, answers, frame):
    """By how much the canvas differs from the engine's picture, in steps of 255."""
    shown = canvas(browser)
    return float(np.abs(shown - engine(name, answers, frame, shown.shape[1::-1])).max())


def test_typing_changes_the_canvas_which_is_the_engines_picture(page):
    browser = page("/titles/name-strap")
    put(browser, "name", "Íris Þórdal")
    until(lambda: off(browser, "name-strap", {"name": "Íris Þórdal"}, 62) <= 1)
    assert browser.find_element("id", "name").text == "Name strap" and not browser.find_element("id", "said").text


@pytest.mark.parametrize(
    "name", ["name-strap", pytest.param("hectares", marks=pytest.mark.soak), "strip-change", "guest-strap", "place-tag"]
)
def test_frames_of_the_reel_on_the_canvas_are_the_engines(page, name):
    """Ten frames over the whole title, gone to on the page's own ruler."""
    browser = page(f"/titles/{name}")
    until(lambda: "engine" in browser.find_element("id", "facts").text)
    length = int(browser.find_element("id", "at").get_attribute("max")) + 1
    for frame in np.linspace(0, length - 1, 10).round().astype(int).tolist():
        browser.execute_script(
            "const at = document.getElementById('at'); at.value = arguments[0]; at.dispatchEvent(new Event('input'))", frame
        )
        assert off(browser, name, {}, frame) <= 1, frame


@pytest.mark.parametrize("ratio", [1, 2])
def test_pictures_are_as_large_as_they_are_shown_and_nothing_else_scales_them(page, ratio):
    """A canvas that the browser made smaller lost thin strokes of letters. A larger window gets larger pictures."""
    browser = page("/titles/name-strap")
    sizes = (
        "const c = document.getElementById('canvas');"
        "return [c.width, c.height, (c.clientHeight < c.clientWidth * 9 / 16 - 1 ? c.clientHeight * 16 / 9 : c.clientWidth) * devicePixelRatio]"
    )
    seen_wide = []
    try:
        for width in (700, 1500):
            told = {"width": width, "height": 1000, "deviceScaleFactor": ratio, "mobile": False}
            browser.execute_cdp_cmd("Emulation.setDeviceMetricsOverride", told)
            until(lambda: abs(browser.execute_script(sizes)[0] - min(1920, browser.execute_script(sizes)[2])) <= 1)
            wide, high, _ = browser.execute_script(sizes)
            assert high == round(wide * 9 / 16)
            until(lambda: off(browser, "name-strap", {}, 62) <= 1 or browser.find_element("id", "at").get_property("value") != "62")
            seen_wide.append(wide)
    finally:
        browser.execute_cdp_cmd("Emulation.clearDeviceMetricsOverride", {})
    assert seen_wide[0] < seen_wide[1]


def test_a_picture_without_a_reel_fills_the_canvas_too(page):
    """A long title has no reel until it is played."""
    browser = page("/titles/end-roll")
    frame = int(browser.find_element("id", "at").get_property("value"))
    wide = browser.execute_script("return [document.getElementById('canvas').width, document.getElementById('canvas').clientWidth]")
    assert wide[0] == wide[1] and off(browser, "end-roll", {}, frame) <= 1


def test_it_plays_by_the_clock_and_stops(page):
    browser = page("/titles/name-strap")
    until(lambda: "engine" in browser.find_element("id", "facts").text)
    browser.find_element("tag name", "body").send_keys(" ")
    frame = lambda: int(browser.find_element("id", "at").get_property("value"))  # noqa: E731
    until(lambda: browser.find_element("id", "play").get_attribute("aria-label") == "Pause")
    told = [browser.execute_script("return [performance.now(), Number(document.getElementById('at').value)]") for _ in (0, time.sleep(1))]
    (t0, f0), (t1, f1) = told
    assert abs((f1 - f0) % 125 - (t1 - t0) / 40) <= 2, "25 frames a second, whatever the browser can"
    browser.find_element("id", "play").click()
    still = frame()
    time.sleep(0.3)
    assert frame() == still


def test_the_address_keeps_the_answers_and_gives_them_to_a_colleague(page):
    browser = page("/titles/guest-strap")
    put(browser, "name", "Bo & <b>Li</b> #1")
    browser.execute_script("const one = document.getElementById('field-side'); one.value = 'right'; one.dispatchEvent(new Event('change'))")
    one = browser.find_element("id", "length")
    one.clear()
    one.send_keys("7 s")
    until(lambda: "length=7" in browser.current_url and "side=right" in browser.current_url)
    address, before = browser.current_url, canvas(browser)
    browser.get("about:blank")
    browser.get(address)
    until(lambda: seen(browser) > 0)
    assert browser.find_element("id", "field-name").get_property("value") == "Bo & <b>Li</b> #1"
    assert browser.find_element("id", "length").get_property("value") == "7 s"
    assert browser.find_element("id", "at").get_attribute("max") == "174"
    until(lambda: np.array_equal(canvas(browser), before))


HOSTILE = [
    "<script>document.title='taken'</script>",
    "\"><img src=x onerror=document.title='taken'>",
    "javascript:1",
    "{{7*7}}",
    "\u202eevil",
    "x" * 300,
]


def test_what_is_typed_is_shown_as_words_and_refused_in_the_engines(page):
    browser = page("/titles/hectares")
    put(browser, "number", "1284")
    template = open_template(DEMO / "hectares.avlet").template
    for words in HOSTILE:
        one = browser.find_element("id", "field-number")
        one.clear()
        one.send_keys(words.replace("\u202e", ""))
        said = until(lambda: browser.find_element("id", "field-number-fault").text)
        assert "number" in said.lower() and one.get_attribute("aria-invalid") == "true"
    with pytest.raises(AnswerError) as refused:
        check_answers(template, {"number": 10.0**12})
    one = browser.find_element("id", "field-number")
    one.clear()
    one.send_keys("1000000000000")
    until(lambda: browser.find_element("id", "field-number-fault").text == str(refused.value))
    put(browser, "number", "12")
    assert not browser.find_element("id", "field-number-fault").text and one.get_attribute("aria-invalid") is None
    browser = page("/titles/name-strap")
    for words in HOSTILE:
        put(browser, "role", words)
        assert browser.title == "Name strap – Avlet" and not browser.find_elements("css selector", "img[src=x]")


WORDS = (
    *HOSTILE, "", " ", "0", "-1", "1e9", "1e400", "NaN", "∞", "12,5", "12.5", "1,234", "1.234,5", "#20435C", "#20435", "red", "url(x)", "'; x --",
    "@/etc/passwd", "@list.csv", "🙂", "مرحبا", "a" * 3000, "5 s", "00:00:02:00", "yes", "../x", "%00", "{{x}}", "null", "[1]",
)  # fmt: skip
TRIED = """
const [id, words, done] = arguments, canvas = document.getElementById("canvas");
const one = document.getElementById(`field-${id}`), fault = document.getElementById(`field-${id}-fault`), own = one.value;
const put = (value, then) => {
  const before = canvas.dataset.seen;
  fault.textContent = "";
  one.value = value;
  one.dispatchEvent(new Event("input"));
  const look = () => canvas.dataset.seen !== before || fault.textContent ? then() : setTimeout(look, 5);
  look();
};
put(words, () => { const said = [one.value, fault.textContent]; put(own, () => done(said)); });
"""


@pytest.mark.parametrize("every", [25, pytest.param(1, marks=pytest.mark.soak)])
def test_a_form_takes_and_refuses_what_the_engine_does_in_its_words(page, client, every):
    """Hundreds of answers typed into every field that takes words; by HTTP and in Python they are tried in test_serve.py."""
    tried = refused = 0
    for name in ("name-strap", "guest-strap", "hectares"):
        browser = page(f"/titles/{name}")
        fields = "return [...document.querySelectorAll('input[type=text][id^=field-], textarea[id^=field-]')].map((one) => one.id.slice(6))"
        for field in browser.execute_script(fields):
            for words in WORDS[tried % every :: every]:
                value, said = browser.execute_async_script(TRIED, field, words)
                try:
                    client.app.state.titles.asked(name, {}, {field: value}, None)
                    expected = ""
                except AnswerError as error:
                    expected = str(error)
                assert said == expected, (name, field, words)
                tried, refused = tried + 1, refused + bool(said)
    assert tried > 300 // every and refused, (tried, refused)


def test_a_film_is_taken_away_with_how_far_it_is_and_stopped(page, client):
    browser = page("/titles/name-strap")
    browser.find_element("css selector", "[data-kind=still]").click()
    link = until(lambda: browser.find_elements("css selector", "#made a.there"))[0]
    assert link.text == "name-strap.png ✓" and client.get(link.get_attribute("href").partition(str(client.port))[2]).body[:4] == b"\x89PNG"
    browser = page("/titles/end-roll")
    browser.find_element("id", "take").click()
    until(lambda: browser.find_elements("css selector", "#made progress"))
    browser.find_element("css selector", "#made button").click()
    until(lambda: not browser.find_elements("css selector", "#made li"))


def test_the_library_is_sifted_plays_and_keeps_favourites(page):
    browser = page("/")
    tiles = lambda: [one.text.splitlines()[0] for one in browser.find_elements("css selector", ".tile")]  # noqa: E731
    assert len(tiles()) == len(NAMES) + 1
    browser.find_element("id", "search").send_keys("bars two")
    assert tiles() == ["Name strap"]
    link = browser.find_element("css selector", ".tile a")
    browser.execute_script("arguments[0].focus()", link)
    assert browser.find_element("css selector", ".tile img").get_attribute("src").endswith("/preview")
    browser.find_element("css selector", ".tile .star").click()
    browser.find_element("id", "search").clear()
    browser.find_element("id", "search").send_keys(" ")
    browser.get(browser.current_url)
    until(lambda: len(tiles()) == len(NAMES) + 1)
    chips = browser.find_elements("css selector", "#categories button")
    chips[0].send_keys("\ue012")  # arrow left: from the first to the last
    assert browser.switch_to.active_element.text == "★" and tiles() == ["Name strap"]
    browser.find_element("css selector", ".tile .star").click()
    assert "No favourite yet" in browser.find_element("id", "told").text


def test_everything_is_reached_by_the_keyboard_and_has_a_name(page):
    browser = page("/titles/guest-strap")
    names = browser.execute_script(
        """
        const found = [];
        for (const one of document.querySelectorAll("a[href], button, input, select, textarea")) {
          if (one.offsetParent === null) continue;
          const labelled = one.labels?.length ? [...one.labels].map((l) => l.textContent).join(" ") : "";
          const group = one.closest("fieldset")?.querySelector("legend")?.textContent ?? "";
          found.push([one.outerHTML.slice(0, 80), (one.getAttribute("aria-label") || labelled || one.textContent || group).trim()]);
        }
        return found;
        """
    )
    assert len(names) > 15 and all(name for _, name in names), [one for one, name in names if not name]
    reached = set()
    for _ in range(60):
        browser.switch_to.active_element.send_keys("\ue004")
        reached.add(
            browser.execute_script("return document.activeElement.id || document.activeElement.dataset.kind || document.activeElement.name")
        )
    assert {"field-name", "field-role", "field-side", "length", "take", "play", "at", "prores", "reel"} <= reached
    assert browser.execute_script("return document.documentElement.lang") == "en"


@pytest.mark.parametrize("width", [320, 390, 800, 1280, 3840])
def test_nothing_is_cut_off_at_any_width(page, width):
    browser = page("/titles/name-strap")
    browser.set_window_size(max(width, 500), 900)
    browser.execute_cdp_cmd("Emulation.setDeviceMetricsOverride", {"width": width, "height": 900, "deviceScaleFactor": 1, "mobile": False})
    try:
        time.sleep(0.2)
        wide = browser.execute_script("return [document.documentElement.scrollWidth, innerWidth]")
        assert wide[0] <= wide[1] == width
        shown = browser.execute_script(
            "const b = document.getElementById('canvas').getBoundingClientRect(); return [b.left, b.right, b.width]"
        )
        assert shown[0] >= 0 and shown[1] <= width and shown[2] >= min(width * 0.3, 960)
    finally:
        browser.execute_cdp_cmd("Emulation.clearDeviceMetricsOverride", {})
        browser.set_window_size(1280, 800)


def test_what_is_not_there_is_told_and_typing_survives_a_server_that_ends(page, client, browser):
    browser.get(f"http://127.0.0.1:{client.port}/titles/nothing")
    until(lambda: "no title “nothing”" in browser.find_element("id", "note").text)
    browser = page("/titles/name-strap")
    browser.execute_script("window.fetch = () => Promise.reject(new TypeError('gone'))")
    one = browser.find_element("id", "field-name")
    one.clear()
    one.send_keys("Kept")
    until(lambda: "does not answer" in browser.find_element("id", "field-name-fault").text)
    assert one.get_property("value") == "Kept"


@pytest.fixture
def lacking(browser):
    """Takes something from all pages that are opened from now on, as an older browser has it not."""
    made = []

    def take(script):
        made.append(browser.execute_cdp_cmd("Page.addScriptToEvaluateOnNewDocument", {"source": script})["identifier"])
        return browser

    yield take
    for one in made:
        browser.execute_cdp_cmd("Page.removeScriptToEvaluateOnNewDocument", {"identifier": one})


def test_a_browser_that_shows_no_webp_says_so_and_what_to_do(client, lacking):
    browser = lacking("window.createImageBitmap = () => Promise.reject(new DOMException('not decoded', 'InvalidStateError'))")
    browser.get(f"http://127.0.0.1:{client.port}/titles/name-strap")
    until(lambda: "does not show WebP pictures. Open this address in another one" in browser.find_element("id", "facts").text)


@pytest.mark.parametrize("address", ["/air", "/air/main"])
def test_a_browser_without_websocket_says_so_and_what_to_do(client, lacking, address):
    browser = lacking("delete window.WebSocket")
    browser.get(f"http://127.0.0.1:{client.port}{address}")
    until(lambda: "has no WebSocket" in browser.find_element("tag name", "body").text)
    if address == "/air":
        assert "not connected" in browser.find_element("id", "about").text


def test_no_request_leaves_for_another_host(page):
    browser = page("/titles/hectares")
    put(browser, "number", "77")
    page("/")
    assert hosts_asked(browser) == {"127.0.0.1"}


def test_from_key_to_canvas_in_the_pages_own_time(page):
    """Told, not held: it is the benchmark's business how long that takes; that it is measured from the key is held here."""
    browser = page("/titles/name-strap")
    put(browser, "name", "Bo")
    took = browser.execute_async_script(
        """
        const done = arguments[0], canvas = document.getElementById("canvas"), before = canvas.dataset.seen;
        const one = document.getElementById("field-name"), began = performance.now();
        one.value = "Bo Li"; one.dispatchEvent(new Event("input"));
        const look = () => canvas.dataset.seen !== before ? done(performance.now() - began) : requestAnimationFrame(look);
        look();
        """
    )
    assert 0 < took < 20_000
    assert json.dumps(took)


AXE = Path(__file__).parent / "javascript" / "node_modules" / "axe-core" / "axe.min.js"


@pytest.mark.skipif(not AXE.is_file(), reason="needs npm: npm ci in tests/javascript")
@pytest.mark.parametrize("path", ["/", "/titles/name-strap", "/titles/guest-strap", "/titles/end-roll"])
def test_axe_finds_nothing_serious(page, path):
    """axe-core 4.11, by the rules of WCAG 2.1 A and AA and of best practice."""
    browser = page(path)
    browser.execute_script(AXE.read_text(encoding="utf-8"))
    found = browser.execute_async_script(
        "const done = arguments[0]; axe.run().then((told) => done(told.violations), (e) => done([String(e)]))"
    )
    assert [
        (one["id"], one["impact"], one["nodes"][0]["html"][:120]) for one in found if one["impact"] in ("serious", "critical", None)
    ] == []


def formatted(browser, key):
    return browser.find_element("css selector", f"#field-name ~ .formats [data-format={key}], .formats [data-format={key}]")


def test_words_are_formatted_where_the_designer_lets_them_be(page):
    """Font, weight, size and alignment: the engine's picture with the same answer; the address keeps them; each can be left to the title again."""
    browser = page("/titles/free-strap")
    assert [one.get_attribute("aria-label") for one in browser.find_elements("css selector", ".formats [data-format]")] == [
        "Name: aligned", "Name: font", "Name: weight", "Name: size",
    ]  # fmt: skip
    before = seen(browser)
    Select(formatted(browser, "family")).select_by_visible_text("Alegreya")
    Select(formatted(browser, "style")).select_by_visible_text("bold")
    formatted(browser, "size").send_keys("64,5")
    until(lambda: seen(browser) > before)
    time.sleep(0.6)
    answer = {"name": {"text": "Odalys Brandt", "family": "Alegreya", "style": "Bold", "size": 64.5}}
    frame = int(browser.execute_script("return document.getElementById('at').value"))
    assert off(browser, "free-strap", answer, frame) <= 1
    assert off(browser, "free-strap", {}, frame) > 50
    put(browser, "name", "Bo Li")
    answer["name"]["text"] = "Bo Li"
    assert off(browser, "free-strap", answer, frame) <= 1
    address, shown = browser.current_url, canvas(browser)
    assert "name%2Fsize=64.5" in address
    browser.get("about:blank")
    browser.get(address)
    until(lambda: seen(browser) > 0 and np.array_equal(canvas(browser), shown))
    for key in ("family", "style"):
        Select(formatted(browser, key)).select_by_index(0)
    formatted(browser, "size").clear()
    formatted(browser, "size").send_keys(" ")
    until(lambda: off(browser, "free-strap", {"name": "Bo Li"}, frame) <= 1)


@pytest.mark.parametrize("size", ["0", "4001", "large", "<b>"])
def test_a_size_that_is_none_is_refused_in_the_engines_words(page, size):
    browser = page("/titles/free-strap")
    formatted(browser, "size").send_keys(size)
    fault = until(lambda: browser.find_element("id", "field-name-fault").text)
    assert fault == "The size of “Name” is 1 to 4000 px."


def test_nothing_is_formatted_where_the_designer_keeps_it(page):
    assert not page("/titles/name-strap").find_elements("css selector", "[data-format]")
