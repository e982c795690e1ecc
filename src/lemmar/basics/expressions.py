"""Regular expressions that are compiled when they are first used: a start of the program needs a tenth of those that it has."""

from __future__ import annotations

import re

TYPE_CHECKING = False
if TYPE_CHECKING:  # where nothing is checked, `typing` is a tenth of what `lemmar.tags` imports
    from typing import Any, AnyStr

_METHODS = ("match", "fullmatch", "search", "finditer", "findall", "split", "sub", "subn", "pattern", "flags", "groups", "groupindex")


class _Uncompiled:
    """Stands for a compiled expression; once one of its methods is asked for, they all are the compiled one's own."""

    def __init__(self, pattern: Any, flags: int) -> None:
        self._of = (pattern, flags)

    def __getattr__(self, name: str) -> Any:
        if name not in _METHODS:
            raise AttributeError(name)
        compiled = re.compile(*self._of)
        self.__dict__.update((each, getattr(compiled, each)) for each in _METHODS)
        return self.__dict__[name]

    def __repr__(self) -> str:
        return f"expression{self._of!r}"


def expression(pattern: AnyStr, flags: int = 0) -> re.Pattern[AnyStr]:
    """What `re.compile` gives, but compiled at its first use; an expression that cannot be compiled raises `re.error` only there."""
    return _Uncompiled(pattern, flags)  # type: ignore[return-value]
