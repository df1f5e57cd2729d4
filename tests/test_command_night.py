"""What a pipeline needs of a night alone: going on, renaming, pruning, a library's versions, many jobs in one start."""

import json
import os
import shutil
import signal
import subprocess
import sys
import time
from pathlib import Path

import opentimelineio as otio
import pytest
from conftest import DEMO, small

from avlet.command_line.batch import words_of
from avlet.command_line.helping import commands, subject_and_options
from avlet.document.cut import Cut, PictureClip, Title, put_title, remove_title, replace, set_answers
from avlet.document.template import Frame
from avlet.errors import AnswerError
from avlet.limits import MOST_CUT_FRAMES, MOST_FRAMES
from avlet.media.timeline import read_cut, write_cut
from avlet.roster.delivery import read_delivery
from avlet.storage.package import open_template

ROOT = Path(__file__).parent.parent
STRAP = small("name-strap")
SMALL = ("--codec", "still", "--workers", "1")


def facts(told):
    assert told[0] in (0, 1), told
    return json.loads(told[1])


def stamps(folder, pattern):
    return {path.name: (path.stat().st_mtime_ns, path.stat().st_ino) for path in folder.glob(pattern)}


# Rosters


def test_a_row_that_moves_renames_its_film_and_one_that_is_gone_is_told_and_pruned(avlet, tmp_path):
    table, out = tmp_path / "guests.csv", tmp_path / "out"
    words = ("roster", "render", STRAP, table, "-o", out, *SMALL, "--name", "{row}-{Name}", "--json")
    table.write_text("Name\nAda\nBo Li\nIda\n")
    assert facts(avlet(*words))["made"] == 3
    before = {path.read_bytes(): path.stat().st_ino for path in out.glob("*.png")}
    table.write_text("Name\nBo Li\nIda\n")
    told = facts(avlet(*words))
    assert (told["made"], told["kept"], told["renamed"], told["superseded"], told["removed"]) == (0, 2, 2, ["01-ada.png"], [])
    assert sorted(p.name for p in out.glob("*.png")) == ["01-ada.png", "01-bo-li.png", "02-ida.png"]
    assert {path.stat().st_ino for path in out.glob("*.png")} == set(before.values()), "renamed, not made anew"
    again = avlet(*words[:-1])
    assert "No row wants “01-ada.png” any more" in again[2] and (out / "01-ada.png").exists(), "still told the next time"
    told = facts(avlet(*words, "--prune"))
    assert told["removed"] == ["01-ada.png"] and not (out / "01-ada.png").exists() and told["kept"] == 2
    assert not read_delivery(out).superseded and not list(out.glob(".*"))


def test_rows_that_change_places_change_names(avlet, tmp_path):
    """Names by row alone: each file's old name is wanted by another."""
    table, out = tmp_path / "guests.csv", tmp_path / "out"
    words = ("roster", "render", STRAP, table, "-o", out, *SMALL, "--name", "{row}", "--json")
    table.write_text("Name\nAda\nBo Li\nIda\n")
    avlet(*words)
    pictures = [(out / f"{n:02}.png").read_bytes() for n in (1, 2, 3)]
    table.write_text("Name\nIda\nAda\nBo Li\n")
    told = facts(avlet(*words))
    assert (told["made"], told["renamed"], told["superseded"]) == (0, 3, [])
    assert [(out / f"{n:02}.png").read_bytes() for n in (1, 2, 3)] == [pictures[2], pictures[0], pictures[1]]
    delivery = read_delivery(out)
    assert [one.file for one in delivery.files] == ["01.png", "02.png", "03.png"] and delivery.complete


def test_what_somebody_changed_is_not_taken_for_what_was_made(avlet, tmp_path):
    table, out = tmp_path / "guests.csv", tmp_path / "out"
    words = ("roster", "render", STRAP, table, "-o", out, *SMALL, "--name", "{row}-{Name}", "--json")
    table.write_text("Name\nAda\nBo Li\n")
    avlet(*words)
    (out / "02-bo-li.png").write_bytes(b"retouched by hand")
    (out / "01-bo-li.png").write_bytes(b"somebody else's")
    table.write_text("Name\nBo Li\n")
    told = facts(avlet(*words, "--replace", "--prune"))
    assert told["made"] == 1 and told["removed"] == ["01-ada.png"] and (out / "02-bo-li.png").read_bytes() == b"retouched by hand"


