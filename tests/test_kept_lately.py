"""What is kept only to be quick: within its limit, whoever asks, and gone where much is held."""

import random
from concurrent.futures import ThreadPoolExecutor

import pytest
from conftest import DEMO

from avlet import giving_back
from avlet.giving_back import ease
from avlet.kept_lately import KeptLately
from avlet.paint import kept_soft, outlines, spaces, wheels
from avlet.paint.scene import Scene
from avlet.storage.package import open_template
from avlet.text import setting, shaping


def test_what_was_asked_for_longest_ago_goes_first():
    kept = KeptLately(10, len)
    for key in "abc":
        assert kept.put(key, key * 3) == key * 3
    assert kept.get("a") == "aaa" and kept.weight == 9
    kept.put("d", "dd")
    assert kept.get("b") is None and (kept.get("a"), kept.get("c"), kept.get("d")) == ("aaa", "ccc", "dd") and kept.weight == 8


def test_the_last_one_stays_however_large_and_what_is_put_again_counts_once():
    kept = KeptLately(10, len)
    kept.put("a", "aaaa")
    kept.put("b", "b" * 99)
    assert len(kept) == 1 and kept.get("b") and kept.weight == 99
    kept.put("b", "bb")
    kept.put("b", "bbb")
    assert (len(kept), kept.weight) == (1, 3)
    kept.put("c", "c" * 7)
    assert (len(kept), kept.weight) == (2, 10), "up to the limit and with it"


def test_several_threads_ask_at_once():
    kept = KeptLately(50, len)

    def work(seed):
        rng = random.Random(seed)
        for _ in range(4_000):
            key = rng.randrange(40)
            found = kept.get(key)
            assert found is None or found == "x" * (key + 1)
            kept.put(key, "x" * (key + 1))
            if rng.random() < 0.01:
                kept.clear()

    with ThreadPoolExecutor(4) as pool:
        list(pool.map(work, range(4)))
    assert 0 <= kept.weight <= 50 and kept.weight == sum(len(kept.get(key) or "") for key in range(40))


@pytest.mark.parametrize("name", ["rising-word", "hectares", "shadow-strap"])
def test_where_much_is_held_all_of_it_goes_and_pictures_are_the_same(name):
    opened = open_template(DEMO / f"{name}.avlet")
    scene = Scene(opened.template, opened.book)
    before = [scene.picture(frame) for frame in (9, 40)]
    assert outlines.glyph_path.cache_info().currsize and shaping.shape_line.cache_info().currsize
    ease()
    assert not any(len(one) or one.weight for one in (kept_soft._kept, wheels._kept, spaces._pictures))
    for one in (outlines.glyph_path, outlines._outliner, shaping._extents, shaping.shape_line, setting._kept, wheels._standing):
        assert one.cache_info().currsize == 0, one.__name__
    assert all((scene.picture(frame) == picture).all() for frame, picture in zip((9, 40), before, strict=True))


def test_what_is_named_is_let_go_of(monkeypatch):
    monkeypatch.setattr(giving_back, "_quick", [])
    kept = KeptLately(10, len)
    kept.put("a", "aaa")
    ease()
    assert len(kept) == 0
