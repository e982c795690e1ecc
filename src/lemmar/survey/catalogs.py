"""Finds catalogs: files of which there is one a locale, or one for all, and whose keys are alike."""

from __future__ import annotations

import re
from collections import Counter, defaultdict
from collections.abc import Iterable, Iterator, Mapping
from functools import cache, lru_cache
from typing import Any, NamedTuple

from lemmar import formats
from lemmar.documents.structured import suffix_of
from lemmar.errors import IncompleteError
from lemmar.formats import Format, Reading, ReadOptions
from lemmar.formats.sheet import header_names
from lemmar.survey.draft import DraftCatalog, Question
from lemmar.tags import LanguageTag, Tag, read_spelling
from lemmar.trees import File, Tree

#: Folders in which catalogs live; elsewhere code is not taken for one, and one file alone is none.
_HOMES = re.compile(
    r"(?:.*[-_.])?(?:locales?|i18n|l10n|lang|langs|languages?|translations?|messages|intl|texts?|words|strings|resources?|res|nls|tongues?|dictionar(?:y|ies))",
    re.IGNORECASE,
)
_TOKEN = re.compile(r"[A-Za-z]{2,3}(?:[-_](?:r?[A-Za-z]{2,4}|[0-9]{3}))*(?:@[a-z]+)?|b\+[A-Za-z0-9+]+")
_SIGNS = "[-_.]"
#: Three-letter languages that software is really translated into; other such words are names of something else.
_THREE = frozenset(
    {
        *("ast", "bal", "bho", "brx", "ceb", "chr", "ckb", "csb", "dsb", "fil", "fur", "gsw", "haw", "hsb", "kab", "kok", "lij", "mai"),
        *("mni", "nqo", "nso", "pap", "sah", "sat", "scn", "szl", "tlh", "tzm", "vec", "yue", "zgh"),
    }
)
# A key that may be a locale, in JSON, YAML or as a table of TOML.
_TOP_KEY = re.compile(rb"(?:[\"'{\[,]|^)[ \t\"']*([a-z]{2,3}(?:[-_][A-Za-z]{2,4})?)[\"']?[ \t]*[:\]=]", re.MULTILINE)
_MOST_READ = 64
_MOST_BYTES = 8 * 1024 * 1024
_SETTINGS = re.compile(r"(?:package(?:-lock)?|tsconfig.*|composer|manifest|workspace|build|settings|config|launch|index|meta)\.\w+")


@cache
def _suffixes(layout: str | None = None) -> frozenset[str]:
    """The suffixes of files that may be catalogs, of those in one *layout* alone where it is given."""
    return frozenset(suffix for form in formats.every() if layout is None or layout in form.layouts for suffix in form.catalog_suffixes)


@cache
def _often_else() -> frozenset[str]:
    return frozenset(suffix for form in formats.every() for suffix in form.often_else)


@lru_cache(maxsize=1 << 14)
def locale_of(token: str) -> LanguageTag | None:
    """The locale that a piece of a path names, in whatever spelling; None where it is more likely something else."""
    if not _TOKEN.fullmatch(token):
        return None
    for spelling in ("auto", "posix", "android", "java"):
        tag = read_spelling(token, spelling)
        if tag is not None:
            break
    else:
        return None
    if not tag.valid or (len(tag.language) == 3 and tag.language not in _THREE) or len(tag.language) > 3 or tag.variants:
        return None
    return tag


def may_be_catalog(file: str) -> bool:
    """Whether a file of that name may hold messages."""
    return suffix_of(file) in _suffixes()


class _Slot(NamedTuple):
    """A path with the locale cut out: *folder* is the fixed part above it, *template* the pattern from there, *token* what was cut."""

    folder: str
    template: str
    token: str
    suffix: str
    whole: bool


