"""How much of anything there may be: what is beyond is refused at once, in words with the number; what is within is worked out."""

import json
import time
import zipfile

import msgspec
import pytest

from avlet.command_line.scenes import size_of
from avlet.document.cards.card import Card, Section
from avlet.document.cards.wires import Wire
from avlet.document.faults.checking import check
from avlet.document.fields import CreditsField, TextField, answer_of
from avlet.document.lists.blocks import Names
from avlet.document.metadata import brief
from avlet.document.parts import BallPart, CreditsPart, EchoPart, GroupPart, LampPart, ShapePart, SpacePart, TextPart
from avlet.document.parts.base import Fit, Matte, Place
from avlet.document.solids import Solidity
from avlet.document.template import Frame, Sample, Template
from avlet.errors import AnswerError, DocumentError, StorageError
from avlet.limits import MOST_CHAINED, MOST_DEPTH, MOST_FIELDS, MOST_LETTERS, MOST_PAINTED, MOST_PARTS, MOST_SAMPLES, MOST_WIRES
from avlet.media.timeline import read_cut
from avlet.paint.scene import Scene
from avlet.roster.delivery import LIST, Delivery, read_delivery
from avlet.storage.answer_files import answers_from_file
from avlet.storage.bounded import Clock, bounded
from avlet.storage.package import open_template
from avlet.storage.recovery import lost_work
from avlet.text.fonts import bundled_fonts


def text(part_id, **more):
    return TextPart(id=part_id, name=part_id, **{"text": "Ab", **more})


def shape(part_id, **more):
    return ShapePart(id=part_id, name=part_id, **more)


def nest(depth):
    """Groups within each other, ``depth`` of them, and a text in the last."""
    groups = [GroupPart(id=f"g{n}", name="G", across=None, down=None, group=f"g{n - 1}" if n else None) for n in range(depth)]
    return Template(parts=(*groups, text("t", group=f"g{depth - 1}")))


def echoes(many):
    return Template(parts=(text("t"), *(EchoPart(id=f"e{n}", name="E", of=f"e{n - 1}" if n else "t") for n in range(many))))


def echo_tree(deep):
    """Twice two echoes of what is twice two echoes …: 2 to the power of ``deep`` copies of a text."""
    parts = [text("t")]
    for n in range(deep):
        of = f"g{n - 1}" if n else "t"
        parts.append(GroupPart(id=f"g{n}", name="G", across=None, down=None))
        parts += [EchoPart(id=f"{side}{n}", name="E", of=of, group=f"g{n}") for side in "ab"]
    return Template(parts=tuple(parts))


def mattes(many, **more):
    parts = [shape(f"s{n}", mattes=(Matte(f"s{n - 1}", **more),) if n else ()) for n in range(many)]
    return Template(parts=tuple(parts))


def chain(many):
    return Template(parts=(text("t"), *(text(f"s{n}", across=Place(f"s{n - 1}" if n else "t")) for n in range(many))))


def fits(many):
    parts = [shape(f"s{n}", across=None, down=None, fit=Fit((f"s{n - 1}" if n else "t",))) for n in range(many)]
    return Template(parts=(text("t"), *parts))


def card(fields=1, samples=0, wires=0):
    """A card of numbers, samples that answer the first, and wires from it to shapes."""
    numbers = [{"kind": "number", "id": f"f{n}", "label": f"F{n}"} for n in range(fields)]
    shapes = [json.loads(msgspec.json.encode(shape(f"s{n}"))) for n in range(min(wires, MOST_PARTS))]
    plain = {
        "format": 1, "parts": shapes, "card": {"sections": [{"name": "S", "fields": numbers}]},
        "samples": [{"id": f"s{n}", "name": "S", "answers": {"f0": n % 100}} for n in range(samples)],
        "wires": [{"source": "f0", "target": f"s{n % MOST_PARTS}/{'width' if n < MOST_PARTS else 'height'}"} for n in range(wires)],
    }  # fmt: skip
    return msgspec.convert(plain, Template)


