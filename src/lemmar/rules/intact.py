"""The message family, intact texts: does every translation carry what the program puts into it, in all forms that its language has?"""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence

from msgspec.structs import replace

from lemmar.basics.phrasing import clipped, joined, listed
from lemmar.findings import Subject
from lemmar.inventory.contents import Spot
from lemmar.resolve.differences import Counted, Differences, plural_of, renamed
from lemmar.resolve.spots import key_spot, text_of
from lemmar.resolve.world import World
from lemmar.rules import Hides, Problem, rule
from lemmar.rules._texts import MANY, is_most
from lemmar.rules._translations import Compared, comparisons
from lemmar.syntax import load
from lemmar.syntax import names as known_syntaxes
from lemmar.tags import CATEGORIES

_TEXT = ("client", "locale", "part", "key")
_ODD = (Hides(("message.inconsistent",), _TEXT),)
_UNREADABLE = (
    *("message.argument-lost", "message.argument-added", "message.argument-type", "message.plural-missing", "message.plural-surplus"),
    *("message.select-differs", "message.markup"),
)


def _problem(each: Compared, text: str, effect: str, remedy: str, detail: str = "") -> Problem:
    related = () if each.is_source else (key_spot(each.holder, each.key),)
    subject = Subject((each.client.name,), each.locale, each.part, each.key)
    return Problem(subject, text, key_spot(each.catalog, each.key), effect, remedy, related, detail)


def _shown(each: Compared) -> str:
    return repr(clipped(text_of((each.catalog,), each.key) or ""))


@rule("message.syntax", "error", "A text breaks the syntax of its catalog.", hides=(Hides((*_UNREADABLE, "message.inconsistent"), _TEXT),))
def syntax(world: World) -> Iterator[Problem]:
    """The program fails, or shows the text raw, braces and all.

    Reported once for each text, with the place of the fault. Not reported: a translation with the same fault as its source, which is
    reported instead. To fix: correct the text at that place. `lemmar mend` writes an apostrophe that a resource compiler refuses as it
    wants it; other faults it leaves.
    """
    for each in comparisons(world):
        fault = each.fault
        if fault is not None:
            text = text_of((each.catalog,), each.key) or ""
            yield _problem(
                each,
                f"{each.key!r} in {each.locale!r} is broken at character {fault.offset + 1}: {fault.words}",
                f"the program fails there, or users see the raw text: {clipped(text[max(0, fault.offset - 20) :])!r}",
                "correct the text at that place",
                fault.words,
            )


@rule("message.argument-lost", "error", "A translation lacks a placeholder that the source has.", hides=_ODD)
def argument_lost(world: World) -> Iterator[Problem]:
    """A price, a name or a number never appears in the sentence.

    Reported once for each text, with the placeholders that the translation has instead, if any; also for a branch that lacks what the
    other branches and the source have. Not reported: placeholders in another order; a number left out in a form for one number only; a
    select that a language does not need. To fix: add the placeholder to the translation. `lemmar mend` writes the source's name, where
    one placeholder only has another name.
    """
    for each in comparisons(world):
        lost, added = each.differences.lost, each.differences.added
        if lost:
            instead = f" and has {_named(each, added)} instead" if added else ""
            yield _problem(
                each,
                f"{each.key!r} in {each.locale!r} lacks {_named(each, lost)}{instead}",
                f"users see {'the raw placeholder' if added else 'the sentence without it'}: {_shown(each)}",
                _mended(each) or "add it to the translation",
            )
        elif each.differences.lost_in:
            branches = ", ".join(dict.fromkeys(branch for _, branch in each.differences.lost_in))
            names = tuple(dict.fromkeys(name for name, _ in each.differences.lost_in))
            yield _problem(
                each,
                f"{each.key!r} in {each.locale!r} lacks {_named(each, names)} in its form for {branches}",
                f"users see that form without it: {_shown(each)}",
                "add it to that form",
                "branch",
            )


