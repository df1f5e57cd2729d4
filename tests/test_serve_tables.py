"""A table over HTTP: the roster's own threads, rows and sentences, and a zip with the delivery list; and what is not taken."""

import base64
import csv
import hashlib
import io
import json
import shutil
import time
import zipfile

import msgspec
import numpy as np
import pytest
from conftest import DEMO, small
from openpyxl import Workbook
from PIL import Image
from serving import flat_png, serving, with_portrait

from avlet.layout.other_frame import in_frame
from avlet.limits import MOST_SERVED_ROWS
from avlet.media.render import StoppedError
from avlet.paint.scene import Scene
from avlet.review.samples import said_of
from avlet.roster.crew import LocalCrew
from avlet.roster.kinds import KINDS
from avlet.roster.looking import said_of_scene
from avlet.roster.rendering import render_roster
from avlet.roster.roster import Roster, Wanted, plan_of
from avlet.roster.sheet import open_sheet
from avlet.serve.sent import NotSentError, SentFiles
from avlet.serve.tables import AskedRows, WantedRows, make_rows
from avlet.storage.package import open_template, save_template
from avlet.text.fonts import bundled_fonts

STRAP = "/api/titles/name-strap"
FEW = [["Name", "Role"], ["Bo Li", "Ringer"], ["", ""], ["Íris Þórdal", "Tide tables"]]


@pytest.fixture(scope="module")
def client(tmp_path_factory):
    library = tmp_path_factory.mktemp("tables")
    for name in ("name-strap", "hectares", "guest-strap"):
        shutil.copytree(small(name), library / f"{name}.avlet")
    with serving(library) as made:
        yield made


def sent(path):
    return {"name": path.name, "data": base64.b64encode(path.read_bytes()).decode()}


def made_zip(client, address, **wanted):
    """The files of a table by name, and how far it was told to be on the way."""
    film = client.post(f"{address}/tables", wanted)
    assert film.status == 202, film.words
    told, until = [], time.monotonic() + 120
    while (now := client.get(film.headers["location"]).json)["state"] in ("waiting", "going") and time.monotonic() < until:
        told.append((now["done"], now["total"]))
        time.sleep(0.02)
    if now["state"] != "done":
        return now, told
    packed = zipfile.ZipFile(io.BytesIO(client.get(f"{film.headers['location']}/file").body))
    assert packed.testzip() is None
    return {name.partition("/")[2]: packed.read(name) for name in packed.namelist()}, told


@pytest.mark.parametrize("name", ["guests.csv", "guests.xlsx"])
def test_a_file_comes_to_what_the_roster_makes_of_it(client, name):
    table = client.post("/api/tables", sent(DEMO / name)).json
    plan = client.post(f"{STRAP}/rows", {"rows": table["rows"], "name": table["name"], "kept_as": table["kept_as"]}).json
    template = open_template(small("name-strap")).template
    ours = plan_of(Roster.of(open_sheet(DEMO / name), template), template)
    assert table["name"] == name and plan["heads"] == [head.words for head in ours.roster.sheet.heads]
    assert [(one["column"], one["target"]) for one in plan["threads"]] == [(one.column, one.target) for one in ours.roster.threads]
    assert [row["number"] for row in plan["rows"]] == [line.number for line in ours.rows]
    assert [row["fault"] for row in plan["rows"]] == [ours.faulty.get(n, "") for n in range(len(ours.rows))] and ours.faulty
    assert [row["name"] for row in plan["rows"] if not row["fault"]] == [item.name.removesuffix(".mov") for item in ours.items]
    for place, row in enumerate(plan["rows"]):
        said = ours.answered(place, ours.roster.languages[0])
        assert row["each"] == [{"which": "", "size": None, "answers": said.answers, "length": said.length}]
    assert plan["files"] == len(ours.items) and plan["remarks"] == list(ours.remarks)