def test_a_film_that_somebody_changed_is_not_renamed(avlet, tmp_path):
    table, out = tmp_path / "guests.csv", tmp_path / "out"
    words = ("roster", "render", STRAP, table, "-o", out, *SMALL, "--name", "{row}-{Name}", "--json")
    table.write_text("Name\nAda\nBo Li\n")
    avlet(*words)
    (out / "02-bo-li.png").write_bytes(b"retouched by hand")
    table.write_text("Name\nBo Li\n")
    told = facts(avlet(*words))
    assert (told["made"], told["renamed"]) == (1, 0) and (out / "01-bo-li.png").read_bytes()[:4] == b"\x89PNG"


def test_nothing_is_pruned_while_a_row_cannot_be_read(avlet, tmp_path):
    table, out = tmp_path / "guests.csv", tmp_path / "out"
    words = ("roster", "render", STRAP, table, "-o", out, *SMALL, "--json")
    table.write_text("Name,Length\nAda,50\nBo Li,50\n")
    avlet(*words)
    table.write_text("Name,Length\nAda,50\nBo Li,none\n")
    told = facts(avlet(*words, "--prune"))
    assert (
        told["holds"] is False and told["removed"] == [] and (out / "02-bo-li.png").exists() and any("may want" in n for n in told["notes"])
    )


def test_only_some_rows_are_rendered_and_told(avlet, tmp_path):
    table, out = tmp_path / "people.csv", tmp_path / "films"
    table.write_text("Name,Role,Length\nBo,Ringer,8\nIda,Keeper,never\nAda,Pilot,8\n")
    words = ("roster", "render", STRAP, table, "-o", out, *SMALL, "--json")
    dry = facts(avlet(*words, "--in-rows", "1", "--dry-run"))
    assert [one["row"] for one in dry["wrote"]] == [1] and dry["holds"]
    first = facts(avlet(*words, "--in-rows", "3"))
    assert ([one["row"] for one in first["wrote"]], first["made"], first["left_out"], first["holds"]) == ([3], 1, [], True)
    told = avlet(*words, "--in-rows", "1-2")
    assert told[0] == 1 and facts(told)["left_out"][0].startswith("Row 2 is left out")
    assert [one.row for one in read_delivery(out).files] == [1, 3], "the list keeps the others"
    for wrong, why in (("9", "has no row 9"), ("one", "names no rows")):
        status, _, said = avlet(*words, "--in-rows", wrong)
        assert status == 2 and why in said


def test_a_table_that_had_to_be_guessed_at_does_not_hold(avlet, tmp_path):
    table = tmp_path / "guests.csv"
    for words, holds in (("Name\nAda\n", True), ("Name\nAda,Ringer\n", False), ("Name\n=A1+B2\n", False), ('Name\n"Ada\n', False)):
        table.write_text(words)
        status, out, _ = avlet("roster", "check", STRAP, table, "--json")
        told = json.loads(out)
        assert (status, told["holds"], bool(told["guessed"])) == (0 if holds else 1, holds, not holds), words
    table.write_bytes("Name\nZoë\n".encode("cp1252"))
    assert avlet("roster", "check", STRAP, table)[0] == 1
    shutil.copy(DEMO / "guests.xlsx", tmp_path)
    assert facts(avlet("roster", "check", DEMO / "guest-strap.avlet", tmp_path / "guests.xlsx", "--json"))["guessed"] == []


# Cuts


@pytest.fixture
def cut(tmp_path):
    titles = tuple(Title(f"t{n}", "name-strap.avlet", 2 + 12 * n, 10, {"name": name}) for n, name in enumerate(("Ada", "Bo Li", "Ida")))
    write_cut(Cut("Short", Frame(320, 180), (PictureClip("dusk", 40),), titles), tmp_path / "short.otio")
    return tmp_path / "short.otio"


