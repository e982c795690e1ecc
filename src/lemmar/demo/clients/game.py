"""Tarnhut for the evening: a game of the summits, and one of cards, whose messages are numbered."""

from __future__ import annotations

import json

from lemmar.demo.clients.writing import TONGUES, Files, texts
from lemmar.demo.phrases import LOCALES, phrases


def files() -> Files:
    """Every file of the games."""
    yield from _summit_trail()
    yield from _hut_cards()


def _summit_trail() -> Files:
    root = "clients/summit-trail"
    listed = ",\n".join(f"    {TONGUES[tag]}" for tag in LOCALES)
    yield (
        f"{root}/Scripts/Tongue.cs",
        f"namespace SummitTrail;\n\n/// <summary>The columns of words.tsv, in their order.</summary>\npublic enum Tongue\n{{\n{listed},\n}}\n\npublic static class TongueFacts\n{{\n    public const Tongue Home = Tongue.English;\n    public const bool Mirrored = true;\n}}\n",
    )
    yield f"{root}/Content/fallback.json", json.dumps({"de-AT": ["de", "en"], "de-CH": ["de", "en"]}, indent=2) + "\n"
    rows = ["\t".join(["Key", "Notes", "Max", *LOCALES])]
    for phrase in phrases()[5:]:
        texts = [phrase.text(locale, lambda name, _number: f"{{{name}}}", overlay=True) or "" for locale in LOCALES]
        notes = f"filled in: {', '.join(phrase.fields)}" if phrase.fields else ""
        rows.append("\t".join([phrase.name, notes, "60", *texts]))
    yield f"{root}/Content/words.tsv", "\n".join(rows) + "\n"


def _hut_cards() -> Files:
    """Lists of numbered messages, a file a locale; another file has the numbers' names."""
    root = "clients/hut-cards"
    numbers = {phrase.name: 1000 + number for number, phrase in enumerate(phrases())}
    yield (
        f"{root}/data/names.yaml",
        "# What each message's number is called in the code.\n" + "".join(f"{name}: {number}\n" for name, number in numbers.items()),
    )
    yield f"{root}/data/table.yaml", "# How the table is laid: for Arabic the other way round.\ncards: 32\nmirrored: true\n"
    yield f"{root}/data/fallbacks.yaml", "# Where a card's words come from when its own language has none.\nde-AT: de\nde-CH: de\nde: en\n"
    for locale in LOCALES:
        rows = [
            {"number": numbers[phrase.name], "words": text}
            for phrase, text in texts(locale, None, lambda name, _number: f"{{{name}}}", overlay=True)
        ]
        yield f"{root}/data/words_{locale}.json", json.dumps({"messages": rows}, ensure_ascii=False, indent=1) + "\n"
