"""What is printed of a stranger's document is harmless: no code of its reaches the terminal. JSON is printed as it is."""

import json
import unicodedata
import zipfile

import pytest
from hypothesis import given
from hypothesis import strategies as st

from avlet.harmless import harmless

EVIL = "\x1b[31mRed\x07 \u202eevil\u2066\x9b2J\x7f\u2028end"


@given(st.text())
def test_no_control_and_nothing_that_reorders_is_left_and_all_else_is(words):
    """UAX #9's explicit formatting, and Unicode's categories Cc, Cs, Zl and Zp, but for tab and line feed."""
    made = harmless(words)
    for sign in made:
        assert sign in "\t\n" or unicodedata.category(sign) not in ("Cc", "Cs", "Zl", "Zp"), repr(sign)
        assert unicodedata.bidirectional(sign) not in ("LRE", "RLE", "LRO", "RLO", "PDF", "LRI", "RLI", "FSI", "PDI"), repr(sign)
    assert harmless(made) == made
    plain = "".join(c for c in words if harmless(c) == c)
    assert harmless(plain) == plain


def test_each_sign_is_told_by_its_number():
    assert harmless("a\x1bb\u202ec") == "a⟨1B⟩b⟨202E⟩c" and harmless("Íris\tÞórdal\nياسمين") == "Íris\tÞórdal\nياسمين"


@pytest.fixture
def evil(tmp_path):
    path = tmp_path / "evil.avlet"
    document = {
        "format": 1, "name": EVIL, "category": EVIL, "parts": [{"kind": "text", "id": "t", "name": EVIL, "text": EVIL}],
        "card": {"sections": [{"name": EVIL, "fields": [{"kind": "text", "id": "a", "label": EVIL, "hint": EVIL, "several_lines": True}]}]},
        "samples": [{"id": "s", "name": EVIL, "answers": {"a": EVIL}}], "wires": [{"source": "a", "target": "t/text"}],
    }  # fmt: skip
    with zipfile.ZipFile(path, "w") as archive:
        archive.writestr("template.json", json.dumps(document))
    return path


@pytest.mark.parametrize("words", [("info",), ("measure",), ("card",), ("check",), ("measure", "--set", "x=1"), ("proof", "--only", "inside", "--workers", 0), ("still", "--at", 3, "-o", "OUT")])  # fmt: skip
def test_commands_print_nothing_that_a_terminal_obeys(avlet, evil, tmp_path, words):
    command, *more = words
    status, out, err = avlet(command, evil, *(tmp_path / "o.png" if one == "OUT" else one for one in more))
    assert status in (0, 1, 2) and ((out + err).strip() or command == "still")
    for sign in ("\x1b", "\x07", "\u202e", "\u2066", "\x9b", "\x7f", "\u2028"):
        assert sign not in out + err, (command, hex(ord(sign)))
    if command == "info":
        assert "⟨1B⟩[31mRed" in out


def test_tables_that_are_printed_and_progress_are_harmless_too(avlet, evil, tmp_path):
    (tmp_path / "t.csv").write_text(f"{EVIL}\n{EVIL}\n".replace("\u2028", ""))
    status, out, err = avlet("roster", "check", evil, tmp_path / "t.csv")
    assert status in (0, 1, 2) and "\x1b" not in out + err and "\u202e" not in out + err
    status, out, err = avlet("render", evil, "--length", 2, "--size", "160x90", "-o", tmp_path / "f.mov")
    assert status == 0 and "\x1b[31m" not in out + err
    status, out, _ = avlet("info", evil, "--json")
    assert json.loads(out)["template"] == EVIL, "JSON is as it is"
