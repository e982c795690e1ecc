"""Plural forms that a catalog spells in its keys: suffixes (``huts_one``, ``huts_other``) and sub-keys (``huts.one``, ``huts.other``).

A suffix is a plural category (UTS 35 part 3, section 5) only where some locale of the catalog has the form for *other* as well. An older
way writes ``huts`` and ``huts_plural``; languages with more forms number them (``huts_0``) or name a number that takes the form
(``huts_plural_5``), and those with one have the bare key. Sub-keys may be numbers too (``huts.0``, ``huts.1``): where locales of a catalog have
different numbers of them, they are forms. All forms belong to one key.
"""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterable, Mapping, Sequence
from functools import lru_cache
from typing import Any, NamedTuple

from msgspec.structs import replace

from lemmar.basics.expressions import expression
from lemmar.formats import NONE_RARE, Column, Format, Keys, Rare, ReadOptions, Site, form_names, read_header
from lemmar.tags import CATEGORIES, LanguageTag, TagError, plural_category, whole_number_categories, whole_numbers

_PLURAL = "_plural"
_NUMBERS = tuple(str(number) for number in range(6))
#: Numbers that such keys name as one of those that take the form.
_SAMPLES = ("_0", "_2", "_3", "_5", "_11", "_100")


class Spelled(NamedTuple):
    """How the keys of a catalog spell plural forms: for each physical key its message's key and the form."""

    suffixed: frozenset[str]
    nested: frozenset[str]
    older: frozenset[str]
    numbered: frozenset[str] = frozenset()

    def __bool__(self) -> bool:
        return bool(self.suffixed or self.nested or self.older or self.numbered)


def spelled(every: Iterable[tuple[str | None, Keys]], how: str | None = None) -> Spelled:
    """Which messages of a catalog spell their forms in keys: *every* locale with the keys that it has, *how* the charter's word for it."""
    held = Counter(every)
    suffixed: set[str] = set()
    nested: set[str] = set()
    older: set[str] = set()
    counted = False
    for keys in dict.fromkeys(keys for _, keys in held):
        whole = "\n".join(keys) + "\n"
        counted = counted or (how in (None, "nested") and ".0\n" in whole)
        if how in (None, "suffix") and "_other\n" in whole:
            bases = [key[: -len("_other")] for key in keys if key.endswith("_other") and len(key) > len("_other")]
            suffixed |= {base for base in bases if how or _with_sibling(base, keys.all)}
        if how in (None, "nested") and ".other\n" in whole:
            nested |= _nested(keys)
        if how in (None, "suffix") and f"{_PLURAL}\n" in whole:
            older |= {key[: -len(_PLURAL)] for key in keys if key.endswith(_PLURAL) and key[: -len(_PLURAL)] in keys.all}
    usual = frozenset(base for base in older - suffixed if _is_usual(base, held))
    return Spelled(frozenset(suffixed), frozenset(nested), usual, _numbered(held) if counted else frozenset())


def _numbered(held: Mapping[tuple[str | None, Keys], int]) -> frozenset[str]:
    """The branches all of whose leaves are numbers from 0 on, if in the languages of the catalog there are as many as these have forms: two
    where there are two, and another number, or the bare key, where there are more or fewer.
    """
    counts: dict[str, list[tuple[int, int]]] = {}
    for tag, keys in held:
        leaves: dict[str, set[str]] = {}
        for key in keys:
            base, dot, leaf = key.rpartition(".")
            if dot and leaf in _NUMBERS:
                leaves.setdefault(base, set()).add(leaf)
        for base, found in leaves.items():
            if len(found) > 1 and found == set(_NUMBERS[: len(found)]):
                counts.setdefault(base, []).append((len(_whole(tag)), len(found)))
        for base in counts:
            if base in keys.all:
                counts[base].append((len(_whole(tag)), 1))
    branched = {base: pairs for base, pairs in counts.items() if 2 * sum(number > 1 for _, number in pairs) >= len(pairs)}
    told = {base for base, pairs in branched.items() if len({number for _, number in pairs}) > 1}
    fitting = sum(forms == number for base in told for forms, number in counts[base])
    return frozenset(branched) if told and 2 * fitting > sum(len(counts[base]) for base in told) else frozenset()


def _is_usual(base: str, held: Mapping[tuple[str | None, Keys], int]) -> bool:
    """Whether most locales with several forms that have the key *base* have its form for several as well."""
    counts: Counter[bool] = Counter()
    for (tag, keys), count in held.items():
        if base in keys.all and len(_whole(tag)) > 1:
            counts[any(f"{base}{_PLURAL}{more}" in keys.all for more in ("", *_SAMPLES))] += count
    return counts[True] >= counts[False]


def _with_sibling(base: str, keys: frozenset[str]) -> bool:
    return any(f"{base}_{category}" in keys for category in CATEGORIES if category != "other") and base not in keys