def test_pasted_rows_and_a_row_of_another_language(client):
    table = client.post("/api/tables", {"words": "Who\tRole (en)\tRole (cy)\nBo Li\tRinger\tModrwywr adar\n"}).json
    assert table["rows"] == [["Who", "Role (en)", "Role (cy)"], ["Bo Li", "Ringer", "Modrwywr adar"]]
    plan = client.post(f"{STRAP}/rows", {"rows": table["rows"], "languages": ["en", "cy"]}).json
    assert [one["answers"]["role"] for one in plan["rows"][0]["each"]] == ["Ringer", "Modrwywr adar"]
    assert plan["files"] == 2 and [one["name"] for one in plan["languages"]] == ["English", "Welsh"]
    assert [one["which"] for one in plan["rows"][0]["each"]] == ["en", "cy"]


def test_each_frame_of_a_row_is_looked_at(client):
    """The picture and the verdict in a frame of another shape are those of the template there; what does not stand there is told."""
    opened = open_template(small("name-strap"))
    rows = [["Who", "Role (en)", "Role (cy)"], ["Ioana Crețu-Whitlock of the northern reaches", "Ringer", "Modrwywr adar"]]
    sizes = [(1920, 1080), (240, 640)]
    plan = client.post(f"{STRAP}/rows", {"rows": rows, "languages": ["en", "cy"], "frames": sizes}).json
    each = plan["rows"][0]["each"]
    assert [one["which"] for one in each] == ["en, 1920×1080", "en, 240×640", "cy, 1920×1080", "cy, 240×640"] and plan["files"] == 4
    verdicts = []
    for one in each:
        seen = client.post(f"{STRAP}/look", {"answers": one["answers"], "size": one["size"], "width": 320})
        scene = Scene(in_frame(opened.template, tuple(one["size"])), opened.book, one["answers"])
        wide = min(320, one["size"][0])
        assert (seen.json["width"], seen.json["height"]) == (wide, round(wide * one["size"][1] / one["size"][0]))
        assert seen.json["verdict"] == said_of_scene(scene).verdict and seen.json["said"] == list(said_of(scene))
        shown = np.asarray(Image.open(io.BytesIO(client.get(seen.json["picture"]).body)).convert("RGBA")).astype(int)
        ours = scene.picture(scene.spans.middle, seen.json["width"], seen.json["height"]).astype(int)
        assert np.abs(shown[..., 3] - ours[..., 3]).max() <= 1
        verdicts.append(seen.json["verdict"])
    assert verdicts[0] == verdicts[2] and verdicts[1] == verdicts[3]
    for size, words in (
        ([0, 100], "does not stand in a frame of 0×100"),
        ([100_000, 100_000], "px in all"),
        ([1080], "not what is taken"),
        ([-1, 5], "-1×5"),
    ):
        refused = client.post(f"{STRAP}/look", {"size": size})
        assert refused.status in (400, 422) and words in refused.words, refused.body


def test_threads_are_redrawn_and_cells_told_where_they_do_not_fit(client):
    rows = [["A", "B", "C"], ["Bo Li", "#20435C", "soon"], ["Íris", "no colour", "3 s"]]
    threads = [{"column": 0, "target": "name"}, {"column": 1, "target": "plate"}, {"column": 2, "target": "@length"}]
    fields = [one["id"] for section in client.get(STRAP).json["sections"] for one in section["fields"]]
    threads[1]["target"] = next(one for one in fields if "colour" in one or "bar" in one)
    plan = client.post(f"{STRAP}/rows", {"rows": rows, "threads": threads}).json
    assert plan["threads"] == threads
    assert [fault["column"] for fault in plan["rows"][0]["faults"]] == [2] and "soon" in plan["rows"][0]["fault"]
    assert [fault["column"] for fault in plan["rows"][1]["faults"]] == [1] and "no colour" in plan["rows"][1]["fault"]
    assert plan["rows"][1]["each"][0]["length"] == 75 and plan["files"] == 0
    assert "No row can be rendered" in made_zip(client, STRAP, rows=rows, threads=threads)[0]["said"]


