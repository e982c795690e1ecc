"""Reads a locale as some place writes it: by the place's spelling and its own table, and says what is wrong with how it is written."""

from __future__ import annotations

from collections.abc import Mapping

from msgspec.structs import replace

from lemmar.inventory.contents import Named
from lemmar.selectors import Value
from lemmar.tags import LanguageTag, Tag, meant, read_spelling, spelling_candidates, write_spelling

#: What a text is in a spelling, where no charter says otherwise: the same for all clients.
_KNOWN: dict[tuple[str, str], Named] = {}
_MOST_KNOWN = 50_000


class Speller:
    """Reads locales in one *spelling*, with a table of the charter's own spellings that goes before it."""

    def __init__(self, spelling: str, spelled: Mapping[str, str]) -> None:
        self.spelling = spelling
        self.spelled = spelled
        self._known: dict[str, Named] = {}

    def read(self, value: Value) -> Named:
        """What *value* stands for. A locale with a fault counts as the one that was meant, where that is beyond doubt."""
        known = self._known.get(value.text)
        if known is None:
            known = self._known[value.text] = self._read_anew(value.text)
        return known if known.value == value else replace(known, value=value)

    def _read_anew(self, text: str) -> Named:
        if self.spelled:
            return self._with_literal(self._entry(Value(text, 1, 1)))
        if (self.spelling, text) not in _KNOWN:
            if len(_KNOWN) >= _MOST_KNOWN:
                _KNOWN.clear()
            _KNOWN[self.spelling, text] = self._with_literal(self._entry(Value(text, 1, 1)))
        return _KNOWN[self.spelling, text]

    def _with_literal(self, entry: Named) -> Named:
        """The entry with its tag as a lookup has it: ``iw`` stays ``iw`` where that is no spelling of ``he``."""
        if entry.fault is None or entry.value.text in self.spelled:
            return replace(entry, literal=entry.tag)
        tag = read_spelling(entry.value.text, self.spelling)
        return replace(entry, literal=Tag(str(tag) if tag is not None else entry.value.text))

    def tag(self, text: str) -> Tag | None:
        """The tag that *text* counts as."""
        return self.read(Value(text, 1, 1)).tag

    def _entry(self, value: Value) -> Named:
        text = value.text
        own = self.spelled.get(text)
        if own is not None:
            return Named(value, self.spelling, Tag(own))
        tag = read_spelling(text, self.spelling)
        if tag is not None:
            return self._read(value, tag)
        plain = read_spelling(text.strip().replace("_", "-"), "bcp47")
        if plain is not None and plain.valid:
            return self._faulty(value, "noncanonical", plain, "")
        return self._unread(value)

    def _read(self, value: Value, tag: LanguageTag) -> Named:
        """A text that its spelling can read: is it registered, up to date, written as the spelling has it?"""
        wrong = next((problem for problem in tag.problems() if problem.invalid), None)
        if wrong is not None:
            return self._meant(value, "unregistered", wrong.advice)
        if not self._own_form(value.text, tag):
            old = next((problem for problem in tag.problems() if problem.kind == "deprecated"), None)
            return self._faulty(value, "deprecated" if old else "noncanonical", tag.canonical() if old else tag, old.advice if old else "")
        if self.spelling in ("bcp47", "lproj", "dotnet", "auto"):
            return self._judged(value, tag)
        return Named(value, self.spelling, Tag(str(tag)))

    def _judged(self, value: Value, tag: LanguageTag) -> Named:
        """A tag in its own form: another may have taken its place, or a script be too much."""
        for kind, fault in (("deprecated", "deprecated"), ("preferred", "noncanonical"), ("overspecified", "overspecified")):
            problem = next((problem for problem in tag.problems() if problem.kind == kind), None)
            if problem is not None:
                better = tag._replace(script=None) if fault == "overspecified" else tag.canonical()
                return Named(value, self.spelling, Tag(str(better)), write_spelling(better, self.spelling), fault, problem.advice)
        return Named(value, self.spelling, Tag(str(tag)))

    def _unread(self, value: Value) -> Named:
        """A text that is no locale here: in another platform's spelling, a country, a name, or nothing."""
        return self._meant(value, "malformed", "")

    def _meant(self, value: Value, fault: str, advice: str) -> Named:
        found = meant(value.text)
        first = found[0] if found else None
        if first is None:
            return Named(value, self.spelling, None, None, fault, advice)
        if first.how == "region":
            fault = "region-as-language"
        elif first.how == "spelling":
            fault = "noncanonical" if fault == "malformed" else fault
        sure = first.how in ("region", "spelling") or len(found) == 1
        return Named(
            value, self.spelling, Tag(str(first.tag)) if sure else None, write_spelling(first.tag, self.spelling), fault, first.reason
        )

    def _faulty(self, value: Value, fault: str, tag: LanguageTag, advice: str) -> Named:
        return Named(value, self.spelling, Tag(str(tag)), write_spelling(tag, self.spelling), fault, advice)

    def _own_form(self, text: str, tag: LanguageTag) -> bool:
        """Whether *text* is one of its spelling's own forms: not the right one in another case or with another separator."""
        if self.spelling == "auto":
            return any(_plain(text, write_spelling(found, name), name) for name, found in spelling_candidates(text).items() if found == tag)
        return self.spelling == "name" or _plain(text, write_spelling(tag, self.spelling), self.spelling)


def _plain(text: str, written: str, spelling: str) -> bool:
    if spelling == "lproj":
        text = text.replace("_", "-")
    return text == written or text.lower().replace("_", "-") != written.lower().replace("_", "-")