def _nested(keys: Keys) -> set[str]:
    """The branches all of whose leaves are plural categories, *other* among them."""
    forms: dict[str, set[str]] = {}
    branches: set[str] = set()
    for key in keys:
        base, dot, name = key.rpartition(".")
        if dot:
            forms.setdefault(base, set()).add(name)
            branches.add(base.rpartition(".")[0])
    return {
        base for base, names in forms.items() if "other" in names and names <= set(CATEGORIES) and len(names) > 1 and base not in branches
    }


def fold(column: Column, how: Spelled, tag: str | None) -> Column:
    """*column*, which is in *tag*, with all forms of a message under its own key, by category."""
    if not how:
        return column
    plan = _plan(column.keys, how, tag if how.older or how.numbered else None)
    if not plan.forms:
        return column
    texts: list[str | None] = [None] * len(plan.keys)
    for index, place in plan.others:
        texts[place] = column.texts[index]
    spelled_out: dict[int, Mapping[str, str]] = {}
    for place, found in plan.forms:
        named = _by_category({form: column.texts[index] for form, index in found}, tag)
        texts[place] = named.get("other", next(reversed(named.values()), None))
        spelled_out[place] = {name: text for name, text in named.items() if text is not None}
    rare: dict[str, dict[int, Any]] = {}
    for kind in Rare.__struct_fields__ if column.rare is not NONE_RARE else ():
        for index, value in getattr(column.rare, kind).items():
            rare.setdefault(kind, {}).setdefault(plan.moved[index], value)
    rare.setdefault("forms", {}).update(spelled_out)
    return replace(column, keys=plan.keys, texts=tuple(texts), rare=Rare(**rare), names_forms=not how.older and not how.numbered)


class _Plan(NamedTuple):
    """Where the entries of some keys go: the new keys, the new place of each old index, those of entries that are messages themselves, and for each
    message with forms its place and the index of each form.
    """

    keys: Keys
    moved: tuple[int, ...]
    others: tuple[tuple[int, int], ...]
    forms: tuple[tuple[int, tuple[tuple[str, int], ...]], ...]


@lru_cache(maxsize=64)
def _plan(keys: Keys, how: Spelled, tag: str | None) -> _Plan:
    """The plan for *keys*, the same for all columns that have them; *tag* is their language, where that matters."""
    places: dict[str, int] = {}
    forms: dict[int, dict[str, int]] = {}
    others, moved = [], []
    for index, key in enumerate(keys):
        base, form = _form(key, how, tag)
        place = places.setdefault(base, len(places))
        moved.append(place)
        if form is None:
            others.append((index, place))
        elif key == base or form not in forms.setdefault(place, {}):  # in a language of one form the bare key is read
            forms.setdefault(place, {})[form] = index
    found = tuple((place, tuple(named.items())) for place, named in forms.items())
    return _Plan(Keys(places), tuple(moved), tuple(others), found)


def _form(key: str, how: Spelled, tag: str | None) -> tuple[str, str | None]:
    """The message that *key* is a form of, and which form; None where it is a message itself."""
    base, sign, name = key.rpartition("_")
    if sign and name in CATEGORIES and base in how.suffixed:
        return base, name
    above, dot, leaf = key.rpartition(".")
    if dot and leaf in CATEGORIES and above in how.nested:
        return above, leaf
    if dot and leaf in _NUMBERS and above in how.numbered:
        return above, leaf
    if key in how.numbered:
        return key, "other"
    if key in how.older:
        return key, "one" if len(_whole(tag)) > 1 else "other"
    if sign and base in how.older and (name == "plural" or name in _NUMBERS):
        return base, "other" if name == "plural" else name
    older, sign, sample = key.rpartition(f"{_PLURAL}_")
    if sign and older in how.older and f"_{sample}" in _SAMPLES and tag is not None:
        return older, plural_category(LanguageTag.parse(tag), sample, "cardinal")
    return key, None


@lru_cache(maxsize=1024)
def _whole(tag: str | None) -> tuple[str, ...]:
    """The categories that whole numbers reach in a language; two where it is not known."""
    try:
        return whole_number_categories(LanguageTag.parse(tag), "cardinal") if tag is not None else ("one", "other")
    except TagError:
        return ("one", "other")


def _by_category(forms: Mapping[str, str | None], tag: str | None) -> dict[str, str | None]:
    """The forms in CLDR's order; numbered ones are the categories that whole numbers reach in the language, in that order, or that those up to a
    thousand reach where there are as many forms as these: French, Italian and others have one more for millions, which few programs know.
    """
    names: Sequence[str] = ()
    numbered = sum(name in _NUMBERS for name in forms)
    if numbered and tag is not None:
        try:
            language = LanguageTag.parse(tag)
            names, fewer = whole_number_categories(language, "cardinal"), tuple(whole_numbers(language, "cardinal"))
            names = fewer if numbered == len(fewer) else names
        except TagError:
            names = ()
    renamed = {names[int(name)] if name in _NUMBERS and int(name) < len(names) else name: text for name, text in forms.items()}
    order = {name: place for place, name in enumerate((*CATEGORIES, *_NUMBERS))}
    return dict(sorted(renamed.items(), key=lambda item: order.get(item[0], len(order))))


