r"""Conversions that begin with a percent sign: ``%s``, ``%d``, ``%1$@``, ``%-5.2f``, ``%(name)s``; ``%%`` is a sign.

Sources: ISO C 7.21.6.1 and POSIX's numbered arguments, Objective-C's ``%@`` and ``%#@name@``, ``java.util.Formatter``, Python's mapping
keys. Arguments without a number are numbered in their order, those that give a width or precision (``*``) too. A type is the kind of value that a
conversion takes: ``text``, ``object``, ``whole``, ``real``, ``character``, ``date``. A blank is a flag (``% d``) only where no number stands before
the sign and the conversion ends a word; else ``%`` before a blank is prose, and so is one behind a digit whose conversion runs on into a word
(``50%of``, ``50%-ig``), a name between two of them, and one in an address.
"""

from __future__ import annotations

import re

from lemmar.basics.expressions import expression
from lemmar.syntax._arguments import Arguments
from lemmar.syntax._shape import Fault, Piece, Shape, Syntax

# A blank as a flag, which C and Python take and people write by mistake: not behind a number, and only where the conversion ends a word.
_BLANK = r"(?:(?<![0-9]%)(?<![0-9][ \u00a0\u202f]%)[ ](?=[-+#0]*[.0-9]*[sSdiuxXfgc@](?![\w'\u2019])))?"
_CONVERSION = expression(
    r"%(?:(%)|(?:[0-9]{1,4}\$)?#@([A-Za-z_][A-Za-z0-9_]*)@|(?:([0-9]{1,4})\$)?(?:\(([A-Za-z0-9_.-]+)\))?"
    + _BLANK
    + r"[-+#0,']*+(\*(?:[0-9]++\$)?|[0-9]++)?(?:\.(\*(?:[0-9]++\$)?|[0-9]++)?)?"
    r"(?:hh|h|ll|l|L|q|j|z|t(?![A-Za-z]))?([@sSdDiuUxXoOfFeEgGaAcCbBnp]|(?<=\))r|[tT][HIklMSLNpzZsQBbhAaCYyjmdeRTrDFc]))"
)
_KINDS = (
    dict.fromkeys("sSbBpr", "text")
    | dict.fromkeys("@", "object")
    | dict.fromkeys("dDiuUxXoO", "whole")
    | dict.fromkeys("fFeEgGaA", "real")
    | dict.fromkeys("cC", "character")
    | dict.fromkeys("tT", "date")
)
# What only dates have (``strftime``), and all that they may have.
_DATE = expression(r"%[-E_^]?[YmHMyIpjUWwVG](?![A-Za-z$@])")
_DATES = expression(r"%[-E_^O]?[aAbBcdDeFgGhHIjklmMnprRsSTuUVwWxXyYzZ%]")


def shape(text: str) -> Shape:
    """The arguments that *text* takes, by name or number, each with the kinds of value that it is shown as; none where it is a date's form."""
    if _DATE.search(text) and _CONVERSION.sub("", _DATES.sub("", text)) == _DATES.sub("", text):
        return Shape()
    found = Arguments()
    following = 0
    whole = {place for match in _CONVERSION.finditer(text) for place in (match.start(), match.end() - 1)}
    for match in _CONVERSION.finditer(text):
        sign, variable, number, name, width, precision, kind = match.groups()
        if sign or kind == "n" or _is_prose(text, match):
            continue
        if variable:
            found.add(variable, "whole")
            continue
        for star in (width, precision):
            if star == "*":
                following += 1
                found.add(str(following), "whole")
            elif star is not None and star.startswith("*"):
                found.add(star[1:-1], "whole")
        if name is None and number is None:
            following += 1
        found.add(name or number or str(following), _KINDS[kind[0]])
    arguments = found.all()
    loose = next((match.start() for match in _LOOSE.finditer(text) if match.start() not in whole), None) if arguments else None
    return Shape(arguments, fault=None if loose is None else Fault(loose, _WRITTEN_TWICE, mild=True))


# A sign that begins no conversion, where others do.
_LOOSE = expression(r"%(?![A-Za-z0-9_(%{$@#*+'\"-])")
_WRITTEN_TWICE = "this % begins no placeholder; a % that is text is written %%"


