"""On air: a small OGraf controller of the tests' own drives the server as a stranger would, and looks at what a renderer's page shows."""

import contextlib
import json
import re
import shutil
import subprocess
import threading
import time

import numpy as np
import pytest
from browsing import forget, graphics_shown, needs_browser, until
from conftest import SMALL, small
from serving import serving
from test_live import JAVASCRIPT, needs_checks
from websockets.exceptions import ConnectionClosed
from websockets.sync.client import connect

from avlet.document.fields import LengthField
from avlet.errors import AnswerError
from avlet.media.live import answers_of_data
from avlet.paint.scene import Scene
from avlet.serve import air as air_module
from avlet.serve import ograf
from avlet.storage.package import open_template

V1 = "/ograf/v1"
MAIN = f"{V1}/renderers/main/target/graphicInstance"
LENGTH = 60
"""Frames of the titles: what is waited for is loaded sooner."""


@pytest.fixture(scope="module")
def client(tmp_path_factory):
    library = tmp_path_factory.mktemp("air")
    for name in ("name-strap", "hectares", "place-tag"):
        shutil.copytree(small(name, LENGTH), library / f"{name}.avlet")
    with serving(library, workers=2) as made:
        yield made


@pytest.fixture
def cleared(client):
    """Nothing is loaded before and after."""
    client.ask("PUT", f"{MAIN}/clear", {"filters": []})
    yield client
    client.ask("PUT", f"{MAIN}/clear", {"filters": []})


def load(client, name="name-strap", data=None, layer=1, renderer="main"):
    body = {"renderTarget": layer, "graphicId": f"avlet.{name}", "params": {"data": data or {}}}
    got = client.post(f"{V1}/renderers/{renderer}/target/graphicInstance/load", body)
    assert got.status == 200 and got.json["statusCode"] == 200, got.body
    return got.json["graphicInstanceId"]


def act(client, action, instance, layer=1, **params):
    return client.post(f"{MAIN}/{action}", {"renderTarget": layer, "graphicInstanceId": instance, "params": params})


def instances(client, layer=1):
    return client.get(f"{V1}/renderers/main/target?renderTarget={layer}").json["graphicInstances"]


# The interface


def test_what_it_says_of_itself_its_graphics_and_its_renderers(cleared):
    client = cleared
    assert client.get(f"{V1}/").json["name"] == "Avlet"
    listed = {one["id"]: one for one in client.get(f"{V1}/graphics").json["graphics"]}
    assert set(listed) == {"avlet.name-strap", "avlet.hectares", "avlet.place-tag"}
    graphic = client.get(f"{V1}/graphics/avlet.name-strap").json
    assert (
        graphic["graphic"]["id"] == "avlet.name-strap" and graphic["graphic"]["schema"]["properties"]["name"]["default"] == "Odalys Brandt"
    )
    assert re.match(r"\d{4}-\d\d-\d\dT", graphic["metadata"]["createdAt"])
    assert client.get(f"{V1}/graphics/avlet.nothing").status == client.get(f"{V1}/graphics/name-strap").status == 404
    assert client.ask("DELETE", f"{V1}/graphics/avlet.name-strap").status == 403
    assert {one["id"] for one in client.get(f"{V1}/renderers").json["renderers"]} >= {"main"}
    told = client.get(f"{V1}/renderers/main").json["renderer"]
    assert told["status"]["status"] == "WARNING" and "/air/main" in told["status"]["message"] and len(told["renderTargets"]) == 4
    assert told["renderTargetSchema"]["maximum"] == 4
    nobody = client.get(f"{V1}/renderers/nobody")
    assert nobody.status == 404 and "Open its page first" in nobody.words