def slots(file: str) -> Iterator[_Slot]:
    """Each way to see a locale in a path, the most telling first."""
    parts = file.split("/")
    suffix = suffix_of(file)
    stem = parts[-1][: len(parts[-1]) - len(suffix)] if suffix else parts[-1]
    for index in range(len(parts) - 2, -1, -1):
        name, above, below = parts[index], "/".join(parts[:index]), "/".join(parts[index + 1 :])
        if name.endswith(".lproj") and name != "Base.lproj":
            yield _Slot(above, f"{{locale}}.lproj/{below}", name.removesuffix(".lproj"), suffix, True)
        elif name.startswith("values-"):
            yield _Slot(above, f"values[-{{locale}}]/{below}", name.removeprefix("values-"), suffix, True)
        elif locale_of(name):
            yield _Slot(above, f"{{locale}}/{below}", name, suffix, True)
    folder = "/".join(parts[:-1])
    if locale_of(stem):
        yield _Slot(folder, f"{{locale}}{suffix}", stem, suffix, True)
        return
    if locale_of(re.split(_SIGNS, stem)[0]) and read_spelling(stem, "auto") is not None:
        return  # a locale of its own kind, with a variant
    for match in re.finditer(_SIGNS, stem):
        before, after = stem[: match.start()], stem[match.end() :]
        if before and locale_of(after):
            yield _Slot(folder, f"{before}{match.group()}{{locale}}{suffix}", after, suffix, False)
            return
    for match in reversed(list(re.finditer(_SIGNS, stem))):
        before, after = stem[: match.start()], stem[match.end() :]
        if after and locale_of(before):
            yield _Slot(folder, f"{{locale}}{match.group()}{after}{suffix}", before, suffix, False)
            return


