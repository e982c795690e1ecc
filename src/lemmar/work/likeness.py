"""How a locale is written beside others, by their example: in the same spelling, in the same kind of name, with the same things around it.

A list of languages follows a habit: each is ``pt-BR`` or ``pt_br``, with ``BrazilianPortuguese`` or "Português (Brasil)" beside it, with a path such as
``words.pt-BR.json``. The habit is what explains the locales that are there; the new one is written by it.
"""

from __future__ import annotations

import re
from collections.abc import Callable, Sequence
from functools import lru_cache
from itertools import pairwise
from typing import NamedTuple

from lemmar.basics.expressions import expression
from lemmar.tags import LanguageTag, direction, write_spelling
from lemmar.tags.naming import english_names, own_name, subtag_name

#: What a way writes for a tag; None where it writes none so.
_Write = Callable[[LanguageTag], "str | None"]


class Way(NamedTuple):
    """A way to write a locale."""

    name: str
    write: _Write


class Example(NamedTuple):
    """A locale that is there, and what stands for it: its own text, or the whole piece that holds it."""

    tag: LanguageTag
    text: str


_WORDS = expression(r"[^\W\d_]+|\d+")
_SPELLINGS = ("bcp47", "posix", "java", "android")


def _with_region(tag: LanguageTag) -> LanguageTag:
    return tag if tag.region else tag._replace(region=tag.maximized().region)


def _camel(text: str) -> str:
    return "".join(word[:1].upper() + word[1:] for word in _WORDS.findall(text))


_JOINED: dict[str, Callable[[str], str]] = {
    "": lambda text: text,
    "capital": lambda text: text[:1].upper() + text[1:],
    "small": str.lower,
    "camel": _camel,
    "lower camel": lambda text: (camel := _camel(text))[:1].lower() + camel[1:],
    "snake": lambda text: "_".join(_WORDS.findall(text)).lower(),
    "upper snake": lambda text: "_".join(_WORDS.findall(text)).upper(),
    "kebab": lambda text: "-".join(_WORDS.findall(text)).lower(),
    "together": lambda text: "".join(_WORDS.findall(text)).lower(),
}
_CASES: dict[str, Callable[[str], str]] = {
    "": lambda text: text,
    "small": str.lower,
    "large": str.upper,
    "small with _": lambda text: text.lower().replace("-", "_"),
    "large with _": lambda text: text.upper().replace("-", "_"),
    "together": lambda text: re.sub(r"[-_]", "", text),
    "camel": lambda text: _camel(text.lower().replace("-", " ").replace("_", " ")),
    "lower camel": lambda text: (camel := _camel(text.lower().replace("-", " ").replace("_", " ")))[:1].lower() + camel[1:],
}


def _tagged(spelling: str, case: Callable[[str], str], region: bool) -> _Write:
    return lambda tag: case(write_spelling(_with_region(tag) if region else tag, spelling)) or None


def _named(number: int, joined: Callable[[str], str]) -> _Write:
    def write(tag: LanguageTag) -> str | None:
        return joined(english_names(tag)[number]) or None

    return write


def _in_itself(joined: Callable[[str], str]) -> _Write:
    def write(tag: LanguageTag) -> str | None:
        name = own_name(tag)
        return joined(name) if name else None

    return write


def _flag(tag: LanguageTag) -> str | None:
    region = tag.region or tag.maximized().region
    return "".join(chr(0x1F1E6 + ord(letter) - ord("A")) for letter in region) if region and region.isalpha() else None


@lru_cache(maxsize=8)
def ways(first: str) -> tuple[Way, ...]:
    """All ways to write a whole locale, those of the spelling *first* before the others."""
    spellings = dict.fromkeys((*([first] if first not in ("auto", "name") else []), *_SPELLINGS))
    tagged = [
        Way(f"{spelling} {case}{' with its region' if region else ''}", _tagged(spelling, change, region))
        for region in (False, True)
        for case, change in _CASES.items()
        for spelling in spellings
    ]
    named = [Way(f"name {number} {kind}", _named(number, joined)) for number in range(4) for kind, joined in _JOINED.items()]
    kinds = ["capital", *(kind for kind in _JOINED if kind != "capital")]  # names stand alone, where most begin so
    own = [Way(f"own name {kind}", _in_itself(_JOINED[kind])) for kind in kinds]
    return tuple([*named, *own, *tagged] if first == "name" else [*tagged, *own, *named])


