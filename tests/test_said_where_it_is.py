"""What small faults slipped through: where something is said, second branches, sums towards a limit, large frames, other paces."""

import os
import re
import zipfile
from pathlib import Path

import msgspec
import numpy as np
import pytest
from lists import BOOK, credits
from space_parts import FLAT_LIGHT, SMALL, sheet
from test_listing import listed
from test_proof_checks import found, template, text
from test_proofreading import role
from test_roster_rendering import FILES, HereCrew, plan, strap  # noqa: F401 - the fixture

from avlet.document.faults.checking import check
from avlet.document.lists.blocks import Heading, Names, Pictures, Role, RuleLine, Words
from avlet.document.looks.paints import Solid
from avlet.document.parts import Fit, GroupPart, PictureFile, ShapePart, SpacePart
from avlet.document.template import Frame, Template
from avlet.document.time.moves import Move, StaysToTheEnd
from avlet.errors import StorageError
from avlet.numbers.timecode import read_rate
from avlet.paint.scene import Scene
from avlet.review.checks.reading import seconds_to_read
from avlet.review.proofreading import proofread
from avlet.roster.crew import Failed
from avlet.roster.rendering import render_roster
from avlet.storage import archive
from avlet.storage.package import open_template
from avlet.storage.recovery import Recovery, lost_work
from avlet.storage.template_json import encode
from avlet.text.strip import strip_of

# Rates


@pytest.mark.parametrize(
    ("words", "rate"), [("23.98", "24000/1001"), ("23.97", "24000/1001"), ("119.88", "120000/1001"), ("23.98 fps", "24000/1001")]
)
def test_rates_are_those_of_the_trade_however_they_are_rounded(words, rate):
    assert read_rate(words) == rate


# Lists


@pytest.mark.parametrize(
    "block", [Words(text="By kind permission"), RuleLine(), Pictures(pictures=(PictureFile(""),))], ids=["words", "rule", "picture"]
)
def test_room_above_and_below_what_is_no_name(block):
    """As after a heading on both sides, whichever comes first."""
    part = credits([Role(role="Ox", names=("Nil",)), block, Role(role="Ox", names=("Nil",))], row_gap=5.0, heading_gap=31.0)
    strip = strip_of(part, BOOK)
    between = [float(strip.begins[n + 1] - strip.ends[n]) for n in range(len(strip.rows) - 1)]
    assert between == pytest.approx([31.0] * len(between)) and len(between) == 2


def test_an_empty_row_ends_a_role_and_so_does_another_section():
    heads = ("Section", "Role", "Name")
    assert listed(heads, ("", "Mixer", "Ann"), ("", "", "Bo"), ("", "", ""), ("", "", "Cy")) == (
        Role(role="Mixer", names=("Ann", "Bo")), Names(names=("Cy",)),
    )  # fmt: skip
    assert listed(heads, ("A", "Mixer", "Ann"), ("B", "", "Cy")) == (
        Heading(text="A"), Role(role="Mixer", names=("Ann",)), Heading(text="B"), Names(names=("Cy",)),
    )  # fmt: skip


@pytest.mark.parametrize(
    ("block", "place"), [(role("Bo Li", "Ann Berg", "Cy", "ann berg"), 4), (Names(names=("Bo Li", "Ann Berg", "Cy", "ANN BERG")), 3)]
)
def test_the_line_that_stands_twice_is_the_second_of_them(block, place):
    (one,) = [remark for remark in proofread((Heading(text="A"), block)) if "stands twice" in remark.words]
    assert (one.block, one.place) == (1, place)


# Proof


def test_writing_without_blanks_is_read_by_its_letters():
    """Half a second for ten letters at 160 words a minute (common practice, no source)."""
    assert seconds_to_read(1, 320) == pytest.approx(12.0) and seconds_to_read(40, 320) == pytest.approx(15.0)


@pytest.mark.parametrize(("frame", "told"), [(Frame(1920, 1080), 0), (Frame(3840, 2160), 1)], ids=["1080", "2160"])
def test_words_are_large_by_the_lines_of_the_picture(frame, told):
    """WCAG 2.2: large words need 3 : 1, others 4.5; 30 px are large at 1080 lines and not at 2160. #8A8A8A on white: 3.45 : 1."""
    plate = ShapePart(
        id="plate",
        name="Plate",
        fit=Fit(("name",), left=20, right=20),
        across=None,
        down=None,
        fill=Solid("#FFFFFF"),
        way_in=(Move(opacity=0.0, frames=20),),
    )
    made = template(plate, text(size=30.0, fill=Solid("#8A8A8A")), frame=frame)
    assert len(found(made, "contrast")) == told