TOO_MUCH = {
    "parts": (Template(parts=tuple(text(f"t{n}") for n in range(MOST_PARTS + 1))), f"parts: {MOST_PARTS + 1:,} parts, at most {MOST_PARTS:,}"),
    "groups": (nest(MOST_DEPTH), f"parts: {MOST_DEPTH + 1} groups, echoes and mattes .* down from G, at most {MOST_DEPTH}"),
    "echoes": (echoes(MOST_DEPTH), f"{MOST_DEPTH + 1} groups, echoes and mattes"),
    "echo tree": (echo_tree(20), "letters, copies, shadows, solid bodies and layers .* at most"),
    "mattes": (mattes(MOST_DEPTH + 1), f"{MOST_DEPTH + 1} groups, echoes and mattes"),
    "soft mattes": (mattes(MOST_DEPTH - 1, soft=500.0), "letters, copies, shadows, solid bodies and layers"),
    "mattes of one": (Template(parts=(shape("s"), shape("t", mattes=(Matte("s"),) * 17))), r"parts\[1\].mattes: 17 mattes of t, at most 16"),
    "places": (chain(MOST_CHAINED), f"{MOST_CHAINED + 1} parts follow each other in one chain"),
    "fits": (fits(MOST_CHAINED), f"{MOST_CHAINED + 1} parts follow each other"),
    "fields": (card(fields=20_000), f"card: 20,000 fields, at most {MOST_FIELDS}"),
    "samples": (card(samples=2_000), f"samples: 2,000 samples, at most {MOST_SAMPLES}"),
    "wires": (card(wires=MOST_WIRES + 1), f"wires: {MOST_WIRES + 1:,} wires, at most {MOST_WIRES:,}"),
    "letters": (Template(parts=(text("t", text="a" * (MOST_LETTERS + 1)),)), f"text: {MOST_LETTERS + 1:,} letters in t"),
    "frame": (Template(frame=Frame(16_384, 16_384)), "16,384 × 16,384 px, 268,435,456 px in all, at most 67,108,864"),
    "category": (Template(category="x" * 10_001), "category: 10,001 letters"),
}  # fmt: skip


@pytest.mark.parametrize("what", TOO_MUCH)
def test_what_is_too_much_is_refused_with_the_number(what):
    template, words = TOO_MUCH[what]
    with pytest.raises(DocumentError, match=words):
        check(template)


