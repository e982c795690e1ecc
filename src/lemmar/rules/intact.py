"""The message family, intact texts: does every translation carry what the program puts into it, in all forms that its language has?"""

from __future__ import annotations

from collections.abc import Iterator, Sequence

from lemmar.inventory.contents import Spot
from lemmar.resolve.differences import Counted, plural_of, renamed
from lemmar.resolve.spots import key_spot, text_of
from lemmar.resolve.world import World
from lemmar.rules import Hides, Problem, Subject, rule
from lemmar.rules._translations import Compared, comparisons
from lemmar.tags import CATEGORIES
from lemmar.words import clipped, listed

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
    """A program that cannot read the text fails, or shows it raw, braces and all.

    Reported once for each text, with the place in it where it breaks. Not reported: a translation that is broken as its source is, which is
    reported. To fix: mend the text at that place.
    """
    for each in comparisons(world):
        fault = each.found.fault
        if fault is not None:
            text = text_of((each.catalog,), each.key) or ""
            yield _problem(
                each,
                f"{each.key!r} in {each.locale!r} is broken at character {fault.offset + 1}: {fault.words}",
                f"the program fails there, or users see the raw text: {clipped(text[max(0, fault.offset - 20) :])!r}",
                "mend the text at that place",
                fault.words,
            )


@rule("message.argument-lost", "error", "A translation lacks a placeholder that the source has.", hides=_ODD)
def argument_lost(world: World) -> Iterator[Problem]:
    """What the program puts in is never seen: a price, a name, a number is missing from the sentence.

    Reported once for each text, with the names that the translation has instead where it has others; and for a branch that lacks what its
    other branches and the source have. Not reported: placeholders in another order; a number left out in a form for one number only; a
    select that a language does without. To fix: put the placeholder into the translation.
    """
    for each in comparisons(world):
        lost, added = each.differences.lost, each.differences.added
        if lost:
            instead = f", and has {_named(added)} instead" if added else ""
            yield _problem(
                each,
                f"{each.key!r} in {each.locale!r} lacks the placeholder {_named(lost)}{instead}",
                f"users do not see what it stands for{', but the placeholder itself' if added else ''}: {_shown(each)}",
                _mended(each) or "put it into the translation",
            )
        elif each.differences.lost_in:
            branches = ", ".join(dict.fromkeys(branch for _, branch in each.differences.lost_in))
            names = tuple(dict.fromkeys(name for name, _ in each.differences.lost_in))
            yield _problem(
                each,
                f"{each.key!r} in {each.locale!r} lacks the placeholder {_named(names)} in its form for {branches}",
                f"users do not see what it stands for in that form: {_shown(each)}",
                "put it into that form as well",
                "branch",
            )


def _mended(each: Compared) -> str:
    """What to write, where a placeholder only has a wrong name."""
    pair = renamed(each.wanted, each.found)
    text = text_of((each.catalog,), each.key) or ""
    if pair is None or text.count(pair[1].name) != 1 or pair[0].name.isdigit():
        return ""
    return f"write {clipped(text.replace(pair[1].name, pair[0].name))!r}"


@rule("message.argument-added", "error", "A translation has a placeholder that the source does not have.", hides=_ODD)
def argument_added(world: World) -> Iterator[Problem]:
    """The program has nothing to put there: users see the bare placeholder, or the program fails.

    Reported once for each text. Not reported: a placeholder with a wrong name, whose right name is reported as lost.
    To fix: remove the placeholder, or correct its name.
    """
    for each in comparisons(world):
        if each.differences.added and not each.differences.lost:
            yield _problem(
                each,
                f"{each.key!r} in {each.locale!r} has the placeholder {_named(each.differences.added)}, which the source does not have",
                f"users see the bare placeholder, or the program fails: {_shown(each)}",
                "remove it, or correct its name",
            )