def rendering(cut, *more):
    return ("cut", "render", cut, "-o", cut.parent / "films", "--library", DEMO, "--codec", "qtrle", "--height", "36", *more)


def test_a_cut_goes_on_and_makes_what_differs(avlet, cut):
    films = cut.parent / "films"
    status, out, _ = avlet(*rendering(cut))
    assert status == 0 and [Path(line).name for line in out.split()] == [
        "T0001-name-strap.mov",
        "T0002-name-strap.mov",
        "T0003-name-strap.mov",
        "short.mp4",
        "short.otio",
    ]
    before = stamps(films, "*.m*")
    told = facts(avlet(*rendering(cut), "--json"))
    assert stamps(films, "*.m*") == before and [w["new"] for w in told["wrote"]] == [False] * 4 + [True]
    read = read_cut(cut)
    write_cut(set_answers(read, "t1", {"name": "Bo Lee"}), cut)
    told = facts(avlet(*rendering(cut, "--prune"), "--json"))
    after = stamps(films, "*.m*")
    assert {name for name in after if after[name] != before.get(name)} == {"T0002-name-strap.mov", "short.mp4"}, "it keeps its place"
    assert told["removed"] == [] and after.keys() == before.keys()
    write_cut(put_title(remove_title(read_cut(cut), "t2"), Title("new", "name-strap.avlet", 30, 8)), cut)
    told = facts(avlet(*rendering(cut, "--prune"), "--json"))
    assert told["removed"] == ["T0003-name-strap.mov"] and (films / "T0004-name-strap.mov").exists(), "no number is given twice"


def test_a_title_that_only_moved_is_not_made_again_and_the_film_is(avlet, cut):
    films = cut.parent / "films"
    avlet(*rendering(cut))
    before = stamps(films, "*.m*")
    read = read_cut(cut)
    write_cut(put_title(read, replace(read.titles[0], start=28, track=1)), cut)
    told = facts(avlet(*rendering(cut), "--json"))
    after = stamps(films, "*.m*")
    assert sum(w["new"] for w in told["wrote"]) == 2, "the film to approve and the timeline"
    assert {n: s for n, s in after.items() if n.endswith(".mov")} == {n: s for n, s in before.items() if n.endswith(".mov")}
    pointed = [
        c.media_reference.target_url
        for c in otio.adapters.read_from_file(str(films / "short.otio")).find_clips()
        if isinstance(c.media_reference, otio.schema.ExternalReference)
    ]
    assert {Path(url).name for url in pointed if url.endswith(".mov")} == {p.name for p in films.glob("*.mov")}


def test_a_title_that_begins_later_makes_another_film_to_approve(avlet, cut):
    films = cut.parent / "films"
    avlet(*rendering(cut))
    before = stamps(films, "*.m*")
    read = read_cut(cut)
    last = read.titles[-1]
    write_cut(put_title(read, replace(last, start=last.start + 1)), cut)
    avlet(*rendering(cut))
    after = stamps(films, "*.m*")
    assert [name for name in after if after[name] != before[name]] == ["short.mp4"]


def test_titles_alone_another_codec_and_a_title_that_cannot_be_made(avlet, cut):
    films = cut.parent / "films"
    told = facts(avlet(*rendering(cut, "--titles"), "--json"))
    assert [Path(w["path"]).suffix for w in told["wrote"]] == [".mov"] * 3 + [".otio"] and not list(films.glob("*.mp4"))
    webm = [w if w != "qtrle" else "webm" for w in rendering(cut, "--titles", "--dry-run")]
    assert [Path(line).suffix for line in avlet(*webm)[1].split()] == [".webm"] * 3 + [".otio"] and not list(films.glob("*.webm"))
    read = read_cut(cut)
    write_cut(Cut("Short", read.frame, read.pictures, (*read.titles, Title("x", "gone.avlet", 60, 5))), cut)
    status, out, err = avlet(*rendering(cut, "--titles"))
    assert status == 1 and "gone.avlet is left out" in err and len(out.split()) == 4
    assert avlet(*["gif" if w == "qtrle" else w for w in rendering(cut)])[0] == 2


