"""One grammar for all verbs: options that mean the same, answers and times as people give them, what is told and how it ends."""

import io
import json
import os
import subprocess
import sys
from fractions import Fraction
from pathlib import Path

import jsonschema
import pytest
from conftest import DEMO
from hypothesis import given, settings
from hypothesis import strategies as st
from opentimelineio.opentime import RationalTime
from PIL import Image

from avlet.command_line import telling, told
from avlet.command_line.helping import commands, man_page, nearest, subject_and_options, table
from avlet.command_line.main import plain_words
from avlet.command_line.options import PLATE_NAMES
from avlet.command_line.telling import in_a_cell
from avlet.document.lists.listing import led, recognised
from avlet.document.tables import Table
from avlet.errors import AnswerError
from avlet.media.plates import PLATES
from avlet.numbers.lengths import frames_in
from avlet.storage.answer_files import answer_sets
from avlet.storage.package import open_template

ROOT = Path(__file__).parent.parent
STRAP = DEMO / "name-strap.avlet"


# Verbs, subjects, options


def test_the_table_of_verbs_and_the_man_page_are_those_of_the_program():
    assert (ROOT / "docs/command_line.md").read_text().endswith(table()), "run scripts/write_format.py"
    assert (ROOT / "docs/avlet.1").read_text() == man_page(), "run scripts/write_format.py"


def test_an_option_means_the_same_with_every_verb():
    """One help text, one kind of value for each name; what is answered and how long it is can be said wherever titles are made or looked at."""
    seen = {}
    for name, command in commands().items():
        for param in command.params:
            if param.param_type_name == "option" and not param.hidden:
                facts = (param.metavar, param.is_flag, param.multiple)
                seen.setdefault(max(param.opts, key=len), {})[name] = facts
    for option, facts in seen.items():
        if option not in ("--at", "--codec", "--map", "--output"):  # several stills, kinds and lists take several, or other files
            assert len(set(facts.values())) == 1, (option, facts)
    for option in ("--set", "--answers", "--length"):
        assert {"still", "frames", "measure", "counts", "proof", "render", "cut add"} <= set(seen[option]), option
    assert all({"--json", "--quiet", "--verbose"} <= set(subject_and_options(one)[1]) for name, one in commands().items() if name != "demo")
    for option, verbs in {"--dry-run": {"still", "frames", "render", "reel", "set", "handover", "install", "roster render", "cut render", "cut add", "insert", "house take",
                                        "library restore", "library remove"}, "--workers": {"render", "proof", "handover", "roster render",
                                                                                           "batch", "serve"}}.items():  # fmt: skip
        assert set(seen[option]) == verbs
    assert ", ".join(PLATES) == PLATE_NAMES


def test_every_verb_has_help_and_examples_that_can_be_typed(avlet):
    """Each example's verb and options are ones that there are."""
    for name, command in commands().items():
        if name == "demo":
            continue
        status, out, err = avlet(*name.split(), "-h")
        assert (status, err) == (0, "") and "Examples:" in out, name
        assert avlet("help", *name.split())[1] == out or "Usage: avlet " + name in avlet("help", *name.split())[1]
        _, options = subject_and_options(command)
        for line in (command.epilog or "").splitlines()[2:]:
            words = line.split()
            if "{" not in line:
                assert " ".join(words[1 : 1 + len(name.split())]) == name, line
            known = {*options, *(short for p in command.params for short in p.opts)}
            used = {word for word in words if word.startswith("-") and word != "-" and "{" not in line.split(word)[0][-2:]}
            assert name in ("batch", "help") or used <= known | {"-"}, (line, used - known)


