"""Starts: what one process for many jobs saves, and what a verb's start comes to."""

import json
import subprocess
import sys
import tempfile
import time
from pathlib import Path

from benchmarks.measure import DEMO, best

_JOBS, _SINGLE = 200, 6
_TEMPLATES = ("name-strap", "place-tag", "guest-strap", "side-rule", "cut-out-title")


def _avlet(*words: str, **more: object) -> None:
    subprocess.run([sys.executable, "-m", "avlet", *words], check=True, capture_output=True, **more)  # type: ignore[call-overload]


def batch_against_a_loop() -> float:
    """Stills in one batch against the same by single calls; how many times as many in the same time."""
    with tempfile.TemporaryDirectory() as folder:
        jobs = [
            {
                "do": "still",
                "template": str(DEMO / f"{_TEMPLATES[n % 5]}.avlet"),
                "size": "480x270",
                "output": f"{folder}/{n}.png",
                "at": 20 + n % 40,
            }
            for n in range(_JOBS)
        ]
        begun = time.perf_counter()
        _avlet("batch", "-", input="".join(json.dumps(job) + "\n" for job in jobs).encode())
        many = (time.perf_counter() - begun) / _JOBS
        begun = time.perf_counter()
        for job in jobs[:_SINGLE]:
            _avlet("still", str(job["template"]), "--size", "480x270", "--at", str(job["at"]), "-o", f"{folder}/single.png")
        single = (time.perf_counter() - begun) / _SINGLE
    print(f"batch: {many * 1000:.0f} ms a still, {single * 1000:.0f} ms by single calls: {single / many:.1f} times as many")
    return many / single


def telling_the_version() -> float:
    """``avlet --version`` against a start of Python that does nothing."""
    mine, bare = best(lambda: _avlet("--version"), lambda: subprocess.run([sys.executable, "-c", ""], check=True), rounds=5)
    print(f"--version: {mine * 1000:.0f} ms, Python alone {bare * 1000:.0f} ms")
    return mine / 0.15


def info() -> float:
    """``avlet info`` of the name strap."""
    path = Path(DEMO / "name-strap.avlet")
    (mine,) = best(lambda: _avlet("info", str(path), "--json"), rounds=5)
    print(f"info: {mine:.2f} s")
    return mine / 0.5
