"""Edits of what clients claim: a locale is put into a claim in the claim's own way, taken out, or called otherwise."""

from __future__ import annotations

import re
from collections.abc import Callable, Iterator, Sequence
from contextlib import suppress
from typing import NamedTuple

from lemmar import languages
from lemmar.basics.expressions import expression
from lemmar.basics.text import decode
from lemmar.charter.types import ClaimEntry
from lemmar.documents.rows import Place, Row, inserted, place_for, removed, row_of
from lemmar.documents.splicing import EditError, Splice
from lemmar.documents.structured import suffix_of
from lemmar.inventory.aside import is_packed
from lemmar.inventory.locales import Speller
from lemmar.selectors import Held, Laid, Value
from lemmar.tags import LanguageTag, Tag, same_locale
from lemmar.trees import File
from lemmar.work import companions
from lemmar.work.changes import Changes, line_of
from lemmar.work.likeness import Example, composed, frame, restated, shape, written_like

_FLAG = expression("[\U0001f1e6-\U0001f1ff]{2}")


class ClaimPlace(NamedTuple):
    """A claim that is edited: its file, how the charter points at it, how its locales are read, and what the roster calls a locale of the client's."""

    file: File
    entry: ClaimEntry
    speller: Speller
    roster: Callable[[Tag], Tag]

    def tag(self, text: str) -> Tag | None:
        """The tag that *text* stands for here."""
        return self.speller.tag(text)

    def called(self, text: str) -> Tag | None:
        """What the roster calls the locale that *text* stands for."""
        tag = self.tag(text)
        return self.roster(tag) if tag is not None else None


class _Item(NamedTuple):
    """A locale of a claim in a row: its text, the number of the item that holds it, that item's text."""

    text: str
    number: int
    piece: str


def _laid(changes: Changes, place: ClaimPlace) -> Laid:
    selector = place.entry.selector
    if selector.lay is None:
        raise EditError("this claim has no place of its own")
    data = changes.read(place.file)
    if languages.load(suffix_of(place.file)) is not None and is_packed(data):
        raise EditError("a build has made the file; edit what it is made from")
    return selector.lay(data, place.entry.pick())


def _row(place: ClaimPlace, laid: Laid) -> tuple[Row, list[_Item]]:
    """The row in which the claim's locales stand, and what holds each. Raises `EditError`."""
    if place.entry.split is not None:
        return _split_row(place.entry.split, laid)
    found: Place = row_of(laid.text, laid.nest, [held.span for held in laid.held])
    return found.row, [
        _Item(held.text, number, laid.text[slice(*found.row.items[number])]) for held, number in zip(laid.held, found.items, strict=True)
    ]


def _split_row(sign: str, laid: Laid) -> tuple[Row, list[_Item]]:
    """The row that the locales of one text make, with a sign between them."""
    whole = next(
        (held for held in laid.held if sign.strip() in held.text and len(held.text.split(sign)) > 1), laid.held[0] if laid.held else None
    )
    if whole is None:
        raise EditError("no locale stands there, beside which another could be put")
    start = laid.text.find(whole.text, *whole.span)
    if start < 0:
        raise EditError("the text of the locales is written with escapes")
    spans, texts, position = [], [], start
    for piece in whole.text.split(sign):
        if piece.strip():
            begin = position + len(piece) - len(piece.lstrip())
            spans.append((begin, begin + len(piece.strip())))
            texts.append(piece.strip())
        position += len(piece) + len(sign)
    row = Row((start, start + len(whole.text)), tuple(spans), sign.strip())
    return row, [_Item(text, number, text) for number, text in enumerate(texts)]


