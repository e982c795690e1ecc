"""The options that commands share."""

from __future__ import annotations

import os
from collections.abc import Callable
from functools import wraps
from pathlib import Path
from typing import TYPE_CHECKING, Any, TypeVar

import click

if TYPE_CHECKING:
    from click.shell_completion import CompletionItem

    from lemmar.charter.origins import Origin
    from lemmar.trees.known import KnownTree

    _Type = click.ParamType[str]
else:  # of older versions it is not generic
    _Type = click.ParamType
_F = TypeVar("_F", bound=Callable[..., Any])
Decorator = Callable[[Callable[..., Any]], Callable[..., Any]]


def charter(command: _F) -> _F:
    """``--charter PATH``, and ``--at REVISION``, which `origin` looks up."""
    path = click.option(
        "--charter", "charter_path", type=PathName(path_type=Path, dir_okay=False), metavar="PATH",
        help="The charter: a file, or REVISION:PATH for that of a git revision. Default: lemmar.toml here or in the nearest folder above.",
    )  # fmt: skip
    return path(at(command))


def at(command: _F) -> _F:
    """``--at REVISION``."""
    return click.option(
        "--at", metavar="REVISION", expose_value=False, callback=_keep, help="Look at a git revision instead of the files on disk."
    )(command)


def origin(charter_path: Path | None) -> Origin:
    """Where the charter and the tree come from that a command was given. Raises `TreeError`, `UsageError`."""
    from lemmar.charter.file import JOURNAL
    from lemmar.charter.origins import origin as whence
    from lemmar.cli._showing import here

    found = whence(charter_path, asked_for("at"), here())
    if found.at is None and os.path.lexists(found.file.root / JOURNAL):
        from lemmar.cli._writing import remark
        from lemmar.work.writing import recover

        words = recover(found.file.root)
        if words is not None:
            remark(words)
        found = whence(charter_path, asked_for("at"), here())
    return found


def tree_of(folder: Path) -> KnownTree:
    """The tree in *folder*: on disk, or of the revision that was asked for. Raises `TreeError`."""
    from lemmar.charter.origins import folder_at
    from lemmar.trees.folder import FolderTree

    revision = asked_for("at")
    return FolderTree(folder) if revision is None else folder_at(folder, revision)


def asked_for(option: str) -> Any:
    """What was given for an option that is looked up; None where nothing was."""
    return click.get_current_context().meta.get(f"lemmar.{option}")


def group(name: str, kind: Callable[..., Any], *options: Decorator) -> Decorator:
    """The *options* of a command, which gets them as one value of the *kind*, a named tuple of theirs, under that *name*."""
    fields = kind._fields  # type: ignore[attr-defined]

    def add(command: Callable[..., Any]) -> Callable[..., Any]:
        @wraps(command)
        def with_group(**given: Any) -> Any:
            return command(**{name: kind(*(given.pop(field) for field in fields))}, **given)

        found: Callable[..., Any] = with_group
        for option in reversed(options):
            found = option(found)
        return found

    return add


def cache(command: _F) -> _F:
    """``--cache DIR`` and ``--no-cache``, which `lemmar.cli.caching.opened` looks up."""
    folder = click.option(
        "--cache", "cache", type=PathName(path_type=Path, file_okay=False), metavar="DIR", expose_value=False, callback=_keep,
        help="Cache folder. Default: the user's.",
    )  # fmt: skip
    none = click.option("--no-cache", is_flag=True, expose_value=False, callback=_keep, help="Neither read nor write the cache.")
    return folder(none(command))


def today(command: _F) -> _F:
    """``--today DATE``."""
    return click.option("--today", metavar="DATE", help="Use DATE as today's date when checking waivers. Default: the day in UTC.")(command)


