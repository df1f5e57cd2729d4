"""Serving: a title's reel, the time from a key to the canvas, fifty editors at once, and frames on air that come late.

Browsers and servers of these are real: Chromium by Selenium (Debian: chromium, chromium-driver), ``avlet serve`` in a process of its own.
"""

import asyncio
import contextlib
import itertools
import json
import os
import random
import shutil
import statistics
import subprocess
import sys
import tempfile
import time
import urllib.request
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import psutil

from avlet.media.drawing import Drawing
from avlet.media.reel import reel_of
from avlet.paint.scene import Scene
from avlet.storage.package import open_template
from benchmarks.measure import DEMO, best

_EDITORS, _SECONDS = 50, float(os.environ.get("AVLET_SERVED_FOR", "30"))
_FRAMES = int(os.environ.get("AVLET_FRAMES_ON_AIR", "1500"))
_TITLES = (
    "name-strap", "place-tag", "guest-strap", "side-rule", "cut-out-title", "episode-title", "strip-change", "hectares", "reed-plugs",
    "water-level", "framed-title", "saltmarsh-name",
)  # fmt: skip
"""Names of titles that are typed into, those of them that there are."""


@contextlib.contextmanager
def _served(library: Path = DEMO) -> Iterator[tuple[str, psutil.Process]]:
    """``avlet serve`` on a free port: its address, and its process."""
    words = [sys.executable, "-m", "avlet", "serve", str(library), "--port", "0", "--json"]
    process = subprocess.Popen(words, stdout=subprocess.PIPE, stderr=subprocess.DEVNULL, text=True)
    assert process.stdout is not None
    told = ""
    while not told.rstrip().endswith("}"):
        told += process.stdout.readline()
    try:
        yield json.loads(told)["address"].rstrip("/"), psutil.Process(process.pid)
    finally:
        process.terminate()
        process.wait(20)


@contextlib.contextmanager
def _browser() -> Iterator[Any]:
    sys.path.insert(0, str(DEMO.parent / "tests"))
    from browsing import browsing

    with browsing() as made:
        yield made


def reel() -> float:
    """The name strap's reel at 1080 lines, in one process; its weight beside it."""
    opened = open_template(DEMO / "name-strap.avlet")
    weights = []

    def work() -> None:
        made, _ = reel_of(Drawing.of(Scene(opened.template, opened.book), (1920, 1080)))
        weights.append(sum(picture.bytes for picture in made.pictures))

    (mine,) = best(work, rounds=5)
    print(f"reel: {mine:.2f} s, {weights[0] / 1e6:.2f} MB for the name strap at 1080 lines")
    return mine / 0.7


def key_to_canvas() -> float:
    """From a key in a field of the page to the picture on its canvas, in the page's own time; the median of twenty names."""
    type_ = """
    const done = arguments[1], canvas = document.getElementById("canvas"), before = canvas.dataset.seen;
    const one = document.getElementById("field-name"), began = performance.now();
    one.value = arguments[0]; one.dispatchEvent(new Event("input"));
    const look = () => canvas.dataset.seen !== before ? done(performance.now() - began) : requestAnimationFrame(look);
    look();
    """
    with _served() as (address, _), _browser() as browser:
        browser.get(f"{address}/titles/name-strap")
        while not browser.execute_script("return document.getElementById('canvas')?.dataset.seen"):
            time.sleep(0.1)
        time.sleep(1.5)
        took = []
        for number in range(20):
            took.append(browser.execute_async_script(type_, f"Odalys Brandt {number}"))
            time.sleep(0.2)
    median = statistics.median(took)
    print(f"key to canvas: {median:.0f} ms, {min(took):.0f} to {max(took):.0f}")
    return median / 200