WITHIN = {
    "groups": nest(MOST_DEPTH - 1), "echoes": echoes(MOST_DEPTH - 1), "mattes": mattes(MOST_DEPTH), "places": chain(MOST_CHAINED - 1),
    "fits": fits(MOST_CHAINED - 1), "echo tree": echo_tree(10), "fields": card(fields=MOST_FIELDS), "samples": card(samples=MOST_SAMPLES),
    "wires": card(wires=MOST_WIRES), "parts": Template(parts=tuple(text(f"t{n}") for n in range(MOST_PARTS))),
    "letters": Template(parts=(text("t", text="ab " * (MOST_LETTERS // 3)),)),
}  # fmt: skip


@pytest.mark.parametrize("what", WITHIN)
def test_what_is_within_is_laid_out_and_painted(what):
    template = WITHIN[what]
    check(template)
    scene = Scene(template, bundled_fonts())
    assert scene.picture(60, 160, 90).shape == (90, 160, 4)


def test_a_circle_of_echoes_groups_or_places_is_still_told_as_one():
    parts = (text("a", across=Place("b")), text("b", across=Place("a")))
    assert list(check(Template(parts=parts)).parts) == list(parts), "layout tells that"
    with pytest.raises(DocumentError, match="member of itself"):
        check(Template(parts=tuple(GroupPart(id=i, name=i, across=None, down=None, group=g) for i, g in (("a", "b"), ("b", "a")))))


def test_px_have_limits_that_are_said(tmp_path):
    plain = {"format": 1, "parts": [{"kind": "text", "id": "t", "name": "T", "way_in": [{"x": 1e12}]}]}
    with zipfile.ZipFile(tmp_path / "a.avlet", "w") as archive:
        archive.writestr("template.json", json.dumps(plain))
    with pytest.raises(StorageError, match=r"parts\[0\].way_in\[0\].x: expected a number of at most 1,000,000"):
        open_template(tmp_path / "a.avlet")


def test_a_document_that_is_too_large_is_not_decoded(tmp_path, monkeypatch):
    monkeypatch.setattr("avlet.storage.template_json.MOST_DOCUMENT", 100)
    with zipfile.ZipFile(tmp_path / "a.avlet", "w") as archive:
        archive.writestr("template.json", '{"format":1,"category":"' + "x" * 100 + '"}')
    with pytest.raises(StorageError, match="at most 0 MB"):
        open_template(tmp_path / "a.avlet")


@pytest.mark.parametrize("words", ["16384x16384", "16000x9000"])
def test_a_film_that_is_too_large_is_refused_before_anything_is_painted(words):
    with pytest.raises(AnswerError, match="px in all; at most 67,108,864"):
        size_of(words, Frame())


# Work that is bounded


def test_bounded_work_gives_its_answer_or_its_error():
    assert bounded(lambda: [1, {"a": 2}], "a") == [1, {"a": 2}]
    for error in (StorageError("so it is"), ValueError("so")):
        with pytest.raises(type(error), match="so"):
            bounded(lambda error=error: (_ for _ in ()).throw(error), "a")


def test_what_takes_too_long_or_too_much_is_left():
    begun = time.monotonic()
    with pytest.raises(StorageError, match=r"“a.avlet” takes longer than 0.3 seconds"):
        bounded(lambda: time.sleep(60), "a.avlet", seconds=0.3)
    assert time.monotonic() - begun < 20
    with pytest.raises(StorageError, match="needs more than 32 MB"):
        bounded(lambda: len(bytearray(1 << 30)), "a.avlet", most=32 << 20)
    with pytest.raises(StorageError, match="needs more than"):
        bounded(lambda: __import__("os")._exit(3), "a.avlet")


def test_what_counts_is_cpu_and_not_a_busy_machines_time():
    assert bounded(lambda: time.sleep(1.6) or "done", "a.avlet", seconds=0.5) == "done", "waiting is no work"
    begun = time.monotonic()
    with pytest.raises(StorageError, match=r"takes longer than 0.5 seconds"):
        bounded(lambda: [None for _ in iter(int, 1)], "a.avlet", seconds=0.5)
    assert time.monotonic() - begun < 6.5, "ended by its CPU, not by the wall's 7.5 s"


def test_a_check_looks_at_no_further_sample_when_its_time_is_over(avlet, monkeypatch, tmp_path):
    template = card(samples=5)
    with zipfile.ZipFile(tmp_path / "a.avlet", "w") as archive:
        archive.writestr("template.json", msgspec.json.encode(template))
    assert not Clock().is_over and Clock(-1).is_over
    monkeypatch.setattr("avlet.review.stranger.Clock", lambda: Clock(-1))
    status, out, err = avlet("check", tmp_path / "a.avlet")
    assert status == 1 and "Only 0 of 6 samples were looked at" in out + err


def test_what_is_painted_counts_shadows_by_their_blur():
    from avlet.document.faults.crowding import crowding
    from avlet.document.looks.paints import Shadow

    letters = "a" * (MOST_PAINTED // 25)
    for blur, over in ((100.0, False), (500.0, True)):
        many = (text("t", text=letters, shadows=(Shadow(blur=blur),) * 3), text("u", text=letters, shadows=(Shadow(blur=blur),) * 3))
        assert any("shadows" in fault for fault in crowding(Template(parts=many))) == over


# Spaces, lists, values


def space(balls=0, lamps=0, words="", inner=False, solid=True):
    """A space with balls, lamps and solid words; with ``inner`` they lie in a group within it."""
    group = "g" if inner else "s"
    parts = [SpacePart(id="s", name="S", across=None, down=None)]
    parts += [GroupPart(id="g", name="G", across=None, down=None, group="s")] if inner else []
    parts += [BallPart(id=f"b{n}", name="B", group=group) for n in range(balls)]
    parts += [LampPart(id=f"l{n}", name="L", group="s") for n in range(lamps)]
    parts += [text("t", text=words, group=group, solid=Solidity() if solid else None)] if words else []
    return Template(parts=tuple(parts))


@pytest.mark.parametrize(
    ("most", "more"),
    [
        ({"balls": 249}, {"balls": 251}), ({"balls": 72, "lamps": 4}, {"balls": 75, "lamps": 4}), ({"words": "a" * 3_990}, {"words": "a" * 4_005}),
        ({"words": "a" * 19_999, "solid": False}, {"words": "a" * 3_000, "lamps": 2}), ({"balls": 249, "inner": True}, {"balls": 251, "inner": True}),
        ({"balls": 125, "words": "a" * 1_990}, {"balls": 125, "words": "a" * 2_010}),
    ],
)  # fmt: skip
def test_bodies_and_letters_of_a_space_are_weighed_with_its_lamps(most, more):
    check(space(**most))
    with pytest.raises(DocumentError, match=r"solid bodies and layers to be painted .* at most 200,000 are possible"):
        check(space(**more))


def test_balls_outside_of_a_space_are_discs():
    check(Template(parts=tuple(BallPart(id=f"b{n}", name="B") for n in range(900))))


def test_answers_that_make_too_much_are_refused_as_answers():
    field = TextField(id="w", label="W", longest=20_000)
    template = msgspec.structs.replace(
        space(words="a"),
        card=Card(sections=(Section(name="S", fields=(field,)),)),
        wires=(Wire("w", "t/text"),),
        samples=(Sample("x", "X", {"w": "Bo"}),),
    )
    check(template)
    with pytest.raises(AnswerError, match=r"With these answers .* Give shorter ones"):
        Scene(template, bundled_fonts(), {"w": "a" * 4_100})
    assert Scene(template, bundled_fonts(), {"w": "a" * 2_000}).rest
    flat = msgspec.structs.replace(template, parts=(*template.parts[:1], msgspec.structs.replace(template.parts[1], solid=None)))
    assert Scene(flat, bundled_fonts(), {"w": "a" * 4_100}).rest


def names(count, of=1):
    return tuple(Names(names=("Ann Berg",) * count) for _ in range(of))


def listed(parts=(), default=(), samples=()):
    field = CreditsField(id="l", label="L", default=default)
    return Template(
        parts=tuple(CreditsPart(id=f"c{n}", name="C", blocks=blocks) for n, blocks in enumerate(parts)), card=Card(sections=(Section(name="S", fields=(field,)),)),
        samples=tuple(Sample(f"s{n}", "S", {"l": answer_of(blocks)}) for n, blocks in enumerate(samples)),
    )  # fmt: skip


@pytest.mark.parametrize("how", ["parts", "default", "samples", "together"])
def test_lines_of_all_lists_are_counted_together(monkeypatch, how):
    monkeypatch.setattr("avlet.document.faults.crowding.MOST_LINES", 30)

    def template(lines):
        part = lines // 3
        match how:
            case "parts":
                return listed(parts=(names(part), names(lines - part)))
            case "default":
                return listed(default=names(lines))
            case "samples":
                return listed(samples=(names(part), names(lines - part)))
        return listed((names(part),), names(part), (names(lines - 2 * part),))

    check(template(30))
    with pytest.raises(DocumentError, match="31 lines of credits in all lists and samples, at most 30"):
        check(template(31))
    monkeypatch.setattr("avlet.document.faults.crowding.MOST_LINES", 100)
    monkeypatch.setattr("avlet.document.faults.crowding.MOST_LIST_LETTERS", 31 * 8 - 1)
    with pytest.raises(DocumentError, match="248 letters of credits"):
        check(template(31))
    check(template(30))


def test_a_list_that_is_answered_has_the_same_limits(monkeypatch):
    field = CreditsField(id="l", label="L")
    monkeypatch.setattr("avlet.document.fields.credits.MOST_LINES", 5)
    assert not field.fault(answer_of(names(5)))
    assert "6 lines, at most 5" in field.fault(answer_of(names(3, 2)))
    monkeypatch.setattr("avlet.document.fields.credits.MOST_LIST_LETTERS", 39)
    assert "40 letters, at most 39" in field.fault(answer_of(names(5)))
    assert field.fault([3, None, {"names": 3}, {"names": [3]}]), "anything may be asked"


def test_json_of_too_many_values_is_not_decoded(monkeypatch, tmp_path):
    empties = '{"format":1,"samples":[{"id":"x","name":"X","answers":{"a":[' + ",".join(["[]"] * 40) + "]}}]}"
    monkeypatch.setattr("avlet.storage.reading.MOST_VALUES", 60)
    with zipfile.ZipFile(tmp_path / "a.avlet", "w") as archive:
        archive.writestr("template.json", empties)
    with pytest.raises(StorageError, match=r"has 87 values, at most 60 are possible"):
        open_template(tmp_path / "a.avlet")
    (tmp_path / "a.json").write_text(empties)
    with pytest.raises(StorageError, match=r"“a.json” has 87 values"):
        answers_from_file(Template(), tmp_path / "a.json")
    (tmp_path / "a.otio").write_text(empties)
    with pytest.raises(StorageError, match=r"“a.otio” has 87 values"):
        read_cut(tmp_path / "a.otio")
    (tmp_path / LIST).write_text(empties)
    assert read_delivery(tmp_path) == Delivery()
    (tmp_path / "kept.json").write_text(empties)
    (lost,) = lost_work(tmp_path, {})[:1]
    assert lost.document is None and "damaged" in lost.fault


def test_a_long_value_is_told_in_short_without_writing_it_all():
    begun = time.process_time()
    assert brief([[]] * 30_000_000).startswith("[[], []") and time.process_time() - begun < 1
    assert brief({n: n for n in range(40)}).startswith("[0, 1") and brief([1, 2]) == "[1, 2]"
