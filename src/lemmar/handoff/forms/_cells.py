"""Sheets of work: their columns, and how they are found again in a sheet that came back with columns moved, renamed, added or left out.

A column is known by its heading, else by what its cells hold: ids, plural categories, states, today's source texts. Where two could hold the translations,
neither is taken: the file says so.
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from typing import NamedTuple

from lemmar.basics.expressions import expression
from lemmar.formats.sheet import MAX_COLUMNS
from lemmar.handoff.forms._form import STATES, Answer, Expected, Line, Package, Returned, filled_in, split_id, used_in
from lemmar.handoff.plainly import plainly, without_apostrophe
from lemmar.tags import CATEGORIES, LanguageTag, Tag, TagError, read_spelling
from lemmar.tags.naming import read_name

#: The columns of a sheet in their order: what each is, its heading, and how wide it is in characters. A heading in braces is the locale's.
COLUMNS = (
    ("id", "text id", 19),
    ("form", "form", 7),
    ("source", "{source}", 44),
    ("text", "{locale}", 44),
    ("state", "state", 11),
    ("remark", "remark", 24),
    ("reason", "sent back", 30),
    ("so far", "so far", 30),
    ("about", "about", 34),
    ("limit", "at most", 8),
    ("filled", "filled in", 30),
    ("numbers", "numbers", 14),
    ("terms", "terms", 24),
    ("near", "nearest language", 30),
    ("alike", "similar", 34),
    ("used", "used in", 50),
    ("pictures", "pictures", 20),
    ("syntax", "signs", 10),
)
#: The columns that are for the translator to fill in.
OPEN = ("text", "state", "remark")
_CALLED = {
    "id": ("text id", "textid", "id", "ids", "identifier", "nr", "number", "#"),
    "form": ("form", "plural form", "plural", "category"),
    "state": ("state", "status"),
    "remark": ("remark", "remarks", "comment", "comments", "note", "notes", "question", "questions"),
    **{name: (heading,) for name, heading, _ in COLUMNS if name not in ("id", "form", "source", "text", "state", "remark")},
}
_SOURCE_CALLED = ("source", "source text", "original", "from")
_TEXT_CALLED = ("target", "translation", "translated text", "translated", "to")
_ID = expression(r"t-[a-z2-7]{10}(?:\.(?:zero|one|two|few|many|other))?")
_IN_BRACKETS = expression(r"\(([A-Za-z0-9_@-]{2,35})\)\s*\Z")


def headings(package: Package) -> dict[str, str]:
    """The heading of each column."""
    return {name: heading.format(source=package.source_name, locale=package.locale_name) for name, heading, _ in COLUMNS}


def cells(line: Line) -> dict[str, str]:
    """What a line has in each column."""
    ask = line.ask
    return {
        "id": line.id,
        "form": line.form,
        "source": line.source,
        "text": line.text if line.reason else "",
        "state": line.state if line.reason else "",
        "remark": "",
        "reason": line.reason,
        "so far": "" if line.reason else line.text,
        "about": "\n".join([*([f"({ask.context})"] if ask.context else []), *ask.descriptions]),
        "limit": str(ask.limit) if ask.limit else "",
        "filled": "\n".join(map(filled_in, ask.filled)),
        "numbers": ask.wanted.get(line.form, "") if line.form else "",
        "terms": "\n".join(ask.terms),
        "near": f"{ask.near.locale}: {ask.near.text}" if ask.near is not None else "",
        "alike": "\n".join(f"{each.translation}  ({each.source}, {each.percent} %)" for each in ask.alike),
        "used": "\n".join(used_in(ask)),
        "pictures": "\n".join(ask.pictures),
        "syntax": ask.syntax,
    }


def used_columns(held: Sequence[Mapping[str, str]]) -> list[str]:
    """The columns that some line (as its cells) has something in, and those that are to be filled in."""
    return [name for name, _, _ in COLUMNS if name in ("id", "source", *OPEN) or any(row[name] for row in held)]


class _Row(NamedTuple):
    number: int
    cells: Sequence[str]

    def cell(self, index: int | None) -> str:
        return without_apostrophe(self.cells[index]) if index is not None and index < len(self.cells) else ""


def read_rows(rows: Sequence[tuple[int, Sequence[str]]], expected: Expected) -> Returned:
    """The answers in the *rows* of a sheet, each with its number (1-based)."""
    every = [_Row(number, texts) for number, texts in rows]
    if not every:
        return Returned(None, (), ("it has no rows",))
    head = next((index for index, row in enumerate(every[:_HEAD]) if _is_head(row)), None)
    heads = [cell.strip() for cell in every[head].cells] if head is not None else []
    body = every[head + 1 :] if head is not None else every
    width = max(len(row.cells) for row in every)
    if width > MAX_COLUMNS:
        return Returned(None, (), (f"it has {width:,} columns; of sheets with more than {MAX_COLUMNS:,} nothing is read",))
    columns, locale, faults = _columns(heads + [""] * (width - len(heads)), body, expected)
    if "text" not in columns:
        return Returned(
            locale, (), faults or ("it is not plain which column holds the translations; head it with the locale, as the brief did",)
        )
    return Returned(locale, tuple(_answers(body, columns)), faults)


_HEAD = 20


def _is_head(row: _Row) -> bool:
    """Whether a row heads the columns: it names two of them, and holds no id."""
    names = {cell.strip().casefold() for cell in row.cells if cell.strip()}
    known = {word for words in _CALLED.values() for word in words} | {*_SOURCE_CALLED, *_TEXT_CALLED}
    named = sum(name in known for name in names) + sum(_locale_in(cell) is not None for cell in row.cells)
    return named >= 2 and not any(_ID.fullmatch(cell.strip()) for cell in row.cells)


def _locale_in(heading: str) -> Tag | None:
    """The locale that a heading names: in brackets, by its tag, or by its name."""
    match = _IN_BRACKETS.search(heading)
    words = match[1] if match else heading.strip()
    try:
        found = read_spelling(words, "auto") if 1 < len(words) <= 35 and " " not in words else None
        if found is not None and found.valid and (match or len(words) != 2 or words.islower()):
            return Tag(str(found.canonical()))
        named = read_name(heading.strip()) if heading.strip() else None
    except (TagError, ValueError):
        return None
    return Tag(str(named.canonical())) if named is not None else None


_Found = tuple[dict[str, int], str | None, tuple[str, ...]]


def _columns(heads: Sequence[str], body: Sequence[_Row], expected: Expected) -> _Found:
    """Which column is what, and the locale that the translations' heading names."""
    found: dict[str, int] = {}
    locale: str | None = None
    locales: dict[int, Tag] = {}
    for index, heading in enumerate(heads):
        name = heading.casefold()
        kind = next((kind for kind, words in _CALLED.items() if name in words and kind not in found), None)
        if kind is not None:
            found[kind] = index
        elif (tag := _locale_in(heading)) is not None:
            locales[index] = tag
    by_contents = _by_contents(heads, body, expected)
    for kind in ("id", "form", "state"):
        held = by_contents.get(kind)
        if held is not None and (kind not in found or _share(body, found[kind], kind, expected) < _SURE):
            found[kind] = held
    if "id" in found and _share(body, found["id"], "id", expected) < _SURE:
        del found["id"]
    taken = set(found.values())
    sources = [index for index, tag in locales.items() if index not in taken and _same_language(tag, expected.source)]
    named = [index for index, heading in enumerate(heads) if heading.casefold() in _SOURCE_CALLED and index not in taken]
    source = by_contents.get("source", next(iter([*sources, *named]), None))
    if source is not None:
        found["source"] = source
        taken.add(source)
    targets = [index for index in locales if index not in taken and not _same_language(locales[index], expected.source)]
    called = [index for index, heading in enumerate(heads) if heading.casefold() in _TEXT_CALLED and index not in taken]
    if len(targets) == 1:
        locale = locales[targets[0]]
    choice = targets or called
    if not choice:
        choice = [
            index
            for index in range(len(heads))
            if index not in taken and index > (source if source is not None else -1) and _filled(body, index)
        ]
        choice = choice or [index for index in range(len(heads)) if index not in taken and _filled(body, index)]
    if len(choice) == 1:
        found["text"] = choice[0]
        return found, locale, ()
    if len(choice) > 1:
        names = " and ".join(repr(heads[index] or f"column {index + 1}") for index in choice[:4])
        return found, None, (f"{names} could each hold the translations; leave one, or head it with the locale",)
    return found, None, ()


