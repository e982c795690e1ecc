"""Files that a catalog's pattern would swallow and that are none of its own."""

from __future__ import annotations

import re
from collections import Counter, defaultdict
from collections.abc import Iterable, Mapping, Sequence
from functools import cached_property
from typing import Any

from lemmar.documents.structured import suffix_of
from lemmar.formats import load, of_suffix
from lemmar.inventory.aside import is_spare
from lemmar.inventory.catalogs import one_each
from lemmar.inventory.locales import Speller
from lemmar.survey.contents import Contents
from lemmar.survey.draft import DraftCatalog
from lemmar.survey.paths import SOURCE_NAMES, locale_in_words, locale_of
from lemmar.trees import File, Match
from lemmar.trees.patterns import compile_pattern, match_path

#: As many files of one prefix are one exception.
_SEVERAL = 3


def by_folder(files: Iterable[str]) -> dict[str, list[str]]:
    """*files* by the folders that they lie in."""
    found: dict[str, list[str]] = defaultdict(list)
    for file in files:
        found[file.rpartition("/")[0]].append(file)
    return found


def excepting(
    catalogs: Sequence[DraftCatalog], beside: Mapping[str, Sequence[str]], aside: frozenset[str], contents: Contents
) -> list[DraftCatalog]:
    """*catalogs*, each with exceptions for those of the files *beside*, by folder, that its pattern matches and that are set *aside*, no locale or
    another catalog's.

    A file that has the catalog's keys is none: that its name is no locale is a fault, which the audit tells.
    """
    owner = {file: number for number, catalog in enumerate(catalogs) for file in catalog.files}
    found = []
    for number, catalog in enumerate(catalogs):
        known = _Keys(catalog, contents)
        wrong = [
            file
            for file in _matching(catalog, beside)
            if file in aside or owner.get(file, number) != number or not _is_its_own(file, catalog, known)
        ]
        settings: dict[str, Any] = dict(catalog.settings)
        if wrong:
            settings["except"] = _patterns(wrong, list(catalog.files))
        found.append(catalog._replace(settings=settings))
    return found


def _matching(catalog: DraftCatalog, beside: Mapping[str, Sequence[str]]) -> list[str]:
    prefix = f"{catalog.base}/" if catalog.base else ""
    ways = compile_pattern(str(catalog.settings["files"]))
    suffix = suffix_of(str(catalog.settings["files"]))
    folders = [folder for folder in beside if f"{folder}/".startswith(prefix) or folder == catalog.base]
    there = (file for folder in folders for file in beside[folder] if suffix_of(file) == suffix)
    own = set(catalog.files)
    return [file for file in there if file not in own and match_path(ways, file[len(prefix) :])]


class _Keys:
    """The keys of a catalog's first files of each part, read when they are asked for."""

    def __init__(self, catalog: DraftCatalog, contents: Contents) -> None:
        self.catalog = catalog
        self.contents = contents
        self._usual: dict[str | None, frozenset[str]] = {}

    @cached_property
    def _files(self) -> dict[str | None, list[str]]:
        """The catalog's own files by their part."""
        found: dict[str | None, list[str]] = {}
        for match in _own(self.catalog):
            found.setdefault(match.part, []).append(match.file)
        return found

    def _of(self, file: str) -> frozenset[str]:
        form = load(str(self.catalog.settings["format"]))
        column = self.contents.column(file, form, str(self.catalog.settings.get("layout", "by-file")), self.catalog.settings.get("fields"))
        return column.key_set if column is not None else frozenset()

    def has(self, file: str, part: str | None) -> bool:
        """Whether most of the file's keys are the catalog's of the same part."""
        if part not in self._usual:
            self._usual[part] = frozenset().union(*map(self._of, self._files.get(part, [])[:3]))
        keys = self._of(file)
        return bool(keys) and 2 * len(keys & self._usual[part]) > len(keys)


