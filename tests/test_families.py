"""Families: six templates of one look each. They prove clean, their bars meet and lean alike, and follow one house."""

import math

import msgspec
import numpy as np
import pytest
from conftest import a_share_of

from avlet.document.house import PALETTE
from avlet.document.looks.forms import SlantedBar
from avlet.document.parts import PatternPart, ShapePart
from avlet.document.starts import FAMILIES, STARTS
from avlet.document.template import Frame
from avlet.layout.holding import hold
from avlet.paint.scene import Scene
from avlet.review.awkward import rows_of
from avlet.review.proof import prove
from avlet.storage.thumbnail import kept_thumbnail_png, thumbnail_png
from avlet.text.fonts import bundled_fonts

replace = msgspec.structs.replace
KINDS = ["name", "title", "place", "count", "credits", "sign-off"]
EACH = [(family, kind) for family in FAMILIES for kind in KINDS]


@pytest.mark.parametrize("family", FAMILIES)
def test_a_family_has_its_six(family):
    assert list(FAMILIES[family]) == KINDS
    made = [FAMILIES[family][kind](Frame()) for kind in KINDS]
    houses = {tuple((e.name, e.colour) for e in template.palette) for template in made}
    assert len(houses) == 1 and next(iter(houses)), "one house"
    for kind, template in zip(KINDS, made, strict=True):
        assert template.name == f"{family} {kind}" and template.category and family.lower() in template.keywords and template.card.note
        assert len(template.samples) == 4 and len({str(s.answers) for s in template.samples}) == 4
        assert 1 <= len(template.card.fields) <= 8 and all(f.hint for f in template.card.fields)
        assert f"{family} {kind}" in STARTS


@pytest.mark.parametrize("every", [pytest.param(1, marks=pytest.mark.soak), 9])
@pytest.mark.parametrize("each", a_share_of(EACH, 5))
def test_each_proves_without_a_break(each, every):
    """Samples and awkward answers, or every ninth of them and the widest, against every check; upright and square were proved by hand."""
    family, kind = each
    template = hold(FAMILIES[family][kind](Frame(480, 270)))
    rows = [row for n, row in enumerate(rows_of(template)) if n % every == 0 or row.name in ("Longest", "Widest letters")]
    found = prove(template, bundled_fonts(), rows=rows, workers=0)
    assert [f.words for f in found.open if f.level == "breaks"] == []


@pytest.mark.parametrize(("family", "kind"), EACH)
def test_a_colour_of_the_house_that_changes_changes_all_that_is_painted_in_it(family, kind):
    """Nothing keeps the old colour: each house colour's own px are gone once it is another."""
    template = FAMILIES[family][kind](Frame(960, 540))
    frame = template.length // 2
    for entry in template.palette:
        old = np.array([int(entry.colour[n : n + 2], 16) for n in (1, 3, 5)])
        if not any(w.source == f"{PALETTE}/{entry.id}" for w in template.wires):
            continue
        changed = replace(template, palette=tuple(replace(e, colour="#00FF00") if e.id == entry.id else e for e in template.palette))
        before, after = (Scene(hold(t), bundled_fonts()).picture(frame) for t in (template, changed))
        solid = (before[..., 3] == 255) & (before[..., :3] == old).all(2)
        assert not ((after[..., :3] == old).all(2) & solid).any(), entry.name


@pytest.mark.parametrize("kind", ["name", "sign-off"])
@pytest.mark.parametrize("sample", [0, 1, 2, 3])
def test_the_bars_of_signal_meet_without_a_gap_and_lean_alike(kind, sample):
    template = FAMILIES["Signal"][kind](Frame())
    scene = Scene(template, bundled_fonts(), template.samples[sample].answers)
    upper, lower = scene.rest.parts["bar"].box, scene.rest.parts["role-bar" if kind == "name" else "next-bar"].box
    assert upper.bottom == pytest.approx(lower.y, abs=0.5)
    lean = math.tan(math.radians(13))
    assert lower.x + lean * lower.h == pytest.approx(upper.x, abs=0.5), "the lower bar's edge goes on from the upper one's"
    forms = {p.form for p in template.parts if isinstance(p, ShapePart | PatternPart) and isinstance(p.form, SlantedBar)}
    assert forms == {SlantedBar(13.0, "degrees")}