def test_a_cut_that_was_killed_goes_on_from_there(cut):
    words = [sys.executable, "-m", "avlet", *map(str, rendering(cut, "--titles", "--json", "lines"))]
    titles = tuple(Title(f"t{n}", "name-strap.avlet", 50 * n, 12, {"name": f"Guest {n}"}) for n in range(6))
    write_cut(Cut("Long", Frame(320, 180), (PictureClip("dusk", 40),), titles), cut)
    running = subprocess.Popen(words, stdout=subprocess.PIPE, stderr=subprocess.DEVNULL, cwd=ROOT, start_new_session=True)
    told = 0
    while told < 3 and (line := running.stdout.readline()):  # each line is there as soon as its film is
        told += b'"wrote"' in line
    os.killpg(running.pid, signal.SIGTERM)
    running.communicate(timeout=60)
    assert running.returncode == 143 and len(list((cut.parent / "films").glob("*.mov"))) >= 2
    done = subprocess.run([w if w != "lines" else "--quiet" for w in words], capture_output=True, cwd=ROOT, check=True, timeout=120)
    assert sum(not w["new"] for w in json.loads(done.stdout)["wrote"]) >= 2


def test_a_title_is_put_on_a_cut_and_all_else_stays(avlet, tmp_path):
    timeline = otio.schema.Timeline("Theirs")
    track = otio.schema.Track("V1", kind="Video")
    at = otio.opentime.TimeRange(otio.opentime.RationalTime(0, 25), otio.opentime.RationalTime(500, 25))
    track.append(otio.schema.Clip("shot", source_range=at, metadata={"theirs": {"x": [1, 2]}}))
    timeline.tracks.append(track)
    path, out = tmp_path / "theirs.otio", tmp_path / "ours.otio"
    otio.adapters.write_to_file(timeline, str(path))
    words = ("cut", "add", path, STRAP, "--at", "4 s", "--length", "00:00:05:00", "--set", "name=Bo Li", "--track", "2", "-o", out)
    status, said, err = avlet(*words)
    assert status == 0 and "frames 100 to 224" in said and "neither beside the cut nor in your library" in err
    title = read_cut(out).titles[0]
    assert (title.template, title.start, title.length, title.answers["name"], title.track) == ("name-strap.avlet", 100, 125, "Bo Li", 1)
    theirs = otio.adapters.read_from_file(str(out)).tracks[0]
    assert theirs.is_equivalent_to(track) and not otio.adapters.read_from_file(str(path)).tracks[1:]
    status, said, err = avlet("cut", "add", out, STRAP, "--at", "110", "--length", "20", "--track", "2")
    assert status == 0 and "There is no room at frame 110" in err and len(read_cut(out).titles) == 2
    assert avlet(*words, "--no-overwrite")[0] == 2
    assert [t.length for t in read_cut(out).titles if t.start == 100] == [125]


def test_a_title_is_put_within_the_longest_cut_and_timecode_counts_from_its_beginning(avlet, tmp_path):
    reel, out = tmp_path / "reel.otio", tmp_path / "out.otio"
    write_cut(Cut("Reel", start_time=90_000), reel)  # 01:00:00:00 at 25
    assert avlet("cut", "add", reel, STRAP, "--at", "999999999", "--length", "25", "-o", out)[0] == 0
    assert [t.end for t in read_cut(out).titles] == [MOST_CUT_FRAMES]
    for length in ("0", str(MOST_FRAMES + 1)):
        status, _, err = avlet("cut", "add", reel, STRAP, "--at", "0", "--length", length)
        assert status == 2 and f"from 1 to {MOST_FRAMES:,} frames" in err
    assert avlet("cut", "add", reel, STRAP, "--at", "01:00:05:00", "-o", out)[0] == 0
    assert [t.start for t in read_cut(out).titles] == [125]
    assert avlet("cut", "add", reel, STRAP, "--at", "5 s", "-o", out)[0] == 0
    assert [t.start for t in read_cut(out).titles] == [125]
    status, _, err = avlet("cut", "add", reel, STRAP, "--at", "00:59:00:00", "-o", out)
    assert status == 2 and "lies before the beginning of the cut, which is 01:00:00:00" in err
    assert read_cut(reel).titles == (), "what was refused wrote nothing"


