"""What goes back to translators: answers that were not taken, each with the reason; those that disagree, as questions; those to no text, as they were."""

from __future__ import annotations

import csv
import io
from collections.abc import Iterable, Sequence
from pathlib import Path

from lemmar.basics.errors import TreeError, UsageError
from lemmar.handoff.answers import Row
from lemmar.handoff.brief import briefs_of
from lemmar.handoff.files import write_packages
from lemmar.handoff.forms import Line, Package
from lemmar.handoff.needs import Need
from lemmar.handoff.plainly import with_apostrophe
from lemmar.handoff.texts import Text
from lemmar.resolve.world import World
from lemmar.tags import Tag
from lemmar.trees import Tree

_UNPLACED = ("file", "row", "text id", "source", "translation", "remark", "reason")


def send_back(rows: Sequence[Row], world: World, texts: Sequence[Text], tree: Tree, folder: Path) -> list[str]:
    """Writes ``back.LOCALE`` with what is not taken and ``questions.LOCALE`` with what disagrees, each in the form in which it came, and ``unplaced.csv`` with
    answers to no text; their names.

    Raises:
        UsageError: a file of such a name is there.
        TreeError: it cannot be written.
    """
    packages: dict[str, dict[str, Package]] = {}
    for fate, name in (("held", "back"), ("disagree", "questions")):
        for locale in dict.fromkeys(row.file.locale for row in rows):
            those = [row for row in rows if row.fate == fate and row.file.locale == locale and row.text is not None]
            if those:
                package = Package(locale, world.charter.source, tuple(_lines(those, world, texts, tree, locale)))
                packages.setdefault(those[0].file.form, {})[f"{name}.{locale}"] = package
    written = [path for form, held in packages.items() for path in write_packages(held, form, folder)]
    unplaced = [row for row in rows if row.fate == "unknown"]
    return [*written, *_unplaced(unplaced, folder)] if unplaced else written


def _lines(rows: Sequence[Row], world: World, texts: Sequence[Text], tree: Tree, locale: Tag) -> Iterable[Line]:
    asked = {row.text.id: row.text for row in rows if row.text is not None}
    needs = [Need(text, "message.missing", text.uses, {}) for text in asked.values()]
    brief = next(briefs_of(world, texts, tree, {locale: needs}))
    asks = {ask.id: ask for ask in brief.asks}
    seen = set()
    for row in rows:
        assert row.text is not None
        name = (row.text.id, row.form)
        if row.fate == "disagree" and name in seen:
            continue
        seen.add(name)
        is_question = row.fate == "disagree"
        said = f"{row.place} says {row.answer.text!r}; {row.reason}" if is_question else row.reason
        yield Line(asks[row.text.id], row.form, "" if is_question else row.answer.text, "initial" if is_question else "translated", said)


def _unplaced(rows: Sequence[Row], folder: Path) -> list[str]:
    """A sheet of the answers to texts that nobody knows: nothing that was written is lost."""
    path = folder / "unplaced.csv"
    if path.exists() or path.is_symlink():
        raise UsageError(f"{path} is there already; choose another folder with --back")
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\r\n")
    writer.writerow(_UNPLACED)
    for row in rows:
        answer = row.answer
        cells = (row.file.name, str(answer.line), answer.id, answer.source, answer.text, answer.remark, row.reason)
        writer.writerow([with_apostrophe(cell) for cell in cells])
    try:
        folder.mkdir(parents=True, exist_ok=True)
        path.write_bytes(b"\xef\xbb\xbf" + out.getvalue().encode("utf-8"))
    except OSError as error:
        raise TreeError(f"{path} cannot be written: {error.strerror or error}; choose another folder with --back") from error
    return [str(path)]