@pytest.mark.parametrize(
    ("words", "said"),
    [
        (["rendr", "x", "-o", "y"], "Is it “render”?"),
        (["rendr"], "Is it “render”?"),
        (["roster", "rendr"], "Is it “render”?"),
        (["render", STRAP, "--lenght", "3", "-o", "x.mov"], "--length"),
        (["render", STRAP], "-o or --output is missing"),
        (["still"], "TEMPLATE is missing"),
        (["help", "rendr"], "Is it “render”?"),
        (["still", STRAP, "--at", "soon", "-o", "a.png"], "no number of frames and no time"),
        (["still", STRAP, "--at", "00:00:02:25", "-o", "a.png"], "no timecode at 25 frames"),
        (["still", STRAP, "-o", "-a.png"], "looks like an option"),
        (["still", STRAP, "-o", ""], "-o names nothing"),
        (["still", "", "-o", "a.png"], "no template.json"),
        (["still", STRAP, "--at", "1", "--at", "2", "-o", STRAP], "is a template"),
        (["roster", "render", STRAP, DEMO / "guests.csv", "-o", STRAP], "is a template"),
        (["cut", "render", DEMO / "the-long-tide.otio", "-o", STRAP], "is a template"),
        (["cut", "add", "x.otio", STRAP, "--at", "0", "--track", "3"], "--track is a whole number from 1 to 2"),
        (["counts", STRAP, "--every", "0"], "--every is a whole number from 1 on"),
        (["library", "restore", "name-strap", "x"], "VERSION is a whole number from 1 on"),
        (["still", STRAP, "--at", "1", "--at", "2", "-o", "a.png"], "2 pictures do not go into one file"),
        (["still", STRAP, "--at", "1", "--at", "2", "-o", "{answers}.png"], "Several pictures would be called"),
        (["still", STRAP, "--at", "1", "-o", "-", "--json"], "ask for one of them"),
        (["render", STRAP, "--codec", "gif", "-o", "a.mov"], "prores, png, qtrle, webm, over"),
        (["render", STRAP, "--codec", "webm", "-o", "a.mov"], "not as webm"),
        (["measure", STRAP, "--answers", "gone.json"], "cannot be read"),
        (["proof", DEMO, "--set", "name=x"], "leave out --set"),
        (["proof", STRAP, "--map", "a=name"], "name one with --rows"),
        (["library", "show", "nme-strap", "--library", DEMO], "Is it Name strap"),
        (["library", "restore", "name-strap", "7", "--library", DEMO], "There is no version 7"),
        (["library", "list", "gone"], "There is no folder"),
        (["batch", "gone.jsonl"], "cannot be read"),
        (["batch", "gone.jsonl", "--json"], "leave out --json"),
        (["cut", "add", "gone.otio", STRAP, "--at", "3"], "gone.otio"),
    ],
)
def test_what_is_mistyped_is_named_with_the_nearest_word(avlet, tmp_path, monkeypatch, words, said):
    monkeypatch.chdir(tmp_path)
    status, out, err = avlet(*words)
    assert (status, out) == (2, "") and said in err and err.startswith("avlet: ") and len(err.strip().splitlines()) == 1
    assert list(tmp_path.iterdir()) == []


def test_the_nearest_word_is_only_named_where_one_is_near():
    assert nearest("xyzzy", ["render", "still"]) == "" and nearest("stil", ["render", "still"]) == " Is it “still”?"


def test_json_lines_is_one_option_wherever_it_stands():
    assert plain_words(["a", "--json", "lines", "--json"]) == ["a", "--json-lines", "--json"]
    assert plain_words(["set", "lines", "--json"]) == ["set", "lines", "--json"]


# Times


@settings(max_examples=300, deadline=None)
@given(st.integers(0, 2_000_000), st.sampled_from(["24000/1001", "24", "25", "30", "50", "60"]))
def test_timecode_is_read_as_opentimelineio_writes_it(frame, rate):
    """OpenTimelineIO (Academy Software Foundation) has SMPTE ST 12-1 timecode."""
    words = RationalTime(frame, float(Fraction(rate))).to_timecode(float(Fraction(rate)), False)
    assert frames_in(words, Fraction(rate)) == frame


@settings(max_examples=300, deadline=None)
@given(st.integers(0, 2_000_000), st.sampled_from(["30000/1001", "60000/1001"]))
def test_drop_frame_timecode_is_read_as_opentimelineio_writes_it(frame, rate):
    words = RationalTime(frame, float(Fraction(rate))).to_timecode(float(Fraction(rate)), True)
    assert ";" in words and frames_in(words, Fraction(rate)) == frame


