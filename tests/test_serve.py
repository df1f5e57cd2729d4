"""Titles over HTTP: the engine's own pictures, what the card takes and refuses, what is taken away; and what the server refuses."""

import errno
import io
import json
import os
import random
import re
import shutil
import signal
import socket
import subprocess
import sys
import time
import zipfile
from pathlib import Path

import av
import jsonschema
import numpy as np
import psutil
import pytest
from conftest import small
from PIL import Image
from serving import Client, serving

from avlet.document.cards.answers import check_answers
from avlet.errors import AnswerError, RenderError
from avlet.media.reel import reel_schema
from avlet.paint.scene import Scene
from avlet.review.samples import said_of
from avlet.serve import api, guard, painting, studio, table_api
from avlet.serve.openapi import openapi
from avlet.serve.studio import Film, have_made
from avlet.storage.atomic import cannot_write
from avlet.storage.package import open_template

STRAP = "/api/titles/name-strap"


@pytest.fixture(scope="module")
def library(tmp_path_factory):
    made = tmp_path_factory.mktemp("served")
    for name in ("name-strap", "guest-strap", "hectares", "end-roll", "strip-change", "place-tag", "rising-word"):
        shutil.copytree(small(name), made / f"{name}.avlet")
    shutil.copytree(small("place-tag"), made / "odd.avlet")
    odd = json.loads((made / "odd.avlet" / "template.json").read_text())
    odd |= {"name": "Odd", "frame": {"width": 481, "height": 270, "rate": "25/1"}}
    (made / "odd.avlet" / "template.json").write_text(json.dumps(odd))
    return made


@pytest.fixture(scope="module")
def client(library):
    with serving(library) as made:
        yield made


def premultiplied(data: bytes) -> np.ndarray:
    """A WebP as premultiplied RGBA, as the engine paints it."""
    rgba = np.asarray(Image.open(io.BytesIO(data)).convert("RGBA")).astype(np.float64)
    rgba[..., :3] = (rgba[..., :3] * rgba[..., 3:] / 255).round()
    return rgba


def engine(name, answers, frame=None, size=(480, 270), length=None):
    opened = open_template(small(name))
    scene = Scene(opened.template, opened.book, answers, length)
    return scene, scene.picture(scene.spans.middle if frame is None else frame, *size).astype(np.float64)


def made_film(client, kind, name="name-strap", **wanted):
    film = client.post(f"/api/titles/{name}/films", {"kind": kind, **wanted})
    assert film.status == 202 and film.headers["location"] == f"/api/films/{film.json['id']}"
    until = time.monotonic() + 120
    while (now := client.get(film.headers["location"]).json)["state"] in ("waiting", "going") and time.monotonic() < until:
        time.sleep(0.1)
    return now


def test_the_library_is_listed_and_a_card_has_all_that_a_form_needs(client):
    titles = {one["name"]: one for one in client.get("/api/titles").json["titles"]}
    assert set(titles) == {"name-strap", "guest-strap", "hectares", "end-roll", "strip-change", "place-tag", "rising-word", "odd"}
    assert titles["name-strap"]["title"] == "Name strap" and titles["name-strap"]["category"] == "Lower thirds"
    card = client.get("/api/titles/guest-strap").json
    fields = {one["id"]: one for section in card["sections"] for one in section["fields"]}
    assert fields["side"]["kind"] == "choice" and [one["id"] for one in fields["side"]["options"]] == ["left", "middle", "right"]
    assert fields["brand"]["swatches"][0]["colour"].startswith("#")
    assert card["frame"] == {"width": 480, "height": 270, "rate": "25/1"} and card["schema"]["properties"].keys() == {
        one for one in fields if fields[one]["kind"] != "note"
    }
    number = client.get("/api/titles/hectares").json["sections"][0]["fields"]
    assert any(one["kind"] == "number" and one["words"] == "1284" and one["low"] is not None for one in number)