@pytest.mark.parametrize("pace", [50.0, 100.0, 200.0])
def test_what_shows_before_it_comes_is_told_at_any_pace(pace):
    early = text(way_in=(Move(y=60.0, frames=10, start=20),))
    (one,) = [f for f in found(template(early, length=300, way_in=30, pace=pace), "early-late") if "before it begins" in f.words]
    assert (one.first, one.last) == (1, round(20 * 100 / pace) - 1) and one.amount == one.last


# Rosters


def test_rows_alike_one_that_failed_are_left_out_too(strap, tmp_path):  # noqa: F811
    class Failing(HereCrew):
        def run(self, jobs, sources):
            jobs = list(jobs)
            yield Failed(jobs[0].number, "no room")
            yield from super().run(jobs[1:], sources)

    outcome = render_roster(plan(strap), strap.book, tmp_path, Failing())
    rows = [one.row for one in outcome.delivery.left_out]
    assert {1, 4} <= set(rows) and not outcome.delivery.complete
    assert [one.file for one in outcome.delivery.files] == [FILES[1]]


# Files


def test_many_files_that_unpack_to_too_much_together_are_refused(tmp_path, monkeypatch, name_strap):
    monkeypatch.setattr(archive, "MOST_PACKAGE", 2_000_000)
    path = tmp_path / "many.avlet"
    with zipfile.ZipFile(path, "w", zipfile.ZIP_DEFLATED) as package:
        package.writestr("template.json", encode(name_strap))
        for number in range(5):
            package.writestr(f"pictures/{number}.png", b"\0" * 500_000)
    with pytest.raises(StorageError, match="unpacks"):
        open_template(path)


def test_work_that_was_lost_comes_newest_first_whatever_its_files_are_called(tmp_path, name_strap):
    for number, at in enumerate((300, 100, 200)):
        keeping = Recovery(tmp_path, "template", lambda template, _: encode(template))
        keeping.keep(msgspec.structs.replace(name_strap, name=f"Kept at {at}"), None)
        raw = msgspec.json.decode(keeping.file.read_bytes())
        raw.update(begun=0.0, process=1, saved_at=float(at))
        target = tmp_path / f"{number}.json"
        target.write_bytes(msgspec.json.encode(raw))
        keeping.file.unlink()
        os.utime(target, (at, at))
    assert [lost.document.name for lost in lost_work(tmp_path)] == ["Kept at 300", "Kept at 200", "Kept at 100"]


# Spaces


def test_a_space_is_as_soft_as_a_group_of_the_same():
    """A flat sheet that comes out of a blur, in a space and in a group: the same picture, to a few of 255 on average."""
    soft = (Move(blur=40.0, frames=20),)
    member = sheet(width=200.0, height=100.0, colour="#FFFFFF")

    def picture(holder):
        made = Template(frame=SMALL, length=60, way_in=20, way_out=0, parts=(member, holder))
        return Scene(check(made), BOOK).picture(6)[..., 3].astype(int)

    flat = picture(GroupPart(id="space", name="Space", way_in=soft, way_out=StaysToTheEnd()))
    deep = picture(SpacePart(id="space", name="Space", way_in=soft, way_out=StaysToTheEnd(), **FLAT_LIGHT))
    edge = np.count_nonzero((flat[135] > 25) & (flat[135] < 230))
    assert edge > 8 and abs(np.count_nonzero((deep[135] > 25) & (deep[135] < 230)) - edge) <= 3 and np.abs(flat - deep).mean() < 2


ROOT = Path(__file__).resolve().parent.parent


def test_numbers_are_never_said_with_an_exponent():
    """However large, small or far: as they are said in one place (about and in_figures), which all screens and messages use."""
    from avlet.numbers.exact import about, in_figures

    for value in (1e-9, 0.000123456, 0.5, 999_999.4, 1e6, 1234567.891, 12_345.678, 1e15, -1e7, 0.0, -0.0):
        for words in (about(value), in_figures(value)):
            assert "e" not in words.lower(), (value, words)
            assert abs(float(words.replace(",", "")) - value) <= abs(value) * 1e-3 + 1e-9
    assert about(12_345.678) == "12350" and about(1234567.8) == "1,235,000" and about(0.12346) == "0.1235" and about(float("inf")) == "inf"
    meant = {"eases.py", "written_cells.py", "exact.py", "timecode.py", "written.py", "jumps.py", "fine_strokes.py", "time_left.py"}
    for path in (ROOT / "avlet").rglob("*.py"):
        if path.name not in meant:
            assert not re.search(r":(\.\d+)?g\}", path.read_text(encoding="utf-8")), f"{path.name}: say numbers by about or in_figures"
