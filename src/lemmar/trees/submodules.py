"""Submodules of git: folders that stand for a commit of another repository."""

from __future__ import annotations

import re

from lemmar.basics.expressions import expression

_PATH = expression(r"^[ \t]*path[ \t]*=(.*)", re.MULTILINE)


def submodules(text: str) -> frozenset[str]:
    """The paths of submodules in the *text* of a ``.gitmodules`` file, from the repository's top."""
    return frozenset(path.strip(" \t\r").strip('"').rstrip("/") for path in _PATH.findall(text))


def submodule_words(folder: str) -> str:
    """A sentence on files that were looked for in the submodule *folder*, which is empty."""
    return f"the folder {folder} is a submodule that is not there; check it out, or take what lies in it out of the charter"