@pytest.mark.parametrize(
    ("name", "answers", "frame"),
    [
        ("name-strap", {"name": "Íris Þórdal", "role": "Tide tables"}, None),
        ("name-strap", {"name": "Bo Li"}, 9),
        ("hectares", {"number": 77.0}, 40),
        ("guest-strap", {"side": "right", "brand": "reed"}, None),
        ("rising-word", {}, 20),
    ],
)
def test_a_frame_is_the_engines_picture(client, name, answers, frame):
    """One step of 255 at most, as WebP has straight alpha and the engine premultiplied."""
    seen = client.post(f"/api/titles/{name}/look", {"answers": answers, "frame": frame, "width": 480})
    assert seen.status == 200, seen.words
    scene, picture = engine(name, answers, frame)
    shown = client.get(seen.json["picture"])
    assert shown.headers["content-type"] == "image/webp"
    assert np.abs(premultiplied(shown.body) - picture).max() <= 1
    assert (seen.json["length"], seen.json["frame"]) == (scene.length, scene.spans.middle if frame is None else frame)
    assert seen.json["said"] == said_of(scene)


def test_what_is_typed_is_read_as_everywhere(client):
    told = client.post("/api/titles/hectares/look", {"typed": {"number": "1.5e3"}, "length": "8 s", "width": 64}).json
    assert told["answers"]["number"] == 1500 and told["length"] == 200
    told = client.post(f"{STRAP}/look", {"typed": {"role-line": "no", "Name": "Bo"}, "length": "00:00:03:00", "width": 64}).json
    assert told["answers"] == {"role-line": False, "name": "Bo"} and told["length"] == 75
    table = "Role\tName\nWritten by\tBo Li\n\tÍris Þórdal\n"
    told = client.post("/api/titles/end-roll/look", {"typed": {"list": table}, "width": 64}).json
    assert told["answers"]["list"] == [{"block": "role", "role": "Written by", "names": ["Bo Li", "Íris Þórdal"]}]
    again = client.post("/api/titles/end-roll/look", {"typed": {"list": told["typed"]["list"]}, "width": 64}).json
    assert again["answers"] == told["answers"], "the words of a list are read again as they were"


HOSTILE = [
    "", "x" * 200_000, 7, -1e308, 1e400, None, True, [], {}, {"text": "a", "size": -3}, {"text": 5}, "a\nb\nc\nd", "\0", "\ud800", "<script>alert(1)</script>",
    "@/etc/passwd", "../../etc/passwd", "#12345", "#GGGGGG", "reed", [{"at": 0, "colour": "#000000"}], {"name": "x", "data": "%%%"}, "٣", "1,5", "=1+1",
    [[["deep"]]], {"block": "names"}, "ياسمين الحداد", "渡辺 汐", "\u202eevil", "👩\u200d👩\u200d👧",
]  # fmt: skip


def test_answers_are_taken_and_refused_as_in_the_engine_in_the_same_words(client):
    """Each hostile answer at each field of three templates, through HTTP and in Python."""
    tried = 0
    for name in ("guest-strap", "hectares", "end-roll"):
        template = open_template(small(name)).template
        for field in template.card.fields:
            for answer in HOSTILE:
                sent = json.dumps({"answers": {field.id: answer}, "width": 16}, ensure_ascii=True).replace("Infinity", "1e400").encode()
                got = client.post(f"/api/titles/{name}/look", sent)
                tried += 1
                try:
                    check_answers(template, {field.id: answer})
                except AnswerError as error:
                    if got.status != 400:  # what is no JSON of this world comes no further
                        assert (got.status, got.words) == (422, str(error)), (field.id, answer)
                    continue
                assert got.status in (200, 400, 422), (field.id, answer, got.body)
                assert got.headers["content-type"] in ("application/json", "application/problem+json")
    assert tried > 250


