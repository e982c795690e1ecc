"""Tarnhut on the desk: what the wardens work with, and the panel at the hut's door."""

from __future__ import annotations

from xml.sax.saxutils import escape

from lemmar.demo.clients.writing import Files, listed, texts
from lemmar.demo.phrases import LOCALES


def files() -> Files:
    """Every file of the desktop clients."""
    yield from _warden_desk()
    yield from _door_panel()


def _warden_desk() -> Files:
    root = "clients/warden-desk"
    tongues = listed(LOCALES, '        "{}",')
    yield (
        f"{root}/Desk/Tongues.cs",
        f'namespace WardenDesk;\n\n/// <summary>The languages that the warden\'s desk can be switched to.</summary>\npublic static class Tongues\n{{\n    public const string Home = "en";\n\n    public const bool Mirrored = true;\n\n    public static readonly string[] All =\n    {{\n{tongues}\n    }};\n}}\n',
    )
    for locale in LOCALES:
        name = "Texts.resx" if locale == "en" else f"Texts.{locale}.resx"
        rows = []
        for phrase, text in texts(locale, None, lambda _name, number: f"{{{number - 1}}}", overlay=True, first=7):
            note = f"\n    <comment>Filled in: {', '.join(phrase.fields)}</comment>" if phrase.fields and locale == "en" else ""
            rows.append(f'  <data name="{_pascal(phrase.name)}" xml:space="preserve">\n    <value>{escape(text)}</value>{note}\n  </data>')
        yield f"{root}/Desk/{name}", '<?xml version="1.0" encoding="utf-8"?>\n<root>\n' + "\n".join(rows) + "\n</root>\n"


def _pascal(name: str) -> str:
    return "".join(word.capitalize() for word in name.split("."))


def _door_panel() -> Files:
    """A dictionary a locale; a switch over the culture picks it."""
    root = "clients/door-panel"
    cases = "\n".join(f'            case "{tag}":\n                return "Words.{tag}.xaml";' for tag in LOCALES if tag != "en")
    yield (
        f"{root}/Panel/Dictionaries.cs",
        "namespace DoorPanel;\n\npublic static class Dictionaries\n{\n    public const bool Mirrored = true;\n\n    public static string For(string culture)\n    {\n        switch (culture)\n        {\n"
        f'            case "en":\n                return "Words.xaml";\n{cases}\n            default:\n                return "Words.xaml";\n        }}\n    }}\n}}\n',
    )
    for locale in LOCALES:
        name = "Words.xaml" if locale == "en" else f"Words.{locale}.xaml"
        rows = [
            f'    <sys:String x:Key="{_pascal(phrase.name)}">{escape(text)}</sys:String>'
            for phrase, text in texts(locale, "hut", lambda _name, number: f"{{{number - 1}}}", overlay=True)
        ]
        yield (
            f"{root}/Panel/Words/{name}",
            '<ResourceDictionary xmlns="http://schemas.microsoft.com/winfx/2006/xaml/presentation"\n'
            '                    xmlns:x="http://schemas.microsoft.com/winfx/2006/xaml"\n'
            '                    xmlns:sys="clr-namespace:System;assembly=mscorlib"\n'
            '                    xml:space="preserve">\n' + "\n".join(rows) + "\n</ResourceDictionary>\n",
        )