@pytest.mark.parametrize("sample", [0, 1, 2, 3])
def test_words_stay_within_their_slanted_bar(sample):
    """All ink of a name lies over its bar's own px, however many lines it has."""
    template = FAMILIES["Signal"]["name"](Frame())
    scene = Scene(template, bundled_fonts(), template.samples[sample].answers)
    ink, bar = scene.rest.parts["name"].ink, scene.rest.parts["bar"].box
    lean = math.tan(math.radians(13))
    assert ink.x >= bar.x + lean * (bar.bottom - ink.bottom) + 8 and ink.right <= bar.right - lean * (ink.bottom - bar.y) - 8


def test_a_tile_is_painted_once_and_kept_by_what_it_is_made_of(monkeypatch):
    template = FAMILIES["Signal"]["place"](Frame())
    assert kept_thumbnail_png(template, bundled_fonts()) == thumbnail_png(template, bundled_fonts())
    monkeypatch.setattr("avlet.storage.thumbnail.thumbnail_png", lambda *_: pytest.fail("it is kept"))
    kept_thumbnail_png(template, bundled_fonts())
    with pytest.raises(pytest.fail.Exception):
        kept_thumbnail_png(replace(template, length=99), bundled_fonts())


@pytest.mark.parametrize("sample", [0, 1, 2, 3])
def test_the_hairline_of_ledger_is_as_long_as_the_ink_of_its_name(sample):
    template = FAMILIES["Ledger"]["name"](Frame())
    rest = Scene(template, bundled_fonts(), template.samples[sample].answers).rest.parts
    line, ink = rest["hairline"].box, rest["name"].ink
    assert (line.x, line.w) == (pytest.approx(ink.x, abs=0.01), pytest.approx(ink.w, abs=0.01))
    assert line.y > ink.bottom - 12 and line.bottom < rest["role"].ink.y


@pytest.mark.parametrize(("kind", "part"), [("name", "family"), ("sign-off", "thanks")])
@pytest.mark.parametrize("sample", [0, 1, 2, 3])
def test_echoes_of_chalk_say_the_same_one_step_on_and_one_down(kind, part, sample):
    template = FAMILIES["Chalk"][kind](Frame())
    rest = Scene(template, bundled_fonts(), template.samples[sample].answers).rest.parts
    first, (one, two) = rest[part], (rest[f"{part}-echo-{n}"] for n in (1, 2))
    for n, echo in ((1, one), (2, two)):
        step = template.part(part).size / 9.6 * n
        assert echo.words.texts[0].text == first.words.texts[0].text
        assert (echo.ink.x - first.ink.x, echo.ink.y - first.ink.y) == (pytest.approx(step, abs=0.02), pytest.approx(step, abs=0.02))


@pytest.mark.parametrize("kind", ["title", "place"])
def test_through_cut_outs_of_chalk_the_picture_shows_darkened(kind):
    """Within the bar each px is chalk, or slate that two thirds of the picture shows through: never chalk with chalk letters."""
    template = FAMILIES["Chalk"][kind](Frame(960, 540))
    scene = Scene(template, bundled_fonts())
    picture, bar = scene.picture(60), scene.rest.parts["bar"].box
    inside = picture[round(bar.y) + 8 : round(bar.bottom) - 8, round(bar.x) + 8 : round(bar.right) - 8]
    cut = np.abs(inside[..., 3].astype(int) - round(255 * 0.66)) <= 1
    assert 0.08 < cut.mean() < 0.6 and ((inside[..., 3] == 255) | cut).mean() > 0.8
