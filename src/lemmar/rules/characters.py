"""The message family, characters: what no reader can see."""

from __future__ import annotations

from collections.abc import Iterator

from lemmar.basics.expressions import expression
from lemmar.inventory.contents import Catalog
from lemmar.resolve.world import Client, SourcePart, World
from lemmar.rules import Problem, rule
from lemmar.rules._texts import HIDES_ODD, problem_of
from lemmar.tags import Tag

_CONTROLS = expression("[\x00-\x08\x0b\x0c\x0e-\x1f\x7f-\x9f\u202a-\u202e\u2066-\u2069]")
_PRINTABLE = bytes(range(0x20, 0x7F))
_CONTROL = expression("[\x00-\x08\x0b\x0c\x0e-\x1f\x7f-\x9f]")
_OPENS = {
    "\u202a": "\u202c",
    "\u202b": "\u202c",
    "\u202d": "\u202c",
    "\u202e": "\u202c",
    "\u2066": "\u2069",
    "\u2067": "\u2069",
    "\u2068": "\u2069",
}


@rule("message.control-character", "error", "A text has an invisible character that some programs refuse.", hides=HIDES_ODD)
def control_character(world: World) -> Iterator[Problem]:
    """Control characters come from copying; programs cut texts at them, show boxes, or reverse the rest of a line.

    Reported once for each text with a character of C0 (except tab, line feed, carriage return) or C1, or with bidirectional controls
    that are not closed. Not reported: balanced controls, marks, joiners, no-break and zero-width spaces; a translation with the same
    characters as its source, which is reported instead. To fix: remove the character. `lemmar mend` removes control characters and closes
    bidirectional controls at the end.
    """
    for client in world.clients:
        for space, source in client.sources.items():
            theirs: dict[str, str] = {}
            for catalog in source.catalogs:
                for key, words in _controls(catalog):
                    theirs[key] = words
                    yield _control(client, client.written_in, space.part, key, catalog, None, words)
            for tag, catalogs in client.by_space[space].items():
                for catalog in catalogs if catalogs is not source.catalogs else ():
                    for key, words in _controls(catalog):
                        if theirs.get(key) != words:
                            yield _control(client, client.roster(tag), space.part, key, catalog, source, words)


def _control(client: Client, locale: Tag, part: str | None, key: str, catalog: Catalog, source: SourcePart | None, words: str) -> Problem:
    text = (f"{key!r} in {locale!r} has {words}", "users see a box, a cut-off text, or words in the wrong order", "remove the character")
    return problem_of(client, locale, part, key, catalog, source, text, detail=words)


def _controls(catalog: Catalog) -> list[tuple[str, str]]:
    """The keys of texts with control characters, and what they hold."""
    whole = " ".join(filter(None, catalog.column.texts))
    if not whole.encode("ascii").translate(None, _PRINTABLE) if whole.isascii() else whole.isprintable():
        return []
    found = []
    for key, text in zip(catalog.column.keys, catalog.column.texts, strict=True):
        if not text or text.isprintable():
            continue
        match = _CONTROL.search(text)
        if match is not None:
            found.append((key, f"the control character U+{ord(match.group()):04X}"))
        elif unclosed := _unbalanced(text):
            found.append(
                (
                    key,
                    f"the bidirectional control U+{ord(unclosed):04X}, which nothing {'opens' if unclosed in _OPENS.values() else 'closes'}",
                )
            )
    return found


def _unbalanced(text: str) -> str | None:
    """The first bidirectional control that has no partner."""
    waiting: list[str] = []
    for sign in _CONTROLS.findall(text):
        if sign in _OPENS:
            waiting.append(sign)
        elif waiting and _OPENS[waiting[-1]] == sign:
            waiting.pop()
        else:
            return str(sign)
    return waiting[0] if waiting else None
