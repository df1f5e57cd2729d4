"""Live graphics whose words change by a server's address: from a page of another origin, with a key for one title alone."""

import functools
import http.server
import json
import shutil
import threading
import time

import numpy as np
import pytest
from browsing import browsing, needs_browser, until
from conftest import DEMO
from serving import serving
from test_live import ANSWERS, HOST, Quiet, call, loaded, scene_of, shown

from avlet.document.cards.answers import check_answers
from avlet.errors import AnswerError
from avlet.media.live import LiveServer, live_key, write_live
from avlet.serve import api, live_api, table_api
from avlet.storage.package import open_template

TOKEN = "reeds-and-rushes-1234"


@pytest.fixture(scope="module")
def library(tmp_path_factory):
    made = tmp_path_factory.mktemp("library")
    for name in ("name-strap", "hectares"):
        shutil.copytree(DEMO / f"{name}.avlet", made / f"{name}.avlet")
    again = shutil.copytree(DEMO / "name-strap.avlet", made / "again.avlet")
    told = json.loads((again / "template.json").read_text())
    (again / "template.json").write_text(json.dumps({**told, "name": "Again", "updates": "out and in"}))
    return made


@pytest.fixture(scope="module")
def client(library):
    with serving(library, TOKEN, workers=2) as made:
        yield made


@pytest.fixture(scope="module")
def folder(library, client, tmp_path_factory):
    made = tmp_path_factory.mktemp("live")
    address = f"http://127.0.0.1:{client.port}"
    write_live(scene_of("name-strap", ANSWERS), made / "strap", server=LiveServer.at(address, "name-strap", TOKEN))
    opened = open_template(library / "again.avlet")
    scene = type(scene_of("name-strap"))(opened.template, opened.book, ANSWERS)
    write_live(scene, made / "again", server=LiveServer.at(f"{address}/", "again", TOKEN))
    write_live(scene_of("name-strap", ANSWERS), made / "stranger", server=LiveServer.at(address, "name-strap", "another-token-1234"))
    write_live(scene_of("name-strap", ANSWERS), made / "gone", server=LiveServer.at("http://127.0.0.1:9", "name-strap", TOKEN))
    return made


def post(client, title, data, key=None, **headers):
    given = {"authorization": f"Bearer {live_key(TOKEN, title) if key is None else key}", "origin": "http://elsewhere.example"}
    return client.post(f"/api/live/{title}/reels", {"data": data}, **{**given, **headers})


# Who may ask


def test_a_key_opens_its_own_title_from_any_page_and_nothing_else(client):
    told = post(client, "name-strap", {"name": "Bo Li"})
    assert told.status == 201 and told.headers["access-control-allow-origin"] == "*" and told.json["length"] == 125
    picture = f"/api/live/name-strap/reels/{told.json['reel']}/{told.json['pictures'][0]['file']}"
    key = {"authorization": f"Bearer {live_key(TOKEN, 'name-strap')}"}
    got = client.get(picture, **key, origin="null")
    assert got.status == 200 and got.headers["cross-origin-resource-policy"] == "cross-origin" and got.body[8:12] == b"WEBP"
    assert client.get(picture).status == 401 and client.get(picture.replace("name-strap", "hectares"), **key).status == 401
    for address in ("/api/titles", "/", "/api/films", "/ograf/v1/graphics", "/api/titles/name-strap", "/api/live", "/pages/ask.mjs"):
        assert client.get(address, **key).status == 401, address
    assert client.post("/api/titles/name-strap/look", {}, **key).status == 401
    for wrong in ("", "x", TOKEN, live_key(TOKEN, "hectares"), live_key("", "name-strap"), "é".encode().decode("latin-1")):
        assert post(client, "name-strap", {}, wrong).status == 401, wrong
    assert post(client, "name-strap", {}, authorization=live_key(TOKEN, "name-strap")).status == 401
    cookie = {"cookie": f"avlet={client.app.middleware_stack and 'x'}"}
    assert client.post("/api/live/name-strap/reels", {"data": {}}, **cookie).status == 401, "no cookie counts here"


def test_a_page_elsewhere_may_ask_before_it_asks_and_only_here(client):
    asked = {"origin": "http://elsewhere.example", "access_control_request_method": "POST"}
    told = client.ask("OPTIONS", "/api/live/name-strap/reels", **asked)
    assert told.status == 204 and not told.body
    assert (
        told.headers["access-control-allow-headers"] == "authorization, content-type" and told.headers["access-control-allow-origin"] == "*"
    )
    other = client.ask("OPTIONS", "/api/titles/name-strap/reels", **asked)
    assert other.status in (401, 403) and "access-control-allow-origin" not in other.headers
    bearer = {"authorization": f"Bearer {TOKEN}"}
    assert "access-control-allow-origin" not in client.get("/api/titles", **bearer).headers
    assert client.post("/api/titles/name-strap/look", {}, origin="http://elsewhere.example", **bearer).status == 403


