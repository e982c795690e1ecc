"""Composed catalogs and key lists made anew: what a script would make of the fragments, and a list with the keys of today, each entry after the example of
the others.
"""

from __future__ import annotations

import re
from collections.abc import Callable, Sequence

from lemmar.basics.expressions import expression
from lemmar.basics.text import decode
from lemmar.documents.rows import Row, inserted, removed, row_of
from lemmar.documents.splicing import EditError, Splice
from lemmar.formats import Model, NewEntry, Where
from lemmar.inventory.composing import Composition, Said
from lemmar.inventory.key_lists import KeyList, difference, folded, listed_keys
from lemmar.resolve.spots import keys_of
from lemmar.resolve.world import Client
from lemmar.tags import LanguageTag
from lemmar.trees import File
from lemmar.work.changes import Changes
from lemmar.work.likeness import restated
from lemmar.work.places import Monorepo


def compose(monorepo: Monorepo, clients: Sequence[Client]) -> None:
    """Makes the composed catalogs and key lists of *clients* anew that are not as they should be; what cannot be made is a step for a person.

    Raises:
        LemmarError: the monorepo could not be looked at with the new catalogs.
    """
    changes = monorepo.changes
    for client in clients:
        for made in client.composed:
            if made.fault:
                changes.step(f"mend it first: {made.fault}", made.file)
            for first, second in made.clashes:
                words = f"{second.key!r} has another text in {first.spot.file}; give one of them another key, or say which counts"
                changes.step(words, second.spot.file)
            if made.is_stale and not made.clashes:
                with changes.or_step("make it by hand", made.file):
                    _write(changes, made, [each.file for each in client.composed if each.where == made.where and each.file != made.file])
    named = {client.name for client in clients}
    now = monorepo.now().world if changes else monorepo.world  # lists mirror the keys of the catalogs as they are then
    for client in (each for each in now.clients if each.name in named):
        for found in client.key_lists:
            if found.fault or found.unfinished:
                changes.step(f"it cannot be read: {found.fault or found.unfinished}", found.file)
            else:
                with changes.or_step("bring it up to date by hand", found.file):
                    _relist(changes, found, keys_of(found, client.sources))


def _write(changes: Changes, made: Composition, others: Sequence[File]) -> None:
    """The catalog with what its fragments give; the *others* show how keys nest. Raises `EditError`."""
    order = [part.key for part in made.wanted]
    models = [*(other for other in others if changes.is_file(other)), *(each.file for each in made.fragments)]
    like = decode(changes.read(models[0])).text if models else ""
    if not made.there and not changes.is_file(made.file):
        changes.put(made.file, _blank(made, decode(changes.read(made.fragments[0].file)).text).encode("utf-8"))
    data = changes.read(made.file)
    where = Where(made.options, made.label, order, like if made.form.habits.nests else "")
    if made.surplus:
        data = made.form.removed(data, where, set(made.surplus))
    said = {part.key: part.said for part in made.wanted}
    if made.other:
        plain = {key: text for key in made.other if isinstance(text := said[key], str)}
        data = made.form.with_texts(data, where, plain)
        several = {key: dict(forms) for key in made.other if not isinstance(forms := said[key], str)}
        if several:
            data = made.form.with_forms(data, made.options, lambda place: several.get(place.key, {}).get(place.form))
    if made.lacking:
        data = made.form.added(data, where, [_entry(key, said[key]) for key in made.lacking])
    changes.put(made.file, data)
    changes.places += 1


def _entry(key: str, said: Said) -> NewEntry:
    if isinstance(said, str):
        return NewEntry(key, said)
    forms = dict(said)
    return NewEntry(key, forms.get("other", list(forms.values())[-1]), forms)