@rule(
    "message.argument-type",
    "error",
    "A placeholder is shown as another kind of value than in the source.",
    hides=(Hides(("message.argument-lost", "message.argument-added", "message.inconsistent"), _TEXT),),
)
def argument_type(world: World) -> Iterator[Problem]:
    """A text where a number is wanted crashes a program, or shows nonsense.

    Reported once for each text. Not reported: a placeholder that says nothing of its kind in one of the two. To fix: write the placeholder
    as the source does; placeholders in another order need their numbers (`%2$d`).
    """
    for each in comparisons(world):
        if each.differences.retyped:
            words = "; ".join(
                f"{_named((name,))} is {_a(found)}, in the source {_a(wanted)}" for name, wanted, found in each.differences.retyped
            )
            yield _problem(
                each,
                f"{each.key!r} in {each.locale!r} has a placeholder of another kind: {words}",
                f"the program fails, or users see nonsense: {_shown(each)}",
                "write it as the source does, with its number where the order is another",
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
    """Poles have a form for two to four huts; without it they read a wrong one, or nothing.

    Reported once for each text, with the categories that whole numbers below a thousand reach in its language (UTS 35, Language Plural
    Rules) and the text has not; once for a file whose header counts too few forms. Not reported: categories that only millions, exponents
    or fractions reach (`many` in Spanish, French, Italian, Portuguese, Catalan, Czech), and those whose every number has a branch of its own
    (`=1`). To fix: add the form.
    """
    headed = {fault.file for client in world.clients for fault in client.faults if fault.defect.kind == "plural-header"}
    for each in comparisons(world):
        for counted in each.differences.missing if each.catalog.file not in headed else ():
            of = f" of {counted.argument!r}" if counted.argument else ""
            yield _problem(
                each,
                f"the {_what(counted)}{of} in {each.key!r} has no form for {listed(counted.categories)}, which {each.locale!r} needs",
                f"users see a wrong form, or none, for {_examples(each.locale, counted)}",
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
                    "correct the file's header, and add the form to its plurals",
                )


def _what(counted: Counted) -> str:
    return "ordinal" if counted.kind == "ordinal" else "plural"


def _examples(locale: str, counted: Counted) -> str:
    numbers = plural_of(locale, counted.kind).numbers
    found = [number for name in counted.categories for number in sorted(numbers.get(name, ()))[:3]]
    return " ".join(map(str, sorted(found)[:6])) or "some numbers"


@rule("message.plural-surplus", "warning", "A plural has a form that its language does not have.")
def plural_surplus(world: World) -> Iterator[Problem]:
    """No number ever takes the form, so nobody reads it; or its name was translated, and the form that is wanted is not there.

    Reported once for each text. Not reported: `zero` in catalogs that spell forms outside their texts, several of which show it in any
    language. To fix: drop the form, or give it its category's name.
    """
    for each in comparisons(world):
        for counted in each.differences.surplus:
            of = f" of {counted.argument!r}" if counted.argument else ""
            unknown = [name for name in counted.categories if name not in CATEGORIES]
            words = "is no plural category" if unknown else f"{each.locale!r} does not have"
            yield _problem(
                each,
                f"the {_what(counted)}{of} in {each.key!r} has a form for {listed(counted.categories)}, which {words}",
                "nobody ever reads that form",
                "give it its category's name" if unknown else "drop the form",
                " ".join((counted.argument, *counted.categories)),
            )


@rule("message.select-differs", "warning", "A select has a branch that the source does not have.")
def select_differs(world: World) -> Iterator[Problem]:
    """The program never asks for the branch: its key was translated, and users read the one for `other`.

    Reported once for each text. Not reported: branches that a translation does without. To fix: give the branch the source's key.
    """
    for each in comparisons(world):
        for argument, keys in each.differences.branches:
            yield _problem(
                each,
                f"the select of {argument!r} in {each.key!r} has the branch {listed(keys)} in {each.locale!r}, which the source does not have",
                "users read the branch for 'other' instead",
                "give the branch the source's key",
                " ".join((argument, *keys)),
            )


@rule("message.markup", "warning", "A translation's markup is not the source's.", hides=_ODD)
def markup(world: World) -> Iterator[Problem]:
    """A tag that is never closed makes the rest of the page bold; a link that is lost leads nowhere.

    Reported once for each text. Not reported: another order or number of the same elements; a name in angle brackets that is prose, neither
    closed nor an element of HTML; entities for characters. To fix: write the elements as the source does.
    """
    for each in comparisons(world):
        if each.differences.markup:
            yield _problem(
                each,
                f"the markup of {each.key!r} in {each.locale!r} is not the source's: {', '.join(each.differences.markup)}",
                f"users see wrong emphasis, a dead link or a raw tag: {_shown(each)}",
                "write the elements as the source does",
                " ".join(each.differences.markup),
            )


def _named(names: Sequence[str]) -> str:
    """Placeholders as a reader knows them: by name, or by number."""
    numbers = [name for name in names if name.isdigit()]
    return f"number {' and '.join(numbers)}" if len(numbers) == len(names) else listed(names)