def test_a_title_is_loaded_taken_updated_taken_out_and_cleared(cleared):
    client = cleared
    one = load(client, data={"name": "Bo Li"})
    other = load(client, "place-tag", layer=2)
    assert [found["graphicInstanceId"] for found in instances(client)] == [one] and instances(client)[0]["v_avlet"]["state"] == "away"
    done = act(client, "playAction", one).json
    assert done == {"graphicInstanceId": one, "statusCode": 200, "currentStep": 0} and instances(client)[0]["v_avlet"]["state"] == "in"
    assert act(client, "updateAction", one, data={"name": "Íris Þórdal"}).json["statusCode"] == 200
    assert instances(client)[0]["v_avlet"] == {"state": "in", "data": {"name": "Íris Þórdal"}}
    again = load(client, data={"name": "Next"})
    act(client, "playAction", again)
    assert {found["graphicInstanceId"]: found["v_avlet"]["state"] for found in instances(client)} == {one: "out", again: "in"}, (
        "one a layer"
    )
    assert instances(client, 2)[0]["v_avlet"]["state"] == "away", "another layer is not touched"
    assert act(client, "stopAction", again).status == 200 and instances(client)[1]["v_avlet"]["state"] == "out"
    assert act(client, "customActions/cut-in", one, payload=None).status == 200 and instances(client)[0]["v_avlet"]["state"] == "in"
    assert act(client, "customActions/cut-out", one, payload=None).status == 200 and instances(client)[0]["v_avlet"]["state"] == "away"
    gone = client.ask("PUT", f"{MAIN}/clear", {"filters": [{"graphicId": "avlet.place-tag"}]}).json["graphicInstances"]
    assert gone == [{"renderTarget": 2, "graphicInstanceId": other}] and len(instances(client)) == 2
    assert (
        len(client.ask("PUT", f"{MAIN}/clear", {"filters": [{"renderTarget": 1, "graphicInstanceId": again}]}).json["graphicInstances"])
        == 1
    )
    assert len(client.ask("PUT", f"{MAIN}/clear", {"filters": []}).json["graphicInstances"]) == 1 and not instances(client)


def test_what_is_not_possible_is_told_in_the_engines_words(cleared):
    client = cleared
    one = load(client)
    cases = [
        ("playAction", {"renderTarget": 1, "graphicInstanceId": "none", "params": {}}, 404, "Nothing of that id"),
        ("playAction", {"renderTarget": 2, "graphicInstanceId": one, "params": {}}, 404, "on layer 2"),
        ("playAction", {"renderTarget": 9, "graphicInstanceId": one, "params": {}}, 404, "a layer, 1 to 4"),
        ("playAction", {"renderTarget": True, "graphicInstanceId": one, "params": {}}, 404, "a layer"),
        ("playAction", {"renderTarget": 1, "graphicInstanceId": one, "params": {"goto": 4}}, 400, "one step"),
        ("playAction", {"renderTarget": 1}, 400, "graphicInstanceId"),
        ("updateAction", {"renderTarget": 1, "graphicInstanceId": one, "params": {"data": {"nme": "x"}}}, 422, "has no field “nme”"),
        ("updateAction", {"renderTarget": 1, "graphicInstanceId": one, "params": {"data": "x"}}, 422, "is an object"),
        ("updateAction", {"renderTarget": 1, "graphicInstanceId": one, "params": {"data": {"corners": 1e9}}}, 422, "Corners"),
        ("customActions/explode", {"renderTarget": 1, "graphicInstanceId": one, "params": {"payload": None}}, 404, "cut-in and cut-out"),
        ("load", {"renderTarget": 1, "graphicId": "avlet.nothing", "params": {"data": {}}}, 404, "no title “nothing”"),
        ("load", {"renderTarget": 1, "graphicId": "avlet.name-strap", "params": {"data": {"name": 7}}}, 422, "takes words"),
    ]
    for action, body, status, words in cases:
        got = client.post(f"{MAIN}/{action}", body)
        assert got.status == status and words in got.words, (action, body, got.body)
        assert got.headers["content-type"] == "application/problem+json"
    assert client.post(f"{V1}/renderers/main/customActions/x", {"payload": None}).status == 404
    assert client.get(f"{V1}/renderers/main/target").status == client.get(f"{V1}/renderers/main/target?renderTarget=x").status == 404
    assert len(instances(client)) == 1, "nothing of it changed anything"
    assert client.post(f"{MAIN}/playAction", {"renderTarget": 1, "graphicInstanceId": one}, Origin="http://evil.example").status == 403


def test_no_more_are_loaded_than_there_is_room_for(cleared, monkeypatch):
    monkeypatch.setattr(air_module, "MOST_LOADED", 1)
    load(cleared)
    full = cleared.post(f"{MAIN}/load", {"renderTarget": 1, "graphicId": "avlet.name-strap", "params": {"data": {}}})
    assert full.status == 503 and "Clear some first" in full.words and len(instances(cleared)) == 1


def test_what_is_on_air_is_kept_whoever_asks_for_it(cleared):
    from avlet.serve.studio import KEPT_FOR

    load(cleared, data={"name": "Kept"})
    studio = cleared.app.state.studio
    (name,) = cleared.app.state.air.reels()
    studio.sweep(time.monotonic() + KEPT_FOR * 3)
    assert cleared.get(f"/api/reels/{name}/reel.json").status == 200
    cleared.ask("PUT", f"{MAIN}/clear", {"filters": []})
    studio.sweep(time.monotonic() + KEPT_FOR * 3)
    assert cleared.get(f"/api/reels/{name}/reel.json").status == 404


