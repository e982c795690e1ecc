"""How much of a client users read in their own language, in signs and colours: the same in every output."""

from __future__ import annotations

from lemmar.findings import Answer, Outcome
from lemmar.tags import Tag


def percent(answer: Answer) -> str:
    """The complete share in whole percent, never rounded up to 100 nor down to 0."""
    whole = 100 if answer.is_complete else max(100 * answer.complete // answer.messages, int(answer.complete > 0))
    return f"{whole} %"


def share(client: Outcome, locale: Tag) -> str:
    """How much of a client is complete in a locale; a dash where the client has not the locale."""
    answer = client.answers.get(locale)
    return "–" if answer is None else percent(answer)


def heat(answer: Answer) -> int:
    """How warm a cell is: 7 where all is complete, 0 where next to nothing is."""
    if answer.is_complete:
        return 7
    part = answer.complete / answer.messages
    return next(step for step, bound in enumerate((0.1, 0.3, 0.5, 0.7, 0.85, 0.95, 1.1)) if part < bound)
