"""Where Avlet starts, as a command and as a module."""

import gc
import signal

signal.signal(signal.SIGINT, signal.SIG_DFL)  # until there is something to clean up, an interruption just ends it
gc.disable()  # nothing that is imported goes away again, and looking for what does would take a seventh of the start
from avlet.command_line.templates import main  # noqa: E402

gc.freeze()
gc.enable()

if __name__ == "__main__":
    main()