def test_a_reel_has_each_picture_once_and_says_when_each_shows(client):
    made = client.post(f"{STRAP}/reels", {"answers": {"name": "Bo Li"}, "width": 480})
    assert made.status == 201
    reel = made.json
    whole = client.get(made.headers["location"]).json
    jsonschema.validate(whole, reel_schema())
    assert {name: value for name, value in reel.items() if name != "reel"} == whole and len(reel["frames"]) == 125
    scene, _ = engine("name-strap", {"name": "Bo Li"})
    for frame in (0, 7, 60, 124):
        picture = np.zeros((270, 480, 4))
        for number, x, y in reel["frames"][frame]:
            one = premultiplied(client.get(f"{reel['reel']}/{reel['pictures'][number]['file']}").body)
            picture[y : y + one.shape[0], x : x + one.shape[1]] = one
        assert np.abs(picture - scene.picture(frame, 480, 270)).max() <= 1
    assert client.post(f"{STRAP}/reels", {"answers": {"name": "Bo Li"}, "width": 480}).json["reel"] == reel["reel"], "made once"
    for file in ("9999.webp", "..%2f..%2fetc%2fpasswd", "reel.json%00", ".avlet"):
        assert client.get(f"{reel['reel']}/{file}").status == 404


def test_what_is_taken_away_is_what_the_engine_makes(client, tmp_path):
    answers = {"name": "Bo Li", "role": "Ringer"}
    for kind, ending in (("prores", ".mov"), ("webm", ".webm")):
        film = made_film(client, kind, typed=answers, length="1.2 s")
        assert (film["state"], film["name"]) == ("done", f"name-strap{ending}"), film
        got = client.get(f"/api/films/{film['id']}/file")
        assert f'filename="name-strap{ending}"' in got.headers["content-disposition"]
        (tmp_path / film["name"]).write_bytes(got.body)
        with av.open(str(tmp_path / film["name"])) as opened:
            assert sum(1 for _ in opened.decode(video=0)) == 30
    still = client.get(f"/api/films/{made_film(client, 'still', answers=answers, frame=60)['id']}/file").body
    assert np.asarray(Image.open(io.BytesIO(still))).shape == (270, 480, 4)
    packed = zipfile.ZipFile(io.BytesIO(client.get(f"/api/films/{made_film(client, 'reel', answers=answers)['id']}/file").body))
    assert "name-strap/reel.json" in packed.namelist() and packed.testzip() is None
    frames = made_film(client, "frames", answers=answers, length=26)
    packed = zipfile.ZipFile(io.BytesIO(client.get(f"/api/films/{frames['id']}/file").body))
    assert len(packed.namelist()) == 26
    assert {one["id"] for one in client.get("/api/films").json["films"]} >= {frames["id"]}
    assert client.ask("DELETE", f"/api/films/{frames['id']}").status == 204
    assert client.get(f"/api/films/{frames['id']}").status == client.get(f"/api/films/{frames['id']}/file").status == 404


def test_a_film_is_stopped_and_the_next_goes_on_and_too_many_are_told_to_wait(client, monkeypatch):
    monkeypatch.setattr(studio, "MOST_FILMS_WAITING", 3)
    first = client.post("/api/titles/end-roll/films", {"kind": "prores"}).json
    until = time.monotonic() + 60
    while not client.get(f"/api/films/{first['id']}").json["total"] and time.monotonic() < until:
        time.sleep(0.1)
    others = [client.post(f"{STRAP}/films", {"kind": "still"}).json for _ in range(2)]
    full = client.post(f"{STRAP}/films", {"kind": "still"})
    assert full.status == 503 and full.headers["retry-after"] == "1" and "3 films wait" in full.words
    folder = client.app.state.studio.films[first["id"]].path.parent
    assert client.ask("DELETE", f"/api/films/{others[0]['id']}").status == 204
    assert client.ask("DELETE", f"/api/films/{first['id']}").status == 204
    until = time.monotonic() + 60
    while client.get(f"/api/films/{others[1]['id']}").json["state"] != "done" and time.monotonic() < until:
        time.sleep(0.1)
    assert client.get(f"/api/films/{others[1]['id']}").json["state"] == "done" and not folder.exists()
    assert client.get(f"/api/films/{others[0]['id']}").status == 404