def add(changes: Changes, place: ClaimPlace, tag: Tag, like: Tag | None = None) -> None:
    """Puts the roster's locale *tag* into a claim, after the example of the others (of *like*, if that is there); what could not be done for sure is a step."""
    laid = _laid(changes, place)
    row, items = _row(place, laid)
    known = [(item, own) for item in items if (own := place.tag(item.text)) is not None]
    if any(place.roster(own) == tag for _, own in known):
        return
    spelling = place.speller.spelling
    examples = [Example(LanguageTag.parse(place.roster(own)), item.text) for item, own in known]
    text = written_like(LanguageTag.parse(tag), spelling, examples)
    new = place.tag(text)
    if new is None or not (place.roster(new) in (tag, new) or same_locale(LanguageTag.parse(new), LanguageTag.parse(tag))):
        raise EditError(f"{text!r} would not be read as {tag!r} here")
    pieces = [Example(LanguageTag.parse(own), item.piece) for item, own in known if _alone(item, items)]
    if not pieces:
        raise EditError("no item holds one locale only")
    wanted = [piece for piece in pieces if like is not None and place.roster(Tag(str(piece.tag))) == like]
    made = composed(wanted or pieces, LanguageTag.parse(new), spelling)
    after = place_for([item.text for item in items], text, [item.number for item in items])
    if place.entry.ordered or place.entry.take in ("members", "cases") or like is not None:
        after = max(item.number for item in items)
    if place.entry.take == "cases" and after == len(row.items) - 1 and len(row.items) > len({item.number for item in items}):
        after = max(item.number for item in items)
    try:
        _made(changes, place, laid, inserted(laid.text, row, made.text, after), text)
    except EditError:
        if _in_quotes(made.text, text, laid.text) == made.text:
            raise
        _made(changes, place, laid, inserted(laid.text, row, _in_quotes(made.text, text, laid.text), after), text)
    model = (wanted or pieces)[made.model]
    if languages.load(suffix_of(place.file)) is not None:
        now = changes.read(place.file)
        decoded = decode(now)
        splices, missing = companions.added(decoded.text, pieces, model, LanguageTag.parse(new), spelling)
        changes.edit(place.file, splices, decoded)
        for name in missing:
            changes.step(f"bring {name!r} into the file, as its neighbours are", place.file, _line_of(changes, place, text))
    if _FLAG.search(made.text) and not LanguageTag.parse(new).region:
        changes.step(f"look at the flag beside {text!r}: a language has none", place.file, _line_of(changes, place, text))
    if not made.sure:
        line = _line_of(changes, place, text)
        changes.step(
            f"look at what stands beside {text!r}: it was made after {str(model.tag)!r}, whose example does not explain the others",
            place.file,
            line,
        )


def _in_quotes(piece: str, text: str, whole: str) -> str:
    """*piece* with the name that it begins with in quotes: one such as ``zh-Hans`` cannot stand without, where ``de`` can."""
    quote = max("\"'", key=lambda sign: whole.count(sign))
    return re.sub(rf"\A{re.escape(text)}(?=\s*[:=])", f"{quote}{text}{quote}", piece)


def _alone(item: _Item, items: Sequence[_Item]) -> bool:
    return sum(other.number == item.number for other in items) == 1


def _made(changes: Changes, place: ClaimPlace, laid: Laid, splices: Sequence[Splice], *wanted: str) -> None:
    """Makes the edit, and holds what is then read against what was meant: the same locales, with those that are new or without those that are gone."""
    before = changes.read(place.file)
    changes.edit(place.file, splices, laid.decoded)
    try:
        now = _texts(place, _laid(changes, place))
    except EditError as error:
        changes.put(place.file, before)
        raise EditError(f"the edit would break the file: {error}") from error
    gone = [text for text in wanted if text.startswith("\0")]
    old = _texts(place, laid)
    expected = sorted([text for text in old if f"\0{text}" not in gone] + [text for text in wanted if not text.startswith("\0")])
    if sorted(now) != expected:
        changes.put(place.file, before)
        raise EditError("the edit would change more than this locale")


def _texts(place: ClaimPlace, laid: Laid) -> list[str]:
    texts = [held.text for held in laid.held]
    if place.entry.split is not None:
        texts = [piece.strip() for text in texts for piece in text.split(place.entry.split) if piece.strip()]
    return texts


def _line_of(changes: Changes, place: ClaimPlace, text: str) -> int | None:
    laid = _laid(changes, place)
    found = next((held for held in laid.held if held.text == text), None)
    return line_of(laid.text, found.span[0]) if found is not None else None