def fifty_editors() -> float:
    """Editors who each type a name, look at it and type the next; from the last key to its picture. Errors, and memory of all processes."""
    names = [name for name in _TITLES if (DEMO / f"{name}.avlet").exists()]
    with _served() as (address, process):
        fields = {}
        for name in names:
            with urllib.request.urlopen(f"{address}/api/titles/{name}") as answer:
                card = json.load(answer)
            fields[name] = next(f["id"] for s in card["sections"] for f in s["fields"] if f["kind"] in ("text", "number"))
        host, _, port = address.removeprefix("http://").rpartition(":")
        took: list[float] = []
        errors: list[str] = []
        held = asyncio.run(_all_type(host, int(port), fields, took, errors, process))
    late = sum(one > 3 for one in took)
    print(
        f"{_EDITORS} editors, {len(names)} titles: {len(took)} names, median {statistics.median(took):.2f} s from key to picture, "
        f"worst {max(took):.2f} s, {late} over 3 s, {len(errors)} errors {errors[:2]}, {held:.0f} MB at most"
    )
    return max(statistics.median(took) / 0.5, max(took) / 3, held / 1500, len(errors) * 10)


async def _all_type(host: str, port: int, fields: dict[str, str], took: list[float], errors: list[str], process: psutil.Process) -> float:
    end, held = time.monotonic() + _SECONDS, 0.0
    typing = [asyncio.create_task(_type(host, port, *chosen, number, end, took, errors)) for number in range(_EDITORS)
              for chosen in [list(fields.items())[number % len(fields)]]]  # fmt: skip
    while time.monotonic() < end:
        await asyncio.sleep(2)
        with contextlib.suppress(psutil.Error):
            held = max(held, sum(one.memory_info().rss for one in (process, *process.children(recursive=True))) / 2**20)
    await asyncio.gather(*typing)
    return held


async def _type(host: str, port: int, title: str, field: str, number: int, end: float, took: list[float], errors: list[str]) -> None:
    """An editor: eight keys at five a second, each asking anew and giving up the one before, then some seconds of looking."""
    chance = random.Random(number)
    await asyncio.sleep(chance.random() * 6)
    numeric = title in ("hectares", "reed-plugs", "water-level")
    while time.monotonic() < end:
        words = str(chance.randrange(1, 1284)) if numeric else "".join(chance.choice("abcdefghijklmnop ") for _ in range(8)) + "x"
        going: asyncio.Task[Any] | None = None
        began = 0.0
        for length in range(1, len(words) + 1):
            if going is not None and not going.done():
                going.cancel()
            began = time.monotonic()
            going = asyncio.create_task(_looked(host, port, title, {field: words[:length]}))
            await asyncio.sleep(0.2)
        assert going is not None
        try:
            status = await asyncio.wait_for(going, 20)
            if status == 200:
                took.append(time.monotonic() - began)
            elif status != 422:
                errors.append(f"{title}: {status}")
        except (TimeoutError, OSError) as error:
            errors.append(f"{title}: {error!r}")
        await asyncio.sleep(3 + chance.random() * 4)


async def _looked(host: str, port: int, title: str, typed: dict[str, str]) -> int:
    """Ask for a frame and its picture, as the page does; the status. The time counted ends with the picture's last byte."""
    body = json.dumps({"typed": typed, "width": 960}).encode()
    head = f"POST /api/titles/{title}/look HTTP/1.1\r\nhost: {host}:{port}\r\ncontent-type: application/json\r\n"
    status, told = await _asked(host, port, f"{head}content-length: {len(body)}\r\nconnection: close\r\n\r\n".encode() + body)
    if status != 200:
        return status
    picture = json.loads(told)["picture"]
    return (await _asked(host, port, f"GET {picture} HTTP/1.1\r\nhost: {host}:{port}\r\nconnection: close\r\n\r\n".encode()))[0]


async def _asked(host: str, port: int, sent: bytes) -> tuple[int, bytes]:
    reader, writer = await asyncio.open_connection(host, port)
    try:
        writer.write(sent)
        await writer.drain()
        got = await reader.read()
    finally:
        writer.close()
    head, _, body = got.partition(b"\r\n\r\n")
    return int(head.split(b" ", 2)[1]), body