def test_lengths_come_in_ms(book):
    from conftest import plated

    from avlet.document.cards.card import Card, Section

    template = plated(card=Card(sections=(Section(fields=(LengthField(id="hold", label="Hold", default=50),)),)))
    assert answers_of_data(template, {"hold": 2000}) == {"hold": 50} and answers_of_data(template, None) == {}
    for odd in ({"hold": True}, {"hold": "2"}, {"hold": float("nan")}):
        assert answers_of_data(template, odd) is not odd and answers_of_data(template, odd)["hold"] is odd["hold"]
    with pytest.raises(AnswerError):
        answers_of_data(template, [1])


@needs_checks
def test_every_answer_is_of_the_ebus_own_types(cleared, tmp_path):
    """What the server says, as values of npm ``ograf``'s definitions of the server interface; and it has every address of theirs."""
    client = cleared
    one = load(client, data={"name": "Bo"})
    paths = {
        "/": ("get", client.get(f"{V1}/")), "/graphics": ("get", client.get(f"{V1}/graphics")),
        "/graphics/{graphicId}": ("get", client.get(f"{V1}/graphics/avlet.name-strap")), "/renderers": ("get", client.get(f"{V1}/renderers")),
        "/renderers/{rendererId}": ("get", client.get(f"{V1}/renderers/main")),
        "/renderers/{rendererId}/target": ("get", client.get(f"{V1}/renderers/main/target?renderTarget=1")),
    }  # fmt: skip
    for action in ("playAction", "updateAction", "stopAction"):
        paths[f"/renderers/{{rendererId}}/target/graphicInstance/{action}"] = ("post", act(client, action, one, data={}))
    load_body = {"renderTarget": 1, "graphicId": "avlet.name-strap", "params": {"data": {}}}
    paths["/renderers/{rendererId}/target/graphicInstance/load"] = ("post", client.post(f"{MAIN}/load", load_body))
    paths["/renderers/{rendererId}/target/graphicInstance/clear"] = ("put", client.ask("PUT", f"{MAIN}/clear", {"filters": []}))
    lines = [f'import type {{ paths }} from "{JAVASCRIPT}/node_modules/ograf/dist/generated/server-api";']
    for number, (path, (method, got)) in enumerate(paths.items()):
        body = got.body.decode()
        if "graphicId" in path:  # its generated type asks each schema for parts of JSON Schema's own; the manifest has a test of its own
            body = f"{{...{body}, graphic: undefined as any}}"
        kind = f'paths["{path}"]["{method}"]["responses"][200]["content"]["application/json"]'
        lines.append(f"export const made{number}: {kind} = {body};")
    (tmp_path / "told.ts").write_text("\n".join(lines))
    options = {
        "strict": True,
        "noEmit": True,
        "target": "ES2022",
        "module": "ES2022",
        "moduleResolution": "bundler",
        "types": [],
        "skipLibCheck": True,
    }
    (tmp_path / "tsconfig.json").write_text(json.dumps({"compilerOptions": options, "include": ["told.ts"]}))
    tsc = [shutil.which("node"), str(JAVASCRIPT / "node_modules/typescript/bin/tsc"), "-p", str(tmp_path)]
    done = subprocess.run(tsc, capture_output=True, text=True, check=False)
    assert done.returncode == 0, done.stdout
    theirs = re.findall(r'^    "(/[^"]*)": \{', (JAVASCRIPT / "node_modules/ograf/dist/generated/server-api.d.ts").read_text(), re.M)
    names = {"{rendererId}": "{renderer}", "{graphicId}": "{graphic}", "{customActionId}": "{action}"}
    wanted = set()
    for path in theirs:
        for name, ours in names.items():
            path = path.replace(name, ours)
        wanted.add(path)
    assert wanted == {route.path for route in ograf.routes()}


# Sockets


def test_a_socket_of_another_page_or_of_no_name_is_refused_and_what_floods_does_no_harm(client):
    address = f"ws://127.0.0.1:{client.port}/air/flood/socket"
    for origin, path in (
        ("http://evil.example", "flood"),
        (f"http://127.0.0.1:{client.port}", "No%20Name"),
        (f"http://127.0.0.1:{client.port}", "x" * 60),
    ):
        with (
            pytest.raises(Exception, match=r"403|404|rejected|closed|44"),
            connect(address.replace("flood", path), origin=origin) as refused,
        ):
            refused.recv(2)
    with connect(address, origin=f"http://127.0.0.1:{client.port}") as socket:
        for words in ("{", "[]", "null", '{"number": "x"}', '{"number": 1e999}', '{"number": 7, "ok": true}', "x" * 9_000):
            for _ in range(40):
                socket.send(words)
        until(lambda: client.get(f"{V1}/renderers/flood").json["renderer"]["status"]["status"] == "OK")
    until(lambda: client.get(f"{V1}/renderers/flood").json["renderer"]["status"]["status"] == "WARNING")


