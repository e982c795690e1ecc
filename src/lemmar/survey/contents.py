"""What candidate files hold: whether texts at all, in which layout, and what the files themselves say of their source."""

from __future__ import annotations

import re
import unicodedata
from collections import defaultdict
from collections.abc import Iterable, Mapping, Sequence
from functools import lru_cache

from lemmar import formats
from lemmar.basics.errors import IncompleteError
from lemmar.basics.expressions import expression
from lemmar.documents.structured import suffix_of
from lemmar.formats import Column, Format, Reading, ReadOptions
from lemmar.inventory.forwarding import followed
from lemmar.inventory.readings import Readings
from lemmar.survey.paths import locale_in_words, locale_of
from lemmar.tags import LanguageTag, read_spelling
from lemmar.trees import Digest, File, Tree, digest_of

_MOST_BYTES = 8 * 1024 * 1024
#: Files of so many bytes at most are kept, and so many of them, as several ask for the same.
_SMALL = 16_384
_MOST_KEPT = 20_000
_MOST_COMPARED = 80
_MOST_OTHERS = 10
_DATA = expression(r"[-+\d.,:/#%\s]*|(?:\.{0,2}/|https?:|[\w.-]+@)\S+|#[0-9a-fA-F]{3,8}|\w*\.\w{2,4}")
_SOURCE = expression(
    rb"(?:\bsource-language|\bsourcelanguage|\bsrcLang|\"sourceLanguage\")\s*[=:]\s*[\"']([A-Za-z]{2,3}(?:[-_][A-Za-z0-9]{2,8})*)[\"']"
)

_LIST = expression(rb"(?:\xef\xbb\xbf)?\s*\[\s*\{")


class Contents:
    """Reads files of *tree* once each; what could not be looked at on this machine is in *unfinished*."""

    def __init__(self, tree: Tree, readings: Readings | None = None) -> None:
        self.tree = tree
        self.readings = readings or Readings()
        self.unfinished: dict[str, None] = {}
        self._small: dict[str, bytes] = {}
        self._readings: dict[tuple[str, str, str], Reading | None] = {}
        self._formats: dict[str, Format | None] = {}

    def data(self, file: str) -> bytes | None:
        """The bytes of *file*; None where it cannot be read or is too large for a catalog."""
        known = self._small.get(file)
        if known is not None:
            return known
        try:
            data = self.tree.data(File(file))
        except OSError:
            return None
        if len(data) <= _SMALL and len(self._small) < _MOST_KEPT:
            self._small[file] = data
        return data if len(data) <= _MOST_BYTES else None

    def format_of(self, file: str) -> Format | None:
        """The format that *file* is in by its grammar."""
        if file not in self._formats:
            data = self.data(file)
            form = formats.judge(file, data) if data is not None else ""
            if isinstance(form, str) and data is not None and suffix_of(file) == ".json" and _LIST.match(data):
                form = formats.load("json")  # a list of records
            self._formats[file] = None if isinstance(form, str) else form
        return self._formats[file]

    def read(self, file: str, form: Format, layout: str, fields: Mapping[str, str] | None = None) -> Reading | None:
        """What *form* makes of *file*; None where there is no column."""
        key = (file, layout, str(fields or ""))
        if key not in self._readings:

            def read(digest: Digest, held: bytes, suffix: str) -> Reading:
                return self.readings.read(digest, held, form, ReadOptions(layout=layout, suffix=suffix, fields=fields or {}))

            try:
                data = self.data(file)
                reading = followed(self.tree, File(file), digest_of(data), data, read).reading if data is not None else None
            except IncompleteError as error:
                reading = None
                self.unfinished[f"{file}: {error}"] = None
            self._readings[key] = reading if reading is not None and reading.columns else None
        return self._readings[key]

    def column(self, file: str, form: Format, layout: str, fields: Mapping[str, str] | None = None) -> Column | None:
        """The file's first column that has keys."""
        reading = self.read(file, form, layout, fields)
        return next((column for column in reading.columns if column.keys), None) if reading is not None else None

    def stated_source(self, file: str) -> LanguageTag | None:
        """The locale that *file* itself says its source texts are in."""
        data = self.data(file)
        match = _SOURCE.search(data[:8192]) if data is not None else None
        tag = read_spelling(match[1].decode(), "auto") if match else None
        return tag if tag is not None and tag.valid else None


def holds_texts(column: Column) -> bool:
    """Whether a column has texts for people, not numbers, paths and codes only."""
    texts = [text for text in column.texts if text]
    return any(not _DATA.fullmatch(text) for text in texts[:_MOST_COMPARED])


