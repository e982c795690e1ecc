"""Programming languages: how each writes declarations and literals. One module a language; the registry lists this folder.

Source code is read with real parsers and never run. A language turns what a declaration holds into the same nodes as any
document; what is computed becomes a node of the kind ``computed``, whose text says why it cannot be read.
"""

from lemmar.languages._key_texts import KeyText, asked
from lemmar.languages._literals import in_characters
from lemmar.languages._mending import Parsed, parse_tolerantly
from lemmar.languages._nesting import code_nest
from lemmar.languages._parsing import MAX_SOURCE, ProgrammingLanguage, every, load, parse, unread
from lemmar.languages._sourcefile import Call, Declaration, SourceFile

__all__ = [
    "MAX_SOURCE",
    "Call",
    "Declaration",
    "KeyText",
    "Parsed",
    "ProgrammingLanguage",
    "SourceFile",
    "asked",
    "code_nest",
    "every",
    "in_characters",
    "load",
    "parse",
    "parse_tolerantly",
    "unread",
]
