"""The on-air page under a hurried hand: what comes on air is what stands on the card, or nothing does."""

import asyncio
import threading
import time

import pytest
from browsing import forget, needs_browser, until
from selenium.webdriver import ActionChains
from test_air import MAIN, cleared, client, instances, resting, same, shown  # noqa: F401

from avlet.serve.air import Renderer

pytestmark = needs_browser
SLOW = """
const slow = window.slow = { "/load": 0, "/look": 0, ...arguments[0] }, ask = window.fetch;
window.fetch = async (address, about) => {
  const answer = await ask(address, about);
  const kind = Object.keys(slow).find((one) => String(address).endsWith(one));
  if (kind) await new Promise((then) => setTimeout(then, slow[kind]));
  return answer;
};
"""
RETURN, ESCAPE = "\ue007", "\ue00c"


@pytest.fixture
def page(cleared, browser):  # noqa: F811
    """The page with an empty running order, connected."""
    address = f"http://127.0.0.1:{cleared.port}/air"
    forget(browser, cleared.port)
    browser.get(address)
    until(lambda: "connected" in browser.find_element("id", "about").text and "not" not in browser.find_element("id", "about").text)
    until(lambda: len(browser.find_elements("css selector", "#add option")) == 4)
    yield browser
    browser.get("about:blank")


def add(page, name):
    page.execute_script(
        "const add = document.getElementById('add'); add.value = arguments[0]; add.dispatchEvent(new Event('change'))", name
    )


def states(page):
    return page.execute_script("return [...document.querySelectorAll('#rows .state')].map((one) => one.textContent)")


def ready(page, wanted):
    """Wait until that is said of the rows."""
    try:
        until(lambda: states(page) == wanted, 60)
    except AssertionError:
        pytest.fail(f"{states(page)}, {page.find_element('id', 'told').text!r}")


def put(page, field, words):
    one = until(lambda: page.find_elements("id", f"field-{field}"))[0]
    one.clear()
    one.send_keys(words)


def press(page, key):
    page.find_element("id", "rows").send_keys(key)


def test_what_is_typed_before_a_title_is_loaded_is_what_is_taken(page):
    page.execute_script(SLOW, {"/load": 1500})
    add(page, "name-strap")
    put(page, "name", "Bo Li")
    assert not page.find_element("id", "take").is_enabled()
    ready(page, ["next, ready"])
    assert not page.find_element("id", "told").text, "nothing was asked of a title that is not there yet"
    press(page, RETURN)
    until(lambda: states(page)[0].startswith("on air"))
    until(lambda: same(page, resting("name-strap", {"name": "Bo Li"})))


def test_a_title_that_is_added_at_once_is_there_once_and_stays_loaded(cleared, browser):  # noqa: F811
    """By a hand that is quicker than the page, which clears its layer and reads the order that it kept when it begins."""
    forget(browser, cleared.port)
    quick = """
    const ask = window.fetch;
    window.fetch = async (address, about) => {
      if (String(address).endsWith("/clear")) await new Promise((then) => setTimeout(then, 1500));
      return ask(address, about);
    };
    new MutationObserver((_, all) => {
      const add = document.getElementById("add");
      if (!add || add.options.length < 4) return;
      all.disconnect();
      setTimeout(() => { add.value = "name-strap"; add.dispatchEvent(new Event("change")); });
    }).observe(document, { childList: true, subtree: true });
    """
    loaded = browser.execute_cdp_cmd("Page.addScriptToEvaluateOnNewDocument", {"source": quick})
    try:
        browser.get(f"http://127.0.0.1:{cleared.port}/air")
        ready(browser, ["next, ready"])
        time.sleep(1.0)
        assert states(browser) == ["next, ready"] and len(instances(cleared)) == 1
    finally:
        browser.execute_cdp_cmd("Page.removeScriptToEvaluateOnNewDocument", {"identifier": loaded["identifier"]})
        browser.get("about:blank")


def test_old_words_are_not_taken_while_new_ones_are_on_their_way(page):
    add(page, "name-strap")
    ready(page, ["next, ready"])
    page.execute_script(SLOW, {"/look": 1200})
    put(page, "name", "Íris Þórdal")
    assert states(page) == ["changed"] and not page.find_element("id", "take").is_enabled(), "from the first key"
    press(page, RETURN)
    ready(page, ["next, ready"])
    assert not shown(page).any()
    press(page, RETURN)
    until(lambda: same(page, resting("name-strap", {"name": "Íris Þórdal"})))


def test_of_many_changes_the_last_counts_whichever_answer_comes_first(page, cleared):  # noqa: F811
    add(page, "name-strap")
    ready(page, ["next, ready"])
    page.execute_script(SLOW, {"/look": 1500})
    put(page, "name", "First")
    until(
        lambda: (
            page.execute_script("return performance.getEntriesByType('resource').filter((one) => one.name.endsWith('/look')).length") >= 2
        )
    )
    page.execute_script("window.slow['/look'] = 0")
    put(page, "name", "Last")
    ready(page, ["next, ready"])
    assert instances(cleared)[0]["v_avlet"]["data"]["name"] == "Last"


def test_older_words_are_not_painted_to_their_end_and_leave_nothing_loaded(page, cleared, monkeypatch):  # noqa: F811
    """A long title takes long to load: what is typed meanwhile does not wait for that."""
    air = cleared.app.state.air
    loading, tell = threading.Event(), Renderer.tell

    async def slow(renderer, told):
        if told["do"] == "load" and not loading.is_set():
            loading.set()
            await asyncio.sleep(120)
        return await tell(renderer, told)

    monkeypatch.setattr(Renderer, "tell", slow)
    add(page, "name-strap")
    assert loading.wait(30)
    put(page, "name", "Bo Li")
    ready(page, ["next, ready"])
    assert [one["v_avlet"]["data"]["name"] for one in instances(cleared)] == ["Bo Li"] and len(air.renderers["main"].loaded) == 1


