"""The terms of the charter, and those that are proposed, with how well the product bears them out."""

from __future__ import annotations

from collections.abc import Iterator, Sequence

from lemmar.basics.phrasing import counted
from lemmar.handoff.proposing import Proposal, as_toml
from lemmar.report import Drawn, Table, View, drawn_table, plain
from lemmar.resolve.terms import terms
from lemmar.resolve.world import World

_COLUMNS = ("known", "word", "locale", "translation", "texts", "of")


def view(world: World, found: Sequence[Proposal]) -> View:
    """A row for each term and locale: those of the charter, then the proposed ones."""
    agreed = list(_agreed(world))
    rows = [*(("agreed", word, locale, said, None, None) for word, locale, said in agreed)]
    rows += [("proposed", each.word, each.locale, each.said, each.texts, each.of) for each in found]  # type: ignore[misc]
    return View(Table("terms", _COLUMNS, rows), lambda _page: _drawn(agreed, found))


def _agreed(world: World) -> Iterator[tuple[str, str | None, str]]:
    for term in terms(world.charter):
        if term.entry.keeps:
            yield term.entry.word, None, term.entry.word
        for locale, words in term.entry.agreed.items():
            yield term.entry.word, locale, " or ".join(words)


def _drawn(agreed: Sequence[tuple[str, str | None, str]], found: Sequence[Proposal]) -> Iterator[Drawn]:
    if agreed:
        yield plain("agreed in the charter", "strong")
        yield drawn_table(
            [("word", "left"), ("locale", "left"), ("is", "left")], [(word, locale or "all", said) for word, locale, said in agreed]
        )
        yield ""
    if not found:
        yield "nothing more is said so consistently that it could be proposed"
        return
    yield plain("proposed", "strong")
    heads = [("word", "left"), ("locale", "left"), ("is", "left"), ("texts", "right"), ("of", "right")]
    yield drawn_table(heads, [(each.word, each.locale or "all", each.said, f"{each.texts:,}", f"{each.of:,}") for each in found])
    yield ""
    words = len({each.word for each in found})
    yield plain(f"{counted(words, 'term')} as tables for the charter; take what is right:", "faint")
    yield ""
    yield from as_toml(found)