def test_what_cannot_be_made_says_so_and_the_next_is_made(client, monkeypatch):
    film = made_film(client, "webm", name="odd")
    assert film["state"] == "failed" and "needs an even width and height, not 481×270" in film["said"]
    told = client.get(f"/api/films/{film['id']}/file")
    assert told.status == 404 and film["said"] in told.words
    odd = client.post(f"{STRAP}/look", {"width": 5})
    assert odd.status == 422 and "16 to 1,920 px wide" in odd.words
    assert client.post(f"{STRAP}/look", {"length": "0"}).status == 422
    assert "no number of frames" in client.post(f"{STRAP}/look", {"length": "soon"}).words
    assert made_film(client, "still")["state"] == "done"


def test_a_full_disk_is_said_without_a_place_of_the_server_and_nothing_is_left(client, tmp_path, monkeypatch):
    _, asked = client.app.state.titles.asked("name-strap", {}, {}, 26)
    for kind, file in (("still", "a.png"), ("live", "a.zip"), ("frames", "a.zip")):
        folder = tmp_path / kind
        folder.mkdir()
        (folder / file).symlink_to("/dev/full")
        film = Film("a", file, kind, asked, 20, folder / file)
        have_made(film)
        assert (film.state, film.said) == ("failed", "The server's disk is full. Have somebody make room there, then ask for this again.")
        assert not folder.exists()
    full = OSError(errno.EDQUOT, "Disk quota exceeded")

    async def reel(*_, **__):
        with painting.on_the_servers_disk():
            try:
                raise full
            except OSError as error:
                raise cannot_write(tmp_path, error) from None

    monkeypatch.setattr(client.app.state.studio, "reel", reel)
    told = client.post(f"{STRAP}/reels", {"width": 333})
    assert told.status == 507 and told.words.startswith("The server's disk is full") and str(tmp_path) not in told.words
    for other in (OSError(errno.EACCES, "Permission denied"), RenderError("Its fonts are gone.")):
        with pytest.raises(type(other)), painting.on_the_servers_disk():
            raise other


def test_more_pictures_than_can_be_painted_at_once_are_asked_to_come_again(client, monkeypatch):
    monkeypatch.setattr(studio, "MOST_LOOKS_WAITING", 0)
    busy = client.post(f"{STRAP}/look", {"width": 64})
    assert busy.status == 503 and busy.headers["retry-after"] == "1"
    monkeypatch.undo()
    assert client.post(f"{STRAP}/look", {"width": 64}).status == 200


def test_a_painter_that_is_killed_costs_nothing(client):
    assert client.post(f"{STRAP}/look", {"width": 64}).status == 200
    for child in psutil.Process().children(recursive=True):
        if "spawn_main" in " ".join(child.cmdline()):
            child.kill()
    assert client.post(f"{STRAP}/look", {"answers": {"name": "Again"}, "width": 64}).status == 200


def test_a_reel_that_nobody_waits_for_any_more_is_given_up(client):
    """Who types asks for many: one that was left behind does not stand in the way of the next, which is there at once."""
    body = json.dumps({"width": 640}).encode()
    head = f"POST /api/titles/end-roll/reels HTTP/1.1\r\nHost: 127.0.0.1:{client.port}\r\ncontent-type: application/json\r\n"
    with socket.create_connection(("127.0.0.1", client.port), 10) as left:
        left.sendall(head.encode() + b"content-length: %d\r\n\r\n" % len(body) + body)
        until = time.monotonic() + 30
        while not client.app.state.studio._making and time.monotonic() < until:
            time.sleep(0.05)
        time.sleep(1)
        assert client.app.state.studio._making, "a long roll takes longer"
    assert client.post(f"{STRAP}/reels", {"answers": {"name": "Next"}, "width": 320}, timeout=60).status == 201
    assert not client.app.state.studio._making and not client.app.state.studio._waiting


