"""Avlet as it is installed: the wheel has all that ships, and starts and paints without the checkout."""

import os
import subprocess
import sys
import zipfile
from pathlib import Path

import pytest

ROOT = Path(__file__).resolve().parent.parent


@pytest.mark.soak
def test_the_wheel_has_all_that_ships_and_renders_by_itself(tmp_path):
    """Built as pip builds it (which fetches what builds it), unpacked elsewhere, run from elsewhere."""
    pip = [sys.executable, "-m", "pip", "--quiet", "--disable-pip-version-check"]
    subprocess.run([*pip, "wheel", "--no-deps", "--wheel-dir", str(tmp_path), str(ROOT)], check=True)
    (wheel,) = tmp_path.glob("*.whl")
    names = set(zipfile.ZipFile(wheel).namelist())
    for shipped in (
        "demo/the-long-tide.otio",
        "guide/index.md",
        "site/guide/five-minutes.html",
        "screenshots/welcome.png",
        "icons/avlet.svg",
    ):
        assert f"avlet/{shipped}" in names
    assert sum(name.startswith("avlet/tiles/") for name in names) == 38
    assert not any("node_modules" in name or name.startswith("tests/") for name in names)
    target = tmp_path / "there"
    subprocess.run([*pip, "install", "--no-deps", "--target", str(target), str(wheel)], check=True)
    environment = {**os.environ, "PYTHONPATH": str(target)}
    where = subprocess.run(
        [sys.executable, "-c", "import avlet; print(avlet.__file__)"],
        env=environment,
        cwd=tmp_path,
        check=True,
        capture_output=True,
        text=True,
    )
    assert where.stdout.startswith(str(target))
    out = tmp_path / "still.png"
    still = [sys.executable, "-m", "avlet", "still", str(target / "avlet" / "demo" / "name-strap.avlet"), "-o", str(out)]
    subprocess.run(still, env=environment, cwd=tmp_path, check=True, capture_output=True)
    assert out.stat().st_size > 5_000