@pytest.mark.parametrize(
    ("words", "rate", "frames"),
    [
        ("125", 25, 125), ("125 frames", 25, 125), ("125f", 25, 125), ("1,250", 25, 1250), ("5 s", 25, 125), ("5s", 25, 125), ("0.5 sec", 25, 12),
        ("2.5 seconds", 50, 125), ("1 min", 25, 1500), ("1.5 minutes", 24, 2160), ("2 min 3 s", 25, 3075), ("00:00:05", 25, 125),
        ("1:00:00:00", 25, 90_000), ("00:01:00;02", Fraction(30000, 1001), 1800), ("5 s", Fraction(24000, 1001), 120), ("0", 25, 0),
    ],
)  # fmt: skip
def test_times_are_read_as_people_write_them(words, rate, frames):
    assert frames_in(words, Fraction(rate)) == frames


@pytest.mark.parametrize(
    "words",
    ["", "soon", "-5", "1.5", "5 h", "00:61:00:00", "00:00:00:25", "00:00:60:00", "1e3", "٣ s؟", "00:00:05;00", "5 s s", "9" * 300, "nan"],
)
def test_what_is_no_time_is_refused(words):
    with pytest.raises(ValueError, match="“"):
        frames_in(words, Fraction(25))


def test_a_time_that_timecode_leaves_out_is_refused():
    with pytest.raises(ValueError, match="left out in drop-frame"):
        frames_in("00:01:00;01", Fraction(30000, 1001))


# Answers


def test_all_faults_of_a_file_of_answers_are_told_at_once_with_their_places(tmp_path):
    template = open_template(STRAP).template
    path = tmp_path / "a.json"
    path.write_text('{\n  "name": "Bo Li",\n  "nme": 3, "corners": 1000,\n\t"Name": "again",\n  "role-line": "perhaps"\n}')
    with pytest.raises(AnswerError) as error:
        answer_sets(template, path)
    lines = str(error.value).splitlines()
    assert lines[0] == "“a.json” has 4 faults:" and len(lines) == 5
    assert [line.split(":")[0].strip() for line in lines[1:]] == [
        "line 3, column 3",
        "line 3, column 13",
        "line 4, column 2",
        "line 5, column 3",
    ]
    assert "no field “nme”" in lines[1] and "from 0 to 60" in lines[2] and "twice, first in line 2" in lines[3] and "yes or no" in lines[4]


@pytest.mark.parametrize(
    ("words", "said"),
    [
        ("{", "line 1, column 2"), ('{"name" "x"}', "column 9"), ('{"name": }', "column 10"), ('{"name": "x",}', "followed by nothing"),
        ('[{"name": "x"},]', "followed by nothing"), ('{"name": "x"} more', "something follows"), ("[1]", "holds no object"), ("3", "holds no object"),
        ("[", "is not JSON"), ("", "is not JSON"), ("nul", "is not JSON"), ('{"name": "x" "role": "y"}', "a comma belongs"), ("{name: 1}", "quotation marks"),
    ],
)  # fmt: skip
def test_what_is_no_json_is_said_with_its_place(tmp_path, words, said):
    path = tmp_path / "a.json"
    path.write_text(words)
    with pytest.raises(AnswerError, match=said):
        answer_sets(open_template(STRAP).template, path)


@settings(max_examples=200, deadline=None)
@given(
    st.dictionaries(
        st.sampled_from(["name", "role"]), st.text(st.characters(codec="utf-8", exclude_characters="\n"), max_size=20), min_size=1
    ),
    st.sampled_from([None, 1, "\t"]),
)
def test_answers_are_those_that_json_has(tmp_path_factory, answers, indent):
    """Python's own reader is the other one."""
    path = tmp_path_factory.mktemp("answers") / "a.json"
    path.write_text(json.dumps(answers, indent=indent))
    template = open_template(STRAP).template
    try:
        found = answer_sets(template, path)
    except AnswerError:
        return
    assert found == [{key: found[0][key] for key in answers}] and all(str(found[0][key]) == value for key, value in answers.items())


