"""Finds catalogs: files of which there is one a locale, or one for all, and whose keys are alike."""

from __future__ import annotations

import re
from collections import Counter, defaultdict
from collections.abc import Iterable, Iterator, Mapping, Sequence
from functools import cache
from typing import Any

from lemmar import formats
from lemmar.basics.expressions import expression
from lemmar.documents.structured import suffix_of
from lemmar.formats import Column, Format, may_be_catalog
from lemmar.inventory.aside import Aside, SettingAside, is_packed, made_from
from lemmar.inventory.readings import Readings
from lemmar.survey.contents import Contents, holds_texts, layout_by_file, leaved, record_fields, record_fields_of_all, rooted
from lemmar.survey.draft import DraftCatalog
from lemmar.survey.headers import columns_in_words, columns_of
from lemmar.survey.joining import joined
from lemmar.survey.paths import SOURCE_NAMES, Kind, is_home, locale_in_words, locale_joined, locale_of, names_home, slots
from lemmar.tags import LanguageTag, Tag, android_variant, read_spelling
from lemmar.trees import File, Tree

# A key that may be a locale, in JSON, YAML or as a table of TOML; a language's name.
_SOME_KEY = expression(rb"(?:[\"'{\[,]|^)[ \t\"']*([a-z]{2,3}(?:[-_][A-Za-z]{2,4})?|[A-Za-z]{4,12})[\"']?[ \t]*[:\]=,}]", re.MULTILINE)
_MOST_READ = 64
_SETTINGS = expression(r"(?:package(?:-lock)?|tsconfig.*|composer|manifest|workspace|build|settings|config|launch|meta)\.\w+")
# In a folder of each locale these are none of its texts: they say what is in the folder.
_MANIFEST = expression(r"(?:package(?:-lock)?|composer|tsconfig.*|bower|component)\.json")
#: Source code in files of so many languages is a catalog wherever it lies.
_SURELY_MANY = 8
#: An English file with less than one of so many texts only spells a few in another way.
_FEW_OF = 4
#: Less sure than this, and it is a question.
SURE = 0.7


@cache
def _suffixes_of_all() -> frozenset[str]:
    """The suffixes of files that hold all locales, if they are catalogs."""
    return frozenset(suffix for form in formats.every() if "by-file" not in form.layouts for suffix in form.catalog_suffixes)


@cache
def _often_else() -> frozenset[str]:
    return frozenset(suffix for form in formats.every() for suffix in form.hints.often_else)


@cache
def _only_at_home() -> frozenset[str]:
    return frozenset(suffix for form in formats.every() for suffix in form.hints.only_at_home)


_Group = tuple[str, str, Kind]


#: Names that a pattern would take for something else, or that hold what cannot be seen.
_ODD = expression(r"[\[\]{}*?\\\x00-\x1f\x7f-\x9f\ud800-\udfff]")