# Libraries


def test_a_library_is_listed_gone_back_in_and_taken_from(avlet, tmp_path, cut):
    library, work = tmp_path / "library", tmp_path / "work.avlet"
    (tmp_path / "a.json").write_text('{"name": "Ada"}')
    (tmp_path / "none.json").write_text("{}")
    avlet("set", STRAP, tmp_path / "none.json", "-o", work)  # a working file of what was handed over
    for note in ("first", "second"):
        assert avlet("handover", work, "--library", library, "--note", note, "--no-proof")[0] == 0
        avlet("set", work, tmp_path / "a.json")
    status, _, err = avlet("handover", work, "--library", library, "--note", "third", "--no-proof")
    assert status == 0 and "The note “third” went nowhere" in err, "the note is never dropped in silence"
    (listed,) = facts(avlet("library", "list", library, "--json"))["templates"]
    assert (listed["version"], listed["versions"], listed["note"], len(listed["when"])) == (2, 2, "second", 25)
    versions = facts(avlet("library", "versions", "name-strap", "--library", library, "--json"))["versions"]
    assert [(v["version"], v["note"], v["present"]) for v in versions] == [(2, "second", True), (1, "first", False)]
    read = read_cut(cut)
    write_cut(Cut("Old", read.frame, (), (Title("a", "name-strap.avlet", 0, 10, version=1),)), tmp_path / "old.otio")
    (shown,) = facts(avlet("library", "show", "Name strap", "--library", library, "--cuts", tmp_path, "--json"))["templates"]
    assert [Path(words.split(" (")[0]).name for words in shown["behind"]] == ["old.otio"]
    assert "would be version 3" in avlet("library", "restore", "name-strap", "1", "--library", library, "--dry-run")[1]
    assert open_template(library / "name-strap.avlet").template.card.field("name").start == "Ada"
    assert (
        "is version 3 again as version 1 was"
        in avlet("library", "restore", "name-strap", "1", "--library", library, "--note", "As it was")[1]
    )
    assert open_template(library / "name-strap.avlet").template.card.field("name").start == "Odalys Brandt"
    versions = facts(avlet("library", "versions", "name-strap", "--library", library, "--json"))["versions"]
    assert [(v["version"], v["note"]) for v in versions] == [(3, "As it was"), (2, "second"), (1, "first")]
    assert avlet("library", "restore", "name-strap", "3", "--library", library)[2].startswith("note: Version 3 is the present one")
    assert (
        "would remove" in avlet("library", "remove", "name-strap", "--library", library, "--dry-run")[1]
        and (library / "name-strap.avlet").exists()
    )
    assert avlet("library", "remove", "name-strap", "--library", library)[0] == 0 and not (library / "name-strap.avlet").exists()
    assert avlet("library", "restore", "name-strap", "3", "--library", library)[0] == 0, "what was removed can be restored"
    assert open_template(library / "name-strap.avlet").template.card.field("name").start == "Odalys Brandt"
    assert avlet("library", "remove", "name-strap", "--library", library, "--with-versions")[0] == 0
    assert not [p for p in library.rglob("*") if p.suffix == ".avlet"] and avlet("library", "list", library)[0] == 0


def test_a_folder_is_proved_template_by_template(avlet, tmp_path):
    for name in ("place-tag",):
        shutil.copy(DEMO / f"{name}.avlet", tmp_path) if not (DEMO / f"{name}.avlet").is_dir() else shutil.copytree(
            DEMO / f"{name}.avlet", tmp_path / f"{name}.avlet"
        )
    (tmp_path / "torn.avlet").write_bytes(b"PK")
    words = ("proof", tmp_path, "--only", "overlong", "--workers", "1")
    status, out, _ = avlet(*words)
    assert status == 1 and "Place tag: holds" in out and "torn: cannot be proved" in out and out.strip().endswith("of 2 hold.")
    told = facts(avlet(*words, "--json"))
    assert {Path(t["path"]).stem: bool(t["fault"]) for t in told["templates"]} == {"place-tag": False, "torn": True}
    assert [json.loads(line)["event"] for line in avlet(*words, "--json", "lines")[1].splitlines() if '"event": "proved"' in line] == [
        "proved"
    ] * 2
    (tmp_path / "empty").mkdir()
    assert avlet("proof", tmp_path / "empty")[0] == 2