def test_several_answers_and_frames_make_several_stills(avlet, tmp_path):
    (tmp_path / "guests.json").write_text('[{"name": "Bo Li"}, {"name": "Ida"}]')
    pattern = tmp_path / "{answers}_{at}.png"
    status, out, err = avlet(
        "still", STRAP, "--answers", tmp_path / "guests.json", "--at", "40", "--at", "2s", "--size", "480x270", "-o", pattern
    )
    assert (status, out, err) == (0, "", "")
    assert sorted(p.name for p in tmp_path.glob("*.png")) == [f"guests-{n}_{at}.png" for n in (1, 2) for at in ("00040", "00050")]
    with Image.open(tmp_path / "guests-1_00050.png") as picture:
        assert picture.size == (480, 270)
    assert avlet("still", STRAP, "--set", "name=Bo Li", "--at", "50", "--size", "480x270", "-o", tmp_path / "one.png")[0] == 0
    assert (
        (tmp_path / "one.png").read_bytes()
        == (tmp_path / "guests-1_00050.png").read_bytes()
        != (tmp_path / "guests-2_00050.png").read_bytes()
    )
    assert avlet("still", STRAP, "--at", "1", "--at", "2", "-o", tmp_path / "into", "--size", "96x54")[0] == 0
    assert sorted(p.name for p in (tmp_path / "into").iterdir()) == ["name-strap-00001.png", "name-strap-00002.png"]


def test_answers_come_from_standard_input_and_words_go_over_them(avlet):
    status, out, _ = avlet("measure", STRAP, "--answers", "-", "--set", "role=Keeper", "--json", stdin='{"name": "Bo\\nLi", "role": "x"}')
    parts = {p["id"]: p["units"] for p in json.loads(out)["parts"]}
    assert status == 0 and parts["name"]["line"] == 2 and parts["role"]["character"] == 6


def test_a_list_in_answers_is_a_file_beside_them(avlet, tmp_path):
    (tmp_path / "crew").mkdir()
    (tmp_path / "crew" / "list.csv").write_text("Role,Name\nCamera,Bo Li\nSound,Ida\n")
    (tmp_path / "crew" / "a.json").write_text('{"list": "@list.csv"}')
    status, out, err = avlet("measure", DEMO / "end-roll.avlet", "--answers", tmp_path / "crew" / "a.json", "--json")
    rest = next(p["rest"] for p in json.loads(out)["parts"] if p["kind"] == "credits")
    longer = json.loads(avlet("measure", DEMO / "end-roll.avlet", "--json")[1])
    assert status == 0 and err == "" and rest[3] < next(p["rest"] for p in longer["parts"] if p["kind"] == "credits")[3]
    (tmp_path / "crew" / "a.json").write_text('{"list": "@gone.csv"}')
    assert "gone.csv" in avlet("measure", DEMO / "end-roll.avlet", "--answers", tmp_path / "crew" / "a.json")[2]


def test_columns_of_a_list_are_told_what_they_mean():
    rows = (("Person in charge", "Task"), ("Bo Li", "Camera"))
    known = led(recognised(Table(rows)), Table(rows), ["Task=role", "person in charge=name"])
    assert known.heads and known.columns == {"role": 1, "name": 0}
    assert led(recognised(Table(rows)), Table(rows), ["1=name", "2=role"]).columns == {"name": 0, "role": 1}
    for words, said in (
        ("Task", "is not COLUMN=MEANING"),
        ("Task=boss", "is not COLUMN=MEANING"),
        ("Job=role", "no column “Job”"),
        ("3=role", "no column"),
    ):
        with pytest.raises(AnswerError, match=said):
            led(recognised(Table(rows)), Table(rows), [words])


# What is told


