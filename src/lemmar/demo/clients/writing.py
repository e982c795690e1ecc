"""What the demo's clients share: the languages' names, and each phrase in a locale with its placeholders written as the client does."""

from __future__ import annotations

from collections.abc import Callable, Iterator

from lemmar.demo.phrases import Phrase, phrases

Files = Iterator[tuple[str, str]]
Write = Callable[[str, int], str]

NAMES = {
    "en": "English", "de": "Deutsch", "de-AT": "Deutsch (Österreich)", "fr": "Français", "it": "Italiano",
    "pt-BR": "Português (Brasil)", "zh-Hans": "简体中文", "ar": "العربية", "sr-Latn": "Srpski (latinica)", "uk": "Українська",
    "sl": "Slovenščina",
}  # fmt: skip
TONGUES = {
    "en": "English", "de": "German", "de-AT": "AustrianGerman", "fr": "French", "it": "Italian", "pt-BR": "BrazilianPortuguese",
    "zh-Hans": "SimplifiedChinese", "ar": "Arabic", "sr-Latn": "SerbianLatin", "uk": "Ukrainian", "sl": "Slovenian",
}  # fmt: skip


def texts(locale: str, part: str | None, write: Write, overlay: bool, first: int = 0) -> Iterator[tuple[Phrase, str]]:
    """The phrases of *part* (None: of all), from the one numbered *first* on, that *locale* has, each with its text."""
    for phrase in phrases()[first:]:
        text = phrase.text(locale, write, overlay)
        if text is not None and part in (None, phrase.part):
            yield phrase, text


def nested(found: Iterator[tuple[Phrase, str]]) -> dict[str, dict[str, str]]:
    """The texts by the two steps of their names."""
    tree: dict[str, dict[str, str]] = {}
    for phrase, text in found:
        branch, _, leaf = phrase.name.partition(".")
        tree.setdefault(branch, {})[leaf] = text
    return tree


def listed(tags: tuple[str, ...], line: str) -> str:
    """A *line* for each tag, ``{}`` standing for it."""
    return "\n".join(line.format(tag) for tag in tags)