def test_numbers_are_read_in_the_tables_own_writing(client):
    book = b"Number;Film\n1.234,5;a\n2.000,25;b\n"
    table = client.post("/api/tables", {"name": "counts.csv", "data": base64.b64encode(book).decode()}).json
    told = client.post("/api/titles/hectares/rows", table | {"threads": [{"column": 0, "target": "number"}]} | {"remarks": None})
    assert told.status == 400, "what is not known is refused"
    table.pop("remarks")
    told = client.post("/api/titles/hectares/rows", table | {"threads": [{"column": 0, "target": "number"}]}).json
    assert [row["each"][0]["answers"] for row in told["rows"]] == [{"number": 1234.5}, {"number": 2000.25}]
    few = {"rows": [["Number"], ["1,234"]], "threads": [{"column": 0, "target": "number"}]}
    for kept_as, number in (("CSV with semicolons", 1.234), ("", 1234.0)):
        told = client.post("/api/titles/hectares/rows", few | {"kept_as": kept_as}).json
        assert told["rows"][0]["each"][0]["answers"] == {"number": number}, "what parts cells says what a comma is"


def test_a_row_has_the_rosters_verdict_and_is_seen_large(client):
    opened = open_template(small("guest-strap"))
    for answers in ({}, {"name": "Wolfeschlegelsteinhausenbergerdorff " * 3}):
        seen = client.post("/api/titles/guest-strap/look", {"answers": answers, "width": 320, "close": True}).json
        assert seen["verdict"] == said_of_scene(Scene(opened.template, opened.book, answers)).verdict
        assert (seen["width"], seen["height"]) == (320, 180)
    from PIL import Image

    shown = [
        Image.open(io.BytesIO(client.get(client.post(f"{STRAP}/look", {"width": 320, "close": close}).json["picture"]).body)).getbbox()
        for close in (False, True)
    ]
    wide = [box[2] - box[0] for box in shown]
    assert wide[1] > 2 * wide[0] and wide[1] > 250, "what is drawn fills the picture"


def test_all_rows_come_as_a_zip_with_their_list_and_the_rosters_bytes(client, tmp_path):
    wanted = {"rows": FEW, "kinds": ["prores", "still"], "name": "few.csv", "frames": [[480, 270]]}
    files, told = made_zip(client, STRAP, **wanted)
    delivery = json.loads(files["delivery.json"])
    assert delivery["complete"] and delivery["table"] == "few.csv" and not delivery["left_out"]
    assert [(one["row"], one["kind"]) for one in delivery["files"]] == [(1, "prores"), (1, "still"), (3, "prores"), (3, "still")]
    for one in delivery["files"]:
        assert hashlib.sha256(files[one["file"]]).hexdigest() == one["sha256"] and len(files[one["file"]]) == one["size"]
    assert [row["file"] for row in csv.DictReader(io.StringIO(files["delivery.csv"].decode()))] == [
        one["file"] for one in delivery["files"]
    ]
    assert set(files) == {one["file"] for one in delivery["files"]} | {"delivery.json", "delivery.csv", "few.otio"}
    assert all(total in (0, 4) and done <= 4 for done, total in told)
    here = tmp_path / "few.csv"
    here.write_text("\n".join(",".join(row) for row in FEW), encoding="utf-8")
    opened = open_template(small("name-strap"))
    kinds = tuple(kind for kind in KINDS if kind.id in ("prores", "still"))
    plan = plan_of(Roster.of(open_sheet(here), opened.template, Wanted(kinds, frames=((480, 270),))), opened.template)
    out = tmp_path / "films"
    out.mkdir()
    render_roster(plan, opened.book, out, LocalCrew(1))
    assert {name: files[name] for name in files if name.endswith((".mov", ".png"))} == {
        path.name: path.read_bytes() for path in out.iterdir() if path.suffix in (".mov", ".png")
    }


def test_a_row_that_cannot_be_read_is_on_the_list_and_the_others_are_made(client):
    rows = [["Name", "Length"], ["Bo Li", "soon"], ["Íris", "1 s"]]
    files, _ = made_zip(client, STRAP, rows=rows, kinds=["still"])
    delivery = json.loads(files["delivery.json"])
    assert [one["row"] for one in delivery["files"]] == [2] and [one["row"] for one in delivery["left_out"]] == [1]
    assert "soon" in delivery["left_out"][0]["why"] and not delivery["complete"]


