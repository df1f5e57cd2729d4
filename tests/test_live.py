"""Live graphics by the EBU's OGraf specification (types: npm ``ograf`` 1.2.0): driven by a page of the tests' own, as a stranger would."""

import functools
import http.server
import io
import json
import shutil
import subprocess
import threading
import time
from pathlib import Path

import jsonschema
import numpy as np
import pytest
from browsing import browsing, graphics_shown, needs_browser
from conftest import DEMO
from PIL import Image
from PyQt6.QtWidgets import QFileDialog, QMenu

from avlet.document.cards.answers import check_answers
from avlet.errors import RenderError, StorageError
from avlet.media import live as live_module
from avlet.media.live import live_manifest, write_live
from avlet.media.render import StoppedError
from avlet.paint.scene import Scene
from avlet.storage.package import open_template

JAVASCRIPT = Path(__file__).parent / "javascript"
needs_checks = pytest.mark.skipif(
    not (JAVASCRIPT / "node_modules").is_dir() or not shutil.which("node"), reason="needs npm: npm ci in tests/javascript"
)
ANSWERS = {"name": "Íris Þórdal", "role": "Tide tables"}


def scene_of(name, answers=None, length=None):
    opened = open_template(DEMO / f"{name}.avlet")
    return Scene(opened.template, opened.book, answers, length)


@pytest.fixture(scope="module")
def folder(tmp_path_factory):
    made = tmp_path_factory.mktemp("live")
    write_live(scene_of("name-strap", ANSWERS), made / "strap", 3)
    write_live(scene_of("hectares", {"number": 77.0}), made / "count")
    return made


# What is written


@pytest.mark.parametrize("name", ["name-strap", "guest-strap", "hectares", "end-roll", "place-tag", "harbour-depths"])
def test_a_manifest_says_what_the_card_takes_in_types_of_json(name):
    """Each answer as it starts, and at the ends of its limits, is data of the schema; options have their names."""
    template = open_template(DEMO / f"{name}.avlet").template
    manifest = live_manifest(template, {}, template.length, 3)
    assert manifest["id"] == f"avlet.{name}" and manifest["version"] == "0003" and manifest["main"] == "graphic.mjs"
    assert (manifest["stepCount"], manifest["supportsRealTime"], manifest["supportsNonRealTime"]) == (1, True, True)
    assert {one["id"] for one in manifest["customActions"]} == {"cut-in", "cut-out"}
    properties = manifest["schema"]["properties"]
    assert list(properties) == [field.id for field in template.card.fields]
    data = {key: one["default"] for key, one in properties.items()}
    jsonschema.Draft202012Validator.check_schema(manifest["schema"])
    jsonschema.validate(data, manifest["schema"])
    for field in template.card.fields:
        one = properties[field.id]
        assert one["title"] == field.label and one["type"] in ("boolean", "string", "number", "integer", "array", "object")
        if field.kind == "text":
            assert one["gddType"] == ("multi-line" if field.several_lines else "single-line")
        if field.kind in ("choice", "font"):
            assert one["gddType"] == "select" and one["gddOptions"]["labels"] == dict(field.options_with(template.palette))
    taken = {key: value for key, value in data.items() if template.card.field(key).kind != "length"}
    check_answers(template, taken)


def test_lengths_are_in_ms_and_words_without_their_looks(book):
    from conftest import plated

    from avlet.document.cards.card import Card, Section
    from avlet.document.fields import LengthField, NumberField, TextField

    fields = (
        LengthField(id="hold", label="Hold", default=50, low=25, high=125), NumberField(id="share", label="Share", unit="%", low=0, high=100),
        TextField(id="words", label="Words", default="A", may=("size",)),
    )  # fmt: skip
    template = plated(card=Card(sections=(Section(fields=fields),)))
    properties = live_manifest(template, {"words": {"text": "B", "size": 20.0}}, 100)["schema"]["properties"]
    hold = properties["hold"]
    assert (hold["type"], hold["gddType"], hold["default"], hold["minimum"], hold["maximum"]) == (
        "integer",
        "duration-ms",
        2000,
        1000,
        5000,
    )
    assert properties["share"]["gddType"] == "percentage" and properties["words"]["default"] == "B"


