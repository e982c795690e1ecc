"""What all forms share: the lines of a package, which is a brief or what is sent back, and the answers that a file holds."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Mapping
from typing import NamedTuple

from lemmar.basics.phrasing import counted
from lemmar.handoff.brief import Ask, Brief, Filled
from lemmar.tags import CATEGORIES, LanguageTag, Tag
from lemmar.tags.naming import english_name

#: How far a text is, in XLIFF 2.1's words (section 4.3.1.27).
STATES = ("initial", "translated", "reviewed", "final")


class Line(NamedTuple):
    """A text that is to be written: of a text with forms, one *form* (else empty). *text* is what stands there so far, *reason* why it was sent back."""

    ask: Ask
    form: str
    text: str = ""
    state: str = "initial"
    reason: str = ""

    @property
    def id(self) -> str:
        """What the line is known by when it comes back."""
        return line_id(self.ask.id, self.form)

    @property
    def source(self) -> str:
        """The source's text for it."""
        return self.ask.source(self.form)


def line_id(text: str, form: str) -> str:
    """``t-abc.few``."""
    return f"{text}.{form}" if form else text


class Package(NamedTuple):
    """What goes to a translator: the locale, the one that it is translated from, the lines."""

    locale: Tag
    source: Tag
    lines: tuple[Line, ...]

    @property
    def locale_name(self) -> str:
        """``Ukrainian (uk)``."""
        return named(self.locale)

    @property
    def source_name(self) -> str:
        """``English (en)``."""
        return named(self.source)


def named(tag: Tag) -> str:
    """A locale by its English name and its tag."""
    return f"{english_name(LanguageTag.parse(tag))} ({tag})"


def lines_of(brief: Brief) -> Iterator[Line]:
    """The lines of a brief: one for each form that the locale needs."""
    for ask in brief.asks:
        for form in ask.wanted:
            yield Line(ask, form, ask.so_far.get(form, ask.so_far.get("", "")))


class Note(NamedTuple):
    """Something that a translator should know: of what kind, and in words."""

    kind: str
    words: str


def notes(line: Line) -> Iterator[Note]:
    """All that is known of a line, what matters most first."""
    ask = line.ask
    if line.reason:
        yield Note("sent back", line.reason)
    if ask.context:
        yield Note("context", ask.context)
    for words in ask.descriptions:
        yield Note("about", words)
    if line.form:
        yield Note("numbers", numbers(line))
    if ask.limit:
        yield Note("at most", f"{ask.limit} characters")
    if ask.syntax:
        yield Note("signs", f"written as {ask.syntax}: translate the words, leave its signs as they are")
    for filled in ask.filled:
        yield Note("filled in", filled_in(filled))
    for words in ask.terms:
        yield Note("term", words)
    if ask.reason != "message.missing" and line.text and not line.reason:
        yield Note("so far", line.text)
    if ask.near is not None:
        yield Note("nearest", f"{ask.near.locale}: {ask.near.text}")
    for alike in ask.alike:
        yield Note("similar", f"{alike.translation} (for {alike.source!r}, {alike.percent} %)")
    for path in ask.pictures:
        yield Note("picture", path)
    for words in used_in(ask):
        yield Note("used in", words)


#: So many places of a text are named; the clients that lack it first.
_PLACES = 4


def used_in(ask: Ask) -> list[str]:
    """Where a text is used."""
    words = [where.words for where in ask.where[:_PLACES]]
    more = len(ask.where) - _PLACES
    return [*words, f"and in {counted(more, 'more place')}"] if more > 0 else words


def numbers(line: Line) -> str:
    """For which numbers a form is."""
    examples = line.ask.wanted.get(line.form, "")
    return f"the form {line.form!r}, for numbers such as {examples}" if examples else f"the form {line.form!r}"


def filled_in(filled: Filled) -> str:
    """``{count}: a whole number, such as 5``."""
    what = f"{filled.kind}, such as" if filled.kind else "such as"
    return f"{{{filled.name}}}: {what} {filled.sample}"


class Answer(NamedTuple):
    """A text as it came back: what it was known by (empty where that is lost), its form, the source beside it, the text, its state in `STATES`' words (empty
    where there is none), the key where one is named, a remark, and its line in the file (1-based).
    """

    id: str
    form: str
    source: str
    text: str
    state: str
    key: str
    remark: str
    line: int


class Returned(NamedTuple):
    """A file that came back: the locale that it says it is in, its answers, every row without a text among them; and what could not be read, in sentences."""

    locale: str | None
    answers: tuple[Answer, ...]
    faults: tuple[str, ...] = ()


class Expected(NamedTuple):
    """What answers are expected to: the source's forms of each text by its id; the same by the source's text in plain signs; the roster, and its source."""

    forms: Mapping[str, Mapping[str, str]]
    by_source: Mapping[str, tuple[str, ...]]
    locales: tuple[Tag, ...]
    source: Tag


def split_id(text: str) -> tuple[str, str]:
    """A line's id as the text's, and the form."""
    name, dot, form = text.strip().rpartition(".")
    return (name, form) if dot and form in CATEGORIES else (text.strip(), "")


class Form(NamedTuple):
    """A form of packages: its name and the suffix of its files, how a package is written, how a file that came back is read, whether one may be of it."""

    name: str
    suffix: str
    write: Callable[[Package], bytes]
    read: Callable[[bytes, Expected], Returned]
    likely: Callable[[str, bytes], bool]