def texts_of(columns: Iterable[Column]) -> list[str]:
    """All texts of *columns*."""
    return [text for column in columns for text in column.texts if text]


# --------------------------------------------------------------------------------------------------------------------- layouts


def layout_by_file(contents: Contents, form: Format, files: Mapping[str, str], most: int) -> str | None:
    """``by-file``; ``locale-rooted`` where each file's only key is its own locale; None where the files hold no texts.

    *files* are by their canonical tags.
    """
    for tag, file in list(files.items())[:most]:  # the first may not be translated yet
        column = contents.column(file, form, "by-file")
        if column is None:
            continue
        if form.habits.nests:
            tops = {key.partition(".")[0] for key in column.keys}
            top = locale_of(next(iter(tops))) if len(tops) == 1 else None
            if top is not None and (str(top.canonical()) == tag or top.maximized() == LanguageTag.parse(tag).maximized()):
                return "locale-rooted"
        if any(column.texts):
            return "by-file" if holds_texts(column) else None
    return None


def record_fields(contents: Contents, form: Format, files: Sequence[str]) -> dict[str, str] | None:
    """The fields of records, where files of one locale each are lists of such: one that is alike in all, and one that is a text."""
    if "records" not in form.layouts or not form.habits.nests:
        return None
    found = [_rows(contents, form, file) for file in files[:2]]
    if len(found) < 2 or found[0] is None or found[1] is None or found[0][0] != found[1][0]:
        return None
    where, first = found[0]
    second = found[1][1]
    names = list(next(iter(first.values())))
    values = [{field: [row.get(field) for row in each.values()] for field in names} for each in (first, second)]
    same = [name for name in names if set(values[0][name]) & set(values[1][name]) and len(set(values[0][name])) == len(values[0][name])]
    other = [name for name in names if name not in same and any(text and not _DATA.fullmatch(text) for text in values[0][name])]
    if len(same) != 1 or len(other) != 1:
        return None
    return ({"list": "/" + where.replace(".", "/")} if where else {}) | {"key": same[0], "text": other[0]}


def record_fields_of_all(contents: Contents, form: Format, file: str) -> tuple[dict[str, str], list[str]] | None:
    """The fields of records in one file for all locales, and the locales' names: a field of locales, one that repeats with each, a text."""
    found = _rows(contents, form, file) if "records" in form.layouts and form.habits.nests else None
    if found is None or len(found[1]) < 4:
        return None
    where, rows = found
    names = list(next(iter(rows.values())))
    values = {name: [row.get(name) or "" for row in rows.values()] for name in names}
    locales = [name for name in names if len(set(values[name])) > 1 and all(locale_of(text) for text in values[name])]
    if len(locales) != 1:
        return None
    several = len(set(values[locales[0]]))
    keys = [
        name
        for name in names
        if name not in locales and len(set(values[name])) < len(values[name]) and 2 * several * len(set(values[name])) > len(rows)
    ]
    texts = [name for name in names if name not in (*locales, *keys) and any(text and not _DATA.fullmatch(text) for text in values[name])]
    if len(keys) != 1 or len(texts) != 1:
        return None
    fields = {"key": keys[0], "text": texts[0], "locale": locales[0]}
    return ({"list": "/" + where.replace(".", "/")} if where else {}) | fields, list(dict.fromkeys(values[locales[0]]))


def record_names(contents: Contents, numbers: frozenset[str], candidates: Iterable[str]) -> dict[str, str] | str | None:
    """Which of the *candidates* maps names to the *numbers* of messages, as a charter's ``names`` has it."""
    from lemmar.documents import structured

    for file in candidates:
        data = contents.data(file) if suffix_of(file) in (".json", ".yaml", ".yml", ".toml") else None
        root = structured.scan(data, suffix_of(file))[0] if data is not None else None
        if root is None:
            continue
        for where, node in (("", root), *((f"/{member.key}", member.node) for member in root.members)):
            named = {member.node.text for member in node.members if member.node.kind in ("number", "text") and not member.key.isdigit()}
            if 5 * len(named & numbers) >= 4 * len(numbers):
                return file if not where else {"file": file, "list": where}
            rows = [{member.key: member.node for member in item.members} for item in node.items]
            fields = list(rows[0]) if rows else []
            number = next(
                (name for name in fields if 5 * len({row[name].text for row in rows if name in row} & numbers) >= 4 * len(numbers)), None
            )
            name = next((name for name in fields if name != number and all(name in row and row[name].kind == "text" for row in rows)), None)
            if number is not None and name is not None:
                return {"file": file, **({"list": where} if where else {}), "key": number, "name": name}
    return None


