"""The console command, and ``python -m lemmar``."""

import _signal  # type: ignore[import-not-found]  # the module `signal` takes long enough to load to be interrupted itself
import os


def _end(number: int, _frame: object) -> None:
    os._exit(128 + number)


if _signal.getsignal(_signal.SIGINT) is _signal.default_int_handler:  # before anything else is loaded; not in a host of its own
    for _number in (_signal.SIGINT, _signal.SIGTERM):
        if _signal.getsignal(_number) is not _signal.SIG_IGN:
            _signal.signal(_number, _end)


def entry() -> None:
    """Runs the command line; a signal that came before it is ready has ended the process at once."""
    from lemmar.cli import run

    run()


if __name__ == "__main__":
    entry()
