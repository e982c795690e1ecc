"""Message syntaxes: text to shape. One module a syntax; the registry lists this folder."""

from __future__ import annotations

from collections.abc import Iterable

from msgspec.structs import replace

from lemmar.basics.registry import Folder
from lemmar.syntax._arguments import Arguments, element_words, partial
from lemmar.syntax._detecting import SeenSyntax, see
from lemmar.syntax._markup import codes, elements, tags
from lemmar.syntax._neutral import Neutral, NotWrittenError, Placeholder, leading, named_in, neutral, paired, pieces, written
from lemmar.syntax._own import own
from lemmar.syntax._shape import Argument, Choice, Fault, Shape, Syntax
from lemmar.syntax._translatable import words

_FOLDER: Folder[Syntax] = Folder(__name__, __path__, "SYNTAX")
names = _FOLDER.names
load = _FOLDER.load


def doubled(name: str) -> Syntax:
    """The syntax *name* with every apostrophe quoting, if it has such a form."""
    found = load(name)
    if found.quoted is None:
        return found
    return replace(
        found, shape=found.quoted, special=f"{found.special}'", pieces=found.doubled_pieces, literal=found.doubled_literal, branches=None
    )


def seen_syntax(texts: Iterable[str | None], fixed: str | None = None) -> SeenSyntax:
    """The syntax in which most of *texts* take arguments, with the evidence. *fixed* is the only one that the format's runtime knows."""
    return SeenSyntax(fixed, 0) if fixed is not None else see(texts, _FOLDER.all())


__all__ = [
    "Argument",
    "Arguments",
    "Choice",
    "Fault",
    "Neutral",
    "NotWrittenError",
    "Placeholder",
    "SeenSyntax",
    "Shape",
    "Syntax",
    "codes",
    "doubled",
    "element_words",
    "elements",
    "leading",
    "load",
    "named_in",
    "names",
    "neutral",
    "own",
    "paired",
    "partial",
    "pieces",
    "seen_syntax",
    "tags",
    "words",
    "written",
]