def test_what_nobody_asked_for_in_an_hour_goes(client):
    made = client.app.state.studio
    reel = client.post(f"{STRAP}/reels", {"width": 64}).json["reel"]
    film = made_film(client, "still")
    path = made.films[film["id"]].path
    made.sweep(time.monotonic() + studio.KEPT_FOR - 60)
    assert client.get(f"{reel}/reel.json").status == 200 and path.exists()
    made.sweep(time.monotonic() + studio.KEPT_FOR + 60)
    gone = client.get(f"{reel}/reel.json")
    assert gone.status == 404 and "Ask for it again" in gone.words
    assert not path.exists() and client.get(f"/api/films/{film['id']}").status == 404


# The library under it


def test_the_library_is_followed_and_damage_is_told(tmp_path):
    shutil.copytree(small("place-tag"), tmp_path / "place-tag.avlet")
    with serving(tmp_path) as client:
        assert [one["name"] for one in client.get("/api/titles").json["titles"]] == ["place-tag"]
        shutil.copytree(small("name-strap"), tmp_path / "name-strap.avlet")
        assert client.post(f"{STRAP}/look", {"width": 64}).status == 200
        (tmp_path / "broken.avlet").write_bytes(b"PK\x03\x04")
        listed = {one["name"]: one for one in client.get("/api/titles").json["titles"]}
        assert listed["broken"]["fault"] and client.get("/api/titles/broken").status == 404
        before = client.post(f"{STRAP}/look", {"width": 64}).json["picture"]
        template = json.loads((tmp_path / "name-strap.avlet" / "template.json").read_text())
        template["card"]["sections"][0]["fields"][0]["default"] = "Another name"
        (tmp_path / "name-strap.avlet" / "template.json").write_text(json.dumps(template))
        assert client.post(f"{STRAP}/look", {"width": 64}).json["picture"] != before
        shutil.rmtree(tmp_path / "name-strap.avlet")
        gone = client.post(f"{STRAP}/look", {"width": 64})
        assert gone.status == 404 and "no title “name-strap”" in gone.words
        shutil.rmtree(tmp_path)
        assert client.get("/api/titles").json["titles"] == []
        tmp_path.mkdir()


# Who may ask


def test_other_hosts_other_pages_and_other_kinds_of_data_are_refused(client):
    here = f"127.0.0.1:{client.port}"
    assert client.get("/api/titles", Host="evil.example").status == 421
    assert client.get("/api/titles", Host=f"localhost:{client.port}").status == 200
    for origin, status in ((f"http://{here}", 200), ("http://evil.example", 403), ("null", 403), (f"http://{here}.evil.example", 403)):
        assert client.post(f"{STRAP}/look", {"width": 64}, Origin=origin).status == status, origin
    assert client.ask("DELETE", "/api/films/0", Origin="http://evil.example").status == 403
    for kind in ("text/plain", "application/x-www-form-urlencoded", "multipart/form-data; boundary=x"):
        assert client.post(f"{STRAP}/look", b'{"width": 64}', content_type=kind).status == 415
    for sent in (b"", b"{", b"[]", b"null", b'{"widht": 64}', b'{"width": "64"}', b"\xff\xfe", b"[" * 100_000):
        assert client.post(f"{STRAP}/look", sent).status == 400, sent[:20]


def test_a_page_may_load_nothing_from_elsewhere_and_be_in_no_other(client):
    for path in ("/", "/titles/name-strap", "/pages/look.css", "/api/titles", "/nothing"):
        headers = client.get(path).headers
        policy = dict(one.strip().split(" ", 1) for one in headers["content-security-policy"].split(";"))
        assert policy["default-src"] == "'none'" and policy["frame-ancestors"] == "'none'" and policy["script-src"] == "'self'"
        assert headers["x-content-type-options"] == "nosniff" and headers["cross-origin-resource-policy"] == "same-origin"
        assert "server" not in headers and "access-control-allow-origin" not in headers
    for file in (Path(api.__file__).parent / "pages").iterdir():
        words = file.read_text(encoding="utf-8")
        assert not re.search(r"(?:https?:)?//(?!www\.w3\.org)[a-z0-9-]+\.[a-z]", words), f"{file.name} names another host"
        assert "innerHTML" not in words and "eval(" not in words and "onclick=" not in words