def _blank(made: Composition, like: str) -> str:
    """A catalog without texts, after the example of a fragment. Raises `EditError`."""
    if made.form.writes.edits is None:
        raise EditError(f"{made.form.name} files are not made")
    tag = LanguageTag.parse(made.tag)
    return made.form.writes.edits.blank(
        Model(like, made.options, tag, tag, made.tag, lambda mark: restated(mark, tag, tag, "auto", names=False))
    )


# ------------------------------------------------------------------------------------------------------------------ key lists


def _relist(changes: Changes, found: KeyList, keys: Sequence[str]) -> None:
    """The list without what is no key any more, and with the keys that it lacks. Raises `EditError`."""
    apart = difference(found, keys)
    if not apart.lacking and not apart.surplus:
        return
    (selector,) = found.entry.given()
    if selector.lay is None:
        raise EditError(f"lists that are read by {selector.name} are not edited")
    laid = selector.lay(changes.read(found.file), found.entry.pick())
    place = row_of(laid.text, laid.nest, [held.span for held in laid.held])
    row = place.row
    names = [held.text for held in laid.held]
    gone = {value.text for value in apart.surplus}
    splices: list[Splice] = list(
        removed(laid.text, row, sorted({number for name, number in zip(names, place.items, strict=True) if name in gone}))
    )
    wanted = listed_keys(found.entry, keys)
    left = [(name, number) for name, number in zip(names, place.items, strict=True) if name not in gone]
    by_place: dict[int, list[str]] = {}
    for key in apart.lacking:
        by_place.setdefault(_after(key, wanted, left, row), []).append(_made(key, wanted, left, laid.text, row))
    for after, pieces in by_place.items():
        splices += inserted(laid.text, row, pieces, after)
    changes.edit(found.file, splices, laid.decoded)


def _after(key: str, wanted: Sequence[str], left: Sequence[tuple[str, int]], row: Row) -> int:
    """Behind which item of the row a key belongs: the nearest key before it in the source that stands there, else the last."""
    numbers = {folded(name): number for name, number in left}
    before = [numbers[name] for each in wanted[: wanted.index(key)] if (name := folded(each)) in numbers]
    return before[-1] if before else len(row.items) - 1


def _made(key: str, wanted: Sequence[str], left: Sequence[tuple[str, int]], text: str, row: Row) -> str:
    """A new item: the most telling of the others, with another name wherever that has its own, in the same way of writing. Raises `EditError`."""
    known = {folded(each): each for each in wanted}
    models = [(known[folded(name)], text[slice(*row.items[number])]) for name, number in left if folded(name) in known]
    if not models:
        raise EditError("no item names a key, after which another could be made")
    model, piece = max(models, key=lambda pair: (min(len(_words(pair[0])), 2), -abs(len(_words(pair[0])) - len(_words(key)))))
    return _NAME.sub(lambda match: _renamed(match.group(), model, key) if folded(match.group()) == folded(model) else match.group(), piece)


_NAME = expression(r"\w[\w.\-]*\w|\w")
_WORD = expression(r"[A-Z]+(?![a-z])|[A-Z]?[a-z]+|[0-9]+|[^\W\d_A-Za-z]+")


def _words(name: str) -> list[str]:
    return [word.lower() for word in _WORD.findall(name)]


def _renamed(written: str, model: str, key: str) -> str:
    """*key* written as *written* writes the key *model*."""
    if written == model:
        return key
    words = _words(key)
    ways: tuple[Callable[[Sequence[str]], str], ...] = (
        lambda found: "_".join(found).upper(),
        lambda found: "_".join(found),
        lambda found: "-".join(found),
        lambda found: ".".join(found),
        lambda found: found[0] + "".join(word.capitalize() for word in found[1:]),
        lambda found: "".join(word.capitalize() for word in found),
        lambda found: "".join(found),
    )
    for way in ways:
        if _words(model) and way(_words(model)) == written:
            return way(words)
    sign = next((each for each in "_-." if each in written), "")
    made = re.sub(r"[^\w]+", sign, key) if sign else key
    return made.upper() if written.isupper() else made
