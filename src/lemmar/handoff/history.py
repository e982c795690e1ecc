"""Which translations are older than their source, by the history of their files: where a format keeps no copy of the source, git is what remembers.

One pass over the commits of the main line, from the newest. A text is stale where its source's words were changed in a later commit than its own; what one
commit changed in both is not. Where the history that is there ends before either is known, that is said.
"""

from __future__ import annotations

import os
import posixpath
import re
from collections.abc import Iterable, Mapping, Sequence
from pathlib import Path
from typing import NamedTuple

from lemmar.basics.errors import IncompleteError
from lemmar.basics.expressions import expression
from lemmar.basics.phrasing import counted
from lemmar.formats import Column, Format, ReadOptions
from lemmar.handoff.needs import own_catalog
from lemmar.handoff.texts import Name, Text, Use
from lemmar.inventory.contents import Catalog
from lemmar.inventory.readings import Readings
from lemmar.tags import CATEGORIES, Tag
from lemmar.trees import File, Tree
from lemmar.trees.repository import Repository
from lemmar.trees.tree import digest_of

#: So many commits are looked back, where nothing else is asked for.
DEPTH = 1_000
#: A larger file of the past is passed over.
_MOST = 64 * 1024 * 1024
_FORM = expression(rf"[._](?:{'|'.join(CATEGORIES)}|plural|[0-9]{{1,3}})\Z")
#: Changed in what is not committed yet; a commit's number is its age, from 1.
_NOW = 0


class Ages(NamedTuple):
    """Which messages' source was changed after their translation, by locale; of how many it could not be known, as the history ends before."""

    changed: Mapping[Tag, frozenset[Name]]
    unknown: Mapping[Tag, int]


class _Watched(NamedTuple):
    """A column whose past is looked at, and how its file is read."""

    file: File
    label: str | None
    part: str | None


def ages(texts: Iterable[Text], locales: Sequence[Tag], tree: Tree, root: Path, depth: int, readings: Readings) -> Ages:
    """What the last *depth* commits of the repository that *root* lies in say of the translations in *locales*.

    Raises:
        TreeError: there is no repository, or git cannot be asked.
    """
    repository = Repository(root)
    pairs: dict[Tag, list[tuple[Use, Catalog]]] = {locale: [] for locale in locales}
    for text in texts:
        for use in text.uses:
            for locale in locales:
                own = own_catalog(use, locale)
                if own is not None and _needs_history(use, own):
                    pairs[locale].append((use, own))
    past = _Past(repository, _prefix(root, repository), tree, depth, readings)
    for those in pairs.values():
        for use, own in those:
            past.watch(use.holder)
            past.watch(own)
    past.look_back()
    changed: dict[Tag, frozenset[Name]] = {}
    unknown: dict[Tag, int] = {}
    for locale, those in pairs.items():
        older, lost = set(), 0
        for use, own in those:
            source, translation = past.age(use.holder, use.key), past.age(own, use.key)
            if source is None and translation is None:
                lost += not past.is_whole
            elif source is not None and (translation is None or source < translation):
                older.add(use.name)
        changed[locale] = frozenset(older)
        unknown[locale] = lost
    return Ages(changed, unknown)


def _needs_history(use: Use, own: Catalog) -> bool:
    """Whether the file itself says nothing of the source that its text was made from."""
    index = own.column.keys.places[use.key]
    return bool(own.column.texts[index]) and not own.column.rare.source.get(index) and not own.form.habits.keys_are_texts


def _prefix(root: Path, repository: Repository) -> str:
    top = repository.top
    inside = os.path.relpath(os.path.realpath(root), os.path.realpath(top)) if top is not None else repository.prefix
    return "" if inside == "." else Path(inside).as_posix()