def _is_prose(text: str, match: re.Match[str]) -> bool:
    """Whether it is a percentage before a word (a digit before it, and the letter behind it begins a longer word), a name between two
    percent signs (``%count%``), or a character of an address (``/a%20b``, ``%D1%88``).
    """
    if _NAMED.match(text, match.start()) and not _CONVERSION.fullmatch(_LETTERS_BEHIND.match(text, match.start())[0]):  # type: ignore[index]
        return True
    if _ADDRESS.search(_word_around(text, match)):
        return True
    if match.group()[1:-1] not in ("", "-") or match.group()[1] in "@%":
        return False
    before, behind = text[match.start() - 1 : match.start()], text[match.end() : match.end() + 1]
    return before.isdigit() and behind.isalpha()


_NAMED = expression(r"%[A-Za-z_]\w*%(?![A-Za-z0-9@%(.$#*+-])")
_LETTERS_BEHIND = expression(r"%\w*")
_ADDRESS = expression(r"://|(?:%[0-9A-F]{2}){2}")


_FAR = 200


def _word_around(text: str, match: re.Match[str]) -> str:
    """The signs around a match up to the next blanks, as far as an address goes."""
    head, tail = text[max(0, match.start() - _FAR) : match.start()], text[match.end() : match.end() + _FAR]
    before, behind = head.split(), tail.split(maxsplit=1)
    first = before[-1] if before and not head[-1:].isspace() else ""
    return first + match.group() + (behind[0] if behind and not tail[:1].isspace() else "")


# What decides a text's shape: each word with a sign, from blank to blank; whether a number stands before it; and a conversion behind it, if a blank is between.
_PIECE = expression(
    r"(?<!\S)(?:(?<=[0-9]([ \u00a0\u202f])))?([^\s%]*+(?:%(?:\([^()]*\))?(?:[ ](?=[-+#0]*[.0-9]*[sSdiuxXfgc@](?![\w'\u2019])))?[^\s%]*+)+)"
)


def _sure(text: str) -> bool:
    return "%" in text and bool(shape(text).arguments)


def _written(name: str, kind: str) -> str:
    """``%1$d``, ``%(name)s``."""
    letter = next((letter for letter, known in _LETTERS.items() if known in kind.split("/")), "s")
    return f"%{name}${letter}" if name.isdigit() else f"%({name}){letter}"


def _pieces(text: str) -> list[Piece] | None:
    """The words and conversions; none where one is a width or precision, which is no placeholder that can be moved."""
    out, position, following = [], 0, 0
    if not shape(text).arguments:
        return [Piece(text)] if text else []
    for match in _CONVERSION.finditer(text):
        sign, variable, number, name, width, precision, kind = match.groups()
        if not sign and (kind == "n" or _is_prose(text, match)):
            continue
        if variable or "*" in f"{width or ''}{precision or ''}":
            return None
        out.append(Piece(text[position : match.start()]))
        if sign:
            out.append(Piece("%"))
        else:
            following += name is None and number is None
            out.append(Piece(match.group(), name or number or str(following), _KINDS[kind[0]]))
        position = match.end()
    joined: list[Piece] = []
    for each in (*out, Piece(text[position:])):
        if joined and not each.name and not joined[-1].name:
            joined[-1] = Piece(joined[-1].text + each.text)
        elif each.text:
            joined.append(each)
    return joined


def _moved(written: str, name: str) -> str:
    """With its number, where it has neither number nor name."""
    return f"%{name}${written[1:]}" if name.isdigit() and "$" not in written and "(" not in written else written


_LETTERS = {"s": "text", "@": "object", "d": "whole", "f": "real", "c": "character", "t": "date"}
SYNTAX = Syntax(
    name="printf",
    shape=shape,
    written=_written,
    special="%",
    placeholder=_PIECE,
    pieces=_pieces,
    literal=lambda words, formatted, _following: words.replace("%", "%%") if formatted else words,
    moved=_moved,
    sure=_sure,
    strictness=5,
    rank=6,
)
