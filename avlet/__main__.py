"""Where Avlet starts, as a command and as a module."""

import gc
import os
import signal
import sys

from avlet import __version__

# Nothing here multiplies large matrices: threads for that would take a tenth of a second of each process's start.
os.environ.setdefault("OPENBLAS_NUM_THREADS", "1")
signal.signal(signal.SIGINT, signal.SIG_DFL)  # until there is something to clean up, an interruption just ends it


def main() -> None:
    """The installed command. Its version is told before anything else is imported."""
    if sys.argv[1:] == ["--version"]:
        sys.stdout.write(f"avlet {__version__}\n")
        return
    gc.disable()  # nothing that is imported goes away again, and looking for what does would take a seventh of the start
    from avlet.command_line.main import entry

    gc.freeze()
    gc.enable()
    entry()


if __name__ == "__main__":
    main()
