"""Makes a wheel of a package in C++ from its source, as many files at a time as there are processors: setuptools goes one by one.

``python scripts/compile_side_by_side.py SOURCE WHEELS``: SOURCE is the unpacked source, WHEELS the folder for the wheel. Setuptools and
wheel have to be importable.
"""

import inspect
import os
import runpy
import sys
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path

from setuptools._distutils import ccompiler

_GIVEN = list(inspect.signature(ccompiler.CCompiler.compile).parameters)[2:]
"""What distutils' own ``compile`` takes besides the compiler and the sources."""


def compile_side_by_side(self, sources, *several, **named):
    """What distutils' own ``compile`` does, with a thread for each processor: the compilers are processes of their own."""
    given = {**dict(zip(_GIVEN, several, strict=False)), **named}
    folder, defined, headers, debug, before, after, depends = (given.get(name) for name in _GIVEN)
    _, objects, extra, options, build = self._setup_compile(folder, defined, headers, sources, depends, after)
    arguments = self._get_cc_args(options, debug or 0, before)

    def one(made: str) -> None:
        source, suffix = build[made]
        self._compile(made, source, suffix, arguments, extra, options)

    largest_first = sorted((made for made in objects if made in build), key=lambda made: -Path(build[made][0]).stat().st_size)
    with ThreadPoolExecutor(os.cpu_count() or 1) as threads:
        list(threads.map(one, largest_first))
    return objects


if __name__ == "__main__":
    source, wheels = Path(sys.argv[1]).resolve(), Path(sys.argv[2]).resolve()
    ccompiler.CCompiler.compile = compile_side_by_side
    os.chdir(source)
    sys.path.insert(0, str(source))
    sys.argv = ["setup.py", "-q", "bdist_wheel", "--dist-dir", str(wheels)]
    runpy.run_path("setup.py", run_name="__main__")
