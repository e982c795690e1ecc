"""Tarnhut's texts that go by a number or a person: one table for all clients, each of which writes the forms in its own way.

``#`` stands for the number. An overlay has none of its own: it reads its parent's.
"""

from __future__ import annotations

Forms = dict[str, str]

#: Name → locale → plural category → text.
COUNTED: dict[str, dict[str, Forms]] = {
    "free.bunks": {
        "en": {"one": "# bunk free", "other": "# bunks free"},
        "de": {"one": "# Schlafplatz frei", "other": "# Schlafplätze frei"},
        "fr": {"one": "# couchage libre", "many": "# de couchages libres", "other": "# couchages libres"},
        "it": {"one": "# cuccetta libera", "many": "# di cuccette libere", "other": "# cuccette libere"},
        "pt-BR": {"one": "# beliche livre", "many": "# de beliches livres", "other": "# beliches livres"},
        "zh-Hans": {"other": "空铺位：#"},
        "ar": {
            "zero": "لا أسرّة متاحة",
            "one": "سرير واحد متاح",
            "two": "سريران متاحان",
            "few": "# أسرّة متاحة",
            "many": "# سريرًا متاحًا",
            "other": "# سرير متاح",
        },
        "sr-Latn": {"one": "# slobodan ležaj", "few": "# slobodna ležaja", "other": "# slobodnih ležajeva"},
        "uk": {"one": "# вільне місце", "few": "# вільні місця", "many": "# вільних місць", "other": "# вільного місця"},
        "sl": {"one": "# prosto ležišče", "two": "# prosti ležišči", "few": "# prosta ležišča", "other": "# prostih ležišč"},
    },
    "stay.length": {
        "en": {"one": "# night in the hut", "other": "# nights in the hut"},
        "de": {"one": "# Nacht in der Hütte", "other": "# Nächte in der Hütte"},
        "fr": {"one": "# nuit au refuge", "many": "# de nuits au refuge", "other": "# nuits au refuge"},
        "it": {"one": "# notte al rifugio", "many": "# di notti al rifugio", "other": "# notti al rifugio"},
        "pt-BR": {"one": "# noite na cabana", "many": "# de noites na cabana", "other": "# noites na cabana"},
        "zh-Hans": {"other": "在小屋住 # 晚"},
        "ar": {
            "zero": "لا ليالٍ في الكوخ",
            "one": "ليلة واحدة في الكوخ",
            "two": "ليلتان في الكوخ",
            "few": "# ليالٍ في الكوخ",
            "many": "# ليلةً في الكوخ",
            "other": "# ليلة في الكوخ",
        },
        "sr-Latn": {"one": "# noć u kući", "few": "# noći u kući", "other": "# noći u kući"},
        "uk": {"one": "# ніч у хатині", "few": "# ночі в хатині", "many": "# ночей у хатині", "other": "# ночі в хатині"},
        "sl": {"one": "# noč v koči", "two": "# noči v koči", "few": "# noči v koči", "other": "# noči v koči"},
    },
}

#: Who keeps the hut: locale → key of the select → text.
KEEPER: dict[str, Forms] = {
    "en": {"female": "She keeps the hut", "male": "He keeps the hut", "other": "They keep the hut"},
    "de": {"female": "Sie führt die Hütte", "male": "Er führt die Hütte", "other": "Das Team führt die Hütte"},
    "fr": {"female": "Elle tient le refuge", "male": "Il tient le refuge", "other": "L’équipe tient le refuge"},
    "it": {"female": "Gestisce lei il rifugio", "male": "Gestisce lui il rifugio", "other": "Gestiscono loro il rifugio"},
    "pt-BR": {"female": "Ela cuida da cabana", "male": "Ele cuida da cabana", "other": "A equipe cuida da cabana"},
    "zh-Hans": {"female": "她管理小屋", "male": "他管理小屋", "other": "他们管理小屋"},
    "ar": {"female": "هي تدير الكوخ", "male": "هو يدير الكوخ", "other": "هم يديرون الكوخ"},
    "sr-Latn": {"female": "Ona vodi kuću", "male": "On vodi kuću", "other": "Oni vode kuću"},
    "uk": {"female": "Вона опікується хатиною", "male": "Він опікується хатиною", "other": "Вони опікуються хатиною"},
    "sl": {"female": "Ona skrbi za kočo", "male": "On skrbi za kočo", "other": "Oni skrbijo za kočo"},
}

#: How message catalogs with numbered forms count them.
HEADERS = {
    "fr": "nplurals=2; plural=(n > 1);",
    "pt-BR": "nplurals=2; plural=(n > 1);",
    "zh-Hans": "nplurals=1; plural=0;",
    "ar": "nplurals=6; plural=n==0 ? 0 : n==1 ? 1 : n==2 ? 2 : n%100>=3 && n%100<=10 ? 3 : n%100>=11 ? 4 : 5;",
    "sr-Latn": "nplurals=3; plural=(n%10==1 && n%100!=11 ? 0 : n%10>=2 && n%10<=4 && (n%100<10 || n%100>=20) ? 1 : 2);",
    "uk": "nplurals=3; plural=(n%10==1 && n%100!=11 ? 0 : n%10>=2 && n%10<=4 && (n%100<10 || n%100>=20) ? 1 : 2);",
    "sl": "nplurals=4; plural=(n%100==1 ? 0 : n%100==2 ? 1 : n%100==3 || n%100==4 ? 2 : 3);",
}
_TWO = "nplurals=2; plural=(n != 1);"
_NUMBERED = {"uk": ("one", "few", "many"), **dict.fromkeys(("fr", "it", "pt-BR"), ("one", "other"))}


def forms(name: str, locale: str, number: str, overlay: bool) -> Forms:
    """The forms of the text *name* in *locale*, *number* written for ``#``; none where an overlay leaves them to its parent."""
    if locale == "de-AT" and overlay:
        return {}
    found = COUNTED[name]["de" if locale == "de-AT" else locale]
    return {category: text.replace("#", number) for category, text in found.items()}


def header(locale: str) -> str:
    """How a catalog with numbered forms counts them in *locale*."""
    return HEADERS.get(locale, _TWO)


def numbered(name: str, locale: str, number: str) -> list[str]:
    """The forms in the order in which a catalog with numbered forms has them: those that whole numbers below a million take."""
    found = forms(name, locale, number, overlay=False)
    return [found[category] for category in _NUMBERED.get(locale, tuple(found))]


def branches(found: Forms) -> str:
    """The forms as the branches of an ICU plural or select."""
    return " ".join(f"{key} {{{text}}}" for key, text in found.items())
