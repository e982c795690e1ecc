"""The command line: one module a command, loaded when it is asked for. Each parses, calls the core, writes, exits."""

from __future__ import annotations

import gc
import os
import signal
import sys
from contextlib import suppress
from typing import Any

import click

from lemmar import __version__
from lemmar.basics.errors import IncompleteError, LemmarError, OutputError
from lemmar.basics.registry import Folder
from lemmar.cli._exits import Exit
from lemmar.cli._streams import ERRORS, prepare, say
from lemmar.trees.opening import READ

_FOLDER: Folder[click.Command] = Folder(__name__, __path__, "command")


class _Commands(click.Group):
    """The commands of this folder; each is imported when it is named, or all of them for their help."""

    def list_commands(self, _ctx: click.Context) -> list[str]:
        return list(_FOLDER.names())

    def get_command(self, ctx: click.Context, name: str) -> click.Command | None:
        if name not in self.list_commands(ctx):
            return None
        return _FOLDER.load(name)

    def resolve_command(self, ctx: click.Context, args: list[str]) -> tuple[str | None, click.Command | None, list[str]]:
        name = args[0] if args else ""
        if name and not name.startswith("-") and name not in self.list_commands(ctx):
            from difflib import get_close_matches

            close = get_close_matches(name, self.list_commands(ctx), n=1)
            hint = f"; did you mean {close[0]!r}?" if close else "; 'lemmar --help' lists them"
            raise click.UsageError(f"there is no command {name!r}{hint}", ctx)
        return super().resolve_command(ctx, args)


@click.group(cls=_Commands, context_settings={"help_option_names": ["-h", "--help"], "max_content_width": 100})
@click.version_option(__version__, message="lemmar %(version)s")
def program() -> None:
    """Prove before a release that all clients of a monorepo support the same locales, complete and intact.

    'lemmar demo' writes a monorepo to try things on; 'lemmar audit' is the gate.
    """


def run() -> None:
    """The console command: `main` with the process's own streams and signals, and then the end at once, without freeing a million texts one by one."""
    prepare()
    stopped: list[int] = []  # libraries may swallow the exception, not this

    def stop(number: int, _frame: object) -> None:
        stopped.append(number)
        raise KeyboardInterrupt

    sys.unraisablehook = _unraised
    heard = [number for number in (signal.SIGINT, signal.SIGTERM) if signal.getsignal(number) is not signal.SIG_IGN]
    for number in heard:
        signal.signal(number, stop)
    code: int
    try:
        code = _code()
    except KeyboardInterrupt:
        code = Exit.INTERRUPTED
    for number in heard:
        signal.signal(number, signal.SIG_IGN)
    os._exit(_said(Exit.TERMINATED if signal.SIGTERM in stopped[:1] else Exit.INTERRUPTED if stopped else code))


def _unraised(what: Any) -> None:
    """What Python cannot raise is shown, but an interrupt, which is known."""
    if not isinstance(what.exc_value, KeyboardInterrupt):
        sys.__unraisablehook__(what)


def main() -> None:
    """Runs a command, turns every error into one plain sentence and an exit code. Raises `SystemExit`."""
    for stream in (sys.stdout, sys.stderr):
        if hasattr(stream, "reconfigure"):
            stream.reconfigure(errors=ERRORS)
    sys.exit(_said(_code()))


def _said(code: int) -> int:
    if code in (Exit.INTERRUPTED, Exit.TERMINATED):
        say("terminated; nothing was written" if code == Exit.TERMINATED else "interrupted; nothing was written")
    return int(code)


def _code() -> int:
    """The exit code of the command that was asked for, whose output is written when it is known."""
    READ.clear()
    gc.disable()  # a short life without cycles: collecting costs a fifth of an audit and frees nothing
    try:
        code = int(program.main(prog_name="lemmar", standalone_mode=False) or 0)
        sys.stdout.flush()
    except (click.exceptions.Abort, KeyboardInterrupt):
        return Exit.INTERRUPTED
    except BrokenPipeError:
        return Exit.CLEAR
    except click.ClickException as error:
        with suppress(OSError):
            error.show()
        return Exit.USAGE
    except Exception as error:  # the outermost edge: a sentence for what the user did, a traceback for what we did
        return _explain(error)
    return code


def _explain(error: Exception) -> Exit:
    from lemmar.basics.text import lines, visible

    if isinstance(error, LemmarError):
        for line in lines(str(error)):
            say(f"lemmar: {visible(line)}")
        known = ((IncompleteError, Exit.INCOMPLETE), (OutputError, Exit.OUTPUT))
        return next((code for kind, code in known if isinstance(error, kind)), Exit.USAGE)
    import traceback

    say("lemmar: this is a bug of Lemmar's own; please report it with what follows")
    say("".join(traceback.format_exception(error)), end="")
    return Exit.BUG