_SURE = 0.5


def _by_contents(heads: Sequence[str], body: Sequence[_Row], expected: Expected) -> dict[str, int]:
    """The columns whose cells tell what they are."""
    found = {}
    for kind in ("id", "form", "state", "source"):
        shares = [(_share(body, index, kind, expected), -index) for index in range(len(heads))]
        best = max(shares, default=(0.0, 0))
        if best[0] >= _SURE:
            found[kind] = -best[1]
    return found


#: What a column is, so many rows tell.
_LOOKED_AT = 2_000


def _share(body: Sequence[_Row], index: int, kind: str, expected: Expected) -> float:
    """What share of a column's cells that hold something are of a kind."""
    held = [text for row in body[:_LOOKED_AT] if (text := row.cell(index).strip())]
    if not held:
        return 0.0
    tests = {
        "id": lambda text: _ID.fullmatch(text) is not None,
        "form": lambda text: text.casefold() in CATEGORIES,
        "state": lambda text: text.casefold() in STATES,
        "source": lambda text: plainly(text) in expected.by_source,
    }
    return sum(map(tests[kind], held)) / len(held)


def _filled(body: Sequence[_Row], index: int) -> bool:
    return any(any(map(str.isalpha, row.cell(index))) for row in body)


def _same_language(tag: Tag, other: Tag) -> bool:
    return LanguageTag.parse(tag).maximized().language == LanguageTag.parse(other).maximized().language


def _answers(body: Sequence[_Row], columns: Mapping[str, int]) -> Iterator[Answer]:
    """Each row that holds anything beside what the brief says."""
    for row in body:
        name, form = split_id(row.cell(columns.get("id")))
        form = form or row.cell(columns.get("form")).strip().casefold()
        source, text = row.cell(columns.get("source")), row.cell(columns.get("text"))
        if not (name or source.strip() or text.strip()):
            continue
        state = row.cell(columns.get("state")).strip().casefold()
        used = row.cell(columns.get("used")).strip()
        yield Answer(
            name,
            form if form in CATEGORIES else "",
            source,
            text,
            state if state in STATES else "",
            used.partition("\n")[0],
            row.cell(columns.get("remark")).strip(),
            row.number,
        )