def on_air() -> float:
    """Frames of a moving title at 50 a second in a renderer's page that were never shown, while other titles are made ready beside it.

    Told beside it, and measured before and after: frames that a page loses that only turns one small canvas black and white.
    """
    watch = """
    window.told = [];
    const wait = () => {
      const one = document.querySelector("avlet-on-air");
      if (!one) return requestAnimationFrame(wait);
      const show = one.show.bind(one);
      one.show = (take, frame) => {
        if (frame !== window.last) window.told.push([performance.now(), frame]);
        window.last = frame;
        show(take, frame);
      };
    };
    wait();
    """
    with tempfile.TemporaryDirectory() as folder:
        library = Path(folder)
        for name in ("place-tag", "strip-change", "name-strap", "guest-strap"):
            shutil.copytree(DEMO / f"{name}.avlet", library / f"{name}.avlet")
        moving = library / "place-tag.avlet" / "template.json"
        told = json.loads(moving.read_text())
        told["frame"]["rate"] = "50/1"
        moving.write_text(json.dumps(told))
        with _served(library) as (address, _), _browser() as browser:
            browser.get(f"{address}/air/main")
            time.sleep(1)
            idle = _lost_idly(browser)
            target = f"{address}/ograf/v1/renderers/main/target/graphicInstance"
            instance = _put(f"{target}/load", {"renderTarget": 1, "graphicId": "avlet.place-tag", "params": {}})["graphicInstanceId"]
            browser.execute_script(watch)
            one = {"renderTarget": 1, "graphicInstanceId": instance, "params": {}}
            length, number, shown, late, worst = told["length"], 0, 0, 0, 0.0
            while shown < _FRAMES:
                _put(f"{target}/playAction", one)
                other = {"renderTarget": 2, "graphicId": f"avlet.{('strip-change', 'name-strap', 'guest-strap')[number % 3]}"}
                data = {"data": {"name": f"Guest {number}"}} if number % 3 else {}
                _put(f"{target}/load", {**other, "params": data})
                time.sleep(max(0.0, told["way_in"] / 50 + 0.5))
                _put(f"{target}/stopAction", one)
                time.sleep(told["way_out"] / 50 + 0.4)
                _put(f"{target}/clear", {"filters": [{"renderTarget": 2}]}, "PUT")
                seen = browser.execute_script("const told = window.told; window.told = []; return told")
                for (at, frame), (then, after) in itertools.pairwise(seen):
                    if 0 <= frame < after:
                        shown += after - frame
                        skipped = after - frame - 1 if after < length - told["way_out"] or frame >= length - told["way_out"] else 0
                        late += skipped
                        worst = max(worst, then - at if skipped else 0.0)
                number += 1
            idle = (idle + _lost_idly(browser)) / 2
    print(f"on air: {shown} frames at 50 a second, {late} never shown ({late / shown:.2%}), the longest gap {worst:.0f} ms")
    print(f"a page that does nothing else: {idle:.2%} never shown")
    return late / shown


def _lost_idly(browser: Any, seconds: float = 20.0) -> float:
    """The share of frames at 50 a second that this browser never shows where nothing is painted or made."""
    count = """
    const done = arguments[1], paper = document.createElement("canvas"), began = performance.now(), seen = new Set();
    paper.width = paper.height = 16;
    document.body.append(paper);
    const turn = () => {
      const frame = Math.floor((performance.now() - began) / 20);
      seen.add(frame);
      paper.getContext("2d").fillStyle = frame % 2 ? "#000" : "#fff";
      paper.getContext("2d").fillRect(0, 0, 16, 16);
      if (performance.now() - began < arguments[0] * 1000) requestAnimationFrame(turn);
      else { paper.remove(); done(1 - seen.size / (frame + 1)); }
    };
    requestAnimationFrame(turn);
    """
    browser.set_script_timeout(seconds + 30)
    return float(browser.execute_async_script(count, seconds))


def _put(address: str, body: dict[str, Any], method: str = "POST") -> Any:
    asked = urllib.request.Request(address, json.dumps(body).encode(), {"content-type": "application/json"}, method=method)
    with urllib.request.urlopen(asked, timeout=60) as answer:
        return json.load(answer)