def test_a_page_that_does_not_take_the_pictures_is_told_to_the_controller(client):
    """And what could not be shown is not loaded."""
    with connect(f"ws://127.0.0.1:{client.port}/air/torn/socket", origin=f"http://127.0.0.1:{client.port}") as socket:

        def answer():
            told = json.loads(socket.recv(20))
            socket.send(json.dumps({"number": told["number"], "ok": False, "said": "0003.webp: 500"}))
            with contextlib.suppress(ConnectionClosed):
                while True:
                    told = json.loads(socket.recv(20))
                    socket.send(json.dumps({"number": told["number"], "ok": True}))

        threading.Thread(target=answer, daemon=True).start()
        body = {"renderTarget": 1, "graphicId": "avlet.name-strap", "params": {"data": {}}}
        got = client.post(f"{V1}/renderers/torn/target/graphicInstance/load", body)
        assert got.status == 422 and "0003.webp: 500" in got.words
        assert not client.get(f"{V1}/renderers/torn/target?renderTarget=1").json["graphicInstances"]


def test_other_words_go_out_and_in_again_where_the_title_says_so(cleared, tmp_path):
    """A page is told when it comes in again; one that comes later is told the same time. A cut, and what is away, exchange at once."""
    client, library = cleared, cleared.app.state.library
    again = shutil.copytree(small("place-tag", LENGTH), library / "again.avlet")
    told = json.loads((again / "template.json").read_text())
    (again / "template.json").write_text(json.dumps({**told, "name": "Again", "updates": "out and in"}))
    way_out = told["way_out"] / 25 * 1000
    try:
        with connect(f"ws://127.0.0.1:{client.port}/air/main/socket", origin=f"http://127.0.0.1:{client.port}") as socket:
            heard = []

            def answer():
                with contextlib.suppress(ConnectionClosed, TimeoutError):
                    while True:
                        heard.append(json.loads(socket.recv(30)))
                        socket.send(json.dumps({"number": heard[-1]["number"], "ok": True}))

            threading.Thread(target=answer, daemon=True).start()
            instance = load(client, "again")
            for state, cut, late in (("away", False, 0), ("in", False, way_out), ("in", True, 0)):
                if state == "in":
                    act(client, "playAction", instance, skipAnimation=True)
                assert act(client, "updateAction", instance, data={"place": f"Reed {late} {cut}"}, skipAnimation=cut).status == 200
                update = heard[-1]
                assert (update["do"], update["state"], update["cut"], update["reel"]["updates"]) == ("update", state, cut, "out and in")
                if state == "in" and not cut:
                    assert -late - 1 <= update["for"] <= -late + 500 and not update["skip"]
                else:
                    assert update["for"] >= 0, "a cut, and what is away, exchange at once"
            plain = load(client, "place-tag", layer=2)
            act(client, "playAction", plain, layer=2)
            act(client, "updateAction", plain, layer=2, data={"place": "Reed"})
            assert heard[-1]["reel"]["updates"] == "in place" and heard[-1]["for"] >= 0
    finally:
        shutil.rmtree(again)


# Pages


def shown(browser, size=SMALL):
    """All layers of a renderer's page, one over the other, premultiplied."""
    whole = np.zeros((size[1], size[0], 4))
    for rgba in graphics_shown(browser, "[...document.querySelectorAll('avlet-on-air')]", size):
        whole = rgba + whole * (1 - rgba[..., 3:] / 255)
    return whole


def resting(name, answers):
    opened = open_template(small(name, LENGTH))
    scene = Scene(opened.template, opened.book, answers)
    return scene.picture(scene.length - 1 - scene.spans.way_out).astype(np.float64)


def same(browser, picture):
    return float(np.abs(shown(browser) - picture).max()) <= 1