def _rows(contents: Contents, form: Format, file: str) -> tuple[str, dict[str, dict[str, str | None]]] | None:
    """The records of a file's one list, by their numbers, and where the list is; None where the file is none."""
    reading = contents.read(file, form, "by-file")
    column = reading.columns[0] if reading is not None else None
    if column is None or not column.keys:
        # a list at the top is no catalog by file: its members are read as the records of every field
        return _bare_rows(contents, file)
    lists: set[str] = set()
    found: dict[str, dict[str, str | None]] = defaultdict(dict)
    for key, text in zip(column.keys, column.texts, strict=True):
        match = re.fullmatch(r"(?:(.+)\.)?(\d+)\.(\w+)", key)
        if match is None:
            return None
        lists.add(match[1] or "")
        found[match[2]][match[3]] = text
    return (lists.pop(), dict(found)) if len(lists) == 1 else None


def _bare_rows(contents: Contents, file: str) -> tuple[str, dict[str, dict[str, str | None]]] | None:
    from lemmar.documents import structured

    data = contents.data(file)
    root = structured.scan(data, suffix_of(file))[0] if data is not None and suffix_of(file) in (".json", ".yaml", ".yml") else None
    if root is None or root.kind != "list" or not root.items or any(item.kind != "map" for item in root.items):
        return None
    rows: dict[str, dict[str, str | None]] = {
        str(number): {member.key: member.node.text for member in item.members} for number, item in enumerate(root.items)
    }
    return "", rows


def rooted(contents: Contents, form: Format, file: str) -> list[str] | None:
    """The keys at a document's top, where each is a locale (by tag or by name) and holds what the others hold."""
    return _locales_of(contents.read(file, form, "locale-rooted"))


def leaved(contents: Contents, form: Format, file: str) -> list[str] | None:
    """The keys of a document's inner maps, where each is a locale (by tag or by name) and most maps have most of them."""
    return _locales_of(contents.read(file, form, "locale-leaved"))


def _locales_of(reading: Reading | None) -> list[str] | None:
    """The labels of a reading's columns, if they are locales of two languages at least and two of them have keys in common."""
    if reading is None:
        return None
    labels = [column.label or "" for column in reading.columns]
    tags = [locale_of(label) or locale_in_words(label) for label in labels]
    known = [tag for tag in tags if tag is not None]
    if len({tag.language for tag in known}) < 2 or len(known) < len(labels):
        return None
    full = sorted((column for column in reading.columns if column.keys and any(column.texts)), key=lambda column: -len(column.keys))
    if len(full) < 2 or not full[0].key_set & full[1].key_set or not any(map(holds_texts, full[:3])):
        return None
    return labels


# -------------------------------------------------------------------------------------------------------------- test locales

_BRACKETS = expression(r"[\[\](){}<>⟦⟧«»|!¡·_~*…\s]+|[\u200e\u200f\u202a-\u202e\u2066-\u2069]")
_ALIKE = "ɐa ɓb ƀb ƈc ɗd đd ǝe ɛe ƒf ɠg ħh ıi ƙk łl ɯm ɲn ŋn ɔo øo ƥp ɹr ʃs ŧt ʇt ʌv ʍw ʎy ƴy ƶz ßb"
_TWINS = {ord(alike[0]): alike[1] for alike in _ALIKE.split(" ")}


@lru_cache(maxsize=1 << 12)
def _plain(text: str) -> str:
    """The letters of *text* alone, without accents, signs around and directions."""
    folded = "".join(sign for sign in unicodedata.normalize("NFKD", text) if not unicodedata.combining(sign))
    return "".join(sign for sign in _BRACKETS.sub("", folded.lower().translate(_TWINS)) if sign.isalnum())


def _shrunk(text: str) -> str:
    return re.sub(r"(.)\1+", r"\1", text)


def is_pseudo(column: Column, source: Column) -> bool:
    """Whether the texts are the source's own in disguise: accented, in brackets, lengthened or mirrored."""
    alike = other = 0
    for key, text in list(zip(column.keys, column.texts, strict=True))[:_MOST_COMPARED]:
        index = source.keys.places.get(key)
        own = source.texts[index] if index is not None else None
        if not text or not own or sum(sign.isalpha() for sign in own) < 3:
            continue
        here, there = _plain(text), _plain(own)
        hidden = text != own and bool(there) and (there in here or _shrunk(there) in _shrunk(here) or here == there[::-1])
        alike += hidden
        other += not hidden
        if other > _MOST_OTHERS > alike:
            return False
    return alike >= 2 and alike > 2 * other