@pytest.mark.parametrize(
    "path",
    [
        "/api/titles/..%2f..%2fetc%2fpasswd", "/api/titles/../../etc/passwd", "/api/titles/%2e%2e", "/api/titles/name-strap%00", "/api/titles/.",
        "/pages/..%2fapp.py", "/pages/../app.py", "/pages/fonts/..%2f..%2fapp.py", "/pages/titles.html", "/api/pictures/..", "/api/films/..%2f",
        "/api/reels/..%2f..%2f/reel.json", "/api/plates/..%2f", "/titles", "//etc/passwd", "/api/titles/%ff%fe",
    ],
)  # fmt: skip
def test_names_are_looked_up_and_never_joined_to_paths(client, path):
    got = client.get(path)
    assert got.status == 404 and b"root:" not in got.body and b"import" not in got.body


def test_too_much_and_too_slow_are_refused(client, monkeypatch):
    monkeypatch.setattr(guard, "MOST_SERVED_BODY", 1000)
    monkeypatch.setattr(guard, "_PATIENCE", 0.5)
    assert client.post(f"{STRAP}/look", b"x" * 1001).status == 413
    head = f"POST {STRAP}/look HTTP/1.1\r\nHost: 127.0.0.1:{client.port}\r\ncontent-type: application/json\r\n"
    endless = head + "transfer-encoding: chunked\r\n\r\n" + "3e8\r\n" + "x" * 1000 + "\r\n" + "3e8\r\n" + "x" * 1000 + "\r\n"
    assert b" 413 " in client.raw(endless.encode(), 2, ends=False).split(b"\r\n")[0]
    with socket.create_connection(("127.0.0.1", client.port), 10) as slow:
        slow.sendall((head + "content-length: 100\r\n\r\n{").encode())
        assert b" 408 " in slow.recv(200)
    assert client.get("/api/titles").status == 200


def test_a_token_is_asked_for_as_bearer_or_by_a_link_that_sets_a_cookie(library):
    token = "a-token-of-this-test-alone"
    with serving(library, token) as client:
        for headers in (
            {},
            {"Authorization": "Bearer wrong"},
            {"Authorization": f"Basic {token}"},
            {"Cookie": f"avlet={token}"},
            {"Cookie": "avlet=é;;="},
        ):
            refused = client.get("/api/titles", **headers)
            assert refused.status == 401 and token not in refused.words
            assert client.get("/", **headers).status == 401
        assert client.get("/api/titles", Authorization=f"Bearer {token}").status == 200
        assert client.get("/enter?token=wrong").status == client.get("/enter").status == 401
        entered = client.get(f"/enter?token={token}")
        cookie = entered.headers["set-cookie"]
        assert entered.status == 303 and entered.headers["location"] == "/" and "HttpOnly" in cookie and "SameSite=Strict" in cookie
        assert token not in cookie
        session = cookie.partition(";")[0]
        assert client.get("/api/titles", Cookie=session, Host="anything.example").status == 200
        assert client.post(f"{STRAP}/look", {"width": 64}, Cookie=session, Origin="http://evil.example").status == 403


def test_the_log_tells_who_asked_for_what_and_nothing_that_was_typed(client, caplog):
    caplog.set_level("INFO", "avlet.serve")
    client.post(f"{STRAP}/look", {"typed": {"name": "A secret name"}, "width": 64})
    client.post(f"{STRAP}/look", {"typed": {"nothing": "A secret name"}, "width": 64})
    until = time.monotonic() + 5  # a line is written once its answer has gone
    while not any(" 422 " in record.getMessage() for record in caplog.records) and time.monotonic() < until:
        time.sleep(0.02)
    told = [record.getMessage() for record in caplog.records]
    assert any(re.match(rf"127\.0\.0\.1 POST {STRAP}/look 200 \d+ ms", line) for line in told)
    assert any(" 422 " in line for line in told) and not any("secret" in line for line in told)