def test_answers_of_ones_own_are_proved_instead_of_made_ones(avlet, tmp_path):
    words = ("proof", STRAP, "--only", "inside", "--workers", "1", "--json")
    told = facts(avlet(*words, "--set", "name=" + "W" * 60))
    assert [row["name"] for row in told["rows"]] == ["Your answers"] and told["findings"]
    (tmp_path / "t.csv").write_text("Guest\nBo Li\n")
    told = facts(avlet(*words, "--rows", tmp_path / "t.csv", "--map", "Guest=name"))
    assert told["rows"][-1]["answers"] == {"name": "Bo Li"}
    looked = ("proof", DEMO / "broken-strap.avlet", "--only", "contrast", "--workers", "1")
    assert avlet(*looked, "--strict")[0] == 1


# Many jobs in one start


def jobs(*lines):
    return "".join(line if isinstance(line, str) else json.dumps(line) + "\n" for line in lines)


def test_a_batch_answers_each_line(avlet, tmp_path):
    path = tmp_path / "night.jsonl"
    still = {"do": "still", "template": str(STRAP), "size": "96x54"}
    path.write_text(
        jobs(
            {**still, "set": {"name": "Bo\nLi", "role-line": True, "corners": 12}, "at": ["1 s", 40], "output": str(tmp_path / "stills")},
            {"do": "measure", "template": str(STRAP), "set": {"name": "Bo\nLi"}},
            "\n",
            "{not json}\n",
            {"do": "stil", "template": "x"},
            {**still, "outputs": "x"},
            {**still, "at": 999, "output": str(tmp_path / "a.png")},
            {"do": "proof", "template": str(DEMO / "broken-strap.avlet"), "only": ["empty ends"], "workers": 1},
            {**still, "output": "-"},
            {"do": "batch", "file": "x"},
            '{"do": "info", "do": "card"}\n',
            "[1]\n",
            {"do": "roster check", "template": str(STRAP), "table": str(tmp_path / "gone.csv")},
            {**still, "set": {"name": ["x"]}, "output": str(tmp_path / "a.png")},
            {**still, "dry-run": "yes", "output": str(tmp_path / "a.png")},
        )
    )
    status, out, err = avlet("batch", path)
    answers = [json.loads(line) for line in out.splitlines()]
    assert (status, err) == (1, "")
    assert [(a["line"], a["status"]) for a in answers] == [(1, 0), (2, 0), (4, 2), (5, 2), (6, 2), (7, 2), (8, 1), (9, 2), (10, 2), (11, 2), (12, 2), (13, 2), (14, 2), (15, 2)]  # fmt: skip
    assert [Path(w["path"]).name for w in answers[0]["wrote"]] == ["name-strap-00025.png", "name-strap-00040.png"]
    assert all((tmp_path / "stills" / Path(w["path"]).name).exists() for w in answers[0]["wrote"])
    assert answers[1]["template"] == "Name strap" and next(p for p in answers[1]["parts"] if p["id"] == "name")["units"]["line"] == 2
    assert answers[6]["findings"] and answers[6]["do"] == "proof"
    for number, said in ((2, "column"), (3, "Is it “still”?"), (4, "Is it “output”?"), (5, "There is no frame 999"), (9, "named twice"), (10, "is an object"),
                         (11, "cannot be read"), (12, "go into a file"), (13, "true or false")):  # fmt: skip
        assert said in answers[number]["error"], answers[number]