def test_what_was_refused_is_not_taken_and_is_ready_once_it_is_mended(page, cleared):  # noqa: F811
    add(page, "hectares")
    ready(page, ["next, ready"])
    put(page, "number", "soon")
    until(lambda: states(page) == ["⚠"])
    assert "number" in page.find_element("id", "told").text and not page.find_element("id", "take").is_enabled()
    press(page, RETURN)
    assert states(page) == ["⚠"] and instances(cleared)[0]["v_avlet"]["state"] == "away"
    put(page, "number", "77")
    ready(page, ["next, ready"])
    assert not page.find_element("id", "told").text and instances(cleared)[0]["v_avlet"]["data"]["number"] == 77


def test_what_was_typed_while_it_stood_is_ready_once_it_is_out_or_another_is_taken(page, cleared):  # noqa: F811
    for name in ("name-strap", "place-tag"):
        add(page, name)
    ready(page, ["next, ready", "ready"])
    for end in (lambda: press(page, ESCAPE), lambda: (page.find_elements("css selector", "#rows li")[1].click(), press(page, RETURN))):
        page.find_elements("css selector", "#rows li")[0].click()
        press(page, RETURN)
        until(lambda: states(page)[0].startswith("on air"))
        page.find_elements("css selector", "#rows li")[0].click()
        words = f"Wren {end.__name__} {id(end)}"
        put(page, "name", words)
        until(lambda: page.find_element("id", "update").is_enabled())
        assert instances(cleared)[0]["v_avlet"]["data"].get("name") != words, "on air nothing changes before it is wanted"
        end()
        until(lambda: states(page)[0] in ("ready", "next, ready"), 60)
        assert instances(cleared)[0]["v_avlet"]["data"]["name"] == words
    press(page, ESCAPE)


def test_what_is_said_to_be_on_air_is_what_is_on_air(page):
    add(page, "name-strap")
    ready(page, ["next, ready"])
    press(page, RETURN)
    until(lambda: states(page)[0].startswith("on air"))
    put(page, "name", "Wren Tidd")
    until(lambda: "Wren Tidd" in page.find_element("id", "rows").text)
    assert page.find_element("id", "live-name").text == "Odalys Brandt · Marsh ecologist" and states(page)[0].endswith("· changed")
    page.find_element("id", "update").click()
    until(lambda: page.find_element("id", "live-name").text == "Wren Tidd · Marsh ecologist" and not states(page)[0].endswith("changed"))
    press(page, ESCAPE)


def test_update_sends_what_stands_there_however_quickly_it_is_pressed(page, cleared):  # noqa: F811
    add(page, "name-strap")
    ready(page, ["next, ready"])
    press(page, RETURN)
    until(lambda: states(page)[0].startswith("on air"))
    page.execute_script(
        "const box = document.getElementById('field-name'); box.value = 'Wren Tidd'; box.dispatchEvent(new Event('input'));"
        "document.getElementById('update').click()"
    )
    until(lambda: instances(cleared)[0]["v_avlet"]["data"].get("name") == "Wren Tidd")
    until(lambda: not page.find_element("id", "update").is_enabled())
    press(page, ESCAPE)


def test_a_title_that_the_server_has_lost_is_loaded_again(page, cleared):  # noqa: F811
    add(page, "name-strap")
    ready(page, ["next, ready"])
    cleared.ask("PUT", f"{MAIN}/clear", {"filters": []})
    put(page, "name", "Bo Li")
    ready(page, ["next, ready"])
    assert instances(cleared)[0]["v_avlet"]["data"]["name"] == "Bo Li" and not page.find_element("id", "told").text


def test_a_change_is_not_lost_where_another_row_is_changed_at_once(page, cleared):  # noqa: F811
    for _ in range(2):
        add(page, "name-strap")
    ready(page, ["next, ready", "ready"])
    for number, words in enumerate(("One", "Two")):
        page.execute_script(
            "document.querySelectorAll('#rows li')[arguments[0]].click(); const box = document.getElementById('field-name');"
            "box.value = arguments[1]; box.dispatchEvent(new Event('input'))", number, words,
        )  # fmt: skip
    until(lambda: states(page) == ["ready", "next, ready"], 60)
    assert sorted(one["v_avlet"]["data"]["name"] for one in instances(cleared)) == ["One", "Two"]


def test_a_press_on_a_row_counts_while_its_words_change(page):
    for name in ("name-strap", "place-tag"):
        add(page, name)
    ready(page, ["next, ready", "ready"])
    press(page, RETURN)
    row = page.find_elements("css selector", "#rows li")[0]
    hand = ActionChains(page).move_to_element(row).click_and_hold()
    hand.pause(1.3).release().perform()  # longer than the clock of what is on air
    assert row.get_attribute("aria-selected") == "true" and page.find_element("id", "name").text == "Next: Name strap"
    press(page, ESCAPE)


def test_a_fault_in_a_running_order_holds_up_nothing_behind_it(page, tmp_path):
    order = tmp_path / "order.json"
    order.write_text('[{"name": "hectares", "typed": {"number": "soon"}}, {"name": "name-strap"}]')
    page.find_element("id", "open").send_keys(str(order))
    until(lambda: states(page) == ["⚠", "ready"], 60)


def test_a_row_is_called_by_its_number_with_its_unit(page):
    add(page, "hectares")
    ready(page, ["next, ready"])
    assert page.find_element("css selector", "#rows li span:nth-child(2)").text == "1284 ha · restored since 2019"
