"""Texts for people that stand outside of catalogs."""

from __future__ import annotations

from collections.abc import Iterator

from lemmar.basics.expressions import expression
from lemmar.basics.phrasing import listed
from lemmar.findings import Subject
from lemmar.inventory.contents import Spot
from lemmar.inventory.using import UsedIn
from lemmar.resolve.world import Client, World
from lemmar.rules import Problem, rule
from lemmar.usages import ShownText

#: A file with more texts outside of catalogs than these has one finding, with one cause: nobody has come to it yet.
_FEW = 5
_RELATED = 5


@rule("text.outside", "warning", "A text for users is in the code or a page, not in a catalog.")
def outside(world: World) -> Iterator[Problem]:
    """Whoever wrote it there read it in the source's language, and so does everybody else.

    Reported for each text in the elements of pages and templates, in attributes that are shown or read out, in layouts, and in the calls that a
    `[[client.usage]]` names as `shows`; once for a file with more than five. Only for clients whose charter says how their code asks for messages.
    Not reported: code, names, addresses, numbers, single small words, what an element with a key of its own stands around, texts that `[messages]`
    lets be the same in every language, files of one locale by their name, and tests. To fix: move the text into the catalog.
    """
    same = frozenset(world.charter.messages.may_equal_source) | {term.word for term in world.charter.term if term.keeps}
    for client in world.clients:
        for file in client.usage.files if client.usage is not None else ():
            if _is_of_locale(client, file):
                continue
            texts = [each for each in file.shown if each.text.strip(".!?:… ") not in same]
            if len(texts) > _FEW:
                first = texts[0]
                yield Problem(
                    Subject((client.name,)),
                    f"{len(texts)} texts are in no catalog, such as {listed([each.text for each in texts], most=3)}",
                    _spot(file, first),
                    f"users of every language read them in {client.written_in!r}",
                    "move them into the catalog",
                    tuple(_spot(file, each) for each in texts[1 : _RELATED + 1]),
                )
                continue
            for text, those in _alike(texts).items():
                yield Problem(
                    Subject((client.name,)),
                    f"{text!r} ({those[0].where}) is in no catalog",
                    _spot(file, those[0]),
                    f"users of every language read it in {client.written_in!r}",
                    "move it into the catalog",
                    tuple(_spot(file, each) for each in those[1:]),
                    detail=text,
                )


def _is_of_locale(client: Client, file: UsedIn) -> bool:
    """Whether the file's name, or a folder's, says that it is one of several, each in its own language."""
    stem = client.below(file.file).partition(".")[0]
    pieces = [*stem.split("/"), *_PARTED.split(stem.rpartition("/")[2])[1:], *client.below(file.file).split(".")[1:-1]]
    known = {name.casefold() for tag in (*client.known_as, *client.effects, *client.supported) for name in (tag, tag.replace("-", "_"))}
    return any(piece.casefold() in known for piece in pieces)


_PARTED = expression(r"[_-](?=[A-Za-z]{2,3}(?:[_-]|$))")


def _alike(texts: list[ShownText]) -> dict[str, list[ShownText]]:
    found: dict[str, list[ShownText]] = {}
    for each in texts:
        found.setdefault(each.text, []).append(each)
    return found


def _spot(file: UsedIn, shown: ShownText) -> Spot:
    return Spot(file.file, file.digest, line=shown.line, column=shown.column)
