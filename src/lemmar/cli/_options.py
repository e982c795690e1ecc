"""The options that commands share."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from pathlib import Path
from typing import Any, TypeVar

import click

_F = TypeVar("_F", bound=Callable[..., Any])
TABLES = ("text", "json", "csv", "markdown")


def charter(command: _F) -> _F:
    """``--charter PATH``."""
    return click.option(
        "--charter", "charter_path", type=click.Path(path_type=Path, dir_okay=False), metavar="PATH",
        help="The charter. Default: lemmar.toml here or in the nearest folder above.",
    )(command)  # fmt: skip


def check_known(what: str, named: Iterable[str], known: Iterable[str]) -> None:
    """Refuse the first of the *named* that is not *known*.

    Raises UsageError, which says *what* it should be and offers the nearest known name.
    """
    from lemmar.charter.naming import nearest
    from lemmar.errors import UsageError

    among = list(known)
    for name in named:
        if name not in among:
            raise UsageError(f"there is no {what} {name!r}{nearest(name, among)}")


def today(command: _F) -> _F:
    """``--today DATE``."""
    return click.option("--today", metavar="DATE", help="Take this as today's date, for waivers. Default: the day in UTC.")(command)


def output(*forms: str) -> Callable[[_F], _F]:
    """``--format`` with these *forms*, the first being the default, and ``--output FILE``."""

    def add(command: _F) -> _F:
        form = click.option(
            "--format", "form", type=click.Choice(forms), default=forms[0], show_default=True, help="The form of the output."
        )
        file = click.option(
            "-o", "--output", "target", type=click.Path(path_type=Path, dir_okay=False), metavar="FILE", help="Write to FILE instead."
        )
        return form(file(command))

    return add


def loudness(command: _F) -> _F:
    """``-q`` and ``-v``, which `lemmar.cli.writing.remark` looks up."""

    def keep(ctx: click.Context, parameter: click.Parameter, value: bool) -> None:
        ctx.meta[f"lemmar.{parameter.name}"] = value

    quiet = click.option("-q", "--quiet", is_flag=True, expose_value=False, callback=keep, help="Only the result, no remarks.")
    verbose = click.option("-v", "--verbose", is_flag=True, expose_value=False, callback=keep, help="Say on standard error what is done.")
    return quiet(verbose(command))
