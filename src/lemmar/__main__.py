"""The console command, and ``python -m lemmar``."""

from __future__ import annotations

import os
import signal


def entry() -> None:
    """Runs the command line; a signal that comes before it is ready ends the process at once."""
    for number in (signal.SIGINT, signal.SIGTERM):
        if signal.getsignal(number) is not signal.SIG_IGN:
            signal.signal(number, lambda number, _frame: os._exit(128 + number))
    from lemmar.cli import run

    run()


if __name__ == "__main__":
    entry()