def split_pipes(column: Column, tag: str) -> Column:
    """*column*, which is in *tag*, with the forms that its texts separate by ``|`` by category.

    Intervals (``{0}``, ``[1,19]``, ``[20,*]``) name their forms themselves: ``=0``, ``=1-19``. Without them the forms are
    the categories that whole numbers reach, or ``one`` and ``other``, or, of three, ``zero`` before these.
    """
    found: dict[int, dict[str, str]] = {}
    for index, text in enumerate(column.texts):
        if text is not None and "|" in text:
            found[index] = _pieces(text, tag)
    if not found:
        return column
    texts = list(column.texts)
    for index, forms in found.items():
        texts[index] = forms.get("other", next(reversed(forms.values())))
    return replace(column, texts=tuple(texts), rare=replace(column.rare, forms=found))


_INTERVAL = expression(r"\s*(?:\{\s*(-?[0-9]+)\s*\}|\[\s*(-?[0-9]+|\*)\s*,\s*(-?[0-9]+|\*)\s*\])\s*")


def _pieces(text: str, tag: str) -> dict[str, str]:
    pieces = text.split("|")
    marked = [_INTERVAL.match(piece) for piece in pieces]
    if any(marked):
        named: dict[str, str] = {}
        for piece, match in zip(pieces, marked, strict=True):
            if match is None:
                named["other"] = piece.strip()
            else:
                exact, low, high = match.groups()
                exact = exact if exact is not None else low if low == high else None
                name = f"={exact}" if exact is not None else f"={low}-{high}"
                named[name] = piece[match.end() :].strip()
        return named
    try:
        names: tuple[str, ...] = whole_number_categories(LanguageTag.parse(tag), "cardinal")
    except TagError:
        names = ()
    if len(names) != len(pieces):
        names = {2: ("one", "other"), 3: ("zero", "one", "other")}.get(len(pieces), tuple(map(str, range(len(pieces)))))
    return {name: piece.strip() for name, piece in zip(names, pieces, strict=True)}


def named_by_header(column: Column, tag: str) -> tuple[Column, str]:
    """*column*, which is in *tag*, with its numbered forms named by its header, where its file does not say its language; and what is wrong
    with the header, in words: empty where it has a form for each category that the language needs.
    """
    header = read_header(column.header or "")
    forms = column.rare.forms
    if header is None and forms and "plural=" in (column.header or "").replace(" ", ""):
        return column, "the header's rule for plurals cannot be read"
    if header is None or not forms:
        return column, ""
    if header.forms == 1:  # a team that does without plurals, as many languages do behind a number
        alone = {index: {"0": next(iter(named.values()))} for index, named in forms.items() if named}
        return replace(column, rare=replace(column.rare, forms=alone)), ""
    names, lacking = form_names(header, LanguageTag.parse(tag))
    renamed = {
        index: {names[int(name)] if name.isdigit() and int(name) < len(names) else name: text for name, text in named.items()}
        for index, named in forms.items()
    }
    more = "one more" if len(lacking) == 1 else f"{len(lacking)} more"
    words = f"the header counts {header.forms} plural forms and {tag!r} needs {more}, for {' and '.join(map(repr, lacking))}"
    return replace(column, rare=replace(column.rare, forms=renamed)), words if lacking else ""


def locate(
    found: Format, data: bytes, options: ReadOptions, wanted: Sequence[tuple[str | None, str]]
) -> dict[tuple[str | None, str], Site]:
    """The site of each wanted key that is there; of a message whose forms are spelled in keys, that of its form for *other*, else of
    its first.
    """
    sites = dict(found.locate(data, options, wanted))
    if found.habits.own_plurals:
        return sites
    lost = [name for name in dict.fromkeys(wanted) if name not in sites]
    spelled_out = {
        name: [
            (name[0], f"{name[1]}{sign}{form}")
            for sign in "_."
            for form in ("other", *CATEGORIES, *(reversed(_NUMBERS) if sign == "." else ()))
        ]
        for name in lost
    }
    for name in lost:
        spelled_out[name] += [(name[0], f"{name[1]}{_PLURAL}"), *((name[0], f"{name[1]}_{number}") for number in _NUMBERS)]
        spelled_out[name] += [(name[0], f"{name[1]}{_PLURAL}{sample}") for sample in _SAMPLES]
    more = found.locate(data, options, [form for forms in spelled_out.values() for form in forms]) if lost else {}
    for name, forms in spelled_out.items():
        there = next((more[form] for form in forms if form in more), None)
        if there is not None:
            sites[name] = there
    return sites