def test_a_batch_gives_the_bytes_of_single_calls_in_any_number_of_processes(tmp_path):
    def lines(folder):
        return jobs(*({"do": "still", "template": str(DEMO / f"{name}.avlet"), "size": "96x54", "at": at, "output": str(tmp_path / folder / f"{name}-{at}.png")} for name in ("name-strap", "place-tag", "hectares") for at in (0, 20, 60)))  # fmt: skip

    for folder, workers in (("one", "1"), ("three", "3")):
        done = subprocess.run(
            [sys.executable, "-m", "avlet", "batch", "-", "--workers", workers],
            input=lines(folder),
            capture_output=True,
            text=True,
            cwd=ROOT,
            check=True,
            timeout=120,
        )
        answers = [json.loads(line) for line in done.stdout.splitlines()]
        assert [a["line"] for a in answers] == list(range(1, 10)) and not done.stderr
    single = tmp_path / "single.png"
    subprocess.run(
        [sys.executable, "-m", "avlet", "still", str(DEMO / "name-strap.avlet"), "--size", "96x54", "--at", "20", "-o", str(single)],
        cwd=ROOT,
        check=True,
        capture_output=True,
    )
    assert single.read_bytes() == (tmp_path / "one" / "name-strap-20.png").read_bytes()
    for path in (tmp_path / "one").iterdir():
        assert path.read_bytes() == (tmp_path / "three" / path.name).read_bytes()


def test_a_batch_takes_a_template_anew_once_it_was_changed(avlet, tmp_path):
    copy = tmp_path / "a.avlet"
    (tmp_path / "none.json").write_text("{}")
    avlet("set", STRAP, tmp_path / "none.json", "-o", copy)
    (tmp_path / "a.json").write_text('{"name": "Ada"}')
    path = tmp_path / "night.jsonl"
    path.write_text(
        jobs(
            {"do": "info", "template": str(copy)},
            {"do": "set", "template": str(copy), "answers": str(tmp_path / "a.json")},
            {"do": "info", "template": str(copy)},
        )
    )
    answers = [json.loads(line) for line in avlet("batch", path)[1].splitlines()]
    assert [a["fields"][0]["default"] for a in answers if a["do"] == "info"] == ["Odalys Brandt", "Ada"], answers


def test_a_batch_that_is_stopped_says_so_and_leaves_no_process(tmp_path):
    line = json.dumps({"do": "render", "template": str(STRAP), "length": 400, "output": str(tmp_path / "a.mov")}) + "\n"
    running = subprocess.Popen(
        [sys.executable, "-m", "avlet", "batch", "-", "--workers", "2"],
        stdin=subprocess.PIPE,
        stdout=subprocess.PIPE,
        stderr=subprocess.PIPE,
        text=True,
        cwd=ROOT,
        start_new_session=True,
    )
    running.stdin.write(line * 4)
    running.stdin.flush()
    until = time.monotonic() + 60
    while not list(tmp_path.glob(".a.mov*")) and time.monotonic() < until:
        time.sleep(0.05)
    began = time.monotonic()
    running.send_signal(signal.SIGTERM)
    _, err = running.communicate(timeout=60)
    assert running.returncode == 143 and "Traceback" not in err
    assert time.monotonic() - began < 10, "what is being made is left, not waited for"
    assert not list(tmp_path.iterdir()), "and leaves nothing half done"
    until = time.monotonic() + 20
    while (left := _group(running.pid)) and time.monotonic() < until:
        time.sleep(0.1)
    assert not left


def _group(leader):
    """Processes of a session that still run."""
    found = []
    for path in Path("/proc").glob("[0-9]*/stat"):
        try:
            state, _, _, session = path.read_text().rpartition(")")[2].split()[:4]
        except OSError:
            continue
        if int(session) == leader and state != "Z":
            found.append(path)
    return found


@pytest.mark.parametrize("job", [{}, {"do": 3}, {"do": "help"}, {"do": "info", "json": True}, {"do": "info", "template": {"a": 1}}, {"do": "info", "template": None},
                                 {"do": "render", "template": "a", "length": {"x": 1}}, {"do": "info", "": "x"}, {"do": "set", "template": "a", "answers": [[1]]}])  # fmt: skip