def test_a_table_is_stopped_and_leaves_nothing(client):
    studio = client.app.state.studio
    film = client.post(f"{STRAP}/tables", {"rows": [["Name"], *([f"Guest {n}"] for n in range(40))], "kinds": ["prores"]})
    place, until = film.headers["location"], time.monotonic() + 60
    while client.get(place).json["done"] < 1 and time.monotonic() < until:
        time.sleep(0.02)
    folder = studio.film(film.json["id"]).path.parent
    assert client.get(place).json["total"] == 40 and list(folder.rglob("*.mov"))
    assert client.ask("DELETE", place).status == 204
    until = time.monotonic() + 20
    while folder.exists() and time.monotonic() < until:
        time.sleep(0.05)
    assert not folder.exists() and client.get(place).status == 404
    assert not [film for film in studio.films.values() if film.state == "going"]


def test_what_is_stopped_is_not_packed(tmp_path):
    told = []
    with pytest.raises(StoppedError):
        make_rows(
            open_template(small("name-strap")), AskedRows("", (0, 0), WantedRows(FEW, kinds=("still",))), tmp_path / "few.zip",
            lambda done, total: told.append((done, total)) or done < 1,
        )  # fmt: skip
    assert told[-1] == (1, 2) and not (tmp_path / "few.zip").exists()


@pytest.fixture(scope="module")
def portraits(client):
    """Three pictures of one colour each, as somebody sends them, and the address of a title with room for one."""
    save_template(with_portrait(), client.app.state.library / "portrait-strap.avlet", bundled_fonts())
    pictures = {f"{name}.png": flat_png(colour) for name, colour in (("bo", (255, 0, 0)), ("iris", (0, 255, 0)), ("unwanted", (0, 0, 255)))}
    told = [client.post("/api/files", {"name": name, "data": base64.b64encode(data).decode()}) for name, data in pictures.items()]
    assert [one.status for one in told] == [201] * 3 and [one.json["name"] for one in told] == list(pictures)
    return {one.json["name"]: one.json["sent"] for one in told}, "/api/titles/portrait-strap"


WITH_PORTRAITS = [["Name", "Portrait"], ["Bo Li", "bo.png"], ["Íris Þórdal", "C:\\Guests\\Iris.PNG "], ["Odalys", ""], ["Teodor", "t.png"]]


def test_cells_name_pictures_that_were_sent(client, portraits):
    sent, address = portraits
    told = client.post(f"{address}/rows", {"rows": WITH_PORTRAITS, "files": sent})
    assert told.status == 200, told.words
    rows = told.json["rows"]
    assert [one["each"][0]["answers"].get("portrait") for one in rows] == [
        {"name": "bo.png", "sent": sent["bo.png"]}, {"name": "C:\\Guests\\Iris.PNG", "sent": sent["iris.png"]}, None, None,
    ]  # fmt: skip
    assert [bool(one["fault"]) for one in rows] == [False, False, False, True] and "No file “t.png” came with the table" in rows[3]["fault"]
    assert len(told.body) < 10_000, "pictures do not travel there and back"
    assert [one["id"] for one in told.json["targets"] if one["files"]] == ["portrait"]
    for row, colour in zip(rows[:2], ((255, 0, 0), (0, 255, 0)), strict=True):
        look = client.post(f"{address}/look", {"answers": row["each"][0]["answers"], "width": 320}).json
        image = np.asarray(Image.open(io.BytesIO(client.get(look["picture"]).body)).convert("RGBA"))
        assert tuple(image[30, 30]) == (*colour, 255)


def test_rows_with_pictures_are_made(client, portraits):
    sent, address = portraits
    files, _ = made_zip(client, address, rows=WITH_PORTRAITS, kinds=["still"], files=sent)
    stills = {
        name: np.asarray(Image.open(io.BytesIO(data)).convert("RGBA"))[180, 180] for name, data in files.items() if name.endswith(".png")
    }
    assert sorted(stills) == ["01-bo-li.png", "02-iris-thordal.png", "03-odalys.png"]
    assert tuple(stills["01-bo-li.png"]) == (255, 0, 0, 255) and tuple(stills["02-iris-thordal.png"]) == (0, 255, 0, 255)
    assert tuple(stills["03-odalys.png"]) not in ((255, 0, 0, 255), (0, 255, 0, 255)), "no picture where none is named"