def test_a_server_without_a_token_changes_nothing_for_pages_elsewhere(library):
    with serving(library) as open_to_all:
        told = open_to_all.post("/api/live/name-strap/reels", {"data": {}}, authorization=f"Bearer {live_key('', 'name-strap')}")
        assert told.status == 403 and "--token-file" in told.words


def test_data_is_taken_and_refused_as_on_the_card_in_the_same_words(client):
    template = open_template(DEMO / "hectares.avlet").template
    for data in ({"number": "many"}, {"number": 1e30}, {"nothing": 1}, [], 7, {"number": None}):
        told = post(client, "hectares", data)
        assert told.status == 422, data
        if isinstance(data, dict):
            with pytest.raises(AnswerError) as refused:
                check_answers(template, data)
            assert told.words == str(refused.value)
    assert post(client, "nothing", {}).status == 404
    assert {route.path for route in (*api.routes(), *table_api.routes())}.isdisjoint(route.path for route in live_api.routes())


@pytest.mark.parametrize("address", ["", "titles.example", "ftp://x", "http://", "http://x/path", "http://x?y", "javascript:alert(1)"])
def test_what_is_no_address_of_a_server_is_told(address):
    with pytest.raises(AnswerError, match="no address of a server"):
        LiveServer.at(address, "name-strap", TOKEN)


def test_the_command_line_hands_over_with_a_server(avlet, tmp_path):
    (tmp_path / "token.txt").write_text(TOKEN + "\n")
    live = ("handover", DEMO / "name-strap.avlet", "--live", tmp_path / "x")
    status, _, words = avlet(*live, "--server", "http://titles.example:8470/", "--token-file", tmp_path / "token.txt")
    assert status == 0 and "Its words change by http://titles.example:8470." in words
    told = json.loads((tmp_path / "x" / "title.json").read_text())["server"]
    assert told == {"address": "http://titles.example:8470", "title": "name-strap", "key": live_key(TOKEN, "name-strap")}
    assert TOKEN not in "".join(one.read_text(errors="replace") for one in (tmp_path / "x").rglob("*") if one.is_file())
    for given, said in (
        (("--server", "http://x"), "both"), (("--token-file", tmp_path / "token.txt"), "both"),
        (("--server", "x", "--token-file", tmp_path / "token.txt"), "no address"),
        (("--server", "http://x", "--token-file", tmp_path / "none"), "cannot be read"),
    ):  # fmt: skip
        status, _, words = avlet("handover", DEMO / "name-strap.avlet", "--live", tmp_path / "y", *given)
        assert status == 2 and said in words and not (tmp_path / "y").exists()
    status, _, words = avlet("handover", DEMO / "name-strap.avlet", "--server", "http://x", "--library", tmp_path / "z")
    assert status == 2 and "are for --live" in words and not (tmp_path / "z").exists()


# What a renderer sees


@pytest.fixture(scope="module")
def host(folder):
    for one in folder.iterdir():
        manifest = next(one.glob("*.ograf.json")).name
        (one / "host.html").write_text(HOST.replace("MANIFEST", manifest))
    server = http.server.ThreadingHTTPServer(("127.0.0.1", 0), functools.partial(Quiet, directory=str(folder)))
    threading.Thread(target=server.serve_forever, daemon=True).start()
    with browsing() as browser:

        def show(name):
            browser.get("about:blank")
            browser.get(f"http://127.0.0.1:{server.server_port}/{name}/host.html")
            browser.execute_async_script("const done = arguments[0]; window.loaded.then(done, (e) => done(String(e)))")
            return browser

        yield show
    server.shutdown()


def rest_of(scene):
    return scene.length - 1 - scene.spans.way_out


@needs_browser
def test_words_change_in_place_where_it_stands(host):
    browser = loaded(host("strap"), "realtime", data={"name": "Bo Li", "role": "Ringer"})
    call(browser, "playAction", {"skipAnimation": True})
    first, other = scene_of("name-strap", {**ANSWERS, "name": "Bo Li", "role": "Ringer"}), scene_of("name-strap", {**ANSWERS, "name": "Al"})
    assert np.abs(shown(browser) - first.picture(rest_of(first))).max() <= 1
    assert call(browser, "updateAction", {"data": {"name": "Al"}}) == {"statusCode": 200}
    assert np.abs(shown(browser) - other.picture(rest_of(other))).max() <= 1
    refused = call(browser, "updateAction", {"data": {"name": "x" * 100_000}})
    assert refused["statusCode"] == 422 and refused["statusMessage"]
    assert np.abs(shown(browser) - other.picture(rest_of(other))).max() <= 1, "what was on air stays"
    assert call(browser, "updateAction", {"data": ANSWERS}) == {"statusCode": 200}
    own = scene_of("name-strap", ANSWERS)
    assert np.abs(shown(browser) - own.picture(rest_of(own))).max() <= 1
    assert browser.execute_script("return window.graphic.takes.size") == 1, "pictures that nothing shows are let go of"