def test_standard_output_is_json_alone_and_by_its_schema(avlet, tmp_path):
    schema = told.told_schema()
    assert json.loads((ROOT / "docs/format/told.schema.json").read_text()) == json.loads(json.dumps(schema)), "run scripts/write_format.py"
    library, out = tmp_path / "library", tmp_path / "out"
    (tmp_path / "guests.csv").write_text("Name,Role\nBo Li,Ringer\nIda,Keeper\n")
    (tmp_path / "crew.csv").write_text("Role,Name\nCamera,Bo Li\n")
    (tmp_path / "a.json").write_text('{"name": "Ida"}')
    small = ("--size", "96x54", "--length", "2 s")
    calls = [
        ("still", STRAP, "-o", out / "a.png"), ("frames", STRAP, "-o", out / "sheet.png", "--length", "60"), ("render", STRAP, "-o", out / "a.mov", *small),
        ("set", STRAP, tmp_path / "a.json", "-o", out / "b.avlet"), ("handover", STRAP, "--library", library, "--no-proof"), ("check", library / "name-strap.avlet"),
        ("handover", STRAP, "--library", library, "--no-proof", "--dry-run"), ("library", "list", library), ("library", "show", "name-strap", "--library", library),
        ("library", "versions", "name-strap", "--library", library), ("library", "restore", "name-strap", "1", "--library", library),
        ("library", "remove", "name-strap", "--library", library), ("credits", "check", DEMO / "end-roll.avlet", tmp_path / "crew.csv"),
        ("credits", "speed", DEMO / "end-roll.avlet", tmp_path / "crew.csv"), ("roster", "check", STRAP, tmp_path / "guests.csv"),
        ("roster", "render", STRAP, tmp_path / "guests.csv", "-o", out / "films", "--codec", "still", "--workers", "1"),
        ("roster", "render", STRAP, tmp_path / "guests.csv", "-o", out / "films", "--codec", "still", "--dry-run"),
        ("install", "--dry-run"),
    ]  # fmt: skip
    for words in calls:
        status, said, err = avlet(*words, "--json")
        assert status in (0, 1) and err == "", (words, err)
        facts = json.loads(said)
        jsonschema.validate(facts, schema)
        assert facts["verb"] == " ".join(map(str, words[: len(facts["verb"].split())]))
        assert facts.get("template", "Name strap") in ("Name strap", "End roll", "name-strap")
    for words in (
        ("info", STRAP),
        ("measure", STRAP),
        ("counts", STRAP),
        ("card", STRAP),
        ("proof", STRAP, "--only", "small type", "--workers", "1"),
    ):
        facts = json.loads(avlet(*words, "--json")[1])
        assert facts["template"] == "Name strap" and facts["verb"] == words[0]


def test_long_work_tells_a_line_an_event(avlet, tmp_path):
    (tmp_path / "guests.csv").write_text("Name,Length\nBo Li,50\nIda,0\n")
    words = (
        "roster",
        "render",
        STRAP,
        tmp_path / "guests.csv",
        "-o",
        tmp_path / "out",
        "--codec",
        "still",
        "--workers",
        "1",
        "--json",
        "lines",
    )
    status, out, err = avlet(*words)
    events = [json.loads(line) for line in out.splitlines()]
    assert (status, err) == (1, "") and [e["event"] for e in events if e["event"] != "progress"] == ["begin", "wrote", "done"]
    assert Path(events[-2]["path"]).exists() or any(Path(e.get("path", "")).is_file() for e in events)
    assert events[-1]["holds"] is False and events[-1]["made"] == 1 and "Row 2 is left out" in events[-1]["left_out"][0]


def test_quiet_says_only_what_was_asked_for(avlet, tmp_path):
    long = ("--set", "name=" + "Wilhelmina Featherstonehaugh " * 6)
    assert "note: " in avlet("still", STRAP, *long, "-o", tmp_path / "a.png")[2]
    assert avlet("still", STRAP, *long, "-o", tmp_path / "a.png", "--quiet")[1:] == ("", "")
    assert "Wrote" in avlet("set", STRAP, "-o", tmp_path / "b.avlet", _answers(tmp_path))[2]
    assert avlet("set", STRAP, "-o", tmp_path / "b.avlet", _answers(tmp_path), "-q")[1:] == ("", "")
    assert "avlet: " in avlet("still", STRAP, "--at", "999", "-o", tmp_path / "a.png", "--quiet")[2]
    assert (
        "Opened" in avlet("measure", STRAP, "--verbose", "--length", "61")[2] or "Opened" in avlet("measure", tmp_path / "b.avlet", "-v")[2]
    )


def _answers(folder):
    path = folder / "answers.json"
    path.write_text('{"name": "Ida"}')
    return path


def test_cells_of_tables_are_as_people_write_them():
    assert [in_a_cell(v) for v in (True, False, 48600.0, 0.5, None, ["a", "b"], "a\nb")] == [
        "yes",
        "no",
        "48600",
        "0.5",
        "–",
        "a, b",
        "a / b",
    ]