def test_files_for_tables_are_refused_in_words_and_kept_within_bounds(client, portraits, monkeypatch):
    sent, address = portraits
    for body, status, words in (
        ({"name": "a.png", "data": "§"}, 422, "did not come whole"), ({"name": "a.png"}, 400, "data"), ({"data": ""}, 400, "name"),
    ):  # fmt: skip
        told = client.post("/api/files", body)
        assert told.status == status and words in told.words
    for asked in ("rows", "tables"):
        told = client.post(f"{address}/{asked}", {"rows": WITH_PORTRAITS, "files": {"bo.png": "0" * 32}})
        assert told.status == 404 and "“bo.png” is not kept any more" in told.words
        told = client.post(f"{address}/{asked}", {"rows": WITH_PORTRAITS, "files": {f"{n}.png": sent["bo.png"] for n in range(2_001)}})
        assert told.status == 422 and "at most 2,000 files" in told.words
    for strange in ({"name": "x", "sent": "../../etc/hostname"}, {"name": "x", "sent": ""}, {"name": "../x", "sent": "0" * 32}):
        told = client.post(f"{address}/look", {"answers": {"portrait": strange}})
        assert told.status == 404 and "is not kept any more" in told.words
    for strange in ({"sent": sent["bo.png"]}, {"name": 1, "sent": sent["bo.png"]}, {"name": "x", "sent": [1]}):
        told = client.post(f"{address}/look", {"answers": {"portrait": strange}})
        assert told.status == 422 and "takes a picture" in told.words


def test_sent_files_go_after_an_hour_unless_somebody_asks(monkeypatch):
    kept, now = SentFiles(), [1_000.0]
    monkeypatch.setattr(time, "monotonic", lambda: now[0])
    one, other = kept.keep(b"one"), kept.keep(b"other")
    assert kept.keep(b"one") == one and len(kept) == 2, "the same is kept once"
    now[0] += 3_000
    assert kept.of(one, "a") == b"one"
    kept.sweep(now[0] - 3_600)
    assert len(kept) == 2
    now[0] += 1_000
    kept.sweep(now[0] - 3_600)
    assert kept.of(one, "a") == b"one"
    with pytest.raises(NotSentError, match="“the other”"):
        kept.of(other, "the other")


def test_of_sent_files_those_that_nobody_asked_for_longest_make_room(monkeypatch):
    kept = SentFiles()
    monkeypatch.setattr("avlet.serve.sent.MOST_SENT_FILES", 250)
    first, second = kept.keep(b"1" * 100), kept.keep(b"2" * 100)
    assert kept.of(first, "a")
    third = kept.keep(b"3" * 100)
    with pytest.raises(NotSentError):
        kept.of(second, "b")
    assert kept.of(first, "a") == b"1" * 100 and kept.of(third, "c") == b"3" * 100
    assert kept.of(kept.keep(b"y" * 1_000), "d") == b"y" * 1_000, "one that is larger than all there may be is kept until the next"
    assert len(kept) == 1


@pytest.mark.parametrize("cell", ["/etc/hostname", "../../../../etc/hostname", "hostname", "@/etc/hostname", "file:///etc/hostname"])
def test_cells_name_no_files_of_this_machine(client, cell):
    library = client.app.state.library
    made = library / "with-picture.avlet"
    if not made.exists():
        shutil.copytree(small("end-roll"), made)
    told = client.post("/api/titles/with-picture/rows", {"rows": [["x"], [cell]], "threads": [{"column": 0, "target": "list"}]}).json
    assert told["rows"][0]["fault"] and "127.0.0.1" not in json.dumps(told)
    assert "came with the table" in told["rows"][0]["fault"] or "no such" in told["rows"][0]["fault"].lower(), told["rows"][0]["fault"]


