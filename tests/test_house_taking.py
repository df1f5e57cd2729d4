"""A house travels: side by side, by name, into many templates at once; hostile names; by hands and by the command line."""

import json

import msgspec
import pytest
from conftest import DEMO, plated
from hands import settle
from PyQt6.QtWidgets import QDialog, QFileDialog

from avlet.desktop.card.house_panel import HousePanel
from avlet.desktop.dialogs.tick_dialog import TickDialog
from avlet.document.cards.wires import Wire
from avlet.document.editing.house_taking import side_by_side, with_house_of
from avlet.document.house import HouseColour, HouseGradient, TextStyle
from avlet.document.looks.paints import Stop
from avlet.layout.holding import hold
from avlet.storage.package import open_template, save_template

replace = msgspec.structs.replace
STOPS = (Stop(0.0, "#102030"), Stop(100.0, "#405060"))
SOURCE = hold(replace(
    plated(), name="Source", palette=(HouseColour("deep", "Deep water", "#112233"), HouseColour("reed", "Reed", "#808040")),
    gradients=(HouseGradient("dusk", "Dusk", STOPS),), text_styles=(TextStyle(id="bold", name="Name", family="Inter", size=80.0),),
))  # fmt: skip


def family(number=0, **changes):
    """A template with a house of its own, whose plate follows its blue."""
    own = (HouseColour(f"own-{number}", "deep WATER", "#20435C"), HouseColour("alone", "Only here", "#FF0000"))
    wires = (Wire(f"palette/own-{number}", "plate/fill.colour"),)
    return hold(replace(plated(), name=f"Family {number}", palette=own, wires=wires, **changes))


def test_both_houses_stand_side_by_side_by_kind_and_name():
    rows = {row.key: row for row in side_by_side(family(), SOURCE)}
    assert list(rows) == ["colour Deep water", "colour Reed", "gradient Dusk", "text style Name"]
    assert rows["colour Deep water"].words == "Deep water: #20435C → #112233" and rows["colour Deep water"].differs
    assert rows["colour Reed"].words == "Reed: #808040, new here" and rows["gradient Dusk"].words == "Dusk: #102030, #405060, new here"
    same = {row.key: row for row in side_by_side(SOURCE, SOURCE)}
    assert not any(row.differs for row in same.values()) and same["text style Name"].words == "Name: Inter Bold 80, the same"


def test_what_has_that_name_changes_what_is_only_here_stays_and_all_that_follows_follows():
    made = hold(with_house_of(family(), SOURCE))
    assert [(e.id, e.name, e.colour) for e in made.palette] == [
        ("own-0", "deep WATER", "#112233"), ("alone", "Only here", "#FF0000"), ("reed", "Reed", "#808040")
    ]  # fmt: skip
    assert (
        made.wires == family().wires and [g.name for g in made.gradients] == ["Dusk"] and [s.family for s in made.text_styles] == ["Inter"]
    )
    assert with_house_of(made, SOURCE) == made, "once more changes nothing"
    one = with_house_of(family(), SOURCE, {"colour Deep water"})
    assert len(one.palette) == 2 and one.palette[0].colour == "#112233" and not one.gradients


def test_an_id_that_is_taken_by_another_kind_or_name_is_no_matter():
    here = hold(replace(plated(), palette=(HouseColour("reed", "Something else", "#000001"), HouseColour("dusk", "Dusk", "#000002"))))
    made = hold(with_house_of(here, SOURCE))
    assert [(e.id, e.name) for e in made.palette] == [
        ("reed", "Something else"),
        ("dusk", "Dusk"),
        ("deep", "Deep water"),
        ("reed-2", "Reed"),
    ]
    assert made.gradients[0].name == "Dusk" and made.gradients[0].id != "dusk", "a colour and a gradient of one name are two"


# The command line


@pytest.fixture
def six(tmp_path, book):
    save_template(SOURCE, tmp_path / "source.avlet", book)
    for number in range(6):
        save_template(family(number), tmp_path / f"family-{number}.avlet", book)
    return tmp_path


def files(six):
    return sorted(six.glob("family-*.avlet"))


