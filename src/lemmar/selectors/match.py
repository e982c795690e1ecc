"""``match``: a Python regular expression with a group ``locale``; every match, in bounded time."""

from __future__ import annotations

from lemmar.basics.errors import IncompleteError
from lemmar.basics.text import Lines, decode
from lemmar.selectors._laying import nest_by_suffix
from lemmar.selectors._selection import Held, Laid, Pick, Selection, Selector, Value

#: How long one expression may take over one file, of processor time.
SECONDS = 2.0


def check(pick: Pick) -> tuple[str, str] | None:
    """What is wrong with the expression, if anything."""
    import regex

    try:
        compiled = regex.compile(pick.text)
    except regex.error as error:
        return "match", f"{pick.text!r} is not a regular expression: {error}"
    except RecursionError:
        return "match", "the expression is nested too deeply; write it with fewer parentheses"
    if "locale" not in compiled.groupindex:
        return "match", "the expression needs a group named 'locale': (?P<locale>…)"
    if pick.labels is not None and "label" not in compiled.groupindex:
        return "labels", "for labels the expression needs a group named 'label' as well: (?P<label>…)"
    return None


def select(data: bytes, pick: Pick) -> Selection:
    """What the group ``locale`` holds in every match. Raises `IncompleteError`."""
    import regex

    text = decode(data).text
    lines = Lines(text)
    values: list[Value] = []
    try:
        for match in regex.finditer(pick.text, text, regex.MULTILINE, timeout=SECONDS):
            if match.group("locale") is not None:
                label = match.groupdict().get("label") if pick.labels else None
                values.append(Value(match.group("locale"), *lines.place(match.start("locale")), label))
    except TimeoutError:
        raise IncompleteError(
            f"the expression {pick.text!r} takes longer than {SECONDS:g} seconds; write it so that it does not try again and again"
        ) from None
    return Selection(tuple(values))


def lay(data: bytes, pick: Pick) -> Laid:
    """The text as its kind of file has it, else its lines, and the locales that the expression matches. Raises `IncompleteError`."""
    import regex

    decoded = decode(data)
    matches = regex.finditer(pick.text, decoded.text, regex.MULTILINE, timeout=SECONDS)
    held = tuple(Held(match.group("locale"), match.span("locale")) for match in matches if match.group("locale") is not None)
    return Laid(decoded, nest_by_suffix(decoded.text, pick.suffix), held)


SELECTOR = Selector("match", "a regular expression with a group `locale`.", select, check=check, lay=lay)