def test_a_folder_is_written_whole_and_again_without_what_was_before(tmp_path):
    target = tmp_path / "on air"
    path = write_live(scene_of("name-strap", ANSWERS), target, 2)
    assert path == target / "name-strap.ograf.json"
    reel = json.loads((target / "reel" / "reel.json").read_text())
    names = {one.relative_to(target).as_posix() for one in target.rglob("*") if one.is_file()}
    assert names == {
        "name-strap.ograf.json", "title.json", "graphic.mjs", "thumbnail.png", "reel/reel.json", *(f"reel/{one['file']}" for one in reel["pictures"])
    }  # fmt: skip
    assert json.loads((target / "title.json").read_text())["starts"]["name"] == "Íris Þórdal"
    write_live(scene_of("place-tag", None, 30), target)
    assert [one.name for one in target.glob("*.ograf.json")] == ["place-tag.ograf.json"]
    kept = json.loads((target / "reel" / "reel.json").read_text())["pictures"]
    assert {one.name for one in (target / "reel").glob("*.webp")} == {one["file"] for one in kept}


def test_nothing_of_anybody_is_written_over_and_nothing_is_left_half_done(tmp_path, monkeypatch):
    (tmp_path / "mine").mkdir()
    (tmp_path / "mine" / "notes.txt").write_text("kept")
    with pytest.raises(StorageError, match="holds something else"):
        write_live(scene_of("place-tag"), tmp_path / "mine")
    with pytest.raises(StoppedError):
        write_live(scene_of("place-tag"), tmp_path / "stopped", 0, lambda done, of: done < 3)
    monkeypatch.setattr("avlet.media.reel.MOST_REEL", 2_000)
    with pytest.raises(RenderError, match="Render a film instead"):
        write_live(scene_of("place-tag"), tmp_path / "large")
    assert sorted(one.name for one in tmp_path.rglob("*")) == ["mine", "notes.txt"]
    monkeypatch.undo()

    def full(*args):
        raise StorageError("The disk is full.")

    write_live(scene_of("place-tag", None, 30), tmp_path / "there")
    before = {one: one.read_bytes() for one in (tmp_path / "there").rglob("*") if one.is_file()}
    monkeypatch.setattr(live_module, "write_folder", full)
    with pytest.raises(StorageError):
        write_live(scene_of("name-strap"), tmp_path / "there")
    assert {one: one.read_bytes() for one in (tmp_path / "there").rglob("*") if one.is_file()} == before


def test_the_command_line_writes_one_with_answers(avlet, tmp_path):
    status, out, _ = avlet(
        "handover", DEMO / "name-strap.avlet", "--live", tmp_path / "x", "--set", "name=Bo Li", "--length", "3 s", "--json"
    )
    told = json.loads(out)
    assert status == 0 and told["wrote"][0]["frames"] == 75 and Path(told["wrote"][0]["path"]).is_file()
    assert json.loads((tmp_path / "x" / "title.json").read_text())["starts"]["name"] == "Bo Li"
    assert avlet("handover", DEMO / "name-strap.avlet", "--live", tmp_path / "y", "--dry-run")[0] == 0 and not (tmp_path / "y").exists()
    status, _, words = avlet("handover", DEMO / "name-strap.avlet", "--set", "name=Bo Li", "--library", tmp_path / "z")
    assert status == 2 and "are for --live" in words and not (tmp_path / "z").exists()
    status, _, words = avlet("handover", DEMO / "name-strap.avlet", "--live", tmp_path / "x", "--no-overwrite")
    assert status == 2 and "name-strap.ograf.json" in words


def test_the_window_writes_what_is_on_the_stage(window, qtbot, tmp_path, monkeypatch):
    monkeypatch.setattr(QFileDialog, "getExistingDirectory", lambda *a, **k: str(tmp_path / "air"))
    window.session.show_answers("shortest")
    menu = QMenu(window)
    window.files.fill_menu(menu)
    next(action for action in menu.actions() if action.text() == "Hand over for live…").trigger()
    assert "any OGraf renderer plays name-strap.ograf.json" in window.message.text()
    said = json.loads((tmp_path / "air" / "name-strap-live" / "title.json").read_text())["starts"]
    assert said["name"] == window.session.scene().bound.answers["name"]
    (tmp_path / "air" / "name-strap-live" / "name-strap.ograf.json").unlink()
    next(action for action in menu.actions() if action.text() == "Hand over for live…").trigger()
    assert "holds something else" in window.message.text()


