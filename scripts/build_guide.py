"""Builds the guide as a site into the wheel, strictly: a dead link or a missing picture ends the build. Hatchling calls it."""

import subprocess
import sys
import tempfile
from pathlib import Path
from typing import Any

from hatchling.builders.hooks.plugin.interface import BuildHookInterface


class GuideSite(BuildHookInterface):  # type: ignore[type-arg]
    """The site goes into the package as ``avlet/site``; an editable install reads the pages where they are and needs none."""

    def initialize(self, version: str, build_data: dict[str, Any]) -> None:
        """Build the site and have it included."""
        if version == "editable":
            return
        self.made = tempfile.TemporaryDirectory(prefix="avlet-guide-")
        site = Path(self.made.name) / "site"
        command = [sys.executable, "-m", "mkdocs", "build", "--strict", "--quiet", "--site-dir", str(site)]
        subprocess.run(command, cwd=self.root, check=True)
        build_data["force_include"][str(site)] = "avlet/site"

    def finalize(self, version: str, build_data: dict[str, Any], artifact_path: str) -> None:
        """What was built is in the wheel now."""
        if version != "editable":
            self.made.cleanup()