def _own(catalog: DraftCatalog) -> list[Match]:
    """The catalog's own files, as its pattern reads them."""
    prefix = f"{catalog.base}/" if catalog.base else ""
    ways = compile_pattern(str(catalog.settings["files"]))
    speller = Speller(catalog.spelling or "auto", catalog.settings.get("spelled", {}))
    matches = [each._replace(file=File(file)) for file in catalog.files for each in match_path(ways, file[len(prefix) :])]
    return one_each(matches, speller)


def _is_its_own(file: str, catalog: DraftCatalog, known: _Keys) -> bool:
    """Whether the pattern reads a locale from the file's name, as it does from those of its catalog."""
    if is_spare(file):
        return False
    prefix = f"{catalog.base}/" if catalog.base else ""
    speller = Speller(catalog.spelling or "auto", catalog.settings.get("spelled", {}))
    for match in one_each(match_path(compile_pattern(str(catalog.settings["files"])), file[len(prefix) :]), speller):
        if match.locale is None:
            return match.part is None or _holds(match, catalog)
        if match.locale in catalog.settings.get("spelled", {}):
            return True
        form = next(iter(of_suffix(suffix_of(file))), None)
        if form is not None and match.locale in form.hints.gathered_by:
            return True  # passed over in any case
        found = locale_in_words(match.locale) if catalog.spelling == "name" else locale_of(match.locale)
        if found is not None and match.part is not None and not _holds(match, catalog):
            continue  # a part of which no file is a catalog, in a locale that has none
        if found is not None or match.folder is None or match.folder == "Base.lproj" or match.folder.startswith("values-"):
            return True
        if not SOURCE_NAMES.fullmatch(match.locale) and known.has(file, match.part):
            return True
    return False


def _holds(match: Match, catalog: DraftCatalog) -> bool:
    """Whether the catalog has files of the match's locale, or of its part."""
    return any((match.locale is not None and each.locale == match.locale) or each.part == match.part for each in _own(catalog))


def _patterns(wrong: Sequence[str], own: Sequence[str]) -> list[str]:
    """Patterns for the *wrong* files: by their common prefix where several have one that none of the catalog's *own* has."""
    prefixes = Counter(_prefix(file) for file in wrong)
    held = {folder for file in own for folder in _above(file)}
    found: dict[str, None] = {}
    alike = Counter(_in_any(file) for file in wrong)
    for file in wrong:
        packed = re.sub(r"[^/]+(?=\.min\.\w+$)", "*", file)
        if packed != file:
            found[packed] = None
            continue
        if alike[_in_any(file)] >= _SEVERAL and not any(_in_any(other) == _in_any(file) for other in own):
            found[_in_any(file)] = None
            continue
        prefix = _prefix(file)
        pattern = f"{prefix}*{suffix_of(file)}" if prefix else ""
        common = prefixes[prefix] >= _SEVERAL and prefix and not any(other.startswith(prefix) for other in own)
        folder = next((folder for folder in reversed(_above(file)) if folder and folder not in held), None)
        if folder is not None and sum(each.startswith(f"{folder}/") for each in wrong) >= _SEVERAL:
            found[f"{folder}/**"] = None
        elif common:
            found[pattern] = None
        else:
            found[file] = None
    return list(found)


def _in_any(file: str) -> str:
    """A pattern for files of the same name in the folders beside: ``res/values-*/maps.xml``, ``po/*/maps.po``."""
    folder, _, name = file.rpartition("/")
    above, slash, own = folder.rpartition("/")
    return f"{above}{slash}{'values-*' if own.startswith('values-') else '*'}/{name}"


def _above(file: str) -> list[str]:
    """The folders around *file*, the nearest first."""
    found = []
    while file:
        file = file.rpartition("/")[0]
        found.append(file)
    return found


def _prefix(file: str) -> str:
    """The file's path up to the first sign in its name: ``app/words/sensor.`` of ``app/words/sensor.de.json``."""
    folder, slash, name = file.rpartition("/")
    stem = name[: len(name) - len(suffix_of(name))]
    cut = min((stem.find(sign) for sign in "._-" if sign in stem), default=-1)
    return f"{folder}{slash}{name[: cut + 1]}" if cut > 0 else ""