# What a renderer sees


@needs_checks
def test_the_pages_and_the_graphic_hold_to_their_types_and_the_ebus():
    """TypeScript, strict, over all modules; ``graphic.mjs`` implements the EBU's own definition of a Graphic."""
    done = subprocess.run(
        [shutil.which("node"), "node_modules/typescript/bin/tsc", "-p", "."], cwd=JAVASCRIPT, capture_output=True, text=True, check=False
    )
    assert done.returncode == 0, done.stdout


@needs_checks
def test_a_manifest_is_the_ebus(tmp_path):
    """A manifest as a value of the EBU's own type."""
    template = open_template(DEMO / "guest-strap.avlet").template
    manifest = json.dumps(live_manifest(template, {}, template.length, 3))
    (tmp_path / "one.ts").write_text(
        f'import type {{ GraphicsManifest }} from "ograf";\nexport const made: GraphicsManifest = {manifest};\n'
    )
    options = json.loads((JAVASCRIPT / "tsconfig.json").read_text())
    options["compilerOptions"] |= {
        "paths": {"ograf": [str(JAVASCRIPT / "node_modules/ograf/dist/main.d.ts")]},
        "typeRoots": [],
        "baseUrl": str(tmp_path),
    }
    options["include"] = ["one.ts"]
    (tmp_path / "tsconfig.json").write_text(json.dumps(options))
    tsc = [shutil.which("node"), str(JAVASCRIPT / "node_modules/typescript/bin/tsc"), "-p", str(tmp_path)]
    done = subprocess.run(tsc, capture_output=True, text=True, check=False)
    assert done.returncode == 0, done.stdout


HOST = """<!doctype html><meta charset="utf-8"><body style="margin:0;width:960px;height:540px"><script type="module">
window.loaded = (async () => {
  const manifest = await (await fetch("MANIFEST")).json();
  const module = await import("./" + manifest.main);
  customElements.define("a-graphic", module.default);
  window.graphic = document.createElement("a-graphic");
  document.body.append(window.graphic);
  return manifest;
})();
</script></body>"""


@pytest.fixture(scope="module")
def host(folder):
    """A page that we did not write for it: loads a manifest, makes the element, and passes on what it is asked."""
    for name, manifest in (("strap", "name-strap"), ("count", "hectares")):
        (folder / name / "host.html").write_text(HOST.replace("MANIFEST", f"{manifest}.ograf.json"))
    handler = functools.partial(Quiet, directory=str(folder))
    server = http.server.ThreadingHTTPServer(("127.0.0.1", 0), handler)
    threading.Thread(target=server.serve_forever, daemon=True).start()
    with browsing() as browser:

        def show(name):
            browser.get("about:blank")
            browser.get(f"http://127.0.0.1:{server.server_port}/{name}/host.html")
            manifest = browser.execute_async_script("const done = arguments[0]; window.loaded.then(done, (e) => done(String(e)))")
            assert manifest["main"] == "graphic.mjs", manifest
            return browser

        yield show
    server.shutdown()


class Quiet(http.server.SimpleHTTPRequestHandler):
    extensions_map = {**http.server.SimpleHTTPRequestHandler.extensions_map, ".mjs": "text/javascript"}

    def log_message(self, *args):
        pass


def call(browser, method, params=None):
    return browser.execute_async_script(
        f"const done = arguments[1]; window.graphic.{method}(arguments[0]).then(done, (e) => done({{statusCode: 599, statusMessage: String(e)}}))",
        params if params is not None else {},
    )


def shown(browser):
    return graphics_shown(browser, "[window.graphic]")[0]


def loaded(browser, kind="non-realtime", **more):
    told = call(browser, "load", {"renderType": kind, "renderCharacteristics": {"frameRate": 25}, **more})
    assert told == {"statusCode": 200}
    return browser