def _mended(each: Compared) -> str:
    """What to write, where a placeholder only has a wrong name."""
    pair = renamed(each.wanted, each.found)
    text = text_of((each.catalog,), each.key) or ""
    if pair is None or text.count(pair[1].name) != 1 or pair[0].name.isdigit():
        return ""
    return f"write {clipped(text.replace(pair[1].name, pair[0].name))!r}"


@rule("message.argument-added", "error", "A translation has a placeholder that the source lacks.", hides=_ODD)
def argument_added(world: World) -> Iterator[Problem]:
    """The program has no value for it: users see the raw placeholder, or the program fails.

    Reported once for each text. Not reported: a placeholder with a wrong name, which `message.argument-lost` reports.
    To fix: remove the placeholder, or correct its name.
    """
    for each in comparisons(world):
        if each.differences.added and not each.differences.lost:
            yield _problem(
                each,
                f"{each.key!r} in {each.locale!r} has {_named(each, each.differences.added)}, which the source lacks",
                f"users see the raw placeholder, or the program fails: {_shown(each)}",
                "remove it, or correct its name",
            )


@rule(
    "message.argument-type",
    "error",
    "A placeholder has another type than in the source.",
    hides=(Hides(("message.argument-lost", "message.argument-added", "message.inconsistent"), _TEXT),),
)
def argument_type(world: World) -> Iterator[Problem]:
    """A text in place of a number crashes the program, or shows nonsense.

    Reported once for each text. Not reported: a placeholder without a type in one of the two. To fix: write the placeholder
    as in the source; placeholders in another order need numbers (`%2$d`).
    """
    for each in comparisons(world):
        if each.differences.retyped:
            words = "; ".join(
                f"{_named(each, (name,))} should be {_a(wanted)}, as in the source, not {_a(found)}"
                for name, wanted, found in each.differences.retyped
            )
            yield _problem(
                each,
                f"{each.key!r} in {each.locale!r}: {words}",
                f"the program fails, or users see nonsense: {_shown(each)}",
                "write it as in the source, with its number if the order differs",
            )


_KINDS = {
    "text": "a text",
    "object": "an object",
    "whole": "a whole number",
    "real": "a decimal number",
    "character": "a character",
    "number": "a number",
    "date": "a date or time",
    "choice": "a choice",
}


def _a(kind: str) -> str:
    return " and ".join(_KINDS.get(each, repr(each)) for each in kind.split("/"))


@rule("message.plural-missing", "error", "A plural lacks a form that its language needs.")
def plural_missing(world: World) -> Iterator[Problem]:
    """Polish has a form for two to four huts; without it users read a wrong form or nothing.

    Reported once for each text, with the missing categories that its language uses for whole numbers below a thousand (UTS 35, Language
    Plural Rules); once for a file whose header counts too few forms. Categories that only whole millions or exponents reach (`many`
    in Spanish, French, Italian, Portuguese) are a warning, and once for a client and locale none of whose plurals has them. Not reported: categories
    used only for fractions (`many` in Czech, Lithuanian), forms that have numbers, and categories whose numbers all have a
    branch of their own (`=1`). To fix: add the form.
    """
    yield from _rarely(world)
    headed = {fault.file for client in world.clients for fault in client.faults if fault.defect.kind == "plural-header"}
    whole = _of_catalogs(world, lambda found: found.missing)
    for each, categories, number in whole.values():
        yield _problem_of_many(
            each,
            f"{number:,} plurals in {each.locale!r} have no form for {listed(categories)}, which it needs",
            f"users see a wrong form or none for {_examples(each.locale, Counted('', 'plural', categories))}",
            "add the forms",
        )
    for each in comparisons(world):
        skipped = each.catalog.file in headed or (id(each.catalog), _categories(each.differences.missing)) in whole
        for counted in each.differences.missing if not skipped else ():
            of = f" of {counted.argument!r}" if counted.argument else ""
            yield _problem(
                each,
                f"the {_what(counted)}{of} in {each.key!r} has no form for {listed(counted.categories)}, which {each.locale!r} needs",
                f"users see a wrong form or none for {_examples(each.locale, counted)}",
                "add the form",
                " ".join((counted.argument, *counted.categories)),
            )
    for client in world.clients:
        for fault in client.faults:
            if fault.defect.kind == "plural-header":
                locale = client.roster(fault.tag) if fault.tag else None
                yield Problem(
                    Subject((client.name,), locale, fault.part),
                    fault.defect.detail,
                    Spot(fault.file, fault.digest, line=fault.defect.line, column=fault.defect.column),
                    "users see a wrong form for some numbers",
                    "correct the file's header and add the form to its plurals",
                )


