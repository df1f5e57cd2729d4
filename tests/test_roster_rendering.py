"""Rendering rosters: what is delivered, stopping and going on, rows and workers that fail."""

import csv
import dataclasses
import hashlib
import json
import os
import signal
import time

import av
import jsonschema
import msgspec
import numpy as np
import opentimelineio as otio
import pytest
from conftest import DEMO, small

from avlet.errors import StorageError
from avlet.layout.other_frame import in_frame
from avlet.media.drawing import Drawing
from avlet.media.render import render
from avlet.paint.scene import Scene
from avlet.roster import crew as crew_module
from avlet.roster import delivery as delivery_module
from avlet.roster import rendering
from avlet.roster.crew import Failed, LocalCrew
from avlet.roster.delivery import Delivery, read_delivery, schema, still_there
from avlet.roster.kinds import KINDS, kind_named
from avlet.roster.making import Source, learn, make, sees, token_file
from avlet.roster.rendering import render_roster
from avlet.roster.roster import Roster, Wanted, plan_of
from avlet.roster.sheet import pasted_sheet
from avlet.storage.package import open_template

STRAP = small("name-strap")
TABLE = "Name,Role,Length,Bar colour\nBo Li,Ringer,26,\nÍris Þórdal,Reed cutter,30,#nothing\nIda,Keeper,28,#2F6A78\nBo Li,Ringer,26,\n"
FILES = ["01-bo-li.mov", "03-ida.mov", "04-bo-li.mov"]


@pytest.fixture(scope="module")
def strap():
    """The demo's name strap, made smaller: what is done with films is the same."""
    found = open_template(STRAP)
    return dataclasses.replace(found, template=in_frame(found.template, (960, 540)))


def plan(strap, words=TABLE, kinds=(KINDS[0],), **wanted):
    return plan_of(Roster.of(pasted_sheet(words, DEMO), strap.template, Wanted(kinds=kinds, **wanted)), strap.template)


class HereCrew:
    """Makes files in this process: quick for tests of what is round it."""

    def __init__(self):
        self.made = []

    def begin(self):
        pass

    def run(self, jobs, sources):
        for source in sources.values():
            learn(source)
        for job in jobs:
            self.made.append(job.name)
            try:
                yield make(job)
            except Exception as error:
                yield Failed(job.number, str(error))


def names(folder):
    return sorted(path.name for path in folder.iterdir())


def test_films_are_those_of_the_single_render(strap, tmp_path):
    """Processes here, and one render after another: the same bytes."""
    outcome = render_roster(plan(strap), strap.book, tmp_path / "films", LocalCrew(2))
    assert names(tmp_path / "films") == [*FILES, "delivery.csv", "delivery.json", "what-was-pasted.otio"]
    for file, answers, length in (
        (FILES[0], {"name": "Bo Li", "role": "Ringer"}, 26),
        (FILES[1], {"name": "Ida", "role": "Keeper", "bar-colour": "#2F6A78"}, 28),
    ):
        alone = tmp_path / file
        render(Drawing.of(Scene(strap.template, strap.book, answers, length)), alone)
        assert alone.read_bytes() == (tmp_path / "films" / file).read_bytes()
    assert (outcome.made, outcome.alike, outcome.kept) == (2, 1, 0) and not outcome.stopped
    assert (tmp_path / "films" / FILES[0]).read_bytes() == (tmp_path / "films" / FILES[2]).read_bytes()


