"""The forms in which work goes out and answers come back. One module a form; the registry lists this folder."""

from __future__ import annotations

from lemmar.basics.registry import Folder
from lemmar.handoff.forms._form import STATES, Answer, Expected, Form, Line, Package, Returned, line_id, lines_of

_FOLDER: Folder[Form] = Folder(__name__, __path__, "FORM")
names = _FOLDER.names
load = _FOLDER.load


def of_file(name: str, data: bytes) -> Form | None:
    """The form of a file that came back: by its contents first, as its name may be another."""
    return next((form for form in _FOLDER.all() if form.likely(name.lower(), data)), None)


__all__ = ["STATES", "Answer", "Expected", "Form", "Line", "Package", "Returned", "line_id", "lines_of", "load", "names", "of_file"]