@needs_browser
@pytest.mark.parametrize(
    ("style", "frame"),
    [
        ("width:960px;height:540px", (0, 0, 960, 540)),
        ("width:960px;height:700px", (0, 80, 960, 540)),
        ("width:1200px;height:540px", (120, 0, 960, 540)),
        ("width:960px;height:auto", (0, 0, 960, 540)),
    ],
)
def test_its_frame_is_shown_whole_in_whatever_room_there_is_for_it(host, style, frame):
    """Its canvas covers what is seen of it alone, and lies there: compared with the engine's ink, in a room of another shape too."""
    browser, scene = loaded(host("strap")), scene_of("name-strap", ANSWERS)
    browser.execute_script("document.body.style.cssText = 'margin:0;' + arguments[0]", style)
    at = scene.length - 1 - scene.spans.way_out
    call(
        browser, "setActionsSchedule", {"schedule": [{"timestamp": 0, "action": {"type": "playAction", "params": {"skipAnimation": True}}}]}
    )
    call(browser, "goToTime", {"timestamp": 100})
    box = browser.execute_script(
        "const b = window.graphic.shadowRoot.querySelector('canvas').getBoundingClientRect(); return [b.left, b.top, b.right, b.bottom]"
    )
    rows, columns = np.nonzero(scene.picture(at)[..., 3])
    left, top, wide, _ = frame
    scale = wide / 1920
    ink = [left + columns.min() * scale, top + rows.min() * scale, left + (columns.max() + 1) * scale, top + (rows.max() + 1) * scale]
    assert box[0] <= ink[0] + 0.1 and box[1] <= ink[1] + 0.1 and box[2] >= ink[2] - 0.1 and box[3] >= ink[3] - 0.1
    assert box[2] - box[0] < wide * 0.9 and box[3] - box[1] < 0.6 * frame[3], "no larger than what it ever covers"
    seen = np.asarray(Image.open(io.BytesIO(browser.get_screenshot_as_png())).convert("RGB")).astype(int)
    drawn = np.argwhere((seen < 250).any(axis=2))
    assert drawn.min(axis=0) == pytest.approx([ink[1], ink[0]], abs=1.5) and drawn.max(axis=0) + 1 == pytest.approx(
        [ink[3], ink[2]], abs=1.5
    )


@needs_browser
@pytest.mark.parametrize(("name", "template", "answers"), [("strap", "name-strap", ANSWERS), ("count", "hectares", {"number": 77.0})])
def test_not_in_real_time_every_frame_is_the_engines(host, name, template, answers):
    """Way in from 1 s on, the hold on its last frame for as long as it is on air, way out from 12 s on; nothing before and after."""
    browser, scene = loaded(host(name)), scene_of(template, answers)
    rest, out = scene.length - 1 - scene.spans.way_out, scene.length - scene.spans.way_out
    schedule = [
        {"timestamp": 12_000, "action": {"type": "stopAction", "params": {}}}, {"timestamp": 1_000, "action": {"type": "playAction", "params": {}}},
    ]  # fmt: skip
    assert call(browser, "setActionsSchedule", {"schedule": schedule})["statusCode"] == 200
    wanted = [
        (0, None),
        (999, None),
        (1_000, 0),
        (1_200, 5),
        (1_639, 15),
        (1_640, 16),
        (11_999, min(rest, 274)),
        (12_000, out),
        (12_400, out + 10),
    ]
    wanted += [(12_000 + 40 * (scene.length - out), None), (60_000, None), (1_120, 3)]
    for at, frame in wanted:
        assert call(browser, "goToTime", {"timestamp": at}) == {"statusCode": 200}
        picture = shown(browser)
        if frame is None:
            assert not picture.any(), at
        else:
            assert np.abs(picture - scene.picture(frame)).max() <= 1, at