@needs_browser
@pytest.mark.parametrize("name", ["strap", "again"])
def test_not_in_real_time_other_words_come_at_their_frame(host, name):
    """In place, or out from 4 s on and in again as soon as it is out; a cut exchanges at once; what is away changes unseen."""
    browser = loaded(host(name))
    first, other = scene_of("name-strap", ANSWERS), scene_of("name-strap", {**ANSWERS, "name": "Al"})
    out = first.spans.way_out
    update = lambda at, **more: {"timestamp": at, "action": {"type": "updateAction", "params": {"data": {"name": "Al"}, **more}}}  # noqa: E731
    play, stop = ({"timestamp": at, "action": {"type": kind, "params": {}}} for at, kind in ((0, "playAction"), (9_000, "stopAction")))
    begin = first.length - out
    if name == "strap":
        wanted = [(3_960, first, rest_of(first)), (4_000, other, rest_of(other)), (9_000, other, begin), (10_000, None, 0)]
    else:
        wanted = [
            (3_960, first, rest_of(first)), (4_000, first, begin), (4_400, first, begin + 10), (4_000 + 40 * out, other, 0),
            (4_400 + 40 * out, other, 10), (8_960, other, rest_of(other)), (9_000, other, begin),
        ]  # fmt: skip
    cut = [(4_000, other, rest_of(other))]
    cut_in = {"timestamp": 9_000, "action": {"type": "customAction", "params": {"id": "cut-in", "payload": None}}}
    leaving = [play, {**stop, "timestamp": 4_000}, update(4_200), cut_in]
    for schedule, moments in (
        ([play, update(4_000), stop], wanted), ([play, update(4_000, skipAnimation=True)], cut), ([update(0)], [(9_000, None, 0)]),
        (leaving, [(4_400, first, begin + 10), (9_000, other, rest_of(other))]),
    ):  # fmt: skip
        assert call(browser, "setActionsSchedule", {"schedule": schedule})["statusCode"] == 200
        for at, scene, frame in moments:
            assert call(browser, "goToTime", {"timestamp": at}) == {"statusCode": 200}
            picture = shown(browser)
            assert not picture.any() if scene is None else np.abs(picture - scene.picture(frame)).max() <= 1, (name, at)


@needs_browser
def test_out_and_in_again_by_the_clock_and_a_stop_on_the_way(host):
    browser = loaded(host("again"), "realtime")
    first, other = scene_of("name-strap", ANSWERS), scene_of("name-strap", {**ANSWERS, "name": "Al"})
    call(browser, "playAction", {"skipAnimation": True})
    assert call(browser, "updateAction", {"data": {"name": "Al"}}) == {"statusCode": 200}
    assert browser.execute_script("return window.graphic.state.kind") == "out"
    until(lambda: browser.execute_script("return window.graphic.state.kind") == "in", 5)
    time.sleep(first.spans.way_in / 25 + 0.4)
    until(lambda: np.abs(shown(browser) - other.picture(rest_of(other))).max() <= 1, 6)
    call(browser, "updateAction", {"data": ANSWERS})
    call(browser, "stopAction")
    time.sleep(first.spans.way_out / 25 + 0.3)
    assert not shown(browser).any() and browser.execute_script("return window.graphic.state.kind") == "away"
    call(browser, "customAction", {"id": "cut-in", "payload": None})
    assert np.abs(shown(browser) - first.picture(rest_of(first))).max() <= 1, "what was to come in comes next"


@needs_browser
def test_a_server_that_is_not_there_or_not_its_own_leaves_what_is_on_air(host):
    own = scene_of("name-strap", ANSWERS)
    for name, words in (("gone", "does not answer"), ("stranger", "was not handed over for this server")):
        browser = loaded(host(name), "realtime")
        call(browser, "playAction", {"skipAnimation": True})
        told = call(browser, "updateAction", {"data": {"name": "Al"}})
        assert told["statusCode"] == 503 and words in told["statusMessage"]
        assert np.abs(shown(browser) - own.picture(rest_of(own))).max() <= 1
        assert call(browser, "load", {"renderType": "realtime", "data": {"name": "Al"}, "renderCharacteristics": {}})["statusCode"] == 503