def test_nothing_is_written_in_a_dry_run_or_over_what_is_to_stay(avlet, tmp_path):
    (tmp_path / "there.png").write_bytes(b"mine")
    (tmp_path / "guests.csv").write_text("Name\nBo Li\n")
    before = sorted(tmp_path.rglob("*"))
    for words in (
        ("still", STRAP, "-o", tmp_path / "a.png"), ("frames", STRAP, "-o", tmp_path / "a.png"), ("render", STRAP, "-o", tmp_path / "a.mov"),
        ("handover", STRAP, "--library", tmp_path / "library", "--no-proof"), ("roster", "render", STRAP, tmp_path / "guests.csv", "-o", tmp_path / "out"),
    ):  # fmt: skip
        status, out, err = avlet(*words, "--dry-run")
        assert status == 0 and str(tmp_path) in out + err and sorted(tmp_path.rglob("*")) == before
    for verb in ("still", "frames"):
        status, _, err = avlet(verb, STRAP, "-o", tmp_path / "there.png", "--no-overwrite")
        assert status == 2 and "is there already" in err and (tmp_path / "there.png").read_bytes() == b"mine"


# Streams, statuses, starts


def _avlet(*words, **more):
    return subprocess.run(
        [sys.executable, "-m", "avlet", *map(str, words)], capture_output=True, cwd=ROOT, check=False, timeout=120, **more
    )


def test_pictures_and_films_go_through_pipes_and_nothing_else_does(tmp_path):
    picture = _avlet("still", STRAP, "--size", "96x54", "-o", "-")
    film = _avlet("render", STRAP, "--size", "96x54", "--length", "2", "--codec", "qtrle", "-o", "-")
    assert (picture.returncode, picture.stderr, picture.stdout[:8]) == (0, b"", b"\x89PNG\r\n\x1a\n")
    assert film.returncode == 0 and film.stdout[4:8] == b"ftyp" and b"note: " in film.stderr
    package = _avlet("set", STRAP, _answers(tmp_path), "-o", "-")
    (tmp_path / "out.avlet").write_bytes(package.stdout)
    assert open_template(tmp_path / "out.avlet").template.card.field("name").start == "Ida"


def test_no_library_speaks_on_standard_error():
    """fontconfig warns about this machine's files, Mesa about what it lacks: a pipeline reads neither."""
    done = _avlet("measure", STRAP, "--set", "name=ᚠ渡", env={**os.environ, "FC_DEBUG": "1"})
    assert done.returncode == 0 and all(line.startswith("note: ") for line in done.stderr.decode().splitlines())


def test_who_reads_may_go_away():
    done = subprocess.run(
        f"{sys.executable} -m avlet counts {DEMO / 'four-counts.avlet'} | head -1",
        shell=True,
        capture_output=True,
        cwd=ROOT,
        check=False,
        text=True,
    )
    assert done.stdout and "Traceback" not in done.stderr and "went wrong" not in done.stderr


@pytest.mark.parametrize(
    ("given", "said"),
    [
        ({}, "There is no display here"),
        ({"DISPLAY": ":7431"}, "does not answer"),
        ({"WAYLAND_DISPLAY": "wayland-7"}, "does not answer"),
        ({"DISPLAY": "nonsense"}, "does not answer"),
    ],
)
def test_without_a_display_a_window_is_a_sentence(given, said):
    plain = {k: v for k, v in os.environ.items() if k not in ("DISPLAY", "WAYLAND_DISPLAY", "QT_QPA_PLATFORM")}
    done = _avlet("demo", env={**plain, **given})
    assert done.returncode == 2 and said in done.stderr.decode() and len(done.stderr.decode().splitlines()) == 1
    assert _avlet("info", STRAP, env={**plain, **given}).returncode == 0


IMPORTED = "import sys; sys.argv[1:] = {words!r}\nfrom avlet.__main__ import main\ntry: main()\nexcept SystemExit: pass\nprint('\\n'.join(sys.modules), file=sys.__stderr__ and open({told!r}, 'w'))"