_Counts = Callable[[Differences], tuple[Counted, ...]]


def _categories(those: Sequence[Counted]) -> tuple[str, ...]:
    return those[0].categories if len(those) == 1 else ()


def _of_catalogs(world: World, counts: _Counts) -> dict[tuple[int, tuple[str, ...]], tuple[Compared, tuple[str, ...], int]]:
    """The catalogs most of whose plurals lack, or have too many of, the same categories: with the first of these texts, and how many."""
    found: dict[tuple[int, tuple[str, ...]], list[Compared]] = {}
    for each in comparisons(world):
        categories = _categories(counts(each.differences))
        if categories:
            found.setdefault((id(each.catalog), categories), []).append(each)
    whole = {}
    for name, those in found.items():
        counting = {
            number for number in set(those[0].catalog.shapes) if any(choice.kind != "select" for choice in world.shapes[number].choices)
        }
        plural = sum(number in counting for number in those[0].catalog.shapes) if len(those) >= MANY else 0
        if is_most(len(those), those[0].catalog, plural):
            whole[name] = those[0], name[1], len(those)
    return whole


def _problem_of_many(each: Compared, text: str, effect: str, remedy: str) -> Problem:
    """A problem of most plurals of a catalog, at the first of them."""
    subject = Subject((each.client.name,), each.locale, each.part)
    return Problem(subject, text, key_spot(each.catalog, each.key), effect, remedy, gather=text.partition(" ")[2])


def _rarely(world: World) -> Iterator[Problem]:
    """The forms for millions: text by text where the client has such forms elsewhere in the locale."""
    lacking: dict[tuple[str, str], list[Compared]] = {}
    for each in comparisons(world):
        named = each.catalog.form.habits.names_forms or each.catalog.column.names_forms
        if any(counted.argument or named for counted in each.differences.rarely):
            lacking.setdefault((each.client.name, each.locale), []).append(each)
    for those in lacking.values():
        first = those[0]
        categories = first.differences.rarely[0].categories
        form = f"{listed(categories)}, which {first.locale!r} has for whole millions"
        every = (catalog for catalog in first.client.catalogs if first.client.roster(catalog.tag) == first.locale)
        shapes = (world.shapes[number] for catalog in every for number in set(catalog.shapes))
        if len(those) > 1 and not any(category in choice.keys for shape in shapes for choice in shape.choices for category in categories):
            yield Problem(
                Subject((first.client.name,), first.locale),
                f"no plural has a form for {form}",
                key_spot(first.catalog, first.key),
                "users see a wrong form for millions",
                "add the form, or turn the finding off if no such number occurs",
                detail="rarely",
                severity="warning",
            )
            continue
        for each in those:
            text = f"the plural in {each.key!r} has no form for {form}"
            yield replace(_problem(each, text, "users see a wrong form for millions", "add the form", "rarely"), severity="warning")


def _what(counted: Counted) -> str:
    return "ordinal" if counted.kind == "ordinal" else "plural"


def _examples(locale: str, counted: Counted) -> str:
    numbers = plural_of(locale, counted.kind).numbers
    found = [number for name in counted.categories for number in sorted(numbers.get(name, ()))[:3]]
    return ", ".join(map(str, sorted(found)[:6])) or "some numbers"