def test_the_delivery_list(strap, tmp_path):
    """SHA-256 against hashlib over the files, frames and sizes against what PyAV decodes, the list against its schema and RFC 4180."""
    kinds = tuple(kind_named(words) for words in ("prores", "still", "webm"))
    render_roster(plan(strap, TABLE, kinds, at=12), strap.book, tmp_path, HereCrew())
    found = json.loads((tmp_path / "delivery.json").read_text())
    jsonschema.validate(found, schema())
    stated = json.loads((DEMO.parent / "docs/format/delivery.schema.json").read_text())
    assert stated == json.loads(json.dumps(schema())), "run scripts/write_format.py"
    assert [f["file"] for f in found["files"]] == [
        f"{row}{suffix}" for row in ("01-bo-li", "03-ida", "04-bo-li") for suffix in (".mov", ".png", ".webm")
    ]
    for one in found["files"]:
        data = (tmp_path / one["file"]).read_bytes()
        assert (one["size"], one["sha256"]) == (len(data), hashlib.sha256(data).hexdigest())
        with av.open(str(tmp_path / one["file"])) as film:
            shown = [frame.to_ndarray(format="rgba") for frame in film.decode(video=0)]
        assert (len(shown), one["width"], one["height"]) == (one["frames"], shown[0].shape[1], shown[0].shape[0])
    still = Scene(strap.template, strap.book, {"name": "Bo Li", "role": "Ringer"}, 26).picture(12)
    with av.open(str(tmp_path / "01-bo-li.png")) as file:
        assert np.array_equal(next(file.decode(video=0)).to_ndarray(format="rgba")[..., 3], still[..., 3])
    assert found["left_out"] == [{"row": 2, "file": "", "why": "“Bar colour” takes a colour such as #20435C, not “#nothing”."}]
    assert not found["complete"] and found["files"][0]["answers"] == {"name": "Bo Li", "role": "Ringer"}
    with (tmp_path / "delivery.csv").open(newline="") as file:
        rows = list(csv.DictReader(file))
    assert [row["sha256"] for row in rows] == [f["sha256"] for f in found["files"]] and json.loads(rows[0]["answers"])["name"] == "Bo Li"


def test_a_cell_that_would_be_a_formula_is_none_in_the_list(strap, tmp_path):
    render_roster(plan(strap, "Name\n=1+1\n", (kind_named("still"),)), strap.book, tmp_path, HereCrew())
    one = read_delivery(tmp_path).files[0]
    made = delivery_module.table_of(Delivery(files=(msgspec.structs.replace(one, said=("=HYPERLINK(1)",)),))).decode()
    assert "'=HYPERLINK" in made and ",=" not in made


def test_the_timeline_has_all_films_in_order(strap, tmp_path):
    outcome = render_roster(plan(strap, TABLE, (KINDS[0], kind_named("still"))), strap.book, tmp_path, HereCrew())
    timeline = otio.adapters.read_from_file(str(outcome.timelines[0]))
    clips = list(timeline.find_clips())
    assert [clip.media_reference.target_url for clip in clips] == FILES and [clip.duration().value for clip in clips] == [26, 28, 26]
    assert [track.name for track in timeline.tracks] == ["prores"] and timeline.duration().rate == 25


def test_timelines_by_frame_and_language(strap, tmp_path):
    words = "Name,Role (en),Role (cy),Length\nBo Li,Ringer,Modrwywr,2\n"
    outcome = render_roster(plan(strap, words, frames=((192, 108), (108, 192)), languages=("en", "cy")), strap.book, tmp_path, HereCrew())
    assert [path.name for path in outcome.timelines] == [
        f"what-was-pasted-{size}-{language}.otio" for language in ("en", "cy") for size in ("192x108", "108x192")
    ]


def test_what_is_finished_is_not_made_again(strap, tmp_path):
    first = HereCrew()
    render_roster(plan(strap), strap.book, tmp_path, first)
    before = {name: (tmp_path / name).stat().st_mtime_ns for name in FILES}
    again = HereCrew()
    outcome = render_roster(plan(strap), strap.book, tmp_path, again)
    assert again.made == [] and outcome.kept == 3 and outcome.delivery.files == read_delivery(tmp_path).files
    assert before == {name: (tmp_path / name).stat().st_mtime_ns for name in FILES}
    third = HereCrew()
    render_roster(plan(strap, TABLE.replace("Keeper", "Weaver")), strap.book, tmp_path, third)
    assert third.made == ["03-ida.mov"], "only the row that changed"
    other = msgspec.structs.replace(strap.template, length=strap.template.length + 1, name="Other")
    fourth = HereCrew()
    render_roster(plan_of(plan(strap).roster, other), strap.book, tmp_path, fourth, replace=True)
    assert fourth.made == ["01-bo-li.mov", "03-ida.mov"], "another template makes all anew"