REFUSED = [
    ({"rows": []}, 422, "no rows below its heads"), ({"rows": [["Name"]]}, 422, "no rows below its heads"),
    ({"rows": [["Zebra"], ["Bo"]]}, 422, "No column"), ({"rows": FEW, "kinds": []}, 422, "at least one kind"),
    ({"rows": FEW, "kinds": ["gif"]}, 422, "is no kind of file"), ({"rows": FEW, "plate": "../x"}, 422, "There is no plate"),
    ({"rows": FEW, "threads": [{"column": 9, "target": "name"}]}, 422, "no column 10"),
    ({"rows": FEW, "threads": [{"column": -1, "target": "name"}]}, 422, "no column 0"),
    ({"rows": FEW, "threads": [{"column": 0, "target": "nothing"}]}, 422, "no field “nothing”"),
    ({"rows": FEW, "threads": [{"column": 0, "target": "name"}, {"column": 0, "target": "role"}]}, 422, "leads to one field"),
    ({"rows": FEW, "pattern": "{Zebra}"}, 422, "no column “Zebra”"), ({"rows": FEW, "pattern": "{Name"}, 422, "bracket"),
    ({"rows": FEW, "frames": [[0, 0]]}, 422, ""), ({"rows": FEW, "frames": [[10**9, 10**9]]}, 422, ""),
    ({"rows": FEW, "languages": ["xx"]}, 422, "xx"), ({"rows": FEW, "what": 1}, 400, "what"), ({"rows": "abc"}, 400, ""),
    ({"rows": [["Name"], *([["x"]] * (MOST_SERVED_ROWS + 1))]}, 422, f"at most {MOST_SERVED_ROWS:,} rows"),
]  # fmt: skip


@pytest.mark.parametrize(("body", "status", "words"), REFUSED)
@pytest.mark.parametrize("address", ["rows", "tables"])
def test_what_cannot_be_a_table_is_refused_in_words(client, address, body, status, words):
    waiting = len(client.app.state.studio.films)
    told = client.post(f"{STRAP}/{address}", body)
    assert told.status == status and words in told.words, told.words
    assert len(client.app.state.studio.films) == waiting, "nothing is begun"


def test_strange_files_are_told(client):
    far = io.BytesIO()
    book = Workbook()
    book.active["A1"], book.active["XFD1048576"] = "Name", "far"
    book.save(far)
    for data, words in ((far.getvalue(), "XFD1048576"), (b"\x00\xff" * 500, ""), (b"PK\x03\x04" + b"x" * 300, ""), (b"", "")):
        told = client.post("/api/tables", {"name": "x.xlsx", "data": base64.b64encode(data).decode()})
        assert told.status in (422, 500) and words in told.words and "/tmp" not in told.words, told.words
    assert "did not come whole" in client.post("/api/tables", {"name": "x.csv", "data": "%%%"}).words
    many = "Name\n" + "x\n" * (MOST_SERVED_ROWS + 1)
    assert f"at most {MOST_SERVED_ROWS:,}" in client.post("/api/tables", {"words": many}).words
    assert client.post("/api/tables", {"words": "Name\n" + "x\n" * MOST_SERVED_ROWS}).status == 200
    assert client.post("/api/tables", {"name": "../../a.csv", "data": base64.b64encode(b"Name\nBo\n").decode()}).json["name"] == "a.csv"


def test_it_is_described(client):
    told = client.get("/api/openapi.json").json
    for path, body in (
        ("/api/tables", "SentTable"),
        ("/api/titles/{name}/rows", "WantedRows"),
        ("/api/titles/{name}/tables", "WantedRows"),
    ):
        sent = told["paths"][path]["post"]["requestBody"]["content"]["application/json"]["schema"]["$ref"]
        assert sent == f"#/components/schemas/{body}" and body in told["components"]["schemas"]
    assert msgspec.json.encode(told)


def test_reels_of_one_title_in_two_sizes_are_two(client):
    reels = [client.post(f"{STRAP}/reels", {"width": 240, **size}).json for size in ({}, {"size": [1080, 1080]}, {"size": [1080, 1920]})]
    assert [[one["width"], one["height"]] for one in reels] == [[240, 135], [240, 240], [240, 427]]
    assert len({one["reel"] for one in reels}) == 3


def test_after_an_hour_sent_files_are_gone(client):  # the last one: those of other tests go with them
    sent = client.post("/api/files", {"name": "bo.png", "data": base64.b64encode(flat_png((9, 9, 9))).decode()}).json["sent"]
    wanted = {"rows": FEW, "files": {"bo.png": sent}}
    client.app.state.studio.sweep(time.monotonic() + 3_500)
    assert client.post(f"{STRAP}/rows", wanted).status == 200
    client.app.state.studio.sweep(time.monotonic() + 3_700)
    assert client.post(f"{STRAP}/rows", wanted).status == 404