def take_out(changes: Changes, place: ClaimPlace, tag: Tag) -> None:
    """Takes the roster's locale *tag* out of a claim. Raises `EditError`."""
    laid = _laid(changes, place)
    row, items = _row(place, laid)
    gone = [item for item in items if place.called(item.text) == tag]
    if not gone:
        return
    if any(not all(place.called(other.text) == tag for other in items if other.number == item.number) for item in gone):
        raise EditError(f"{gone[0].text!r} stands in one item with other locales")
    _made(changes, place, laid, removed(laid.text, row, [item.number for item in gone]), *(f"\0{item.text}" for item in gone))
    if languages.load(suffix_of(place.file)) is not None:
        for item in gone:
            own = place.tag(item.text)
            decoded = decode(changes.read(place.file))
            if own is not None:
                changes.edit(place.file, companions.gone(decoded.text, item.piece, LanguageTag.parse(own), place.speller.spelling), decoded)


def rename(changes: Changes, place: ClaimPlace, old: Tag, new: Tag) -> None:
    """Calls the roster's locale *old* by its *new* tag wherever the claim names it, and what stands beside it as well. Raises `EditError`."""
    laid = _laid(changes, place)
    spelling = place.speller.spelling
    try:
        row, items = _row(place, laid)
    except EditError:
        row, items = None, []
    known = [(item, own) for item in items if (own := place.tag(item.text)) is not None]
    examples = [Example(LanguageTag.parse(place.roster(own)), item.text) for item, own in known if place.roster(own) != old]
    text = written_like(LanguageTag.parse(new), spelling, examples)
    found = [held for held in laid.held if place.called(held.text) == old]
    if not found or all(held.text == text for held in found):
        return
    target = place.tag(text)
    if target is None:
        raise EditError(f"{text!r} would not be read as {new!r} here")
    gone = [f"\0{held.text}" for held in found]
    tried: EditError | None = None
    for splices in _renamings(place, laid, row, known, old, target, text):
        try:
            _made(changes, place, laid, splices, *gone, *[text for _ in found])
            return
        except EditError as error:
            tried = error
    raise tried or EditError(f"it is not known how {text!r} is written here")


def _renamings(
    place: ClaimPlace, laid: Laid, row: Row | None, known: Sequence[tuple[_Item, Tag]], old: Tag, target: Tag, text: str
) -> Iterator[list[Splice]]:
    """Ways to call a locale otherwise, the plainest first: its tag in its items; its literals; its items made anew after the example of others."""
    spelling, now = place.speller.spelling, LanguageTag.parse(target)
    mine = [(item, own) for item, own in known if place.roster(own) == old and _alone(item, [each for each, _ in known])]
    others = [Example(LanguageTag.parse(own), item.piece) for item, own in known if place.roster(own) != old]
    anew = [Splice(*row.items[item.number], composed(others, now, spelling).text) for item, _ in mine] if row is not None and others else []
    if anew and others and not _framed_alike(mine, others, now):
        yield anew
    if row is not None and mine:
        pieces = [restated(item.piece, LanguageTag.parse(own), now, spelling, others, spelling == "name") for item, own in mine]
        yield [Splice(*row.items[item.number], piece) for (item, _), piece in zip(mine, pieces, strict=True)]
    with suppress(EditError):
        yield [_literal(laid, held, text) for held in laid.held if place.called(held.text) == old]
    if anew:
        yield anew


def _framed_alike(mine: Sequence[tuple[_Item, Tag]], others: Sequence[Example], now: LanguageTag) -> bool:
    """Whether an item is made as those are whose tags have the subtags that the new one has; also where there is none."""
    alike = [frame(other.text) for other in others if shape(other.tag) == shape(now)]
    return not alike or all(frame(item.piece) in alike for item, _ in mine)