def test_hostile_jobs_are_refused_in_words(job):
    with pytest.raises(AnswerError):
        words_of(job)


def test_a_subject_is_never_taken_for_an_option():
    assert words_of({"do": "info", "template": "--help"}) == ["info", "--", "--help"]
    assert words_of({"template": "-o", "do": "still", "output": "--x", "set": {"a": "--b"}}) == [
        "still",
        "--output",
        "--x",
        "--set",
        "a=--b",
        "--",
        "-o",
    ]
    assert words_of({"do": "handover", "template": "a", "proof": False}) == ["handover", "--no-proof", "--", "a"]
    assert words_of({"do": "roster check", "table": "t", "template": "a"}) == ["roster", "check", "--", "a", "t"]
    assert "batch" in commands()


# A stranger's eight jobs, knowing only the help


def test_the_engineers_jobs_by_what_help_says(avlet, tmp_path, monkeypatch):
    """Each step is found in a verb's own help before it is typed."""
    monkeypatch.chdir(tmp_path)

    def avlet_(*words, status=0, stdin=None):
        name = " ".join(map(str, words[: 2 if " ".join(map(str, words[:2])) in commands() else 1]))
        told = subject_and_options(commands()[name])[1]
        for option in (w for w in words if str(w).startswith("--")):
            assert option.replace("--no-proof", "--proof") in told, (option, words)
        ended, out, err = avlet(*words, stdin=stdin)
        assert ended == status, (words, out, err)
        return out

    library = tmp_path / "library"
    library.mkdir()
    shutil.copytree(STRAP, library / STRAP.name) if STRAP.is_dir() else shutil.copy(STRAP, library)
    strap = library / STRAP.name
    facts_ = json.loads(avlet_("info", strap, "--json"))
    assert [f["id"] for f in facts_["fields"]][:2] == ["name", "role"]
    guests = [{"name": f"Guest {n}", "role": "Ringer"} for n in range(3)]
    (tmp_path / "guests.json").write_text(json.dumps(guests))
    told = json.loads(
        avlet_(
            "still",
            strap,
            "--answers",
            "guests.json",
            "--at",
            "0",
            "--at",
            "1 s",
            "--at",
            "2 s",
            "--at",
            "3 s",
            "--size",
            "96x54",
            "-o",
            "stills",
            "--json",
        )
    )
    assert len(told["wrote"]) == 12
    avlet_("render", strap, "--answers", "-", "--length", "2 s", "--size", "96x54", "-o", "a.webm", "--quiet", stdin=json.dumps(guests[0]))
    avlet_("render", strap, "--answers", "-", "-o", "b.mov", status=2, stdin='{"nme": 1}')
    avlet_("proof", library, "--only", "empty ends", "--workers", "1", "--json")
    (tmp_path / "guests.csv").write_text("Guest,Job\nAda,Keeper\nBo Li,Ringer\n")
    roster = ("roster", "render", strap, "guests.csv", "-o", "films", "--codec", "still", "--workers", "1", "--prune", "--json")
    assert json.loads(avlet_(*roster))["made"] == 2
    (tmp_path / "guests.csv").write_text("Guest,Job\nAda,Keeper\nBo Lee,Ringer\n")
    again = json.loads(avlet_(*roster))
    assert (again["made"], again["kept"], again["removed"]) == (1, 1, ["02-bo-li.png"])
    (tmp_path / "crew.csv").write_text("Role,Name\nCamera,Bo Li\n")
    avlet_("credits", "check", DEMO / "end-roll.avlet", "crew.csv")
    avlet_("handover", strap, "--library", library, "--note", "one", "--no-proof")
    avlet_("library", "versions", "name-strap", "--library", library)
    write_cut(Cut("Short", Frame(320, 180), (PictureClip("dusk", 30),)), tmp_path / "short.otio")
    avlet_("cut", "add", "short.otio", strap, "--at", "5", "--length", "10", "--set", "name=Bo Li")
    assert len(avlet_("cut", "render", "short.otio", "-o", "cut", "--library", library, "--titles", "--codec", "qtrle").split()) == 2
