"""Credits on the command line."""

import json

import pytest
from lists import BOOK, THREE, credits, titled

from avlet.document.cards.carding import put_on_card
from avlet.document.lists.blocks import Role
from avlet.document.lists.listing import csv_of
from avlet.storage.package import open_template, save_template


@pytest.fixture
def roll(tmp_path):
    template = put_on_card(titled(credits(THREE), 300), "c/blocks")[0]
    save_template(template, tmp_path / "roll.avlet", BOOK)
    return tmp_path / "roll.avlet"


@pytest.fixture
def listed(tmp_path):
    def write(words, name="list.csv"):
        path = tmp_path / name
        path.write_bytes(words if isinstance(words, bytes) else words.encode())
        return path

    return write


def test_check_tells_what_to_look_at_and_ends_with_1(avlet, roll, listed):
    status, out, _ = avlet("credits", "check", roll, listed("Role,Name\nMixer,Ann  Berg\n"))
    assert status == 1 and "two blanks" in out and "Should be: “Ann Berg”." in out
    status, out, _ = avlet("credits", "check", roll, listed("Role,Name\nMixer,Ann Berg\n"))
    assert status == 0 and "Nothing to look at" in out and "1 lines" in out
    status, out, _ = avlet("credits", "check", roll, listed("Role,Name\nMixer,Ann  Berg\n"), "--json")
    assert status == 1 and json.loads(out)["findings"][0]["mend"] == "Ann Berg"


def test_check_says_how_a_file_was_read_and_what_the_list_does(avlet, roll, listed):
    long = "Role,Name\nMixer,Zoë " + "Longname" * 12 + "\n"
    status, _, err = avlet("credits", "check", roll, listed(long.encode("cp1252")))
    assert status == 0 and "Windows-1252" in err and "Longname" in err


@pytest.mark.parametrize(
    ("words", "says"),
    [(b"PK\x03\x04nothing", "spreadsheet"), (b"kind,name\ndance,x\n", "of the kind"), (("Ann\n" * 60_000).encode(), "50,000 rows")],
)
def test_what_is_no_list_is_said_with_status_2(avlet, roll, listed, words, says):
    status, _, err = avlet("credits", "check", roll, listed(words))
    assert status == 2 and says in err


def test_a_template_without_credits_is_said(avlet, listed, demo):
    status, _, err = avlet("credits", "check", demo / "name-strap.avlet", listed("Ann\n"))
    assert status == 2 and "has no credits" in err
    status, out, _ = avlet("credits", "speed", demo / "name-strap.avlet")
    assert status == 0 and "has no credits" in out


def test_speed_tells_speed_calm_and_whole_lengths(avlet, roll, listed):
    status, out, _ = avlet("credits", "speed", roll)
    assert status == 0 and "px a frame over" in out and "Lengths at which it moves whole px" in out
    status, out, _ = avlet("credits", "speed", roll, "--json", "--length", 400)
    (facts,) = json.loads(out)["lists"]
    assert facts["frames"] == 400 and facts["px_a_frame"] > 0
    offer = facts["offers"][-1]
    status, out, _ = avlet("credits", "speed", roll, "--json", "--length", offer["length"])
    assert json.loads(out)["lists"][0]["px_a_frame"] == offer["speed"] and json.loads(out)["lists"][0]["calm"] == "steady"
    status, out, _ = avlet("credits", "speed", roll, "--json", listed("\n".join(f"Name {n}" for n in range(40))))
    assert json.loads(out)["lists"][0]["rows"] == 40
    status, _, err = avlet("credits", "speed", roll, listed("Ann\n"), "--list", "nowhere")
    assert status == 2 and "no list “nowhere”" in err


def test_a_list_file_is_an_answer_everywhere(avlet, roll, listed, tmp_path):
    field = open_template(roll).template.card.fields[0].id
    path = listed(csv_of((Role(role="Cook", names=("Bo Li", "Ann Berg")),)))
    status, out, _ = avlet("measure", roll, "--set", f"{field}=@{path}", "--json")
    assert status == 0 and json.loads(out)["length"] == 300
    status, _, err = avlet("still", roll, "--set", f"{field}=@{path}", "--at", 150, "-o", tmp_path / "still.png")
    assert status == 0 and (tmp_path / "still.png").exists()
    for wrong, says in (("@gone.csv", "cannot be read"), ("Ann", "cannot be read"), ("@", "list file")):
        status, _, err = avlet("measure", roll, "--set", f"{field}={wrong}")
        assert status == 2 and says in err, (wrong, err)


def test_the_group_without_a_command_says_so(avlet):
    assert avlet("credits")[0] == 2 and avlet("credits", "dance")[0] == 2
