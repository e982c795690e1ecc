"""The command line. Its modules are commands, one file each, loaded when asked for; each parses, calls the core, writes, exits."""

from __future__ import annotations

import gc
import os
import sys

import click

from lemmar import __version__
from lemmar.cli._exits import Exit
from lemmar.errors import IncompleteError, LemmarError
from lemmar.registry import Folder

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


def entry() -> None:
    """The console command: `main`, and then the end at once, without freeing a million texts one by one."""
    try:
        main()
    except SystemExit as leaving:
        sys.stderr.flush()
        os._exit(leaving.code if isinstance(leaving.code, int) else 1)


def main() -> None:
    """Runs a command, turns every error into one plain sentence and an exit code."""
    gc.disable()  # a short life without cycles: collecting costs a fifth of an audit and frees nothing
    for stream in (sys.stdout, sys.stderr):
        if hasattr(stream, "reconfigure"):
            stream.reconfigure(errors="backslashreplace")
    try:
        code = program.main(standalone_mode=False)
    except click.exceptions.Abort:
        code = Exit.INTERRUPTED
    except click.ClickException as error:
        error.show()
        code = Exit.USAGE
    except KeyboardInterrupt:
        code = Exit.INTERRUPTED
    except BrokenPipeError:
        code = Exit.CLEAR
    except Exception as error:  # the outermost edge: a sentence for what the user did, a traceback for what we did
        code = _explain(error)
    if code == Exit.INTERRUPTED:
        print("interrupted; nothing was written", file=sys.stderr)
    _leave(int(code or 0))


def _explain(error: Exception) -> Exit:
    from lemmar.text import lines, visible

    if isinstance(error, LemmarError):
        for line in lines(str(error)):
            print(f"lemmar: {visible(line)}", file=sys.stderr)
        return Exit.INCOMPLETE if isinstance(error, IncompleteError) else Exit.USAGE
    import traceback

    print("lemmar: this is a bug of Lemmar's own; please report it with what follows", file=sys.stderr)
    traceback.print_exception(error)
    return Exit.BUG


def _leave(code: int) -> None:
    """Exits with *code*, also where whoever read the output has gone."""
    try:
        sys.stdout.flush()
    except BrokenPipeError:
        os.dup2(os.open(os.devnull, os.O_WRONLY), sys.stdout.fileno())
    sys.exit(code)