@rule("message.plural-surplus", "warning", "A plural has a form that its language does not use.")
def plural_surplus(world: World) -> Iterator[Problem]:
    """No number ever uses the form, so nobody reads it; or its name was translated, and the needed form is missing.

    Reported once for each text. Not reported: `zero` in catalogs that write forms as entries, since several runtimes use it in any
    language; a form that the source has without a use for it either, which is reported there. To fix: remove the form, or give it its
    category's name. `lemmar mend` removes the form, where it is a key or a branch of its own and is not *other*.
    """
    copied = {
        (each.client.name, each.part, each.key, counted.kind, category)
        for each in comparisons(world)
        if each.is_source
        for counted in each.differences.surplus
        for category in counted.categories
    }
    whole = _of_catalogs(world, lambda found: found.surplus)
    for each, categories, number in whole.values():
        yield _problem_of_many(
            each,
            f"{number:,} plurals in {each.locale!r} have a form for {listed(categories)}, which it does not use",
            "nobody ever reads these forms",
            "remove them",
        )
    for each in comparisons(world):
        for counted in each.differences.surplus if (id(each.catalog), _categories(each.differences.surplus)) not in whole else ():
            place = (each.client.name, each.part, each.key, counted.kind)
            own = tuple(name for name in counted.categories if each.is_source or (*place, name) not in copied)
            if not own:
                continue
            counted = counted._replace(categories=own)
            of = f" of {counted.argument!r}" if counted.argument else ""
            unknown = [name for name in counted.categories if name not in CATEGORIES]
            words = "is not a plural category" if unknown else f"{each.locale!r} does not use"
            yield _problem(
                each,
                f"the {_what(counted)}{of} in {each.key!r} has a form for {listed(counted.categories)}, which {words}",
                "nobody ever reads that form",
                "give it its category's name" if unknown else "remove the form",
                " ".join((counted.argument, *counted.categories)),
            )


@rule("message.select-differs", "warning", "A select has a branch that the source lacks.")
def select_differs(world: World) -> Iterator[Problem]:
    """The program never asks for the branch: its key was translated, and users read the `other` branch.

    Reported once for each text. Not reported: branches that a translation leaves out. To fix: give the branch the source's key.
    """
    for each in comparisons(world):
        for argument, keys in each.differences.branches:
            yield _problem(
                each,
                f"the select of {argument!r} in {each.key!r} has the branch {listed(keys)} in {each.locale!r}, which the source lacks",
                "users read the 'other' branch instead",
                "give the branch the source's key",
                " ".join((argument, *keys)),
            )


@rule("message.markup", "warning", "A translation's markup differs from the source's.", hides=_ODD)
def markup(world: World) -> Iterator[Problem]:
    """A tag that is never closed makes the rest of the page bold; a missing link leads nowhere.

    Reported once for each text. Not reported: the same elements in another order or number; prose in angle brackets (neither
    closed nor an element of HTML); entities. To fix: write the elements as in the source.
    """
    for each in comparisons(world):
        if each.differences.markup:
            yield _problem(
                each,
                f"the markup of {each.key!r} in {each.locale!r} differs from the source: {', '.join(each.differences.markup)}",
                f"users see wrong emphasis, a dead link or a raw tag: {_shown(each)}",
                "write the elements as in the source",
                " ".join(each.differences.markup),
            )


def _named(each: Compared, names: Sequence[str]) -> str:
    """Placeholders as they are written."""
    pattern = next(pattern for pattern in each.client.patterns if pattern.number == each.catalog.order)
    name = pattern.seen.name if pattern.seen is not None else pattern.syntax
    kinds = dict(each.wanted.arguments) | dict(each.found.arguments)
    written = load(name).written if name in known_syntaxes() else lambda name, _kind: repr(name)
    return joined([written(argument, kinds.get(argument, "")) for argument in names])
