"""Test catalogs: the source's texts in disguise, so that what is not translated, has no room or is not mirrored can be seen.

Accented ones are a third longer and in brackets; mirrored ones run from right to left by control characters. What a program reads (placeholders, markup,
the signs of plurals) stays as it is.
"""

from __future__ import annotations

from collections.abc import Callable

from lemmar.basics.errors import UsageError
from lemmar.basics.expressions import expression
from lemmar.basics.text import decode
from lemmar.documents.splicing import EditError
from lemmar.formats import FormPlace, Model, NewEntry, Where, marked
from lemmar.inventory.contents import Catalog
from lemmar.resolve.syntaxes import syntax_of
from lemmar.resolve.world import Client
from lemmar.syntax import Syntax, words
from lemmar.tags import LanguageTag, Tag, direction
from lemmar.trees import File
from lemmar.work.catalogs import CatalogPlace, path_of
from lemmar.work.charters import listed
from lemmar.work.likeness import restated
from lemmar.work.places import Monorepo

_ACCENTED = dict(
    zip(map(ord, "AaBbCcDdEeFfGgHhIiJjKkLlMmNnOoPpRrSsTtUuVvWwYyZz"), "ÅåßƀÇçĐđÉéƑƒĜĝĤĥÎîĴĵĶķĻļḾḿÑñÖöÞþŔŕŠšŢţÛûṼṽŴŵÝýŽž", strict=True)
)
_WORD = expression(r"[^\W_]+")
_PAD = " ·"
#: By how much an accented text is longer: a third, as translations from English often are.
_LONGER = 0.35


def pseudo(monorepo: Monorepo, tags: tuple[Tag, ...] = ()) -> None:
    """Makes the catalogs of the test locales *tags* anew, in every client; without any those that the charter names.

    Raises:
        UsageError: there are none, or one is a locale of the roster.
    """
    charter = monorepo.read.charter
    wanted = tags or tuple(charter.roster.pseudo)
    if not wanted:
        raise UsageError("the charter names no test locales; say which are to be made, such as en-XA and ar-XB")
    for tag in wanted:
        if tag in charter.locales:
            raise UsageError(f"{tag!r} is a locale of the roster, whose texts would be lost; choose another tag for tests")
    _enter(monorepo, [tag for tag in wanted if tag not in charter.roster.pseudo])
    done: set[str] = set()
    for client in monorepo.world.clients:
        for place in monorepo.catalogs(client):
            name = f"{place.base}/{place.entry.files}"
            if name not in done and not place.entry.built and place.catalogs:
                done.add(name)
                for tag in wanted:
                    _make(monorepo, client, place, tag)


def _enter(monorepo: Monorepo, tags: list[Tag]) -> None:
    """Names new test locales in the charter."""
    if not tags:
        return
    text = monorepo.charter()
    if text.member("roster", "pseudo") is None:
        text.add_key("pseudo", listed(tags), "roster")
    else:
        for tag in tags:
            text.add_to_list(tag, "roster", "pseudo")
    monorepo.keep(text)


def _make(monorepo: Monorepo, client: Client, place: CatalogPlace, tag: Tag) -> None:
    for part in dict.fromkeys(catalog.part for catalog in place.catalogs):
        own = [catalog for catalog in place.catalogs if catalog.part == part and catalog.tag == place.source]
        others = [catalog for catalog in place.catalogs if catalog.part == part and catalog.tag != place.source]
        for source in own[:1]:
            with_file = all(source.file != other.file for other in others)
            with monorepo.changes.or_step(f"make {tag!r} of it by hand", source.file):
                if place.by_file and with_file:
                    _copy(monorepo, client, place, source, tag)
                elif place.by_file:
                    _fill_new(monorepo, client, place, source, others[0], tag)
                else:
                    _fill_column(monorepo, client, place, source, tag)


def _copy(monorepo: Monorepo, client: Client, place: CatalogPlace, source: Catalog, tag: Tag) -> None:
    """The source's file with every text in disguise."""
    changes = monorepo.changes
    change = disguise(tag, syntax_of(monorepo.read.charter, client, source))
    if source.form.habits.carries_source:
        _fill_new(monorepo, client, place, source, source, tag)
        return
    data = changes.read(source.file)
    source.form.check_sound(data, source.options)
    made = source.form.retexted(data, source.options, lambda _label, _key, text: change(text))
    decoded = decode(made, source.options.encoding or source.form.reads.encoding(made))
    old, new = LanguageTag.parse(place.roster(source.tag)), LanguageTag.parse(tag)
    file = path_of(place, source.file, tag)
    changes.put(file, made)
    splices = marked(decoded.text, source.form.writes.marks, lambda mark: restated(mark, old, new, place.speller.spelling, names=False))
    if source.column.label is not None and source.form.writes.edits is not None and source.form.writes.edits.rename is not None:
        splices = source.form.writes.edits.rename(decoded.text, source.options, source.column.label, str(new))
    changes.edit(file, splices, decoded)