@needs_browser
def test_a_renderers_page_shows_what_the_controller_does_and_comes_back_after_a_break(cleared, browser):
    client = cleared
    browser.get(f"http://127.0.0.1:{client.port}/air/main")
    until(lambda: client.get(f"{V1}/renderers/main").json["renderer"]["status"]["status"] == "OK")
    one = load(client, data={"name": "Bo Li", "role": "Ringer"})
    assert not shown(browser).any(), "loaded, not on air"
    began = time.monotonic()
    act(client, "playAction", one)
    assert time.monotonic() - began < 20
    until(lambda: same(browser, resting("name-strap", {"name": "Bo Li", "role": "Ringer"})), 10)
    act(client, "updateAction", one, data={"name": "Íris Þórdal", "role": "Ringer"})
    iris = resting("name-strap", {"name": "Íris Þórdal", "role": "Ringer"})
    until(lambda: same(browser, iris), 10)
    browser.get("about:blank")
    until(lambda: client.get(f"{V1}/renderers/main").json["renderer"]["status"]["status"] == "WARNING")
    browser.get(f"http://127.0.0.1:{client.port}/air/main")
    until(lambda: browser.find_elements("css selector", "avlet-on-air") and same(browser, iris), 20)
    act(client, "stopAction", one)
    until(lambda: not shown(browser).any(), 10)
    act(client, "customActions/cut-in", one, payload=None)
    until(lambda: same(browser, iris), 5)
    client.ask("PUT", f"{MAIN}/clear", {"filters": []})
    until(lambda: not browser.find_elements("css selector", "avlet-on-air"), 5)
    faults = [entry for entry in browser.get_log("browser") if entry["level"] == "SEVERE"]
    assert not faults, faults


@needs_browser
def test_the_on_air_page_takes_a_running_order_by_keys(cleared, browser, tmp_path):
    """Two titles are added, made ready, taken, changed on air, taken out; the order is kept and read again."""
    client = cleared
    forget(browser, client.port)
    browser.get(f"http://127.0.0.1:{client.port}/air")
    until(lambda: "connected" in browser.find_element("id", "about").text and "not" not in browser.find_element("id", "about").text)
    until(lambda: len(browser.find_elements("css selector", "#add option")) == 4)
    for name in ("name-strap", "place-tag"):
        browser.execute_script(
            "const add = document.getElementById('add'); add.value = arguments[0]; add.dispatchEvent(new Event('change'))", name
        )
    states = lambda: browser.execute_script("return [...document.querySelectorAll('#rows .state')].map((one) => one.textContent)")  # noqa: E731
    until(lambda: states() == ["next, ready", "ready"], 90)
    first = browser.find_element("css selector", "#rows li span:nth-child(2)").text
    assert first == "Odalys Brandt · Marsh ecologist", "a row is called by its words, not by its switches"
    field = browser.find_element("id", "field-name")
    field.clear()
    field.send_keys("Bo Li")
    until(lambda: "Bo Li" in browser.find_element("id", "rows").text and states()[0] == "next, ready", 20)
    body = browser.find_element("id", "rows")
    body.send_keys("\ue007")
    until(lambda: states()[0].startswith("on air"), 10)
    assert states()[1] == "next, ready", "the next one is chosen"
    until(lambda: same(browser, resting("name-strap", {"name": "Bo Li"})), 10)
    body.send_keys("\ue013")
    field = until(lambda: browser.find_elements("id", "field-name"))[0]
    field.clear()
    field.send_keys("Íris Þórdal")
    until(lambda: browser.find_element("id", "update").is_enabled(), 10)
    assert not same(browser, resting("name-strap", {"name": "Íris Þórdal"})), "on air nothing changes before it is wanted"
    browser.find_element("id", "update").click()
    until(lambda: same(browser, resting("name-strap", {"name": "Íris Þórdal"})), 10)
    browser.find_element("id", "rows").send_keys("\ue00c")
    until(lambda: not shown(browser).any() and not any(one.startswith("on air") for one in states()), 10)
    browser.get("about:blank")
    browser.get(f"http://127.0.0.1:{client.port}/air")
    until(lambda: len(states()) == 2 and "Íris Þórdal" in browser.find_element("id", "rows").text, 90)
    order = tmp_path / "order.json"
    order.write_text(json.dumps([{"name": "place-tag", "typed": {}}]))
    browser.find_element("id", "open").send_keys(str(order))
    until(lambda: len(states()) == 3, 30)
    order.write_text("{}")
    browser.find_element("id", "open").send_keys(str(order))
    until(lambda: "no running order" in browser.find_element("id", "told").text)
    names = browser.execute_script(
        "return [...document.querySelectorAll('button, input, select, a')].filter((one) => one.offsetParent)"
        ".map((one) => one.getAttribute('aria-label') || one.textContent || (one.labels && one.labels[0]?.textContent) || '')"
    )
    assert all(name.strip() for name in names)
