"""Texts as people are given them, whatever the syntax: each placeholder is ``{name}``, forms by number are apart, escapes are the signs that they stand for.

Two clients that write one sentence in two syntaxes have one neutral text; what is written for it is put into each syntax again. A text that holds braces of
its own, or branches other than the forms of one number, has no neutral form.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from typing import NamedTuple

from lemmar.basics.expressions import expression
from lemmar.syntax._shape import Branches, Piece, Syntax


class Placeholder(NamedTuple):
    """A placeholder: its name, the kind of value that it shows (empty: any), and how its text writes it."""

    name: str
    kind: str
    written: str


class Neutral(NamedTuple):
    """A message as people are given it: its text, under the empty name, or its forms by category; its placeholders in the order in which they stand;
    and in which order the text of each form has them.
    """

    forms: Mapping[str, str]
    placeholders: tuple[Placeholder, ...]
    orders: Mapping[str, tuple[str, ...]]
    branches: Branches | None = None

    @property
    def skeleton(self) -> tuple[tuple[str, str], ...]:
        """The forms with placeholders that have no names: the same for every client that says this."""
        places = {each.name: f"\ufffc{number}" for number, each in enumerate(self.placeholders)}
        return tuple((form, _NAMED.sub(lambda match: places.get(match[1], match[0]), text)) for form, text in self.forms.items())


_NAMED = expression(r"\{([^{}]*)\}")


def pieces(syntax: Syntax, text: str) -> list[Piece] | None:
    """The words and placeholders of *text*; None where it is broken, or has branches or escapes that have no neutral form."""
    if syntax.pieces is not None:
        return syntax.pieces(text)
    if syntax.placeholder is None:
        return [Piece(text)]
    found, position = [], 0
    for match in syntax.placeholder.finditer(text):
        arguments = syntax.shape(match.group()).arguments
        if len(arguments) != 1:
            return None
        found += [Piece(text[position : match.start()]), Piece(match.group(), arguments[0].name, arguments[0].type)]
        position = match.end()
    return [each for each in (*found, Piece(text[position:])) if each.text]


def neutral(syntax: Syntax, texts: Mapping[str, str]) -> Neutral | None:
    """A message, given as its text under the empty name or its forms by category, as people are given it; None where it has no such form."""
    branches = syntax.branches(texts[""]) if syntax.branches is not None and "" in texts else None
    forms: dict[str, str] = {}
    orders: dict[str, tuple[str, ...]] = {}
    known: dict[str, Placeholder] = {}
    for form, text in (branches.forms if branches is not None else texts).items():
        found = _of_number(syntax, text, branches) if branches is not None else pieces(syntax, text)
        if found is None or any("{" in each.text or "}" in each.text for each in found if not each.name):
            return None
        for each in found:
            if each.name and ("{" in each.name or "}" in each.name):
                return None
            held = known.setdefault(each.name, Placeholder(each.name, each.kind, each.text)) if each.name else None
            if held is not None and held.written != each.text and "#" not in (held.written, each.text):
                return None
            if held is not None and each.kind and not held.kind:
                known[each.name] = held._replace(kind=each.kind)
        forms[form] = "".join(f"{{{each.name}}}" if each.name else each.text for each in found)
        orders[form] = tuple(each.name for each in found if each.name)
    return Neutral(forms, tuple(known.values()), orders, branches)


def _of_number(syntax: Syntax, text: str, branches: Branches) -> list[Piece] | None:
    """The pieces of a branch, in which ``#`` stands for the number."""
    found: list[Piece] = []
    for each in pieces(syntax, text) or ([] if not text else [Piece("{")]):
        if each.name or not syntax.counts_by_sign:
            found.append(each)
            continue
        for number, words in enumerate(each.text.split("#")):
            found += [Piece("#", branches.argument, "number")] if number else []
            found += [Piece(words)] if words else []
    return found


class NotWrittenError(ValueError):
    """A neutral text that cannot be written in a syntax; the message says why."""


def written(syntax: Syntax, like: Neutral, forms: Mapping[str, str], names: Mapping[str, str]) -> dict[str, str]:
    """The neutral *forms* of a translation as the message *like* is written: one text under the empty name, or the forms by category. *names* says what
    each of the translation's placeholders is called in *like*.

    Raises:
        NotWrittenError: a placeholder is not known, or the texts would not be read as they are meant.
    """
    raw = {each.name: each.written for each in like.placeholders}
    found: dict[str, str] = {}
    for form, text in forms.items():
        split = _NAMED.split(text)
        used = [names.get(name, name) for name in split[1::2]]
        strange = next((name for name in used if name not in raw), None)
        if strange is not None or any("{" in words or "}" in words for words in split[::2]):
            raise NotWrittenError(f"nobody fills in {{{strange}}}" if strange is not None else "a brace stands alone")
        order = like.orders.get(form, like.orders.get("other", list(like.orders.values())[-1]))
        moved = syntax.moved if tuple(used) != order and syntax.moved is not None else None
        out = []
        for number, words in enumerate(split):
            if number % 2:
                name = names.get(words, words)
                out.append(moved(raw[name], name) if moved is not None else raw[name])
            else:
                following = number + 1 < len(split)
                out.append(syntax.literal(words, bool(like.placeholders), following) if syntax.literal is not None else words)
        found[form] = "".join(out)
    made = {"": like.branches.written(found)} if like.branches is not None else found
    again = neutral(syntax, made)
    if again is None or dict(again.forms) != {form: _renamed(text, names) for form, text in forms.items()}:
        raise NotWrittenError(f"its signs would be read in another way where texts are written as {syntax.name}")
    return made


def _renamed(text: str, names: Mapping[str, str]) -> str:
    return _NAMED.sub(lambda match: f"{{{names.get(match[1], match[1])}}}", text)


def paired(theirs: Sequence[Placeholder], ours: Sequence[Placeholder]) -> dict[str, str]:
    """What each placeholder of one message is called in another that says the same: they stand in one order."""
    return {their.name: our.name for their, our in zip(theirs, ours, strict=True)}


def leading(forms: Mapping[str, str]) -> str:
    """A message's text, or its form for *other*, else its last; empty where it has none."""
    return forms.get("", forms.get("other", list(forms.values())[-1] if forms else ""))


def named_in(texts: Iterable[str]) -> list[str]:
    """The names of the placeholders in neutral texts, each once."""
    return list(dict.fromkeys(name for text in texts for name in _NAMED.findall(text)))