class CatalogFinder:
    """Finds the catalogs among *files* of *tree*; what lies in folders that are no client's own
    in *aside*, what not be looked at in *unfinished*. Without *wholes* files for all locales are looked for only where catalogs live.
    """

    def __init__(self, tree: Tree, files: Iterable[File], wholes: bool = True, readings: Readings | None = None) -> None:
        self.contents = Contents(tree, readings)
        self._wholes = wholes
        every = list(files)
        self.setting_aside = aside = SettingAside(every)
        own: list[str] = []
        self._shadows: list[str] = []
        self._aside: dict[Aside, list[str]] = defaultdict(list)
        self._packed: list[str] = []
        self.odd: list[str] = []
        for file in every:
            if _ODD.search(file):
                if may_be_catalog(file):
                    self.odd.append(file)
            elif "._" in file and file.rpartition("/")[2].startswith("._"):  # what some systems keep of a file beside it
                self._shadows.append(file)
            elif may_be_catalog(file):
                reason = aside.of(file)
                (own if reason is None else self._aside[reason]).append(file)
        self.files = own
        self.there = frozenset(own)
        self.aside: list[Aside] = []
        self.taken: set[str] = set()

    @property
    def unfinished(self) -> dict[str, None]:
        """Sentences on what could not be looked at."""
        return self.contents.unfinished

    def found(self) -> list[DraftCatalog]:
        """The catalogs, in the order of their folders."""
        catalogs = self._found(self.files)
        catalogs = self._without_made(catalogs)
        self.taken = {file for catalog in catalogs for file in catalog.files}
        folders = {file.rpartition("/")[0] for file in self.taken}
        for reason, files in self._aside.items():
            beside = reason.pattern.rpartition("/")[0] in folders  # a copy counts beside what it copies
            likely = beside if reason.pattern in files else self._are_like_one(files)
            if likely and reason not in self.aside:
                self.aside.append(reason)
        self.aside += [Aside(file, "code that a build has packed") for file in self._packed if file not in self.taken]
        return sorted(catalogs, key=lambda catalog: (catalog.base, str(catalog.settings["files"])))

    def beside(self) -> list[str]:
        """The files that may be catalogs, and `set_aside`."""
        return [*self.files, *sorted(self.set_aside())]

    def set_aside(self) -> frozenset[str]:
        """The files that are set aside, though they might be catalogs by their names: a pattern must not match them."""
        return frozenset([*self._shadows, *(file for files in self._aside.values() for file in files)])

    def left_over(self) -> Iterator[tuple[str, str, int]]:
        """Files in no catalog that hold texts all the same, with their format, of several in a folder the first with their number: of formats for
        nothing else, and where catalogs live.
        """
        found: dict[tuple[str, str], list[str]] = defaultdict(list)
        for file, name in self._left_over():
            found[file.rpartition("/")[0], name].append(file)
        yield from ((files[0], name, len(files)) for (_, name), files in found.items())

    def _left_over(self) -> Iterator[tuple[str, str]]:
        for file in self.files:
            folder, _, name = file.rpartition("/")
            suffix = suffix_of(file)
            if not _may_hold_texts_only(suffix) and (suffix in _only_at_home() or not names_home(folder)):
                continue
            if suffix in _only_at_home() and file not in self._with_slot:
                continue
            if file in self.taken or _SETTINGS.fullmatch(name) or android_variant(folder.rpartition("/")[2].partition("-")[2]):
                continue
            form = self.contents.format_of(file)
            nothing_else = form is not None and _holds_texts_only(form)
            if not nothing_else and suffix in _only_at_home():
                continue
            column = self.contents.column(file, form, form.layouts[0]) if form is not None else None
            if form is None or column is None or not holds_texts(column):
                continue
            if nothing_else or sum(" " in (text or "") for text in column.texts) > 0.3 * len(column.texts):
                yield file, form.name

    def _are_like_one(self, files: Sequence[str]) -> bool:
        """Whether files that are set aside might have been a catalog: a cheap look, by their names and the contents of one."""
        groups: dict[tuple[str, str], dict[str, str]] = defaultdict(dict)
        for file in files:
            for slot in slots(file):
                if slot.kind != "rare":
                    groups[slot.folder, slot.template].setdefault(slot.tag.language, file)
        for members in groups.values():
            file = next(iter(members.values()))
            form = self.contents.format_of(file) if len(members) > 1 else None
            if form is None or (suffix_of(file) in form.hints.only_at_home and not is_home(file)):
                continue
            column = self.contents.column(file, form, form.layouts[0])
            if column is not None and holds_texts(column):
                return True
        return False

    def _found(self, files: Sequence[str]) -> list[DraftCatalog]:
        groups: dict[_Group, dict[str, tuple[LanguageTag, str]]] = defaultdict(dict)
        self._seen_folders: set[str] = set()
        self._stems: dict[tuple[str, str], list[str]] = defaultdict(list)
        self._with_sign: set[str] = set()
        self._with_slot: set[str] = set()
        self._folders: dict[str, dict[str, None]] = defaultdict(dict)
        for file in files:
            self._place(file, groups)
        catalogs: list[DraftCatalog] = []
        self._rare: dict[tuple[str, str], dict[str, tuple[LanguageTag, str]]] = defaultdict(dict)
        for (folder, template, kind), members in groups.items():
            if kind in ("rare", "joined"):
                self._rare[folder, template].update(members)
        order = sorted(
            ((key, members) for key, members in groups.items() if key[2] != "rare"),
            key=lambda item: (-len(item[1]), item[0][0].count("/"), item[0]),
        )
        for (folder, template, kind), members in order:
            free = {token: member for token, member in members.items() if member[1] not in self.taken}
            found = self._by_file(folder, template, kind, free) if free else None
            if found is not None:
                self.taken.update(found.files)
                catalogs.append(found)
        for file in files:
            if file not in self.taken and (self._wholes or is_home(file) or suffix_of(file) in _suffixes_of_all()):
                one = self._for_all(file) or self._unmarked_alone(file)
                if one is not None:
                    self.taken.update(one.files)
                    catalogs.append(one)
        return joined(catalogs)

    def _place(self, file: str, groups: dict[_Group, dict[str, tuple[LanguageTag, str]]]) -> None:
        suffix = suffix_of(file)
        folder, _, name = file.rpartition("/")
        while folder and folder not in self._seen_folders:
            self._seen_folders.add(folder)
            above, _, own = folder.rpartition("/")
            self._folders[above][own] = None
            folder = above
        self._stems[file.rpartition("/")[0], suffix].append(name[: len(name) - len(suffix)] if suffix else name)
        for slot in slots(file):
            if slot.kind != "rare":
                self._with_slot.add(file)
            groups[slot.folder, slot.template, slot.kind].setdefault(slot.token, (slot.tag, file))
            if not slot.template.startswith("{locale}"):
                self._with_sign.add(file)

    # ------------------------------------------------------------------------------------------------------ a file a locale

    def _by_file(self, folder: str, template: str, kind: Kind, members: Mapping[str, tuple[LanguageTag, str]]) -> DraftCatalog | None:
        suffix = suffix_of(template)
        if _MANIFEST.fullmatch(template.rpartition("/")[2]):
            return None
        first = next(iter(members.values()))[1]
        at_home = is_home(first)
        unmarked = self._unmarked(folder, template)
        languages = {tag.language for tag, _ in members.values()}
        if kind != "tag" and len(languages) < 2:
            return None
        if len(languages) + bool(unmarked) < 2 and not (at_home and suffix not in _often_else()):
            return None
        if (
            template.startswith("{locale}.")
            and not template.startswith("{locale}.lproj/")
            and not self._mostly_locales(folder, suffix, kind)
        ):
            return None
        if template.startswith("{locale}/") and len(members) < 0.5 * self._alike_beside(folder, template):
            return None
        if len(members) + bool(unmarked) < 2 and not (template.startswith(("{locale}.", "{locale}/")) and names_home(folder)):
            return None
        form = self._format([file for _, file in members.values()])
        if form is None or (suffix in form.hints.only_at_home and not at_home and len(languages) < _SURELY_MANY):
            return None
        members = {**members, **self._also(folder, template, form, members)} if kind == "tag" else members
        files: dict[str, str] = {}
        for tag, file in members.values():
            files.setdefault(str(tag.canonical()), file)
        return self._checked(folder, template, form, files, unmarked, kind, members)

    def _alike_beside(self, folder: str, template: str) -> int:
        """How many folders in *folder* have the file that a locale's folder has."""
        below = template.removeprefix("{locale}")
        prefix = f"{folder}/" if folder else ""
        return sum(f"{prefix}{name}{below}" in self.there for name in self._folders[folder])

    def _also(
        self, folder: str, template: str, form: Format, members: Mapping[str, tuple[LanguageTag, str]]
    ) -> dict[str, tuple[LanguageTag, str]]:
        """Files beside *members* whose names are tags of rarer languages, with variants, or without signs: where their keys are the others'."""
        found: dict[str, tuple[LanguageTag, str]] = {}
        usual: Counter[str] = Counter()
        read = 0
        for token, (tag, file) in self._rare.get((folder, template), {}).items():
            if file in self.taken:
                continue
            for _, other in list(members.values())[:5] if not read else ():
                column = self.contents.column(other, form, "by-file")
                read += 1
                usual.update(column.key_set if column is not None else ())
            keys = self.contents.column(file, form, "by-file")
            if keys is not None and 2 * sum(usual[key] > 0 for key in keys.key_set) > len(keys.key_set):
                found[token] = (tag, file)
        return found

    def _mostly_locales(self, folder: str, suffix: str, kind: Kind) -> bool:
        """Whether the files of a folder are named by locales, not by something of which some look like one (countries, say)."""
        prefix = f"{folder}/" if folder else ""
        stems = [stem for stem in self._stems[folder, suffix] if f"{prefix}{stem}{suffix}" not in self._with_sign]
        by_kind = {"word": locale_in_words, "joined": locale_joined}.get(kind, locale_of)
        others = [stem for stem in stems if locale_of(stem) is None and by_kind(stem) is None]
        locales = len(stems) - len(others)
        return len(others) <= max(2, locales // 3) or (names_home(folder) and len(others) <= locales)

    def _unmarked(self, folder: str, template: str) -> tuple[str, str] | None:
        """The pattern with the locale in brackets and the file that has none, where there is one."""
        if "values[-{locale}]" in template:
            file = "/".join(part for part in (folder, re.sub(r"\[[^\]]*\]", "", template)) if part)
            return (template, file) if file in self.there and file not in self.taken else None
        match = re.search(r"[-_.]\{locale\}", template) or re.match(r"\{locale\}/", template)
        if match is None or template.count("{locale}") > 1:
            return None
        bare = template[: match.start()] + template[match.end() :]
        file = "/".join(part for part in (folder, bare) if part)
        if file not in self.there or file in self.taken:
            return None
        return f"{template[: match.start()]}[{match[0]}]{template[match.end() :]}", file

    def _format(self, files: Sequence[str]) -> Format | None:
        """The format of the first of *files* whose contents are what its name says."""
        return next(
            (form for file in files[:_MOST_READ] if (form := self.contents.format_of(file)) is not None and "by-file" in form.layouts), None
        )

    def _checked(
        self,
        folder: str,
        template: str,
        form: Format,
        files: dict[str, str],
        unmarked: tuple[str, str] | None,
        kind: Kind,
        members: Mapping[str, tuple[LanguageTag, str]],
    ) -> DraftCatalog | None:
        """The catalog, if its files hold texts under keys that are alike."""
        layout = layout_by_file(self.contents, form, files, _MOST_READ)
        fields = record_fields(self.contents, form, list(files.values())) if layout in ("by-file", None) else None
        if fields is not None:
            layout = "records"
        if layout is None:
            return None
        every = [*([unmarked[1]] if unmarked else []), *files.values()]
        columns = [self.contents.column(file, form, layout, fields) for file in every[:_MOST_READ]]
        full = [column.key_set for column in columns if column is not None]
        if not full or not self._are_alike(full, is_sure=len(files) > 4 and kind == "tag"):
            return None
        settings: dict[str, Any] = {"files": unmarked[0] if unmarked else template, "format": form.name}
        if layout != "by-file":
            settings["layout"] = layout
        if fields is not None:
            settings["fields"] = fields
        spelling = "name" if kind == "word" else _spelling(tuple(members), template)
        if spelling:
            settings["spelling"] = spelling
        if not form.habits.carries_source and layout == "by-file" and not unmarked and _keys_are_texts(full, files, every, columns):
            settings["source-text"] = "key"
        spelled = {
            token: str(tag.canonical())
            for token, (tag, _) in members.items()
            if locale_of(token) is None and (locale_joined(token) or (kind == "word" and read_spelling(token, "name") is None))
        }
        if spelled:
            settings["spelled"] = spelled
        locales = tuple(dict.fromkeys(Tag(tag) for tag in files))
        sure = 0.95 if len(full) > 1 else 0.6
        every = list(dict.fromkeys([*([unmarked[1]] if unmarked else []), *(file for _, file in members.values())]))
        most = len(max(full, key=len))
        catalog = DraftCatalog(
            folder,
            settings,
            locales,
            tuple(every),
            most,
            sure,
            spelling,
            unmarked[1] if unmarked else None,
            {Tag(tag): file for tag, file in files.items()},
        )
        return self._with_source(catalog, folder, template, form, full) if unmarked is None and layout == "by-file" else catalog

    def _are_alike(self, full: Sequence[frozenset[str]], is_sure: bool) -> bool:
        """Whether files hold the same keys, as translations do; where many are named so, a few common keys suffice."""
        if len(full) < 2:
            return True
        common = Counter(key for each in full for key in each)
        usual = {key for key, count in common.items() if count > len(full) / 2}
        if not usual and len(full) == 2:
            return False
        alike = sum(len(usual & each) / len(each) for each in full) / len(full)
        return bool(usual) and alike >= (0.2 if is_sure else 0.4)

    def _with_source(self, catalog: DraftCatalog, folder: str, template: str, form: Format, full: Sequence[frozenset[str]]) -> DraftCatalog:
        """The catalog with the file beside it that has the source's texts under a name of its own, where English lacks one."""
        suffix = suffix_of(template)
        if not template.startswith("{locale}") or template.count("{locale}") > 1 or form.habits.carries_source:
            return catalog
        prefix = f"{folder}/" if folder else ""
        common = Counter(key for each in full for key in each)
        usual = {key for key, count in common.items() if count >= len(full) / 2}
        for stem in self._stems[folder, suffix] if template == f"{{locale}}{suffix}" else self._folders[folder]:
            file = prefix + template.replace("{locale}", stem)
            if file in catalog.files or file in self.taken or file not in self.there or not SOURCE_NAMES.fullmatch(stem):
                continue
            column = self.contents.column(file, form, "by-file")
            if column is None or len(usual & column.key_set) < 0.5 * len(usual) or not usual:
                continue
            english = next((Tag(tag) for tag in catalog.locales if tag.partition("-")[0] == "en"), None)
            if english is None:
                spelled = {**catalog.settings.get("spelled", {}), stem: "en"}
                return catalog._replace(
                    settings={**catalog.settings, "spelled": spelled},
                    locales=(Tag("en"), *catalog.locales),
                    files=(file, *catalog.files),
                    held={Tag("en"): file, **catalog.held},
                )
            doubt = (
                f"the keys of the other locales are also in {file}: is it the source, and {catalog.held[english].rpartition('/')[2]} not?"
            )
            return catalog._replace(doubts=(*catalog.doubts, doubt))
        return catalog

    # --------------------------------------------------------------------------------------------------------- one for all

    def _for_all(self, file: str) -> DraftCatalog | None:
        suffix = suffix_of(file)
        folder, _, base = file.rpartition("/")
        may_be, by_keys = _may_hold_all(suffix)
        if not may_be or (suffix in _only_at_home() and not (is_home(file) or _is_named_home(base))) or _SETTINGS.fullmatch(base):
            return None
        data = self.contents.data(file)
        if data is None or (by_keys and not _names_locales(data)):
            return None
        if suffix in _only_at_home() and not _is_named_home(base) and is_packed(data):
            self._packed.append(file)
            return None
        form = self.contents.format_of(file)
        if form is None:
            return None
        found = self._labels(file, form, data)
        if found is None:
            return None
        labels, settings = found[0], {"files": base, "format": form.name, **found[1]}
        tags = [(label, locale_of(label)) for label in labels]
        if all(tag is None for _, tag in tags):
            settings["spelling"] = "name"
            tags = [(label, locale_in_words(label)) for label in labels]
        known = [tag for _, tag in tags if tag is not None]
        spelling = settings.get("spelling") or _spelling(tuple(label for label, tag in tags if tag), base)
        if spelling:
            settings["spelling"] = spelling
        if "columns" in form.layouts and "columns" not in settings:
            settings |= columns_of(data, suffix)
        reading = self.contents.read(file, form, settings.get("layout", form.layouts[0]), settings.get("fields"))
        messages = max((len(column.keys) for column in reading.columns), default=0) if reading is not None else 0
        locales = tuple(dict.fromkeys(Tag(str(tag.canonical())) for tag in known))
        sure = 0.9 if is_home(file) or len(locales) > 2 or settings.get("layout") != "locale-leaved" else 0.75
        return DraftCatalog(folder, settings, locales, (file,), messages, sure, spelling, None, dict.fromkeys(locales, file))

    def _labels(self, file: str, form: Format, data: bytes) -> tuple[list[str], dict[str, Any]] | None:
        """What a file of all locales calls them, and the settings by which it is read so; None where it is no such file."""
        if "locale-rooted" not in form.layouts:
            reading = self.contents.read(file, form, form.layouts[0])
            if reading is not None and _is_multilingual(reading.columns):
                return [column.label or "" for column in reading.columns], {}
            words = columns_in_words(data, suffix_of(file)) if reading is not None and "columns" in form.layouts else None
            return (words[1], {"columns": words[0], "spelling": "name"}) if words is not None else None
        for layout, find in (("locale-rooted", rooted), ("locale-leaved", leaved)):
            labels = find(self.contents, form, file) if layout in form.layouts else None
            if labels is not None:
                return labels, {"layout": layout}
        records = record_fields_of_all(self.contents, form, file)
        return (records[1], {"layout": "records", "fields": records[0]}) if records is not None else None

    def _unmarked_alone(self, file: str) -> DraftCatalog | None:
        """A file of resources that has no translation yet: ``values/strings.xml`` alone."""
        folder, _, name = file.rpartition("/")
        above, _, own = folder.rpartition("/")
        if own != "values" or suffix_of(file) != ".xml":
            return None
        form = self.contents.format_of(file)
        column = self.contents.column(file, form, "by-file") if form is not None else None
        if form is None or column is None or not holds_texts(column) or not any(" " in (text or "") for text in column.texts):
            return None
        settings = {"files": f"values[-{{locale}}]/{name}", "format": form.name}
        return DraftCatalog(above, settings, (), (file,), len(column.keys), 0.6, None, file)

    def _have_common_keys(self, one: DraftCatalog, other: DraftCatalog) -> bool:
        """Whether the files of one locale hold nearly the same keys."""
        tag = next((tag for tag in one.held if tag in other.held), None)
        if tag is None:
            return False
        columns = [
            self.contents.column(
                catalog.held[tag], formats.load(str(catalog.settings["format"])), str(catalog.settings.get("layout", "by-file"))
            )
            for catalog in (one, other)
        ]
        first, second = columns
        return first is not None and second is not None and _common_share(first.key_set, second.key_set) > 0.8

    def _without_made(self, catalogs: list[DraftCatalog]) -> list[DraftCatalog]:
        """Without what a build made of other catalogs: as many of the same files lie in a folder of its own in the same project."""
        kept = []
        for catalog in catalogs:
            above = made_from(catalog.base)
            names = {file.rpartition("/")[2] for file in catalog.files}
            twin = next(
                (
                    other
                    for other in catalogs
                    if above is not None
                    and other is not catalog
                    and made_from(other.base) is None
                    and (not above or other.base.startswith(f"{above}/") or other.base == above)
                    and len(names & {file.rpartition("/")[2] for file in other.files}) >= 0.5 * len(names)
                    and set(catalog.locales) <= set(other.locales)
                    and self._have_common_keys(catalog, other)
                ),
                None,
            )
            if twin is None:
                kept.append(catalog)
            elif all(aside.pattern != f"{catalog.base}/**" for aside in self.aside):
                self.aside.append(Aside(f"{catalog.base}/**", f"made by a build, as {twin.base or 'the root'} has the same"))
        return kept


def _keys_are_texts(
    full: Sequence[frozenset[str]], files: Mapping[str, str], every: Sequence[str], columns: Sequence[Column | None]
) -> bool:
    """Whether keys are the source's texts: many have blanks, and a file of plain English has no more than a few of them."""
    keys = frozenset().union(*full[:8])
    if 3 * sum(" " in key.strip() for key in keys) <= len(keys):
        return False
    english = {files[tag] for tag in ("en", "en-US") if tag in files}
    sizes = {file: len(column.keys) for file, column in zip(every, columns, strict=False) if column is not None}
    return all(_FEW_OF * sizes.get(file, 0) < max(sizes.values()) for file in english)


@cache
def _may_hold_all(suffix: str) -> tuple[bool, bool]:
    """Whether a file may hold all locales, and whether it then may do so by its keys."""
    fitting = formats.of_suffix(suffix)
    by_keys = any("locale-rooted" in form.layouts for form in fitting)
    return by_keys or any("by-file" not in form.layouts for form in fitting), by_keys


@cache
def _may_hold_texts_only(suffix: str) -> bool:
    return any(_holds_texts_only(form) for form in formats.of_suffix(suffix))


def _holds_texts_only(form: Format) -> bool:
    """Whether a format is for texts alone, so that any file in it is a catalog."""
    return form.habits.carries_source or form.habits.syntax is not None or form.name == "arb"


def _common_share(one: frozenset[str], other: frozenset[str]) -> float:
    return len(one & other) / max(len(one), len(other), 1)


def _is_named_home(base: str) -> bool:
    """Whether a module's own name is that of a place for texts: ``translations.js``."""
    return names_home(base.partition(".")[0])


def _names_locales(data: bytes) -> bool:
    """A cheap look: whether two keys or more of a document look like locales or languages."""
    found = set(_SOME_KEY.findall(data[:262_144]))
    if len(found) < 2:
        return False
    short = {key for key in found if len(key) < 4 or key[2:3] in b"-_" or key[3:4] in b"-_"}
    return len(short) > 1 or sum(locale_in_words(key.decode()) is not None for key in found - short) > 1


def _is_multilingual(columns: Sequence[Any]) -> bool:
    """Whether the columns of a sheet are texts in two languages at least, under common keys."""
    tags = [locale_of(column.label or "") for column in columns]
    if len({tag.language for tag in tags if tag is not None}) < 2:
        return False
    full = [column for column in columns if column.keys and any(column.texts)]
    return len(full) > 1 and bool(full[0].key_set & full[1].key_set)


def _spelling(tokens: tuple[str, ...], template: str) -> str | None:
    """The spelling that the tokens need; None where any reading is the same, or where it is the platform's own."""
    if "values[" in template or ".lproj" in template or "LC_MESSAGES" in template:
        return None
    unread = [token for token in tokens if read_spelling(token, "auto") is None]
    if len(unread) <= sum("-" in token for token in tokens if token not in unread):
        unread = []  # a few odd names among many that are plainly tags
    written = unread or [token for token in tokens if "_" in token]
    for spelling in ("posix", "java", "android"):
        if written and all(read_spelling(token, spelling) for token in written) and (unread or all("-" not in token for token in tokens)):
            return spelling
    return None