def damaged(chance: random.Random) -> bytes:
    """A request with something wrong at random."""
    body = json.dumps({"answers": {"name": "Bo"}, "width": 64}).encode()
    request = bytearray(
        b"POST /api/titles/name-strap/look HTTP/1.1\r\nHost: 127.0.0.1\r\nContent-Type: application/json\r\nContent-Length: %d\r\n\r\n%s"
        % (len(body), body)
    )
    for _ in range(chance.randint(1, 6)):
        at = chance.randrange(len(request))
        match chance.randrange(4):
            case 0:
                request[at] = chance.randrange(256)
            case 1:
                del request[at : at + chance.randint(1, 30)]
            case 2:
                request[at:at] = bytes(chance.randrange(256) for _ in range(chance.randint(1, 30)))
            case _:
                request[at:at] = request[: chance.randint(1, 60)]
        if not request:
            request = bytearray(b"\r\n")
    return bytes(request)


@pytest.mark.parametrize("count", [120, pytest.param(2_000, marks=pytest.mark.soak)])
def test_damaged_requests_are_refused_and_the_server_goes_on(client, count, monkeypatch):
    monkeypatch.setattr(guard, "_PATIENCE", 0.2)
    chance = random.Random(count)
    for _ in range(count):
        got = client.raw(damaged(chance))
        assert b"HTTP/1.1 500" not in got, got[:300]
    assert client.post(f"{STRAP}/look", {"width": 64}).status == 200


# What is told of it, and how it begins and ends


def test_the_description_has_every_address_and_no_other():
    told = openapi()
    described = {
        (path.removeprefix("/api"), method.upper()) for path, one in told["paths"].items() for method in one if method != "parameters"
    }
    served = {(route.path, method) for route in (*api.routes(), *table_api.routes()) for method in route.methods if method != "HEAD"}
    assert described == served
    words = json.dumps(told)
    for name in re.findall(r"#/components/schemas/(\w+)", words):
        assert name in told["components"]["schemas"]
    for path, one in told["paths"].items():
        assert set(re.findall(r"\{(\w+)\}", path)) == {given["name"] for given in one.get("parameters", [])}


def started(*words, **more):
    process = subprocess.Popen(
        [sys.executable, "-m", "avlet", "serve", *map(str, words), "--json", "lines"], stdout=subprocess.PIPE, text=True, **more
    )
    told = next(one for one in map(json.loads, process.stdout) if "address" in one)
    return process, told


def test_it_is_begun_and_ended_by_the_command_line_and_leaves_nothing(library, tmp_path):
    environment = {**os.environ, "TMPDIR": str(tmp_path)}
    process, told = started(library, "--port", 0, "--workers", 2, env=environment)
    assert told["verb"] == "serve" and told["address"].startswith("http://127.0.0.1:")
    client = Client(int(told["address"].rstrip("/").rpartition(":")[2]))
    assert client.post(f"{STRAP}/look", {"width": 64}).status == 200
    client.post("/api/titles/end-roll/films", {"kind": "prores"})
    time.sleep(1)
    workers = psutil.Process(process.pid).children(recursive=True)
    assert workers and any(tmp_path.glob("avlet-serve-*"))
    began = time.monotonic()
    process.send_signal(signal.SIGTERM)
    assert process.wait(15) == 143
    assert time.monotonic() - began < 20
    psutil.wait_procs(workers, timeout=5)
    assert not any(one.is_running() and one.status() != psutil.STATUS_ZOMBIE for one in workers)
    assert not list(tmp_path.glob("avlet-serve-*"))


def test_what_cannot_be_served_is_said(avlet, library, tmp_path):
    with socket.create_server(("127.0.0.1", 0)) as taken:
        status, _, words = avlet("serve", library, "--port", taken.getsockname()[1])
        assert status == 2 and "cannot be served at" in words and "--port" in words
    status, _, words = avlet("serve", tmp_path / "nowhere")
    assert status == 2 and "no folder" in words
    short = tmp_path / "token.txt"
    short.write_text("short")
    status, _, words = avlet("serve", library, "--token-file", short, "--port", 0)
    assert status == 2 and "16 to 200" in words
    status, _, words = avlet("serve", library, "--host", "256.1.1.1", "--port", 0)
    assert status == 2 and "cannot be served at" in words