def test_a_damaged_or_missing_film_is_made_again(strap, tmp_path):
    render_roster(plan(strap), strap.book, tmp_path, HereCrew())
    data = bytearray((tmp_path / FILES[1]).read_bytes())
    data[len(data) // 2] ^= 1
    (tmp_path / FILES[1]).write_bytes(data)
    (tmp_path / FILES[2]).unlink()
    again = HereCrew()
    outcome = render_roster(plan(strap), strap.book, tmp_path, again)
    assert again.made == ["03-ida.mov"] and (outcome.kept, outcome.alike) == (1, 1)
    assert all(still_there(tmp_path, one) for one in outcome.delivery.files)


def test_rows_that_move_keep_their_films(strap, tmp_path):
    words = TABLE.splitlines()
    wanted = {"pattern": "{Name}-{Length}"}
    render_roster(plan(strap, TABLE, **wanted), strap.book, tmp_path, HereCrew())
    again = HereCrew()
    moved = "\n".join([words[0], words[3], words[1]])
    outcome = render_roster(plan(strap, moved, **wanted), strap.book, tmp_path, again)
    assert again.made == [] and [(f.file, f.row) for f in outcome.delivery.files] == [("ida-28.mov", 1), ("bo-li-26.mov", 2)]


def test_files_of_others_are_not_written_over(strap, tmp_path):
    (tmp_path / FILES[1]).write_text("mine")
    outcome = render_roster(plan(strap), strap.book, tmp_path, HereCrew())
    assert (tmp_path / FILES[1]).read_text() == "mine" and [f.file for f in outcome.delivery.files] == [FILES[0], FILES[2]]
    assert "is there already" in outcome.delivery.left_out[1].why
    (tmp_path / "delivery.json").write_text("{")
    assert read_delivery(tmp_path) == Delivery()


def test_stopping_and_going_on(strap, tmp_path):
    outcome = render_roster(plan(strap), strap.book, tmp_path, HereCrew(), lambda state: not state.done)
    assert outcome.stopped and [f.file for f in outcome.delivery.files] == FILES[:1] and not outcome.timelines
    rest = HereCrew()
    outcome = render_roster(plan(strap), strap.book, tmp_path, rest)
    assert rest.made == FILES[1:2] and (outcome.kept, outcome.made, outcome.alike) == (1, 1, 1)
    assert not [name for name in names(tmp_path) if name.startswith(".")]


def test_stopping_processes_in_the_middle_leaves_nothing_half_done(strap, tmp_path):
    long = "Name,Length\n" + "".join(f"Person {n},900\n" for n in range(4))
    outcome = render_roster(plan(strap, long), strap.book, tmp_path, LocalCrew(2), lambda state: not 0 < state.share < 1)
    assert outcome.stopped and names(tmp_path) == ["delivery.csv", "delivery.json"]


def test_a_worker_that_dies_costs_only_its_row(strap, tmp_path):
    """One of two processes is killed in the middle: every film is made, once, and whole."""
    words = "Name,Length\n" + "".join(f"Person {n},{26 + n}\n" for n in range(5))
    crew, killed, done = LocalCrew(2), [], []

    def told(state):
        if state.share > 0 and not killed:
            killed.append(crew.processes[0])
            os.kill(killed[0], signal.SIGKILL)
        done.extend([state.item] * state.done)
        return True

    outcome = render_roster(plan(strap, words), strap.book, tmp_path, crew, told)
    assert killed and sorted(done) == list(range(5)) and len(outcome.delivery.files) == 5 and not outcome.delivery.left_out
    assert all(still_there(tmp_path, one) for one in outcome.delivery.files)
    assert not [name for name in names(tmp_path) if name.startswith(".")]


def test_a_row_that_kills_its_workers_is_told_and_others_go_on(strap, tmp_path, monkeypatch):
    monkeypatch.setattr(crew_module, "work", deadly_work)
    outcome = render_roster(plan(strap, "Name,Length\nBo,26\nDeadly,26\nIda,26\n"), strap.book, tmp_path, LocalCrew(2))
    assert [f.file for f in outcome.delivery.files] == ["01-bo.mov", "03-ida.mov"]
    assert "3 processes ended" in outcome.delivery.left_out[0].why and outcome.delivery.left_out[0].row == 2


def deadly_work(pipe):
    """A worker that does not survive one of the names."""
    from avlet.roster import crew

    def deadly(job, progress):
        if "deadly" in job.name:
            os.kill(os.getpid(), signal.SIGKILL)
        return make(job, progress)

    crew.make = deadly
    original_work(pipe)


original_work = crew_module.work


def test_a_folder_that_cannot_be_written(strap, tmp_path):
    (tmp_path / "file").write_text("x")
    for folder in (tmp_path / "file", tmp_path / "file" / "below"):
        with pytest.raises(StorageError, match="Choose another folder"):
            render_roster(plan(strap), strap.book, folder, HereCrew())


def test_a_folder_that_vanishes(strap, tmp_path):
    import shutil

    folder = tmp_path / "films"

    def told(state):
        shutil.rmtree(folder, ignore_errors=True)
        return True

    with pytest.raises(StorageError, match="is gone"):
        render_roster(plan(strap), strap.book, folder, HereCrew(), told)


def test_a_disk_that_is_full_stops_with_what_was_finished(strap, tmp_path, monkeypatch):
    class Full(HereCrew):
        def run(self, jobs, sources):
            for source in sources.values():
                learn(source)
            for number, job in enumerate(jobs):
                if number:
                    yield Failed(job.number, "No space left on device")
                else:
                    yield make(job)

    monkeypatch.setattr(rendering, "_no_room", lambda folder: True)
    with pytest.raises(StorageError, match="no room left"):
        render_roster(plan(strap), strap.book, tmp_path, Full())
    kept = read_delivery(tmp_path)
    assert [f.file for f in kept.files] == FILES[:1] and not kept.complete


def test_what_is_left_of_a_crash_is_known_as_its_own(strap, tmp_path, monkeypatch):
    """Killed before the list was written: the film that was finished is written over, and stray tokens are swept."""
    first = plan(strap)
    with monkeypatch.context() as crash, pytest.raises(KeyboardInterrupt):
        crash.setattr(rendering._Rendering, "_write", lambda *_: None)
        render_roster(first, strap.book, tmp_path, HereCrew(), lambda state: (_ for _ in ()).throw(KeyboardInterrupt))
    assert not read_delivery(tmp_path).files and (tmp_path / FILES[0]).exists()
    outcome = render_roster(first, strap.book, tmp_path, HereCrew())
    assert len(outcome.delivery.files) == 3


def test_one_at_a_time_renders_into_a_folder(strap, tmp_path):
    def told(state):
        with pytest.raises(StorageError, match="is being rendered into already"):
            render_roster(plan(strap), strap.book, tmp_path, HereCrew())
        return True

    (tmp_path / ".01-bo-li.mov.12345-abc.part").touch()
    (tmp_path / ".avlet-roster-0123").touch()
    assert render_roster(plan(strap), strap.book, tmp_path, HereCrew(), told).made == 2
    assert not [name for name in names(tmp_path) if name.startswith(".")], "nor what a run before left"


def test_a_token_shows_who_sees_a_folder(tmp_path):
    token_file(tmp_path, "abc").write_text("abc")
    assert sees(str(tmp_path), "abc") and not sees(str(tmp_path), "abd") and not sees(str(tmp_path / "no"), "abc")
    token_file(tmp_path, "x").write_text("y")
    assert not sees(str(tmp_path), "x")


def test_the_list_is_written_while_films_are_made(strap, tmp_path, monkeypatch):
    monkeypatch.setattr(delivery_module, "_EVERY", 0.0)
    seen = []

    def told(state):
        seen.append(len(read_delivery(tmp_path).files))
        return True

    render_roster(plan(strap), strap.book, tmp_path, HereCrew(), told)
    assert seen[0] == 1


def test_a_source_follows_from_what_is_in_it(strap, name_strap):
    one = Source.of(strap.template, strap.book)
    assert one.mark == Source.of(in_frame(open_template(STRAP).template, (960, 540)), strap.book).mark
    assert one.mark != Source.of(msgspec.structs.replace(strap.template, length=99), strap.book).mark


def test_kinds_are_what_they_say(strap, tmp_path):
    kinds = tuple(kind for kind in KINDS if kind.id != "still")
    render_roster(plan(strap, "Name,Length\nBo,3\n", kinds, frames=((192, 108),), plate="dusk"), strap.book, tmp_path, HereCrew())
    codecs = {}
    for name in names(tmp_path):
        if not name.startswith(("delivery", "what")):
            with av.open(str(tmp_path / name)) as film:
                codecs[name] = film.streams.video[0].codec_context.name
    assert codecs == {"01-bo.mov": "prores", "01-bo-png.mov": "png", "01-bo-rle.mov": "qtrle", "01-bo.webm": "vp9", "01-bo.mp4": "h264"}


def test_rendering_on_the_command_line(avlet, tmp_path):
    (tmp_path / "guests.csv").write_text("Person,Length\nBo Li,26\nIda,0\n")
    words = (
        "roster",
        "render",
        STRAP,
        tmp_path / "guests.csv",
        "-o",
        tmp_path / "out",
        "--map",
        "Person=name",
        "--codec",
        "still",
        "--workers",
        "1",
    )
    status, out, err = avlet(*words)
    assert status == 1 and "1 files, 1 made, 1 left out" in out and "Row 2 is left out" in err
    assert str(tmp_path / "out" / "delivery.json") in out and (tmp_path / "out" / "01-bo-li.png").exists()
    (tmp_path / "guests.csv").write_text("Person,Length\nBo Li,26\n")
    status, out, _ = avlet(*words, "--name", "{row}-{Person}")
    assert status == 0 and "0 made, 1 were there" in out and read_delivery(tmp_path / "out").complete
    for more, said in (["--codec", "gif"], "kind of file"), (["--plate", "x"], "no plate"), (["--plate", "dusk"], "ask for that kind too"), (["--name", "{x}"], "no column"), (
        ["--cluster", "tcp://x:1"], "give one of them"):  # fmt: skip
        status, _, err = avlet(*words, *more)
        assert status == 2 and said in err


def test_interrupting_the_command_and_going_on(tmp_path):
    """Ctrl+C while it renders: what was finished is in the list, and the same command makes the rest."""
    import subprocess
    import sys

    (tmp_path / "long.csv").write_text("Name,Length\n" + "".join(f"Person {n},{60 + n}\n" for n in range(12)))
    words = [sys.executable, "-m", "avlet", "roster", "render", str(STRAP), str(tmp_path / "long.csv"), "-o", str(tmp_path / "out")]
    running = subprocess.Popen(words, stdout=subprocess.PIPE, stderr=subprocess.PIPE, text=True)
    until = time.monotonic() + 60
    while len(list((tmp_path / "out").glob("0*.mov"))) < 3 and time.monotonic() < until:
        time.sleep(0.05)
    running.send_signal(signal.SIGINT)
    _, err = running.communicate(timeout=60)
    assert running.returncode == 130 and "Traceback" not in err
    finished = read_delivery(tmp_path / "out")
    assert 0 < len(finished.files) < 12 and not finished.complete and not list((tmp_path / "out").glob(".*"))
    done = subprocess.run(words, capture_output=True, text=True, timeout=120, check=True)
    assert f"{len(finished.files)} were there" in done.stdout and read_delivery(tmp_path / "out").complete