class _Named(_Type):
    """A name of a registry; which there are is asked for when it is needed, as nothing of one is loaded to start."""

    name = "form"

    def __init__(self, names: Callable[[], tuple[str, ...]]) -> None:
        self._names = names

    def convert(self, value: str, param: click.Parameter | None, ctx: click.Context | None) -> str:
        """The name, where there is such a thing."""
        return click.Choice(self._names()).convert(value, param, ctx)

    def shell_complete(self, ctx: click.Context, param: click.Parameter, incomplete: str) -> list[CompletionItem]:
        """The names that begin so."""
        from click.shell_completion import CompletionItem

        return [CompletionItem(name) for name in self._names() if name.startswith(incomplete)]

    def get_metavar(self, param: click.Parameter, ctx: click.Context | None = None) -> str:
        """The names, as help shows them."""
        return f"[{'|'.join(self._names())}]"


def _for_findings() -> tuple[str, ...]:
    from lemmar import report

    return report.for_findings()


def _for_tables() -> tuple[str, ...]:
    from lemmar import report

    return report.for_tables()


def shapes() -> _Type:
    """The name of a form in which work goes out to translators."""

    def names() -> tuple[str, ...]:
        from lemmar.handoff import forms

        return forms.names()

    return _Named(names)


class PathName(click.Path):
    """The name of a file or folder, which is not empty: that would stand for the folder one is in."""

    def convert(self, value: Any, param: click.Parameter | None, ctx: click.Context | None) -> Any:
        """The path. Raises `click.BadParameter`."""
        if value == "":
            self.fail("the name is empty; say which one is meant", param, ctx)
        return super().convert(value, param, ctx)


def to_file(command: _F) -> _F:
    """``--output FILE``, and ``--onto-input``, which `lemmar.cli.writing.write_file` looks up."""
    target = click.option(
        "-o", "--output", "target", type=PathName(path_type=Path, dir_okay=False), metavar="FILE",
        help="Write to FILE instead of standard output.",
    )  # fmt: skip
    onto = click.option("--onto-input", is_flag=True, expose_value=False, callback=_keep, help="Allow FILE to overwrite one of the inputs.")
    return target(onto(command))


def _keep(ctx: click.Context, parameter: click.Parameter, value: object) -> None:
    ctx.meta[f"lemmar.{parameter.name}"] = value


def table_form(command: _F) -> _F:
    """``--format`` with the outputs of tables, of a command whose ``--output`` is something else."""
    return click.option("--format", "form", type=_Named(_for_tables), default="text", show_default=True, help="The output format.")(command)


def _output(findings: bool) -> Callable[[_F], _F]:
    """``--format`` with the outputs that take such a result, and ``--output FILE``."""

    def add(command: _F) -> _F:
        form = click.option(
            "--format",
            "form",
            type=_Named(_for_findings if findings else _for_tables),
            default="text",
            show_default=True,
            help="The output format.",
        )
        return form(to_file(command))

    return add


class _Also(_Type):
    """``NAME=FILE``: an output, and where it is written."""

    name = "also"

    def convert(self, value: Any, param: click.Parameter | None, ctx: click.Context | None) -> Any:
        """The output's name and the file. Raises `click.BadParameter`."""
        form, sign, file = value.partition("=")
        if not sign or not file:
            self.fail(f"{value!r} is not of the form NAME=FILE, such as sarif=lemmar.sarif", param, ctx)
        return _Named(_for_findings).convert(form, param, ctx), Path(file)

    def get_metavar(self, param: click.Parameter, ctx: click.Context | None = None) -> str:
        """As help shows it."""
        return "NAME=FILE"


def also(command: _F) -> _F:
    """``--also NAME=FILE``, any number of times."""
    return click.option(
        "--also", "also", type=_Also(), multiple=True, help="Write the output NAME to FILE as well; may be given several times."
    )(command)


output_of_tables = _output(findings=False)
output_of_findings = _output(findings=True)


def loudness(command: _F) -> _F:
    """``-q`` and ``-v``, which `lemmar.cli.writing.remark` looks up."""
    quiet = click.option("-q", "--quiet", is_flag=True, expose_value=False, callback=_keep, help="Print only the result.")
    verbose = click.option("-v", "--verbose", is_flag=True, expose_value=False, callback=_keep, help="Report progress on standard error.")
    return quiet(verbose(command))