def respell(changes: Changes, place: ClaimPlace) -> None:
    """Writes every locale of a claim as its place's spelling has it. Raises `EditError`."""
    laid = _laid(changes, place)
    for held in laid.held:
        named = place.speller.read(Value(held.text, 1, 1))
        if named.fault in ("noncanonical", "deprecated") and named.wanted and named.tag is not None:
            _made(changes, place, laid, [_literal(laid, held, named.wanted)], f"\0{held.text}", named.wanted)
            laid = _laid(changes, place)


def _literal(laid: Laid, held: Held, text: str) -> Splice:
    """*text* in the place of a literal, whose quotes stay."""
    start = laid.text.find(held.text, *held.span)
    if start < 0 or laid.text.find(held.text, start + 1, held.span[1]) >= 0:
        raise EditError(f"it is not known where {held.text!r} stands in its literal")
    return Splice(start, start + len(held.text), text)


def add_link(changes: Changes, place: ClaimPlace, tag: Tag, chain: Sequence[Tag]) -> None:
    """Puts the *chain* of the roster's locale *tag* into a claim of chains, after the example of an entry with as many links. Raises `EditError`."""
    laid = _laid(changes, place)
    keys = {held.key for held in laid.held}
    if None in keys:
        raise EditError("the chain is one for all locales")
    if any(key is not None and place.called(key) == tag for key in keys):
        return
    links: dict[str, list[Held]] = {}
    for held in laid.held:
        links.setdefault(held.key or "", []).append(held)
    wanted = list(chain)
    if place.entry.transitive:
        wanted = wanted[:1]
    row = row_of(laid.text, laid.nest, [held[0].span for held in links.values()])
    numbers = dict(zip(links, row.items, strict=True))
    models = [key for key in links if len(links[key]) == len(wanted) and place.tag(key) is not None]
    if not models:
        raise EditError(f"no entry has as many links as {tag!r} needs")
    model = models[-1]
    start, end = row.row.items[numbers[model]]
    piece = laid.text[start:end]
    examples = [Example(LanguageTag.parse(own), key) for key in links if (own := place.called(key)) is not None]
    spelling = place.speller.spelling
    swaps = [
        (held.span[0] - start, held.span[1] - start, held.text, written_like(LanguageTag.parse(link), spelling, examples))
        for held, link in zip(links[model], wanted, strict=True)
    ]
    for first, last, was, now in reversed(swaps):
        piece = piece[:first] + piece[first:last].replace(was, now) + piece[last:]
    at = piece.find(model)
    if at < 0:
        raise EditError(f"it is not known where {model!r} stands in its entry")
    piece = piece[:at] + written_like(LanguageTag.parse(tag), spelling, examples) + piece[at + len(model) :]
    _made(changes, place, laid, inserted(laid.text, row.row, piece, max(row.items)), *(now for *_, now in swaps))


def take_links_out(changes: Changes, place: ClaimPlace, tag: Tag, keep: bool = False) -> None:
    """Takes the entry of the roster's locale *tag*, unless it is to be kept, out of a claim of chains; links to it are for a person. Raises `EditError`."""
    laid = _laid(changes, place)
    links: dict[str | None, list[Held]] = {}
    for held in laid.held:
        links.setdefault(held.key, []).append(held)
    own = [key for key in links if key is not None and place.called(key) == tag]
    pointing = [held for key, each in links.items() if key not in own for held in each if place.called(held.text) == tag]
    if own and not keep:
        row = row_of(laid.text, laid.nest, [each[0].span for each in links.values()])
        numbers = dict(zip(links, row.items, strict=True))
        gone = [f"\0{held.text}" for key in own for held in links[key]]
        kept = [held.text for key, each in links.items() if key not in own for held in each]
        before = changes.read(place.file)
        changes.edit(place.file, removed(laid.text, row.row, [numbers[key] for key in own]), laid.decoded)
        if sorted(kept) != sorted(held.text for held in _laid(changes, place).held):
            changes.put(place.file, before)
            raise EditError(f"the entry of {gone[0][1:]!r} cannot be taken out alone")
    for held in pointing:
        changes.step(
            f"a chain leads to {held.text!r}, which would be no locale any more: take the link out",
            place.file,
            line_of(laid.text, held.span[0]),
        )
