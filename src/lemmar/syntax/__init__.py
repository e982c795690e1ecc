"""Message syntaxes: text to shape. One module a syntax; the registry lists this folder."""

from __future__ import annotations

from lemmar.registry import Folder
from lemmar.syntax._arguments import Arguments, element_words, partial
from lemmar.syntax._markup import codes, elements, tags
from lemmar.syntax._own import own
from lemmar.syntax._shape import Argument, Choice, Fault, Shape, Syntax

_FOLDER: Folder[Syntax] = Folder(__name__, __path__, "SYNTAX")
names = _FOLDER.names
load = _FOLDER.load

from lemmar.syntax._seeing import SeenSyntax, seen_syntax  # noqa: E402

__all__ = [
    "Argument",
    "Arguments",
    "Choice",
    "Fault",
    "SeenSyntax",
    "Shape",
    "Syntax",
    "codes",
    "element_words",
    "elements",
    "load",
    "names",
    "own",
    "partial",
    "seen_syntax",
    "tags",
]
