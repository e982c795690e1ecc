"""What can be said of an answer by itself: signs that other programs changed are put right, and placeholders, forms and language are compared with the source.

What the audit's own rules say comes after, once the text stands where it belongs.
"""

from __future__ import annotations

import re
import unicodedata
from collections.abc import Iterable, Mapping, Sequence

from lemmar.basics.expressions import expression
from lemmar.basics.phrasing import joined, nearest
from lemmar.handoff.plainly import plainly
from lemmar.handoff.texts import Text
from lemmar.prose.letters import NAMES, expected, has_letters, words_of
from lemmar.syntax import named_in
from lemmar.tags import LanguageTag, Tag

_TAG = expression(r"<[^<>]*>")
_WIDE_BRACES = str.maketrans({"\uff5b": "{", "\uff5d": "}"})
_STRAIGHT = str.maketrans({**dict.fromkeys("\u201c\u201d\u201e\u00ab\u00bb", '"'), **dict.fromkeys("\u2018\u2019\u201a", "'")})
_BRACED = expression(r"\{([^{}]*)\}")
#: A line's end with the blanks around it; looked for from the first of these alone.
_LINE_END = expression(r"(?<![ \t])[ \t]*+\n+[ \t]*")


def put_right(text: str, source: str, neutral: bool) -> str:
    """*text* with the blanks of the *source* around it, composed letters, lines that end as the source's, and straight quotation marks inside of tags."""
    made = unicodedata.normalize("NFC", text.replace("\r\n", "\n").replace("\r", "\n") if "\r" not in source else text)
    if "\n" not in source.strip() and "\n" in made.strip():
        made = _LINE_END.sub(" ", made.strip())
    made = _TAG.sub(lambda match: match.group().translate(_STRAIGHT), made)
    if neutral:
        made = _BRACED.sub(lambda match: f"{{{match[1].strip()}}}", made.translate(_WIDE_BRACES))
    lead = source[: len(source) - len(source.lstrip())]
    tail = source[len(source.rstrip()) :]
    return f"{lead}{made.strip()}{tail}"


def wrong_with(text: Text, forms: Mapping[str, str], wanted: Iterable[str]) -> str:
    """What is wrong with an answer's *forms*, in words; empty where nothing is. *wanted* are the forms that the locale needs."""
    lacking = [form for form in wanted if form and not forms.get(form, "").strip()]
    if lacking:
        return f"the {'form' if len(lacking) == 1 else 'forms'} {joined(list(map(repr, lacking)))} {'is' if len(lacking) == 1 else 'are'} not written"
    if text.syntax:
        return ""
    known = [each.name for each in text.placeholders]
    for form, words in forms.items():
        source = text.forms.get(form, text.shown)
        here, there = named_in([words]), named_in([source])
        if re.search(r"[{}]", _BRACED.sub("", words)):
            return "a brace stands alone; write each placeholder as the source has it"
        strange = next((name for name in here if name not in known), None)
        if strange is not None:
            names = [f"{{{name}}}" for name in known]
            close = nearest(strange, known) if known else ""
            if not known:
                return f"{{{strange}}} is added, and the source has no placeholder"
            return f"{{{strange}}} is no placeholder of the source, which has {joined(names)}" + (close if "did you mean" in close else "")
        lost = [f"{{{name}}}" for name in there if name not in here]
        if lost and not (text.is_counted and len(lost) == 1 and form in ("zero", "one", "two")):
            return f"{joined(lost)} of the source {'is' if len(lost) == 1 else 'are'} missing"
    return ""


def language_of_another(texts: Sequence[str], locale: Tag) -> str | None:
    """The language that *texts* are surely in, where it is not the locale's; None where they are in that, or nobody can tell."""
    from lemmar.prose import guess

    found = guess(texts, LanguageTag.parse(locale).canonical().language)
    return found.language if found is not None and found.is_sure else None


def doubtful(text: Text, forms: Mapping[str, str], locale: Tag) -> str:
    """Why an answer is in doubt unless somebody says that it is final, in words; empty where it is not."""
    for form, words in forms.items():
        source = text.forms.get(form, text.shown)
        if "\ufffd" in words and "\ufffd" not in source:
            return "it has a character that was lost on the way (U+FFFD)"
        if _says_something(source) and not _says_something(words):
            return "it has no letter or digit, and the source has; mark it 'final' if that is intended"
        if len(words) > _MANY_TIMES * len(source) + _MUCH:
            return f"it has {len(words):,} characters, and the source {len(source):,}; mark it 'final' if that is intended"
    return _in_another_script(text, forms, locale)


def _says_something(words: str) -> bool:
    """Whether a text has a letter or digit of its own, beside what is filled in."""
    return any(map(str.isalnum, _BRACED.sub("", words)))


#: So much longer than its source no translation is.
_MANY_TIMES, _MUCH = 8, 120


def _in_another_script(text: Text, forms: Mapping[str, str], locale: Tag) -> str:
    """Why an answer without a letter of the locale's script is in doubt; empty where it has one, or has no words to speak of, as a name has."""
    scripts = expected(LanguageTag.parse(locale).maximized().script or "")
    if not scripts or scripts == ("Latn",):
        return ""
    for words in forms.values():
        letters = "".join(words_of(words))
        if len(letters) >= _FEW_LETTERS and not has_letters(scripts)(letters) and plainly(words) != plainly(text.shown):
            return f"it contains no {NAMES[scripts[0]]} script; mark it 'final' if that is intended"
    return ""


_FEW_LETTERS = 4
