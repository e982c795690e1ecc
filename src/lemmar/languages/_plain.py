"""The short way through source code that does nothing but export or return one literal of plain texts.

What is met beside that (a comment, a text of several pieces, a value that is computed, another statement) has no short way.
"""

from __future__ import annotations

import re
from typing import NamedTuple

from lemmar.basics.expressions import expression
from lemmar.documents.nodes import Plain

_MOST_LEVELS = 30
# What a parser may take for something else than a character of a text.
_ODD = expression("[\x00-\x08\x0b\x0c\x0e-\x1f\x7f\u2028\u2029\ufeff\ud800-\udfff]")
_BLANKS = " \t\r\n"
_ESCAPE = expression(r"\\(.)", re.DOTALL)


class PlainLiteral(NamedTuple):
    """How a language writes such a file: what stands before the literal's members and (read from the end) after them, a member's pieces, and what
    its escapes stand for, where that is not the character itself.

    In *member* the first three groups are a key, the fourth opens a map below it, the last closes one, and the others are the text.
    """

    before: re.Pattern[str]
    after: str
    member: re.Pattern[str]
    escapes: dict[str, str]
    #: Whether a semicolon must end the statement.
    ended: bool = False

    def members(self, text: str) -> list[Plain] | None:
        """The members in their order; None where there is no short way."""
        head = self.before.match(text)
        body = text.rstrip(_BLANKS)
        if head is None or (self.ended and not body.endswith(";")) or _ODD.search(text) is not None:
            return None
        body = body.removesuffix(";").rstrip(_BLANKS)
        if not body.endswith(self.after) or len(body) < head.end() + 1:
            return None
        groups = self.member.groups + 1
        parts = self.member.split(body[head.end() : -1])
        if len(parts) < 2 or "".join(parts[::groups]).strip(_BLANKS):
            return None
        found: list[Plain] = []
        level = 0
        for one, other, third, opens, *texts, closes in zip(*(parts[index::groups] for index in range(1, groups)), strict=True):
            if closes:
                level -= 1
                if level < 0 or found[-1].is_branch:  # one that is empty is nothing to some languages, and a list to others
                    return None
                continue
            key = one or other or third or ""
            if not key:
                return None
            if opens:
                found.append(Plain(level, key, None, is_branch=True))
                level += 1
                if level > _MOST_LEVELS:
                    return None
                continue
            value = next((piece for piece in texts if piece is not None), "")
            value = _ESCAPE.sub(self._character, value) if "\\" in value else value
            found.append(Plain(level, key, value, is_branch=False))
        return found if not level else None

    def _character(self, match: re.Match[str]) -> str:
        return self.escapes.get(match[1], match[1])