@needs_browser
def test_cuts_and_a_stop_half_way_in(host):
    """Cut in stands at once, cut out is gone at once; a stop in the way in goes out from as far as it had come."""
    browser, scene = loaded(host("strap")), scene_of("name-strap", ANSWERS)
    action = lambda at, kind, **params: {"timestamp": at, "action": {"type": kind, "params": params}}  # noqa: E731
    rest = scene.length - 1 - scene.spans.way_out
    cases = [
        ([action(0, "customAction", id="cut-in", payload=None)], 0, rest),
        ([action(0, "playAction", skipAnimation=True), action(400, "customAction", id="cut-out", payload=None)], 400, None),
        ([action(0, "playAction"), action(400, "stopAction")], 400, scene.length - 1 - 10),
        ([action(0, "playAction"), action(400, "stopAction")], 600, scene.length - 1 - 5),
        ([action(0, "playAction"), action(200, "playAction")], 400, 10),
        ([action(0, "playAction"), action(5000, "stopAction", skipAnimation=True)], 5000, None),
        ([action(0, "stopAction")], 400, None),
    ]
    for schedule, at, frame in cases:
        assert call(browser, "setActionsSchedule", {"schedule": schedule})["statusCode"] == 200
        call(browser, "goToTime", {"timestamp": at})
        picture = shown(browser)
        assert not picture.any() if frame is None else np.abs(picture - scene.picture(frame)).max() <= 1, (schedule, at)


@needs_browser
def test_in_real_time_it_comes_stands_and_goes_by_the_clock(host):
    browser, scene = loaded(host("strap"), "realtime"), scene_of("name-strap", ANSWERS)
    assert not shown(browser).any()
    assert call(browser, "playAction") == {"statusCode": 200, "currentStep": 0}
    time.sleep(4.2)
    rest = scene.picture(scene.length - 1 - scene.spans.way_out)
    assert np.abs(shown(browser) - rest).max() <= 1, "it stands"
    assert call(browser, "updateAction", {"data": {"name": "Íris Þórdal"}}) == {"statusCode": 200}
    assert call(browser, "stopAction")["statusCode"] == 200
    time.sleep(1.6)
    assert not shown(browser).any()
    assert call(browser, "customAction", {"id": "cut-in", "payload": None})["statusCode"] == 200
    assert np.abs(shown(browser) - rest).max() <= 1
    assert call(browser, "customAction", {"id": "cut-out", "payload": None})["statusCode"] == 200
    assert not shown(browser).any()
    assert call(browser, "dispose")["statusCode"] == 200
    assert call(browser, "playAction")["statusCode"] == 409


@needs_browser
def test_what_is_not_possible_says_so_with_its_status(host):
    browser = host("strap")
    for method in ("playAction", "stopAction", "goToTime"):
        assert call(browser, method, {"timestamp": 0})["statusCode"] == 409, "not loaded yet"
    refused = call(browser, "load", {"renderType": "realtime", "data": {"name": "Somebody else"}, "renderCharacteristics": {}})
    assert refused["statusCode"] == 422 and "painted with other words" in refused["statusMessage"]
    assert call(browser, "load", {"renderType": "sometimes"})["statusCode"] == 400
    loaded(browser, data={"name": "Íris Þórdal", "role-line": True})
    cases = [
        ("updateAction", {"data": {"name": "Other"}}, 422), ("updateAction", {"data": {"nothing": 1}}, 400), ("updateAction", {"data": []}, 400),
        ("updateAction", {"data": "x"}, 400), ("updateAction", {"data": {"__proto__x": 1}}, 400), ("customAction", {"id": "explode"}, 404),
        ("playAction", {"goto": 3}, 400), ("playAction", {"delta": 0.5}, 400), ("goToTime", {"timestamp": "soon"}, 400), ("goToTime", {}, 400),
        ("setActionsSchedule", {"schedule": 7}, 400), ("setActionsSchedule", {"schedule": [{"timestamp": 1}]}, 400),
        ("setActionsSchedule", {"schedule": [{"timestamp": 1, "action": {"type": "updateAction", "params": {"data": {"name": "x"}}}}]}, 422),
    ]  # fmt: skip
    for method, params, status in cases:
        told = call(browser, method, params)
        assert told["statusCode"] == status and told["statusMessage"], (method, params, told)


@needs_browser
def test_pictures_that_are_missing_are_told(host, folder):
    shutil.copytree(folder / "strap", folder / "torn")
    (folder / "torn" / "reel" / "0003.webp").unlink()
    told = call(host("torn"), "load", {"renderType": "realtime", "renderCharacteristics": {}})
    assert told["statusCode"] == 500 and "0003.webp" in told["statusMessage"]
