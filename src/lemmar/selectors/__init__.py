"""Claim selectors: where in a file a client states something about locales. One module each; the registry lists this folder."""

from __future__ import annotations

from lemmar.basics.registry import Folder
from lemmar.selectors._selection import Held, Laid, Listed, Pick, Selection, Selector, Value

_FOLDER: Folder[Selector] = Folder(__name__, __path__, "SELECTOR")
names = _FOLDER.names
load = _FOLDER.load
every = _FOLDER.all

__all__ = ["Held", "Laid", "Listed", "Pick", "Selection", "Selector", "Value", "every", "load", "names"]