#: What may stand beside a locale and belongs to it: its subtags, its region.
_BESIDE = (
    Way("flag", _flag),
    Way("language", lambda tag: tag.language),
    Way("script", lambda tag: tag.script),
    Way("region", lambda tag: tag.region),
    Way("likely region", lambda tag: tag.region or tag.maximized().region),
    Way("likely region, small", lambda tag: (tag.region or tag.maximized().region or "").lower() or None),
    Way("region's name", lambda tag: subtag_name("region", tag.region) if tag.region else None),
)


def written_like(tag: LanguageTag, spelling: str, examples: Sequence[Example]) -> str:
    """*tag* as the *examples* are written, most of them at least; without any, in its *spelling*."""
    return way_of(spelling, examples).write(tag) or write_spelling(tag, "bcp47" if spelling == "auto" else spelling)


def way_of(spelling: str, examples: Sequence[Example]) -> Way:
    """The way in which most of the *examples* are written."""
    every = ways(spelling)
    best, most = every[0], 0
    for way in every:
        score = sum(way.write(example.tag) == example.text for example in examples)
        if score > most:
            best, most = way, score
        if most == len(examples):
            break
    return best


class _Occurrence(NamedTuple):
    start: int
    end: int
    ways: tuple[Way, ...]


@lru_cache(maxsize=4096)
def _pattern(form: str) -> re.Pattern[str]:
    if form[:1].isupper() and not form.isupper():
        before, after = r"(?<![A-Z])", r"(?![a-z0-9])"
    elif form.islower() and form.isascii():
        before, after = r"(?<![A-Za-z0-9])", r"(?![a-z0-9])"
    else:
        before, after = r"(?<!\w)" if form[:1].isalpha() else "", r"(?!\w)" if form[-1:].isalpha() else ""
        before, after = before.replace(r"\w", "[^\\W_]"), after.replace(r"\w", "[^\\W_]")
    return re.compile(before + re.escape(form) + after)


def _occurrences(piece: str, old: LanguageTag, spelling: str, names: bool = True) -> list[_Occurrence]:
    """Where *piece* writes *old*, in whatever ways, by *names* or by its tag only; of places that overlap the longer."""
    found: list[_Occurrence] = []
    for form, those in _forms(old, spelling, names):
        if form not in piece:
            continue
        for match in _pattern(form).finditer(piece):
            if all(match.end() <= each.start or each.end <= match.start() for each in found):
                found.append(_Occurrence(match.start(), match.end(), those))
    return sorted(found)


@lru_cache(maxsize=1024)
def _forms(tag: LanguageTag, spelling: str, names: bool) -> tuple[tuple[str, tuple[Way, ...]], ...]:
    """Every way in which *tag* may be written, the longest text first, each with the ways that write it so."""
    forms: dict[str, list[Way]] = {}
    for way in (*ways(spelling), *_BESIDE) if names else (way for way in ways(spelling) if "name" not in way.name):
        form = way.write(tag)
        if form:
            forms.setdefault(form, []).append(way)
    return tuple((form, tuple(forms[form])) for form in sorted(forms, key=len, reverse=True))


def restated(piece: str, old: LanguageTag, new: LanguageTag, spelling: str, others: Sequence[Example] = (), names: bool = True) -> str:
    """*piece*, which speaks of *old*, as it would speak of *new*: every text that is a way to write the one written in that way for the other; without
    *names* only its tag.

    Where several ways write *old* alike, the one counts that the *others* show, pieces beside this one; else the first.
    """
    out, position = [], 0
    for found in _occurrences(piece, old, spelling, names):
        written = {way: form for way in found.ways if (form := way.write(new)) is not None}
        if not written:
            continue
        best = next(iter(written))
        if len(set(written.values())) > 1 and others:
            scores = {way: _shown(way, others, piece[: found.start], piece[found.end :]) for way in written}
            best = max(written, key=lambda way: scores[way])
        out += [piece[position : found.start], written[best]]
        position = found.end
    return _turned("".join([*out, piece[position:]]), new)


def _shown(way: Way, others: Sequence[Example], before: str, after: str) -> int:
    """How many of the *others* have what *way* writes for their tags, between the same signs at the best."""
    left, right = before[-1:], after[:1]
    score = 0
    for other in others:
        form = way.write(other.tag)
        if form and left + form + right in other.text:
            score += 3
        elif form and form in other.text:
            score += 1
    return score


_DIRECTION = expression(r"(?<![A-Za-z])(rtl|ltr|RTL|LTR)(?![A-Za-z])(?!\"?'?\s*[:=])")
_IS_RTL = expression(r"(?i)(?<![a-z])((?:is)?_?(?:rtl|right_?to_?left)[\"']?\s*[:=]\s*)(true|false)")