class CatalogFinder:
    """Finds the catalogs among *files* of *tree*; what could not be decided is in *questions*, what not be looked at in *unfinished*."""

    def __init__(self, tree: Tree, files: Iterable[File]) -> None:
        self.tree = tree
        self.files = [file for file in files if may_be_catalog(file)]
        self.there = frozenset(self.files)
        self.questions: list[Question] = []
        self.unfinished: dict[str, None] = {}
        self.taken: set[str] = set()
        self._readings: dict[tuple[str, str], Reading | None] = {}
        self._beside: Counter[tuple[str, str]] = Counter()
        for file in self.files:
            parts = file.split("/")
            for index in range(len(parts) - 1):
                self._beside["/".join(parts[:index]), "/" + "/".join(parts[index + 1 :])] += 1

    def found(self) -> list[DraftCatalog]:
        """The catalogs, in the order of their folders."""
        groups: dict[tuple[str, str], dict[str, File]] = defaultdict(dict)
        for file in self.files:
            if suffix_of(file) in _suffixes("by-file"):
                for slot in slots(file):
                    groups[slot.folder, slot.template].setdefault(slot.token, file)
        catalogs = []
        order = sorted(groups.items(), key=lambda item: (-len(item[1]), item[0][0].count("/"), item[0]))
        for (folder, template), members in order:
            free = {token: file for token, file in members.items() if file not in self.taken}
            found = self._by_file(folder, template, free)
            if found is not None:
                self.taken.update(found.files)
                catalogs.append(found)
        catalogs += [found for file in self.files if file not in self.taken and (found := self._for_all(file)) is not None]
        return sorted(self._joined(catalogs), key=lambda catalog: (catalog.base, str(catalog.settings["files"])))

    # ------------------------------------------------------------------------------------------------------ a file a locale

    def _by_file(self, folder: str, template: str, members: Mapping[str, File]) -> DraftCatalog | None:
        tokens = {token: tag for token in members if (tag := locale_of(token)) is not None}
        unmarked = self._unmarked(folder, template)
        if not tokens or len(tokens) < 0.7 * len(members):
            return None
        suffix = suffix_of(template)
        at_home = (
            any(_HOMES.fullmatch(part) for part in f"{folder}/{template}".split("/")[:-1]) or ".lproj" in template or "values[" in template
        )
        languages = {tag.language for tag in tokens.values()}
        if len(languages) + bool(unmarked) < 2 and not (at_home and suffix not in _often_else()):
            return None
        if template.startswith("{locale}.") and not self._mostly_locales(folder, suffix):
            return None
        if template.startswith("{locale}/") and len(tokens) < 0.6 * self._beside[folder, template.removeprefix("{locale}")]:
            return None
        if len(tokens) + bool(unmarked) < 2 and not self._alone_at_home(folder, template):
            return None
        form = self._format(next(iter(members.values())), suffix)
        if form is None or (suffix in form.only_at_home and not at_home):
            return None
        files = {str(tag.canonical()): members[token] for token, tag in tokens.items()}
        return self._checked(folder, template, form, files, unmarked, tuple(tokens))

    def _alone_at_home(self, folder: str, template: str) -> bool:
        """Whether a single locale stands right where catalogs live: ``locales/en.json``, not ``es/hooks/locale.js``."""
        return template.startswith(("{locale}.", "{locale}/")) and bool(_HOMES.fullmatch(folder.rpartition("/")[2]))

    def _mostly_locales(self, folder: str, suffix: str) -> bool:
        """Whether the files of a folder are named by locales, not by something of which some look like one (countries, say)."""
        prefix = f"{folder}/" if folder else ""
        stems = [
            file[len(prefix) : len(file) - len(suffix)]
            for file in self.files
            if file.startswith(prefix) and "/" not in file[len(prefix) :] and file.endswith(suffix)
        ]
        others = [stem for stem in stems if locale_of(stem) is None]
        return len(others) <= max(2, len(stems) // 4)

    def _unmarked(self, folder: str, template: str) -> tuple[str, File] | None:
        """The pattern with the locale in brackets and the file that has none, where there is one."""
        if "values[-{locale}]" in template:
            file = File("/".join(part for part in (folder, template.replace("[-{locale}]", "")) if part))
            return (template, file) if file in self.there else None
        match = re.search(r"([-_.])\{locale\}", template)
        if match is None:
            return None
        bare = template[: match.start()] + template[match.end() :]
        file = File("/".join(part for part in (folder, bare) if part))
        if file not in self.there:
            return None
        return f"{template[: match.start()]}[{match.group(1)}{{locale}}]{template[match.end() :]}", file

    def _format(self, file: File, suffix: str) -> Format | None:
        fitting = [form for form in formats.of_suffix(suffix) if "by-file" in form.layouts and suffix in form.catalog_suffixes]
        data = self._data(file)
        if data is None or not fitting:
            return None
        if len(fitting) > 1 or suffix in fitting[0].often_else:
            guessed = formats.guess(file, data)
            return guessed if guessed is not None and guessed.likely(data) else None
        return fitting[0]

    def _checked(
        self, folder: str, template: str, form: Format, files: dict[str, File], unmarked: tuple[str, File] | None, tokens: tuple[str, ...]
    ) -> DraftCatalog | None:
        """The catalog, if its files hold texts under keys that are alike."""
        layout = self._layout(form, files)
        if layout is None:
            return None
        fields = self._fields(form, files, layout)
        if fields is not None:
            layout = "records"
        every = [*([unmarked[1]] if unmarked else []), *files.values()]
        keys = []
        for file in every[:_MOST_READ]:
            reading = self._read(file, form, layout, fields)
            keys.append(frozenset(key for column in reading.columns for key in column.keys) if reading is not None else frozenset())
        full = [each for each in keys if each]
        if not full:
            return None
        common = Counter(key for each in full for key in each)
        usual = {key for key, count in common.items() if count > len(full) / 2}
        alike = sum(len(usual & each) / len(each) for each in full) / len(full)
        if len(full) > 1 and (not usual or alike < 0.4):
            return None
        settings: dict[str, Any] = {"files": unmarked[0] if unmarked else template, "format": form.name}
        if layout != "by-file":
            settings["layout"] = layout
        if fields is not None:
            settings["fields"] = fields
        spelling = _spelling(tokens, template)
        if spelling:
            settings["spelling"] = spelling
        locales = tuple(dict.fromkeys(Tag(tag) for tag in files))
        sure = 0.95 if len(full) > 1 else 0.6
        return DraftCatalog(folder, settings, locales, tuple(every), len(max(full, key=len)), sure, spelling)

    def _layout(self, form: Format, files: dict[str, File]) -> str | None:
        """``by-file``; ``locale-rooted`` where each file's only key is its own locale; None where the files hold no texts."""
        for tag, file in list(files.items())[:_MOST_READ]:  # the first may not be translated yet
            reading = self._read(file, form, "by-file")
            if reading is None or not any(column.keys for column in reading.columns):
                continue
            column = reading.columns[0]
            if form.nests:
                tops = {key.partition(".")[0] for key in column.keys}
                top = locale_of(next(iter(tops))) if len(tops) == 1 else None
                if top is not None and str(top.canonical()) == tag:
                    return "locale-rooted"
            texts = [text for text in column.texts if text]
            if texts:
                return None if _all_data(texts) else "by-file"
        return None

    def _fields(self, form: Format, files: dict[str, File], layout: str) -> dict[str, str] | None:
        """The fields of records, where the files are lists of such: one that is alike in all locales, and one that is a text."""
        if "records" not in form.layouts or not form.nests or layout != "by-file":
            return None
        rows: list[dict[str, dict[str, str | None]]] = []
        lists: set[str] = set()
        for file in list(files.values())[:2]:
            reading = self._read(file, form, "by-file")
            found: dict[str, dict[str, str | None]] = defaultdict(dict)
            for column in reading.columns if reading is not None else ():
                for key, text in zip(column.keys, column.texts, strict=True):
                    match = re.fullmatch(r"(?:(.+)\.)?(\d+)\.(\w+)", key)
                    if match is None:
                        return None
                    lists.add(match.group(1) or "")
                    found[match.group(2)][match.group(3)] = text
            rows.append(found)
        if len(rows) < 2 or len(lists) != 1 or not rows[0] or not rows[1]:
            return None
        names = list(next(iter(rows[0].values())))
        values = [{field: [row.get(field) for row in each.values()] for field in names} for each in rows]
        same = [
            field
            for field in names
            if set(values[0][field]) & set(values[1][field]) and len(set(values[0][field])) == len(values[0][field])
        ]
        other = [field for field in names if field not in same and not _all_data([text for text in values[0][field] if text])]
        if len(same) != 1 or len(other) != 1:
            return None
        where = next(iter(lists))
        return ({"list": "/" + where.replace(".", "/")} if where else {}) | {"key": same[0], "text": other[0]}

    # --------------------------------------------------------------------------------------------------------- one for all

    def _for_all(self, file: File) -> DraftCatalog | None:
        suffix = suffix_of(file)
        folder, _, base = file.rpartition("/")
        form = formats.by_suffix(suffix)
        if form is None or ("by-file" in form.layouts and (not form.nests or _SETTINGS.fullmatch(base))):
            return None
        layout = "locale-rooted" if form.nests else None
        data = self._data(file)
        if data is None or (layout is None and not form.likely(data)):
            return None
        if layout and len(set(_TOP_KEY.findall(data[:262_144]))) < 2:
            return None
        reading = self._read(file, form, layout or form.layouts[0])
        if reading is None:
            return None
        labels = {column.label or "": locale_of(column.label or "") for column in reading.columns}
        tags = [tag for tag in labels.values() if tag is not None]
        if len({tag.language for tag in tags}) < 2 or (layout and len(tags) < len(labels)):
            return None
        full = [column for column in reading.columns if column.keys and any(column.texts)]
        if len(full) < 2 or len(frozenset.intersection(*(column.key_set for column in full[:2]))) < 1:
            return None
        settings: dict[str, Any] = {"files": base, "format": form.name}
        if layout:
            settings["layout"] = layout
        if "columns" in form.layouts:
            settings |= _columns_of(data, suffix)
        locales = tuple(dict.fromkeys(Tag(str(tag.canonical())) for tag in tags))
        return DraftCatalog(folder, settings, locales, (file,), len(full[0].keys), 0.9)

    # ------------------------------------------------------------------------------------------------------------ together

    def _joined(self, catalogs: list[DraftCatalog]) -> list[DraftCatalog]:
        """Catalogs that differ only in one name are parts of one: ``{locale}/booking.json`` and ``{locale}/hut.json``."""
        groups: dict[tuple[Any, ...], list[DraftCatalog]] = defaultdict(list)
        for catalog in catalogs:
            pattern = str(catalog.settings["files"])
            groups[catalog.base, _with_part(pattern), catalog.settings.get("format"), catalog.settings.get("layout")].append(catalog)
        joined: list[DraftCatalog] = []
        for (_, pattern, _, _), members in groups.items():
            if len(members) == 1 or "{part}" not in pattern:
                joined += members
                continue
            spelling = next((member.spelling for member in members if member.spelling), None)
            settings = {**members[0].settings, "files": pattern, **({"spelling": spelling} if spelling else {})}
            locales = tuple(dict.fromkeys(tag for member in members for tag in member.locales))
            files = tuple(file for member in members for file in member.files)
            messages = sum(member.messages for member in members)
            joined.append(members[0]._replace(settings=settings, locales=locales, files=files, messages=messages, spelling=spelling))
        return _across_folders(joined)

    # ------------------------------------------------------------------------------------------------------------- reading

    def _data(self, file: File) -> bytes | None:
        try:
            data = self.tree.read(file)[1]
        except OSError:
            return None
        return data if len(data) <= _MOST_BYTES else None

    def _read(self, file: File, form: Format, layout: str, fields: Mapping[str, str] | None = None) -> Reading | None:
        key = (file, layout)
        if key not in self._readings:
            data = self._data(file)
            options = ReadOptions(layout=layout, suffix=suffix_of(file), fields=fields or {})
            try:
                reading = form.read(data, options) if data is not None else None
            except IncompleteError as error:
                reading = None
                self.unfinished[f"{file}: {error}"] = None
            self._readings[key] = reading if reading is not None and reading.columns else None
        return self._readings[key]


def _across_folders(catalogs: list[DraftCatalog]) -> list[DraftCatalog]:
    """Many catalogs whose folders differ in one name only are one, of which that name is the part."""
    groups: dict[tuple[Any, ...], list[tuple[DraftCatalog, str, str]]] = defaultdict(list)
    for catalog in catalogs:
        parts = catalog.base.split("/")
        if "{part}" in str(catalog.settings["files"]) or "{locale}" not in str(catalog.settings["files"]):
            continue
        for index in range(1, len(parts)):
            above, below = "/".join(parts[:index]), "/".join(parts[index + 1 :])
            groups[above, below, str(sorted(catalog.settings.items()))].append((catalog, above, below))
    gone: set[int] = set()
    joined = []
    for members in sorted(groups.values(), key=len, reverse=True):
        fresh = [member for member in members if id(member[0]) not in gone]
        if len(fresh) < 4:
            continue
        first, above, below = fresh[0]
        pattern = "/".join(part for part in ("{part}", below, str(first.settings["files"])) if part)
        every = [catalog for catalog, _, _ in fresh]
        locales = tuple(dict.fromkeys(tag for catalog in every for tag in catalog.locales))
        files = tuple(file for catalog in every for file in catalog.files)
        settings = {**first.settings, "files": pattern}
        joined.append(first._replace(base=above, settings=settings, locales=locales, files=files, messages=sum(c.messages for c in every)))
        gone |= {id(catalog) for catalog in every}
    return [catalog for catalog in catalogs if id(catalog) not in gone] + joined


def _with_part(pattern: str) -> str:
    """*pattern* with its file's own name as the part, where the locale is named by a folder or behind a sign."""
    folder, _, name = pattern.rpartition("/")
    suffix = suffix_of(pattern)
    if "{locale}" in folder:
        return f"{folder}/{{part}}{suffix}" if name.startswith(name.removesuffix(suffix)) and "{" not in name else pattern
    match = re.fullmatch(r"(\[?)([\w-]+?)([-_.]?)(\[?[-_.]\{locale\}\]?)(\.\w+)", name)
    if match and match.group(2):
        return "/".join(part for part in (folder, f"{{part}}{match.group(3)}{match.group(4)}{match.group(5)}") if part)
    return pattern


def _all_data(texts: list[str]) -> bool:
    """Whether what looks like texts are numbers, paths and codes only."""
    return all(re.fullmatch(r"[-+\d.,:/#%\s]*|(?:\.{0,2}/|https?:)\S+", text) for text in texts[:200])


def _spelling(tokens: tuple[str, ...], template: str) -> str | None:
    """The spelling that the tokens need; None where any reading is the same."""
    if "values[" in template or ".lproj" in template:
        return None  # the platform's own
    unread = [token for token in tokens if read_spelling(token, "auto") is None]
    for spelling in ("posix", "java", "android"):
        if unread and all(read_spelling(token, spelling) for token in tokens):
            return spelling
    return None


def _columns_of(data: bytes, suffix: str) -> dict[str, Any]:
    """The sheet's headers that are no locales, by their meaning."""
    names = header_names(data, suffix)
    return {"columns": names} if names else {}