def _fill_new(monorepo: Monorepo, client: Client, place: CatalogPlace, source: Catalog, model: Catalog, tag: Tag) -> None:
    """A file as those of translations are, with the source's texts in disguise."""
    changes = monorepo.changes
    file = path_of(place, model.file, tag)
    if model.form.writes.edits is None:
        raise EditError(f"{model.form.name} files are not made")
    old, new = LanguageTag.parse(place.roster(model.tag)), LanguageTag.parse(tag)
    data = changes.read(model.file)
    model.form.check_sound(data, model.options)
    text = decode(data, model.options.encoding or model.form.reads.encoding(data)).text
    blank = model.form.writes.edits.blank(
        Model(text, model.options, old, new, str(new), lambda mark: restated(mark, old, new, place.speller.spelling, names=False))
    )
    changes.put(file, blank.encode("utf-8"))
    _fill(monorepo, client, source, file, model, None, tag)


def _fill_column(monorepo: Monorepo, client: Client, place: CatalogPlace, source: Catalog, tag: Tag) -> None:
    """A column of a file of all locales, with the source's texts in disguise."""
    from lemmar.work.catalogs import new_column

    held = next((catalog for catalog in place.catalogs if catalog.file == source.file and place.roster(catalog.tag) == tag), None)
    if held is None:
        new_column(monorepo.changes, place, source.file, tag)
    data = monorepo.changes.read(source.file)
    labels = [column.label for column in source.form.read(data, source.options).columns if column.label]
    label = held.column.label if held is not None else next((each for each in labels if place.speller.tag(each) == tag), None)
    if label is None:
        raise EditError(f"there is no column of {tag!r}")
    _fill(monorepo, client, source, source.file, source, label, tag)


def _fill(monorepo: Monorepo, client: Client, source: Catalog, file: File, model: Catalog, label: str | None, tag: Tag) -> None:
    """Puts the source's texts in disguise into a column that has none yet."""
    changes, form = monorepo.changes, model.form
    change = disguise(tag, syntax_of(monorepo.read.charter, client, source))
    column = source.column
    texts: dict[str, str] = {}
    several: dict[str, dict[str, str]] = {}
    for index, key in enumerate(column.keys):
        forms = column.rare.forms.get(index)
        text = column.texts[index]
        if forms:
            several[key] = dict(forms)
        elif text and not column.rare.fixed.get(index):
            made = change(text)
            texts[key] = made if made is not None else text
    data = changes.read(file)
    order = list(column.keys)
    there = next((each for each in form.read(data, model.options).columns if each.label == label), None)
    held = there.key_set if there is not None else frozenset()
    where = Where(model.options, label, order)
    formed_there = {at.key for at in form.form_places(data, model.options) if at.label == label}
    every = {key: NewEntry(key, text, source=column.texts[column.keys.places[key]]) for key, text in texts.items()}
    for key, forms in several.items():
        if key not in formed_there:
            changed = {name: change(text) or text for name, text in forms.items()}
            every[key] = NewEntry(
                key, changed.get("other", next(reversed(changed.values()))), changed, source=column.texts[column.keys.places[key]]
            )
    data = form.with_entries(data, where, [new for key, new in every.items() if key in held])
    new = [new for key, new in every.items() if key not in held]
    data = form.added(data, where, new) if new else data

    def formed(at: FormPlace) -> str | None:
        forms = several.get(at.key)
        if at.label != label or forms is None:
            return None
        text = forms.get(at.form) or forms.get("other") or next(reversed(forms.values()))
        return change(text) or text

    changes.put(file, form.with_forms(data, model.options, formed) if several else data)
    changes.places += 1


def disguise(tag: Tag, syntax: Syntax) -> Callable[[str], str | None]:
    """What makes a text of the test locale *tag*: mirrored for one from right to left or in the region XB, else accented; None where that would change what
    a program reads in it.
    """
    parsed = LanguageTag.parse(tag)
    mirrored = parsed.region == "XB" or direction(parsed) == "rtl"

    def change(text: str) -> str | None:
        if not text.strip():
            return None
        groups = [[span for span in spans if span[0] < span[1]] for spans in words(syntax, text)]
        made = _mirrored(text, groups) if mirrored else _accented(text, groups)
        before, after = syntax.shape(text), syntax.shape(made)
        alike = (before.arguments, before.choices, before.markup) == (after.arguments, after.choices, after.markup)
        return made if alike and (after.fault is None or before.fault is not None) else None

    return change


_Groups = list[list[tuple[int, int]]]


def _mirrored(text: str, groups: _Groups) -> str:
    return _written(
        text, {span: _WORD.sub(lambda match: f"\u202e{match.group()}\u202c", text[slice(*span)]) for spans in groups for span in spans}
    )


def _accented(text: str, groups: _Groups) -> str:
    """Each stretch of words accented; the longest of each message or branch padded and put in brackets."""
    made: dict[tuple[int, int], str] = {}
    for spans in groups:
        letters = sum(end - start for start, end in spans)
        longest = max(spans, key=lambda span: (len(text[slice(*span)].strip()), -span[0]), default=None)
        for span in spans:
            piece = text[slice(*span)].translate(_ACCENTED)
            bare = piece.strip()
            if span == longest and bare:
                at = piece.index(bare)
                padding = _PAD * max(1, round(letters * _LONGER / len(_PAD)))
                piece = f"{piece[:at]}[{bare}{padding}]{piece[at + len(bare) :]}"
            made[span] = piece
    return _written(text, made)


def _written(text: str, pieces: dict[tuple[int, int], str]) -> str:
    out, position = [], 0
    for (start, end), piece in sorted(pieces.items()):
        out += [text[position:start], piece]
        position = end
    return "".join([*out, text[position:]])