@pytest.mark.parametrize(
    ("words", "most", "never"),
    [
        (["--version"], 60, ("typer", "numpy", "msgspec", "icu", "skia", "rich")),
        (["help"], 420, ("numpy", "skia", "av", "PyQt6", "scipy", "icu", "uharfbuzz", "OpenGL", "moderngl", "distributed")),
        (
            ["info", str(STRAP), "--json"],
            600,
            ("PyQt6", "skia", "av", "scipy", "moderngl", "distributed", "opentimelineio", "rich", "PIL.ImageQt"),
        ),
        (
            ["still", str(STRAP), "--at", "0", "--size", "96x54", "-o", "/dev/null/x.png"],
            950,
            ("PyQt6", "scipy", "distributed", "opentimelineio", "rich"),
        ),
    ],
)
def test_a_verb_imports_what_it_needs_and_no_more(tmp_path, words, most, never):
    """How long a start takes hangs on the machine; what is imported for it does not."""
    path = tmp_path / "imported"
    subprocess.run(
        [sys.executable, "-c", IMPORTED.format(words=words, told=str(path))], capture_output=True, cwd=ROOT, check=False, timeout=60
    )
    found = path.read_text().splitlines()
    assert not [name for name in never if name in found] and len(found) <= most, (len(found), [n for n in never if n in found])


def test_a_process_starts_without_threads_that_it_never_needs():
    """NumPy's own library would begin one for each core but one, at a tenth of a second of CPU."""
    script = "import avlet.__main__, numpy, os; print(len(os.listdir('/proc/self/task')))"
    plain = {key: value for key, value in os.environ.items() if key != "OPENBLAS_NUM_THREADS"}
    done = subprocess.run([sys.executable, "-c", script], capture_output=True, cwd=ROOT, check=True, timeout=60, env=plain)
    assert done.stdout.split() == [b"1"]


def test_long_work_tells_a_line_now_and_then_where_no_terminal_shows_a_bar(avlet, tmp_path, monkeypatch):
    monkeypatch.setattr(telling, "_EVERY", 0.0)
    words = ("render", STRAP, "--size", "96x54", "--length", "30", "--codec", "qtrle", "--workers", "1", "-o", tmp_path / "a.mov")
    lines = avlet(*words)[2].splitlines()
    assert any(line.startswith("Rendering a.mov: ") and line.endswith(" of 30 frames") for line in lines)
    assert not [line for line in avlet(*words, "--quiet")[2].splitlines() if "of 30 frames" in line]


class Terminal(io.StringIO):
    def isatty(self):
        return True


def test_colour_is_for_terminals_that_want_it(monkeypatch):
    monkeypatch.delenv("NO_COLOR", raising=False)
    told = Terminal()
    telling.written(told, "Name strap", bold=True)
    assert told.getvalue() == "\x1b[1mName strap\x1b[0m\n"
    for file, no_color in ((io.StringIO(), ""), (Terminal(), "1")):
        monkeypatch.setenv("NO_COLOR", no_color)
        telling.written(file, "Name strap", bold=True)
        assert file.getvalue() == "Name strap\n"


def test_nothing_binary_goes_to_a_terminal(avlet, monkeypatch, tmp_path):
    monkeypatch.setattr("sys.stdout.isatty", lambda: True, raising=False)
    status, _, err = avlet("still", STRAP, "-o", "-")
    assert status == 2 and "that is a terminal here" in err


def test_words_are_completed_by_the_shell():
    def completed(words):
        told = {"_AVLET_COMPLETE": "complete_bash", "COMP_WORDS": words, "COMP_CWORD": str(len(words.split(" ")) - 1)}
        return _avlet(env={**os.environ, **told}).stdout.decode().split()

    assert (
        completed("avlet ren") == ["render"] and completed("avlet roster re") == ["render"] and "--codec" in completed("avlet render --co")
    )


def test_help_tells_statuses_and_every_name_of_films_and_plates(avlet):
    assert "Exit status: 0 done, 1 looked at and something does not hold, 2" in " ".join(avlet("help")[1].split())
    told = " ".join(avlet("help", "render")[1].split())
    assert all(name in told for name in ("prores, png, qtrle, webm, over", "tide flats, reed beds, dusk"))
    assert json.loads(avlet("help", "--json")[1])["verbs"]["still"]["about"] == ["TEMPLATE"]


def test_the_man_page_is_installed_and_is_one(avlet, tmp_path, monkeypatch):
    monkeypatch.setenv("XDG_DATA_HOME", str(tmp_path))
    assert avlet("install")[0] == 0
    page = (tmp_path / "man" / "man1" / "avlet.1").read_text()
    assert page.startswith(".TH AVLET 1") and all(f'.SS "avlet {name} ' in page for name in commands())
    assert not [line for line in page.splitlines() if line.startswith("'")], "no line that roff would take for a command"