def test_the_blue_of_six_templates_is_changed_in_one_act(six, avlet):
    before = {path: path.read_bytes() for path in files(six)}
    status, out, _ = avlet("house", "take", six / "source.avlet", *files(six), "--entry", "deep water", "--dry-run", "--json")
    told = json.loads(out)
    assert status == 0 and told["dry_run"] and [t["changed"] for t in told["took"]] == [["Deep water: #20435C → #112233"]] * 6
    assert {path: path.read_bytes() for path in files(six)} == before
    status, out, _ = avlet("house", "take", six / "source.avlet", *files(six), "--entry", "Deep water")
    assert status == 0 and out.count("Deep water: #20435C → #112233") == 6
    for path in files(six):
        made = open_template(path).template
        assert made.palette[0].colour == "#112233" and len(made.palette) == 2
    assert avlet("house", "take", six / "source.avlet", *files(six), "--entry", "Deep water")[1].count("as it was") == 6


def test_what_breaks_by_it_is_said_and_ends_with_one_and_what_is_to_be_looked_at_is_told(six, avlet, book):
    """Words that grow out of the frame, and white words on a plate that turns white: proved anew, and told."""
    one = family(7, text_styles=(TextStyle(id="n", name="Name", size=80.0),))
    one = hold(replace(one, parts=tuple(replace(p, text_style="n") if p.id == "name" else p for p in one.parts)))
    save_template(one, six / "seven.avlet", book)
    for name, entry, status in (("large", {"text_styles": (TextStyle(id="bold", name="Name", size=700.0),)}, 1),
                                ("white", {"palette": (HouseColour("deep", "Deep water", "#FFFFFF"),)}, 0)):  # fmt: skip
        bare = replace(plated(), name=name, **entry)
        save_template(hold(bare), six / f"{name}.avlet", book)
        given, out, _ = avlet("house", "take", six / f"{name}.avlet", six / "seven.avlet", "--dry-run", "--json")
        told = json.loads(out)["took"][0]
        assert (given, bool(told["breaks"]), bool(told["found"])) == (status, status == 1, True), name
    assert open_template(six / "seven.avlet").template == one


def test_nothing_is_done_where_anything_cannot_be(six, avlet):
    before = {path: path.read_bytes() for path in files(six)}
    (six / "broken.avlet").write_bytes(b"PK no")
    for words in ((*files(six), six / "broken.avlet"), (*files(six), six / "gone.avlet"), (*files(six), "--entry", "Nope")):
        assert avlet("house", "take", six / "source.avlet", *words)[0] == 2
    status, _, err = avlet("house", "take", DEMO / "name-strap.avlet", *files(six))
    assert status == 2 and "has no house" in err
    guest = DEMO / "guest-strap.avlet"
    status, _, err = avlet("house", "take", six / "source.avlet", files(six)[0], guest)
    assert status == 2 and "was handed over and stays as it is" in err and open_template(guest).template.palette[0].colour != "#112233"
    assert {path: path.read_bytes() for path in files(six)} == before


# Hands


def test_it_is_taken_on_from_the_card_bench_and_undone(window, qtbot, six, monkeypatch):
    window.show_bench(2)
    settle()
    session = window.session
    panel = window.card.findChild(HousePanel)
    assert panel is not None
    monkeypatch.setattr(QFileDialog, "getOpenFileName", lambda *_: (str(six / "source.avlet"), ""))
    shown = []

    def run(dialog):
        shown.append({label: (box.text(), box.isChecked()) for label, box in dialog.boxes.items()})
        dialog.boxes["gradient Dusk"].setChecked(False)
        return QDialog.DialogCode.Accepted

    monkeypatch.setattr(TickDialog, "exec", run)
    before = session.template
    panel.take_on()
    settle()
    assert shown[0]["colour Reed"] == ("Reed: #808040, new here", True)
    assert {e.name for e in session.template.palette} == {"Deep water", "Reed"} and not session.template.gradients
    window.undo()
    assert session.template == before
    said = []
    session.refused.connect(said.append)
    window.card.findChild(HousePanel).take_on_from(six / "gone.avlet")
    assert said and session.template == before
