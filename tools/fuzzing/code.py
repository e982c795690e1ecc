"""Code, markup and fonts, mutated: what they ask for and show, and what they can draw, whatever they hold."""

from __future__ import annotations

import random

from fuzzing.catalogs import mutated
from lemmar.basics.errors import IncompleteError
from lemmar.fonts import metrics_of
from lemmar.fonts import read as read_font
from lemmar.usages import Way, read

_SOURCES = {
    "a.ts": b"const say = useWords('hut');\nexport const a = say(`near.${x}`, { count: 1 }) + L['k'] + Words.far; // say('no')\n",
    "a.tsx": b"export const A = () => <p title=\"Book now\">{say('a')} <b>bunks</b> <Say id={`b.${x}`}/></p>;\n",
    "a.py": b"title = say('a.%s' % x, n=1)\nother = _('b' if c else 'd')\n",
    "a.php": b"<?php echo say('a', ['n' => 1]); ?><p>Book now</p>\n",
    "a.kt": b'fun a(n: Int) = say("a.$n.b", n)\n',
    "a.cs": b'class A { string B => L["k"] + Words.Say($"a.{n}"); }\n',
    "a.vue": b"<template><p :a=\"say('a')\">{{ 'b' | put }} Book now</p></template><script>const b = say('c')</script>\n",
    "a.html": b"<!doctype html><title>Huts</title><p data-say='a'>x</p>{% say trimmed %} Two {{ n }} bunks {% endsay %}<img alt='A hut'>\n",
    "a.html.erb": b"<%= say 'a.b' %><%# no %><p>Book <b>now</b></p>\n",
    "layout.xml": b'<a xmlns:android="http://schemas.android.com/apk/res/android" android:text="@string/a" android:hint="Book now"/>\n',
}
_FONTS = {
    "f.bdf": b"STARTFONT 2.1\nSIZE 16 75 75\nSTARTCHAR a\nENCODING 97\nDWIDTH 8 0\nENDCHAR\nENDFONT\n",
    "f.fnt": b"info face=x size=10\nchar id=97 xadvance=8\nkerning first=97 second=97 amount=-1\n",
    "f.ttf": b"\0\1\0\0\0\1\0\x10\0\0\0\0cmap\0\0\0\0\0\0\0\x1c\0\0\0\x10\0\0\0\1\0\0\0\0\0\0\0\0",
}
_WAYS = (
    Way(calls=("say", "L[]"), members=("Words.{key}",), under="useWords", shows=("warn",)),
    Way(filters=("put",), attributes=("data-say", "id"), elements=("Say",), resources=("@string/{key}",), blocks=("say",)),
)


class Code:
    """The target: one file after the other."""

    def __init__(self, chance: random.Random) -> None:
        self._chance = chance

    def next(self) -> tuple[str, bytes, str | None]:
        """What was tried, its bytes, and what is wrong with what came of it."""
        if self._chance.random() < 0.15:
            name = self._chance.choice(sorted(_FONTS))
            data = mutated(_FONTS[name], self._chance)
            read_font(data, name)
            metrics_of(data, name)
            return name, data, None
        name = self._chance.choice(sorted(_SOURCES))
        data = mutated(_SOURCES[name] * self._chance.choice((1, 1, 3)), self._chance)
        try:
            found = read(data, name, _WAYS)
        except IncompleteError:
            return name, data, None
        lines = data.decode("utf-8", "replace").count("\n") + data.count(b"\0\n") + 1
        places = [(use.line, use.column) for use in found.uses] + [(each.line, each.column) for each in found.shown]
        wrong = next((place for place in places if not 1 <= place[0] <= lines or place[1] < 1), None)
        return name, data, f"{wrong} stands nowhere in the file" if wrong is not None else None
