"""Every text of the product that is to be translated, once however many clients have it, and where each of them does.

Two messages are one text where they say the same in neutral form (`lemmar.syntax.neutral`), stand in the same context, and, where they are so short that
they may mean two things, have the same description.
"""

from __future__ import annotations

import base64
import hashlib
from collections.abc import Iterator, Mapping
from typing import NamedTuple

from msgspec import Struct

from lemmar.basics.expressions import expression
from lemmar.inventory.contents import Catalog
from lemmar.resolve.spots import holder_of
from lemmar.resolve.syntaxes import syntax_of
from lemmar.resolve.world import Client, Space, World
from lemmar.syntax import Neutral, Placeholder, Syntax, leading, neutral
from lemmar.syntax import load as load_syntax

#: A text of fewer words may mean two things.
_CLEAR = 3
_CONTEXT = "\x04"


#: A message: the source's file and column, its part and key.
Name = tuple[str, str | None, str | None, str]


class Use(NamedTuple):
    """Where a client has a text: the *holder* is the source's catalog, *neutral* what its own text is in neutral form (None: it has none), *syntax* that of
    the catalog. *clients* are all that share the catalog.
    """

    clients: tuple[str, ...]
    client: Client
    part: str | None
    key: str
    holder: Catalog
    syntax: Syntax
    neutral: Neutral | None

    @property
    def space(self) -> Space:
        """Where its key is looked up."""
        return self.client.space(self.holder)

    @property
    def name(self) -> Name:
        """What tells it from the others."""
        return self.holder.file, self.holder.column.label, self.part, self.key


class Text(Struct, frozen=True):
    """A text: its *id*; its *forms* as people are given them, one under the empty name or by plural category; its *placeholders*; the name of the *syntax* in
    which it is given where it has no neutral form (else empty); what is said of it; how many characters it may have at the most; its uses.
    """

    id: str
    forms: Mapping[str, str]
    placeholders: tuple[Placeholder, ...]
    syntax: str
    descriptions: tuple[str, ...]
    context: str
    limit: int | None
    uses: tuple[Use, ...]

    @property
    def is_counted(self) -> bool:
        """Whether it has forms by number."""
        return "" not in self.forms

    @property
    def shown(self) -> str:
        """Its text, or its form for *other*."""
        return leading(self.forms)


_Group = tuple[object, str, str]


def texts_of(world: World) -> tuple[Text, ...]:
    """Every text, in the order of clients, parts and keys; those that every locale leaves as they are (fixed ones) are none."""
    groups: dict[_Group, dict[Name, Use]] = {}
    by_name: dict[Name, _Group] = {}
    for use, context in _uses(world):
        group = by_name.get(use.name)
        if group is not None:  # another client that shares the catalog
            first = groups[group][use.name]
            groups[group][use.name] = first._replace(clients=(*first.clients, *use.clients))
            continue
        said: object = tuple(sorted(forms_of(use.holder, use.key).items())) if use.neutral is None else use.neutral.skeleton
        group = by_name[use.name] = (said, use.syntax.name if use.neutral is None else "", context)
        groups.setdefault(group, {})[use.name] = use
    return tuple(_text(group, about, uses) for group, held in groups.items() for about, uses in _apart(list(held.values())))


def _apart(uses: list[Use]) -> Iterator[tuple[str, list[Use]]]:
    """The uses that have one meaning: all of a longer text; of a short one those with the same description, where there are several."""
    by_description: dict[str, list[Use]] = {}
    for use in uses:
        by_description.setdefault(_described(use).casefold(), []).append(use)
    is_short = len(leading(forms_of(uses[0].holder, uses[0].key)).split()) < _CLEAR
    if is_short and len(by_description.keys() - {""}) > 1:
        yield from by_description.items()
    else:
        yield "", uses


def _described(use: Use) -> str:
    return " ".join(use.holder.column.rare.comment.get(use.holder.column.keys.places[use.key], "").split())


def _uses(world: World) -> Iterator[tuple[Use, str]]:
    """Each message of each client, with its context."""
    for client in world.clients:
        syntaxes: dict[int, Syntax] = {}
        for space, source in client.sources.items():
            for key in source.keys:
                holder = source.catalogs[0] if len(source.catalogs) == 1 else holder_of(source, key)
                index = holder.column.keys.places[key]
                rare = holder.column.rare
                if not holder.column.texts[index] or rare.state.get(index) == "computed":
                    continue
                if holder.order not in syntaxes:
                    syntaxes[holder.order] = syntax_of(world.charter, client, holder)
                syntax = load_syntax("plain") if index in rare.unformatted else syntaxes[holder.order]
                context = rare.context.get(index, "") or (key.partition(_CONTEXT)[0] if _CONTEXT in key else "")
                use = Use((client.name,), client, space.part, key, holder, syntax, neutral(syntax, forms_of(holder, key)))
                yield use, context


def forms_of(catalog: Catalog, key: str) -> Mapping[str, str]:
    """A message's forms as its catalog has them; its text under the empty name where it has one only."""
    index = catalog.column.keys.places[key]
    forms = catalog.column.rare.forms.get(index)
    return forms if forms else {"": catalog.column.texts[index] or ""}


def _text(group: _Group, about: str, uses: list[Use]) -> Text:
    said, own, context = group
    first = _best_named(uses)
    forms = forms_of(first.holder, first.key) if first.neutral is None else first.neutral.forms
    limits = [limit for use in uses for limit in [_limit(use)] if limit]
    said_of = [use.holder.column.rare.comment.get(use.holder.column.keys.places[use.key], "") for use in uses]
    descriptions = {" ".join(words.split()).casefold(): words for words in reversed(said_of) if words}
    name = hashlib.blake2b(repr((said, own, context, about)).encode("utf-8", "surrogatepass"), digest_size=6).digest()
    return Text(
        "t-" + base64.b32encode(name).decode("ascii").rstrip("=").lower(),
        dict(forms),
        first.neutral.placeholders if first.neutral is not None else (),
        own,
        tuple(reversed(descriptions.values())),
        context,
        min(limits, default=None),
        tuple(uses),
    )


def _best_named(uses: list[Use]) -> Use:
    """The use whose placeholders have names that say the most: words rather than numbers."""
    return max(uses, key=lambda use: sum(not each.name.isdigit() for each in use.neutral.placeholders) if use.neutral is not None else 0)


def _limit(use: Use) -> int | None:
    limit = use.holder.column.rare.limit.get(use.holder.column.keys.places[use.key])
    return limit if isinstance(limit, int) and limit > 0 else None


_WORD = expression(r"[^\W_]+(?:['’\-][^\W_]+)*")
_LETTERS_THAT_ARE_WORDS = expression(
    "[\u3041-\u30ff\u3400-\u4dbf\u4e00-\u9fff\uf900-\ufaff\u0e01-\u0e3a\u0e80-\u0eff\u1000-\u109f\u1780-\u17ff]"
)


def words_in(text: str) -> int:
    """How many words a text has; of scripts that leave no blanks between words, how many letters."""
    alone = len(_LETTERS_THAT_ARE_WORDS.findall(text))
    return alone + len(_WORD.findall(_LETTERS_THAT_ARE_WORDS.sub(" ", text)))