def _turned(piece: str, new: LanguageTag) -> str:
    """*piece* with the direction of *new* in the place of one that is stated."""
    wanted = direction(new)
    piece = _DIRECTION.sub(lambda match: wanted.upper() if match[1].isupper() else wanted, piece)
    return _IS_RTL.sub(lambda match: match[1] + _as_case("true" if wanted == "rtl" else "false", match[2]), piece)


def _as_case(word: str, like: str) -> str:
    return word.capitalize() if like[:1].isupper() else word


class Composed(NamedTuple):
    """A new piece, and the number of the one that it was made after; whether the others, made after it as well, are what is there."""

    text: str
    model: int
    sure: bool


_NUMBER = expression(r"(?<![\w.])-?[0-9]+(?![\w.])")


def composed(pieces: Sequence[Example], new: LanguageTag, spelling: str) -> Composed:
    """The piece for *new* beside *pieces*, made after the one that explains most of the others, those of its own shape first.

    Raises:
        ValueError: there is no piece.
    """
    numbers = _counted(pieces)
    ranked: list[tuple[tuple[bool, float, float, float, bool, int], int]] = []
    few = _few(len(pieces))
    alike = [piece for piece in pieces if shape(piece.tag) == shape(new)]
    for place in _candidates(pieces, new):
        model = pieces[place]
        others = [pieces[number] for number in few if number != place]
        explained = [
            _same(restated(model.text, model.tag, other.tag, spelling, others), other.text, numbers is not None) for other in others
        ]
        of_all = _share(explained)
        of_alike = [known for known, other in zip(explained, others, strict=True) if shape(other.tag) == shape(new)]
        framed_as = _share([frame(piece.text) == frame(model.text) for piece in alike])
        holds = bool(_occurrences(model.text, model.tag, spelling))
        rank = (holds, framed_as, _share(of_alike) if of_alike else of_all, of_all, shape(model.tag) == shape(new), place)
        ranked.append((rank, place))
    (holds, framed_as, share, of_all, same_shape, _), place = max(ranked)
    model = pieces[place]
    text = restated(model.text, model.tag, new, spelling, [pieces[number] for number in few])
    if numbers is not None:
        text = _NUMBER.sub(str(numbers[-1] + 1), text, count=1)
    plain = model.text.strip("\"'` ") in {way.write(model.tag) for way in ways(spelling)}
    framed = bool(alike) and framed_as >= _ENOUGH
    explains = max(share, of_all) >= _ENOUGH and (same_shape or framed or not _MAKES_LOCALE.search(model.text))
    return Composed(text, place, holds and (plain or explains))


#: So many pieces are held against one another, and as many may be the model: in lists of hundreds each of them shows the habit.
_MOST = 12


def _few(number: int) -> list[int]:
    """Numbers below *number*, `_MOST` at the most, evenly spread, the last among them."""
    return list(range(number)) if number <= _MOST else sorted({round(at * (number - 1) / (_MOST - 1)) for at in range(_MOST)})


def _candidates(pieces: Sequence[Example], new: LanguageTag) -> list[int]:
    """The pieces after which one for *new* may be made: the last ones, and the last of its own shape."""
    alike = [number for number, piece in enumerate(pieces) if shape(piece.tag) == shape(new)]
    return sorted({*range(len(pieces))[-_MOST:], *alike[-_MOST:]})


def _share(explained: Sequence[bool]) -> float:
    return sum(explained) / len(explained) if explained else _ENOUGH


#: The share of other pieces that one must explain so that a new one made after it is beyond doubt; it counts where there are no others.
_ENOUGH = 0.5
_MAKES_LOCALE = expression(r"[Ll]ocale|Culture|Language")


_QUOTED = expression(r"\"[^\"\n]*\"|'[^'\n]*'|`[^`]*`|>[^<]*<|[0-9]+")


def frame(piece: str) -> str:
    """A piece without what stands in its quotes: what is alike in all pieces of one make."""
    return _QUOTED.sub("\0", piece)


def shape(tag: LanguageTag) -> tuple[bool, bool]:
    """Whether a tag has a script, and a region."""
    return tag.script is not None, tag.region is not None


def _same(made: str, there: str, numbered: bool) -> bool:
    return made == there if not numbered else _NUMBER.sub("", made) == _NUMBER.sub("", there)


def _counted(pieces: Sequence[Example]) -> list[int] | None:
    """The number in each piece, where each has one and they count up; else None."""
    found = [_NUMBER.findall(piece.text) for piece in pieces]
    if len(pieces) < 2 or any(len(numbers) != 1 for numbers in found):
        return None
    numbers = [int(each[0]) for each in found]
    return numbers if all(after == before + 1 for before, after in pairwise(numbers)) else None
