"""The files of briefs: written into a folder, never over one that is there, and read again to know what is with translators already."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from pathlib import Path

from lemmar.basics.errors import TreeError, UsageError
from lemmar.handoff import forms
from lemmar.handoff.brief import Brief
from lemmar.handoff.forms import Expected, Package, Returned, lines_of
from lemmar.handoff.hints import numbers_of
from lemmar.handoff.plainly import plainly
from lemmar.handoff.texts import Text
from lemmar.resolve.world import World
from lemmar.tags import LanguageTag, Tag, TagError, read_spelling

#: A larger file is no brief's.
_MOST = 256 * 1024 * 1024


def write_briefs(made: Sequence[Brief], shape: str, folder: Path) -> list[str]:
    """Writes a file for each brief that asks for something; their names.

    Raises:
        UsageError: a file of that name is there, which may hold somebody's work.
        TreeError: it cannot be written.
        IncompleteError: a library is wanted that is not installed.
    """
    packages = [Package(brief.locale, brief.source, tuple(lines_of(brief))) for brief in made if brief.asks]
    return write_packages({f"brief.{package.locale}": package for package in packages}, shape, folder)


def write_packages(packages: dict[str, Package], shape: str, folder: Path) -> list[str]:
    """Writes each package into the *folder* under its name; the files' names. Raises as `write_briefs`."""
    form = forms.load(shape)
    paths = {name: folder / f"{name}{form.suffix}" for name in packages}
    for path in paths.values():
        if path.exists() or path.is_symlink():
            raise UsageError(f"{path} is there already, and may hold somebody's work; choose another folder with -o")
    contents = {name: form.write(package) for name, package in packages.items()}
    try:
        folder.mkdir(parents=True, exist_ok=True)
        for name, data in contents.items():
            with paths[name].open("xb") as stream:
                stream.write(data)
    except OSError as error:
        raise TreeError(
            f"{error.filename or folder} cannot be written: {error.strerror or error}; choose another folder with -o"
        ) from error
    return [str(path) for path in paths.values()]


def expectation(texts: Iterable[Text], world: World) -> Expected:
    """What answers can be to: every text of the product."""
    by_id = {}
    by_source: dict[str, list[str]] = {}
    for text in texts:
        by_id[text.id] = text.forms
        for words in dict.fromkeys(text.forms.values()):
            by_source.setdefault(plainly(words), []).append(text.id)
    return Expected(
        by_id, {words: tuple(dict.fromkeys(ids)) for words, ids in by_source.items()}, world.charter.locales, world.charter.source
    )


def read_file(path: Path, expected: Expected) -> tuple[str, Returned]:
    """The name of a file's form, and what it holds. Raises `TreeError`, `UsageError` where it cannot be read or is of no form."""
    try:
        if not path.is_file():
            raise TreeError(f"{path} is no file; name the files that came back")
        if path.stat().st_size > _MOST:
            raise TreeError(f"{path} is larger than {_MOST // 2**20} MiB; it is none of a brief's")
        data = path.read_bytes()
    except OSError as error:
        raise TreeError(f"{path} cannot be read: {error.strerror or error}") from error
    form = forms.of_file(path.name, data)
    if form is None:
        raise UsageError(f"{path} is none of the forms that are read; they are XLIFF, PO, CSV and XLSX")
    return form.name, form.read(data, expected)


def locale_of(path: Path, returned: Returned, world: World) -> Tag | None:
    """The roster's locale that a file's answers are in: as it says itself, else by its name (``brief.uk.csv``); None where neither is one of the roster."""
    named = [returned.locale] if returned.locale else []
    named += [*reversed(path.name.split(".")[1:-1]), path.stem, path.stem.replace("_", "-").rpartition("-")[2]]
    for words in named:
        tag = _on_roster(words, world)
        if tag is not None:
            return tag
    return None


def _on_roster(words: str, world: World) -> Tag | None:
    try:
        found = read_spelling(words, "auto")
    except (TagError, ValueError):
        return None
    if found is None:
        return None
    whole = found.maximized()
    exact = next((tag for tag in world.charter.locales if LanguageTag.parse(tag).canonical() == found.canonical()), None)
    return exact or next((tag for tag in world.charter.locales if LanguageTag.parse(tag).maximized() == whole), None)


def asked_before(texts: Sequence[Text], world: World, earlier: Sequence[Path]) -> dict[Tag, frozenset[str]]:
    """By locale the ids of texts that earlier files ask for, those of whole texts alone: one of whose forms some are missing is asked for again.

    Raises:
        TreeError, UsageError: one cannot be read, or is in no locale of the roster.
    """
    expected = expectation(texts, world)
    found: dict[Tag, dict[str, set[str]]] = {}
    for path in (file for each in earlier for file in _files(each)):
        _, returned = read_file(path, expected)
        locale = locale_of(path, returned, world)
        if locale is None:
            raise UsageError(f"{path} does not say which locale of the roster it is in; name it so, such as brief.de{path.suffix}")
        for answer in returned.answers:
            ids = (answer.id,) if answer.id else expected.by_source.get(plainly(answer.source), ())
            for name in ids:
                found.setdefault(locale, {}).setdefault(name, set()).add(answer.form)
    return {
        locale: frozenset(name for name, forms in held.items() if _is_whole(name, forms, locale, expected))
        for locale, held in found.items()
    }


def _is_whole(name: str, held: set[str], locale: Tag, expected: Expected) -> bool:
    wanted = expected.forms.get(name)
    return wanted is not None and ("" in wanted or set(numbers_of(locale)) <= held or len(held) > 1)


def _files(path: Path) -> list[Path]:
    if not path.is_dir():
        return [path]
    suffixes = {forms.load(name).suffix for name in forms.names()}
    return sorted(each for each in path.iterdir() if each.is_file() and each.suffix in suffixes)