class _Past:
    """The texts of files as they were, and how long ago each was changed."""

    def __init__(self, repository: Repository, prefix: str, tree: Tree, depth: int, readings: Readings) -> None:
        self._repository = repository
        self._prefix = prefix
        self._tree = tree
        self._depth = depth
        self._readings = readings
        self._how: dict[File, tuple[Format, ReadOptions]] = {}
        self._columns: dict[File, dict[_Watched, frozenset[str]]] = {}
        self._ages: dict[_Watched, dict[str, int]] = {}
        self.is_whole = True

    def watch(self, catalog: Catalog) -> None:
        """Looks at a catalog's column as well."""
        watched = _Watched(catalog.file, catalog.column.label, catalog.column.part)
        if watched not in self._ages:
            self._how[catalog.file] = (catalog.form, catalog.options)
            self._columns.setdefault(catalog.file, {})[watched] = catalog.column.key_set
            self._ages[watched] = {}

    def age(self, catalog: Catalog, key: str) -> int | None:
        """How many commits ago a message's text was changed; None where the commits that were looked at did not change it."""
        return self._ages[_Watched(catalog.file, catalog.column.label, catalog.column.part)].get(key)

    def look_back(self) -> None:
        """Goes over the commits. Raises `TreeError`."""
        if not self._columns:
            return
        commit = self._repository.commit("HEAD")
        history = self._repository.history(commit, self._depth)
        self.is_whole = history.is_whole
        open_files = {self._path(file): file for file in self._columns}
        texts = {file: self._texts(file, self._tree.data(file)) or {} for file in self._columns}
        for path, file in list(open_files.items()):
            held = self._repository.blob(commit, path)
            if held is None:  # it is not committed yet: all of it is new
                self._compare(file, texts[file], {}, _NOW)
                del open_files[path]
            else:
                texts[file] = self._compared(file, texts[file], held, _NOW)
        for age, step in enumerate(history.steps, start=1):
            for change in step:
                file = open_files.pop(change.path, File(""))
                if not file:
                    continue
                if change.was is None:
                    self._compare(file, texts[file], {}, age)
                    continue
                open_files[change.was] = file
                texts[file] = self._compared(file, texts[file], change.before, age)
            if not open_files:
                break

    def _path(self, file: File) -> str:
        return posixpath.join(self._prefix, file) if self._prefix else file

    def _compared(self, file: File, after: dict[_Watched, dict[str, object]], name: str, age: int) -> dict[_Watched, dict[str, object]]:
        """The texts that the object *name* holds; what differs from those *after* it was changed at that age."""
        try:
            before = self._texts(file, self._repository.contents(name, _MOST))
        except (OSError, IncompleteError):  # not in this clone, or too long to read: what was there is not known
            self.is_whole = False
            return after
        if before is None:  # it was broken then: what it would have said is what it says before and after
            return after
        self._compare(file, after, before, age)
        return before

    def _compare(self, file: File, after: dict[_Watched, dict[str, object]], before: dict[_Watched, dict[str, object]], age: int) -> None:
        for watched, keys in self._columns[file].items():
            known, old = self._ages[watched], before.get(watched, {})
            for key, text in after.get(watched, {}).items():
                message = key if key in keys else _FORM.sub("", key)
                if message not in known and old.get(key) != text:
                    known[message] = age

    def _texts(self, file: File, data: bytes) -> dict[_Watched, dict[str, object]] | None:
        """What each watched column holds by its own keys: words alone, as blanks are no change. None where not all of the file can be read."""
        form, options = self._how[file]
        reading = self._readings.read(digest_of(data), data, form, options)
        if any(defect.blinds in ("file", "rest") for defect in reading.defects):
            return None
        wanted = self._columns[file]
        found = {}
        for column in reading.columns:
            watched = _Watched(file, column.label, column.part)
            if watched not in wanted and len(wanted) == 1 and len(reading.columns) == 1:
                watched = next(iter(wanted))
            if watched in wanted:
                found[watched] = _words(column)
        return found


def _words(column: Column) -> dict[str, object]:
    forms = column.rare.forms
    return {
        key: tuple(sorted((form, _plain(words)) for form, words in forms[index].items())) if index in forms else _plain(text)
        for index, (key, text) in enumerate(zip(column.keys, column.texts, strict=True))
        if text
    }


def _plain(text: str | None) -> str:
    return re.sub(r"\s+", " ", text or "").strip()


def unknown_words(found: Ages, depth: int) -> list[str]:
    """Sentences on what could not be known, as the history ends before."""
    lost = sum(found.unknown.values())
    if not lost:
        return []
    where = f"the last {counted(depth, 'commit')} and what this clone has of them"
    return [
        f"whether {counted(lost, 'translation')} are older than their source is not known: {where} say nothing of them; "
        "fetch more of the history, or raise --depth"
    ]
