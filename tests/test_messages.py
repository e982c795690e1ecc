"""What a translation must carry of its source: each rule of the family where it fires, and on what looks wrong and is right."""

from __future__ import annotations

import json
from typing import Any

import pytest

from lemmar.rules import all_rules
from lemmar.rules._examples import EXAMPLES, Example

from .conftest import Repo, charter

COUNTED = "{n, plural, one {# bunk} other {# bunks}}"

# syntax, locale, the source's text, the translation, the rules that fire
ROWS = [
    # arguments
    ("brace", "de", "{a} {b}", "{b} {a}", []),
    ("brace", "de", "{a} {b}", "{a}", ["argument-lost"]),
    ("brace", "de", "{a}", "{A}", ["argument-lost"]),
    ("brace", "de", "Stay", "{a} bleibt", ["argument-added"]),
    ("brace", "de", "{0:N2}", "{0}", []),
    ("brace", "de", "{} and {}", "{} und", ["argument-lost"]),
    ("percent-name", "de", "%name% stays for 50%", "bleibt für 50%", ["argument-lost"]),
    ("percent-name", "de", "%name% stays, 100% sure", "50%-ig und 100 % der %name%", []),
    ("percent-name", "de", "see a/%D1%88 by %name%", "siehe b/%D2%89 von %nahme%", ["argument-lost"]),
    ("underline-name", "de", "__hut_name__ is full", "__hut__ ist voll", ["argument-lost"]),
    ("underline-name", "de", "__hut__ is full", "voll: __hut__", []),
    ("brace", "de", 'Write { "hut": 1 }', 'Schreibe { "Hütte": 1 }', []),
    ("brace", "de", "{{not}} this", "das {{nicht}}", []),
    ("brace", "fr", "Hut {0}", "Cabane {0} {", ["syntax"]),
    ("brace", "fr", "Hut {0}", "Cabane {0}}", ["syntax"]),
    ("brace", "fr", "Hut {0}", "Cabane {{{0}}}", []),
    ("brace", "fr", "Hut {0} {", "Cabane {0} {", []),  # where the source has one, the program bears it
    ("brace", "fr", "Hut {0} {", "Cabane {1} {", ["argument-lost"]),
    ("brace", "fr", "Hut { or, }", "Cabane { ou,", []),  # a text that nothing is put into
    ("brace", "de", "Stay at @:hut.name", "Bleib", ["argument-lost"]),
    ("brace", "de", "Stay at @:hut.name", "Bleib bei @:hut.name", []),
    ("double-brace", "de", "{{ count, number }} nights", "{{count}} Nächte", []),
    ("double-brace", "de", "{{count}} nights", "{count} Nächte", ["argument-lost"]),
    ("double-brace", "de", "See $t(hut.name)", "Siehe $t(hut.name)", []),
    ("double-brace", "de", "See $t(hut.name)", "Siehe dort", ["argument-lost"]),
    ("percent-brace", "de", "%{name} stays", "%{nahme} bleibt", ["argument-lost"]),
    ("percent-brace", "de", "100 %{unit}", "100 %{unit}", []),
    ("dollar-brace", "de", "${price} for $5", "für $5 ${price}", []),
    ("dollar-brace", "de", "${price}", "{price}", ["argument-lost"]),
    ("colon", "de", "Lights out at :time, not 22:30", "Um :Time ist Ruhe, nicht 22:30", []),
    ("colon", "de", "Call :name", "Ruf an: Name", ["argument-lost"]),
    ("printf", "de", "%s and %d", "%2$d und %1$s", []),
    ("printf", "de", "%s and %d", "%d und %s", ["argument-type"]),
    ("printf", "de", "%1$@ at %2$@", "%1$@ um %1$@", ["argument-lost"]),
    ("printf", "de", "%d %%", "%d %%", []),
    ("printf", "de", "50 % of all", "50 % von allen", []),
    ("printf", "de", "%count% of them", "%zahl% davon", []),
    ("printf", "de", "see https://a.b/c%20d", "siehe https://a.b/%C3%A4", []),
    ("printf", "de", "%D1%88", "%D2%88", []),
    ("printf", "de", "%dx%d", "%dx%s", ["argument-type"]),
    ("printf", "de", "%s%%", "%d%%", ["argument-type"]),
    ("printf", "de", "%2$s%1$d", "%2$s%1$s", ["argument-type"]),
    ("printf", "de", "100% dry", "100% trocken", []),
    ("printf", "ro", 'No "%s"', 'Nu "% s"', []),  # a blank is a flag in C and Python
    ("printf", "da", "Gold: %d (%+d)", "Guld: %d (% +d)", []),
    ("printf", "fr", "%s at 50%%", "%s à 50 % d'eau", ["syntax"]),
    ("printf", "fr", "50% of it", "50 % d'eau", []),
    ("printf", "de", "%d%% of %s", "%d % von %s", ["syntax"]),
    ("printf", "de", "%d%% of %s", "%d %% von %s", []),
    ("printf", "de", "%d % of %s", "%d % von %s", []),
    ("printf", "de", "%d % of %s", "%d % von %d", ["argument-type"]),
    ("printf", "de", "%.1f to %,d", "%.1f bis %,d", []),
    ("printf", "de", "%(name)s stays", "%(name)s bleibt", []),
    ("printf", "de", "%(name)s stays", "%(name) bleibt", ["argument-lost"]),
    ("printf", "de", "%.1f km", "%.2f km", []),
    ("printf", "de", "%d km", "%s km", ["argument-type"]),
    ("printf", "de", "%1$d km", "%1$d (%1$s) km", ["argument-type"]),  # right in one place
    ("printf", "de", "%1$d (%1$s) km", "%1$s km", []),
    ("percent-number", "de", "%1 of %2", "%2: %1", []),
    ("percent-number", "de", "%1 of %n", "%1", ["argument-lost"]),
    ("icu", "de", "{d, date, short}", "{d}", []),
    ("icu", "de", "{d, date, short}", "{d, number}", ["argument-type"]),
    ("icu", "de", "It's {name}", "Das ist's, {name}", []),
    ("icu", "fr", "{hut} is open", "L'{hut} est ouverte", ["argument-lost"]),
    ("icu", "fr", "{hut} is open", "L''{hut} est ouverte", []),
    ("icu", "fr", "Today at {hut}", "Aujourd'hui à {hut}", []),
    ("mf2", "de", "Led by {$name}", "Geleitet von {$name}", []),
    ("mf2", "de", "Led by {$name}", "Geleitet von {name}", ["argument-lost"]),
    ("mf2", "de", "Led by {$name}", "Geleitet von {$name", ["syntax"]),
    # plurals
    ("icu", "pl", COUNTED, "{n, plural, one {# łóżko} few {# łóżka} many {# łóżek} other {# łóżka}}", []),
    ("icu", "pl", COUNTED, "{n, plural, one {# łóżko} few {# łóżka} many {# łóżek}}", ["syntax"]),
    ("icu", "pl", COUNTED, "{n, plural, one {# łóżko} other {# łóżka}}", ["plural-missing"]),
    ("icu", "cs", COUNTED, "{n, plural, one {# lůžko} few {# lůžka} other {# lůžek}}", []),
    ("icu", "lt", COUNTED, "{n, plural, one {# lova} few {# lovos} other {# lovų}}", []),
    *(("icu", tag, COUNTED, "{n, plural, one {# x} other {# y}}", ["plural-missing"]) for tag in ("es", "fr", "it", "pt-BR", "ca")),
    ("icu", "fr", COUNTED, "{n, plural, one {# x} many {# de y} other {# y}}", []),
    ("icu", "fr", COUNTED, "{n, plural, =0 {z} one {# x} other {# y}}", ["plural-missing"]),
    ("icu", "lt", COUNTED, "{n, plural, one {# x} few {# z} other {# y}}", []),  # its many is for fractions alone
    ("icu", "de", COUNTED, "{n, plural, =1 {ein Lager} other {# Lager}}", []),
    ("icu", "uk", COUNTED, "{n, plural, =1 {одне} few {# місця} many {# місць} other {# місця}}", ["plural-missing"]),
    ("icu", "ja", COUNTED, "{n, plural, other {#台}}", []),
    ("icu", "ja", COUNTED, "{n, plural, one {#台} other {#台}}", ["plural-surplus"]),
    ("icu", "de", COUNTED, "{n, plural, one {# Lager} other {# Lager} andere {x}}", ["plural-surplus"]),
    ("icu", "de", COUNTED, "{n, plural, one {# Lager} andere {# Lager}}", ["syntax"]),
    ("icu", "de", COUNTED, "Lager: {n}", []),
    ("icu", "de", COUNTED, "Lager", ["argument-lost"]),
    ("icu", "ar", COUNTED, "{n, plural, zero {لا} one {سرير} two {سريران} few {# أسرّة} many {# سريرًا} other {# سرير}}", []),
    ("icu", "de", "{n, plural, one {# bunk in {hut}} other {# bunks in {hut}}}", "{n, plural, one {ein Lager in {hut}} other {# Lager in {hut}}}", []),
    ("icu", "de", "{n, plural, one {# bunk in {hut}} other {# bunks in {hut}}}", "{n, plural, one {# Lager} other {# Lager in {hut}}}", ["argument-lost"]),
    ("icu", "sv", "{n, selectordinal, one {#st} two {#nd} few {#rd} other {#th}}", "{n, selectordinal, one {#:a} other {#:e}}", []),
    ("icu", "de", "{n, selectordinal, one {#st} two {#nd} few {#rd} other {#th}}", "{n, selectordinal, other {#.}}", []),
    ("mf2", "pl", ".input {$n :number} .match $n one {{{$n} bunk}} * {{{$n} bunks}}", ".input {$n :number} .match $n one {{{$n} łóżko}} * {{{$n} łóżka}}", ["plural-missing"]),
    # selects
    ("icu", "de", "{g, select, f {her} other {their}} hut", "{g, select, f {ihre} other {die}} Hütte", []),
    ("icu", "de", "{g, select, f {her} other {their}} hut", "{g, select, w {ihre} other {die}} Hütte", ["select-differs"]),
    ("icu", "ja", "{g, select, f {her} other {their}} hut", "小屋", []),
    ("icu", "de", "{g, select, f {{name} her} other {{name} their}}", "{g, select, f {{name} ihr} other {deren}}", ["argument-lost"]),
    # syntax
    ("icu", "de", "{name} stays", "{name bleibt", ["syntax"]),
    ("icu", "de", "{name} stays", "{} {name} bleibt", ["syntax"]),
    ("icu", "de", "Write '{'name'}'", "Schreib '{'Name'}'", []),
    # markup
    ("plain", "de", "Pay <b>now</b>", "<b>Jetzt</b> zahlen", []),
    ("plain", "de", "Pay <b>now</b>", "<b>Jetzt zahlen", ["markup"]),
    ("plain", "de", "Pay <b>now</b>", "Jetzt zahlen", ["markup"]),
    ("plain", "de", "Pay <b>now</b>", "<i>Jetzt</i> zahlen", ["markup"]),
    ("plain", "de", "One<br>two", "Eins<br/>zwei", []),
    ("plain", "de", "Press <Enter>", "<Eingabe> drücken", []),
    ("plain", "de", "See <0>the map</0>", "Siehe <0>die Karte</0>", []),
    ("plain", "de", "See <0>the map</0>", "Siehe <1>die Karte</1>", ["markup"]),
    ("plain", "de", 'Led by <x id="NAME"/> and <x id="DOG"/>', '<x id="DOG"/> und <x id="NAME"/>', []),
    ("plain", "de", 'Led by <x id="NAME"/> and <x id="DOG"/>', 'Geleitet von <x id="NAME"/>', ["argument-lost"]),
    ("plain", "de", '<g id="1">Pay</g> now', 'Jetzt <g id="1">zahlen</g>', []),
    ("plain", "de", "<color=#f00>Fog</color> ahead", "Vorn ist <color=#f00>Nebel</color>", []),
    ("plain", "de", "<color=#f00>Fog</color> ahead", "Vorn ist Nebel</color>", ["markup"]),
    ("plain", "de", "1 < 2 & 3 > 2", "1 &lt; 2 &amp; 3 &gt; 2", []),
    ("plain", "de", "Fish &amp; chips", "Fisch & Pommes", []),
    # equal to the source
    ("plain", "de", "Snow on the pass", "Snow on the pass", ["same-as-source"]),
    *(("plain", "de", same, same, []) for same in ("OK", "Hotel", "Radio", "GPS", "12:30", "3 km", "°C", "https://tarnhut.example/map", "WLAN AUS", "A–Z")),
    ("plain", "de", "Reception", "Reception", ["same-as-source"]),
    ("plain", "de", "Tarnhut Trails Booking", "Tarnhut Trails Booking", ["same-as-source"]),
    ("brace", "de", "{count} km", "{count} km", []),
    ("plain", "en-GB", "Snow on the pass", "Snow on the pass", []),
    # edges, control characters, scripts
    ("plain", "de", "Quiet after ", "Ruhe ab", ["edge-space"]),
    ("plain", "de", "Quiet", " Ruhe", ["edge-space"]),
    ("plain", "de", " Quiet ", " Ruhe ", []),
    ("plain", "fr", "Quiet: {x}", "Silence : {x}", []),
    ("plain", "de", "Quiet", "Ru\x07he", ["control-character"]),
    ("plain", "de", "Quiet", "Ru\x85he", ["control-character"]),
    ("plain", "de", "Quiet", "Zeile\n\tRuhe", []),
    ("plain", "ar", "Quiet", "\u2067هدوء\u2069", []),
    ("plain", "ar", "Quiet", "\u202bهدوء", ["control-character"]),
    ("plain", "ar", "Quiet", "\u200fهدوء", []),
    ("plain", "fa", "Bunks", "تخت\u200cها", []),
    ("plain", "km", "Quiet please", "ស្ងាត់\u200bសូម", []),
    ("plain", "th", "Quiet please", "กรุณา\u200bเงียบ", []),
    ("plain", "de", "Snow on the pass", "Снег на перевале", ["wrong-script"]),
    ("plain", "ru", "Snow on the pass", "Schnee auf dem Pass", ["wrong-script"]),
    ("plain", "ru", "Switch Bluetooth on", "Включите Bluetooth", []),
    ("plain", "ru", "Mountain Rescue App", "Mountain Rescue Pro", []),
    ("plain", "uk", "Drinking water", "Питна вoда", ["wrong-script"]),
    ("plain", "ja", "Snow on the pass", "峠に雪があります", []),
    ("plain", "ja", "Snow on the pass", "눈이 고개에 있습니다", ["wrong-script"]),
    ("plain", "zh-Hans", "Snow on the pass", "山口有雪", []),
    ("plain", "el", "Length Δx in µm", "Μήκος Δx σε µm", []),
    ("plain", "de", "Angle α", "Winkel α", []),
    ("plain", "de", "Languages: Русский", "Sprachen: Русский", []),
]  # fmt: skip


def world(
    syntax: str, locale: str, source: str | None, text: str | None, **more: str
) -> dict[str, str | bytes]:
    """A monorepo of one client with one message beside a sound one."""

    def catalog(value: str | None, other: str) -> str:
        return json.dumps(
            {"other": other} | ({} if value is None else {"key": value}), ensure_ascii=False
        )

    return {
        "lemmar.toml": charter(shipping=f"en {locale}", catalog=f'  syntax = "{syntax}"\n', **more),
        "app/locales.json": json.dumps(["en", locale]),
        "app/w/en.json": catalog(source, "…"),
        f"app/w/{locale}.json": catalog(text, "…"),
    }


def fired(repo: Repo) -> list[str]:
    return [finding["rule"].partition(".")[2] for finding in repo.audit()["findings"]]


@pytest.mark.parametrize(("syntax", "locale", "source", "text", "expected"), ROWS)
def test_texts(
    repo: Repo, syntax: str, locale: str, source: str, text: str, expected: list[str]
) -> None:
    assert fired(repo.write(world(syntax, locale, source, text))) == expected


def shown(example: Example) -> dict[str, str | bytes]:
    """A monorepo that holds the example."""
    if example.limit:
        rows = f"Key\tMax\ten\t{example.locale}\nkey\t{example.limit}\t{example.source}\t{example.text}\n"
        return {
            "lemmar.toml": charter(
                "w.tsv",
                f"en {example.locale}",
                catalog='  columns = { key = "Key", limit = "Max" }\n',
            ),
            "app/locales.json": json.dumps(["en", example.locale]),
            "app/w.tsv": rows,
        }
    if example.copy or example.state:
        state = f' state="{example.state}"' if example.state else ""
        unit = '<trans-unit id="key"><source>{}</source>{}</trans-unit>'
        whole = '<xliff version="1.2" xmlns="urn:oasis:names:tc:xliff:document:1.2"><file source-language="en" datatype="plaintext" original="w"{}><body>{}</body></file></xliff>'
        return {
            "lemmar.toml": charter("w[.{locale}].xlf", f"en {example.locale}"),
            "app/locales.json": json.dumps(["en", example.locale]),
            "app/w.xlf": whole.format("", unit.format(example.source, "")),
            f"app/w.{example.locale}.xlf": whole.format(
                f' target-language="{example.locale}"',
                unit.format(
                    example.copy or example.source, f"<target{state}>{example.text}</target>"
                ),
            ),
        }
    files = world(example.syntax, example.locale, example.source, example.text)
    if example.expand:
        whole = str(files["lemmar.toml"])
        files["lemmar.toml"] = whole.replace(
            'kind = "web"', f'kind = "web"\nexpand = {example.expand}', 1
        )
    if example.term:
        word, agreed = example.term
        table = f'\n[[term]]\nword = "{word}"\nagreed = {{ {example.locale} = ["{agreed}"] }}\n'
        files["lemmar.toml"] = f"{files['lemmar.toml']!s}{table}"
    if example.other:
        second = (
            str(files["lemmar.toml"])
            .partition("[[client]]")[2]
            .replace('"app"', '"two"')
            .replace("w/{", "v/{")
            .replace('root = "two"', 'root = "app"')
        )
        files["lemmar.toml"] = f"{files['lemmar.toml']!s}\n[[client]]{second}"
        for tag, text in (("en", example.source), (example.locale, example.other)):
            files[f"app/v/{tag}.json"] = json.dumps({"other": "…", "key": text}, ensure_ascii=False)
    return files


@pytest.mark.parametrize(
    "name",
    sorted(
        name
        for name in all_rules()
        if name.startswith("message.") and name != "message.renamed"  # it takes two locales
    ),
)
def test_the_failing_example_of_the_reference(repo: Repo, name: str) -> None:
    assert fired(repo.write(shown(EXAMPLES[name][0]))) == [name.partition(".")[2]]


@pytest.mark.parametrize("name", sorted(EXAMPLES))
def test_the_passing_example_of_the_reference(repo: Repo, name: str) -> None:
    assert fired(repo.write(shown(EXAMPLES[name][1]))) == []


def forms(prefix: str, **texts: str) -> dict[str, str]:
    return {f"{prefix}{name}": text for name, text in texts.items()}


FORMS: list[tuple[str, str, str, dict[str, str], dict[str, str], list[str]]] = [
    # what spells the forms, the syntax, the locale, the source's entries, the translation's
    ("", "double-brace", "pl", forms("hut_", one="{{count}} hut", other="{{count}} huts"), forms("hut_", one="{{count}} chata", other="{{count}} chaty"), ["plural-missing"]),
    ("", "double-brace", "pl", forms("hut_", one="{{count}} hut", other="{{count}} huts"), forms("hut_", one="{{count}} chata", few="{{count}} chaty", many="{{count}} chat"), []),
    ("", "double-brace", "de", forms("hut_", one="one hut", other="{{count}} huts"), forms("hut_", one="eine Hütte", other="{{count}} Hütten", zero="keine Hütte"), []),
    ("", "double-brace", "ja", forms("hut_", one="one hut", other="{{count}} huts"), forms("hut_", other="{{count}}軒"), []),
    ("", "double-brace", "ja", forms("hut_", one="one hut", other="{{count}} huts"), forms("hut_", one="1軒", other="{{count}}軒"), ["plural-surplus"]),
    ("", "double-brace", "de", forms("hut_", one="one hut", other="{{count}} huts"), forms("hut_", one="eine Hütte", other="Hütten"), ["argument-lost"]),
    ("", "double-brace", "uk", forms("hut_", one="{{count}} hut", other="{{count}} huts"), forms("hut_", one="хата", few="{{count}} хати", many="{{count}} хат"), ["argument-lost"]),
    ("", "brace", "de", forms("hut_", one="{0} hut in {1}", other="{0} huts in {1}"), forms("hut_", one="eine Hütte in {1}", other="{0} Hütten in {1}"), []),
    ("", "double-brace", "de", forms("hut_", one="{{nights}} night in {{hut}}", other="{{nights}} nights in {{hut}}"), forms("hut_", one="eine Nacht in {{hut}}", other="{{nights}} Nächte in {{hut}}"), []),
    ("", "printf", "de", forms("hut_", one="%(n)d night in %(hut)s", other="%(n)d nights in %(hut)s"), forms("hut_", one="eine Nacht", other="%(n)d Nächte in %(hut)s"), ["argument-lost"]),
    ("", "double-brace", "de", {"hut": "one hut", "hut_plural": "{{count}} huts"}, {"hut": "eine Hütte", "hut_plural": "{{count}} Hütten"}, []),
    ("", "percent-brace", "pl", {"hut.0": "%{n} hut", "hut.1": "%{n} huts"}, {"hut.0": "%{n} chata", "hut.1": "%{n} chaty", "hut.2": "%{n} chat"}, []),
    ("", "percent-brace", "pl", {"hut.0": "%{n} hut", "hut.1": "%{n} huts"}, {"hut.0": "%{n} chata", "hut.1": "%{n} chaty", "hut.2": "chat"}, ["argument-lost"]),
    ("", "percent-brace", "ja", {"hut.0": "%{n} hut", "hut.1": "%{n} huts"}, {"hut": "%{n} x"}, []),
    ("", "percent-brace", "de", {"hut.0": "%{n} hut", "hut.1": "%{n} huts"}, {"hut.0": "%{n} x", "hut.1": "y"}, ["argument-lost"]),
    ("nested", "percent-brace", "pl", forms("hut.", one="%{count} hut", other="%{count} huts"), forms("hut.", one="%{count} chata", other="%{count} chaty"), ["plural-missing"]),
    ("", "printf", "de", {"hut.1": "one hut", "hut._": "%d huts"}, {"hut.1": "%d Hütte", "hut._": "%d Hütten"}, []),
    ("", "printf", "de", {"hut.1": "one hut", "hut._": "huts"}, {"hut.1": "%d Hütte", "hut._": "Hütten"}, ["argument-added"]),
    ("pipe", "colon", "de", {"hut": "one hut|:count huts"}, {"hut": "eine Hütte|:count Hütten"}, []),
    ("pipe", "colon", "pl", {"hut": "one hut|:count huts"}, {"hut": "jedna chata|:count chaty"}, ["plural-missing"]),
    ("pipe", "colon", "pl", {"hut": "{0} no hut|{1} one hut|[2,*] :count huts"}, {"hut": "{0} bez chat|{1} jedna chata|[2,*] :count chat"}, []),
    ("pipe", "colon", "pl", {"hut": "one hut|:count huts"}, {"hut": "jedna chata|:count chaty|:count chat"}, []),
]  # fmt: skip


@pytest.mark.parametrize(("how", "syntax", "locale", "source", "texts", "expected"), FORMS)
def test_forms(
    repo: Repo,
    how: str,
    syntax: str,
    locale: str,
    source: dict[str, str],
    texts: dict[str, str],
    expected: list[str],
) -> None:
    def tree(entries: dict[str, str]) -> str:
        nested: dict[str, Any] = {}
        for key, text in entries.items():
            branch, dot, leaf = key.partition(".")
            if dot:
                nested.setdefault(branch, {})[leaf] = text
            else:
                nested[key] = text
        return json.dumps(nested | {"other": "…"})

    files = world(syntax, locale, "x", "x") | {
        "app/w/en.json": tree(source),
        f"app/w/{locale}.json": tree(texts),
    }
    if how:
        files["lemmar.toml"] = str(files["lemmar.toml"]).replace(
            "  syntax =", f'  plural = "{how}"\n  syntax ='
        )
    assert fired(repo.write(files)) == expected


PO = 'msgid ""\nmsgstr ""\n"Content-Type: text/plain; charset=UTF-8\\n"\n"Plural-Forms: {}\\n"\n\nmsgid "%d hut"\nmsgid_plural "%d huts"\n{}'
SLAVIC = "nplurals=3; plural=(n%10==1 && n%100!=11 ? 0 : n%10>=2 && n%10<=4 && (n%100<10 || n%100>=20) ? 1 : 2);"


@pytest.mark.parametrize(
    ("header", "count", "expected"),
    [
        (SLAVIC, 3, []),
        ("nplurals=2; plural=(n != 1);", 2, ["message.plural-missing app/po/uk.po:4 None"]),
        (SLAVIC, 2, ["message.plural-missing app/po/uk.po:6 %d hut"]),
        ("nplurals=3; plural=(n ? 0;", 3, ["message.plural-missing app/po/uk.po:4 None"]),
    ],
)
def test_numbered_forms(repo: Repo, header: str, count: int, expected: list[str]) -> None:
    texts = ["%d хата", "%d хати", "%d хат"]
    lines = "".join(f'msgstr[{number}] "{texts[number]}"\n' for number in range(count))
    repo.write(
        {
            "lemmar.toml": charter("po/{locale}.po", "en uk", platform="posix", claim=""),
            "app/po/uk.po": PO.format(header, lines),
        }
    )
    found = [
        f"{each['rule']} {each['place']['file']}:{each['place']['line']} {each['key']}"
        for each in repo.audit()["findings"]
    ]
    assert found == expected


def test_a_syntax_of_the_team_s_own_and_texts_that_may_be_equal(repo: Repo) -> None:
    files = world("caret", "de", "^name^ stays", "^nahme^ bleibt")
    files["lemmar.toml"] = (
        f"{files['lemmar.toml']!s}\n[syntax.caret]\nplaceholder = '\\^(?P<name>\\w+)\\^'\n"
    )
    assert fired(repo.write(files)) == ["argument-lost"]
    files["lemmar.toml"] = str(files["lemmar.toml"]).replace(
        "  syntax", '  markup = "none"\n  syntax'
    )
    assert fired(repo.write(files)) == ["argument-lost"]
    files = world("plain", "de", "Snow on the pass", "Snow on the pass")
    files["lemmar.toml"] = (
        f'{files["lemmar.toml"]!s}\n[messages]\nmay-equal-source = ["Snow on the pass"]\n'
    )
    assert fired(repo.write(files)) == []
    files["lemmar.toml"] = str(files["lemmar.toml"]).replace(
        'source = ["Snow on the pass"]', 'source-keys = ["k*"]'
    )
    assert fired(repo.write(files)) == []


def test_markup_is_text_where_the_charter_says_so(repo: Repo) -> None:
    files = world("icu", "de", "Pay <b>now</b>", "<b>Jetzt zahlen")
    assert fired(repo.write(files)) == ["markup"]
    files["lemmar.toml"] = str(files["lemmar.toml"]).replace(
        "  syntax", '  markup = "none"\n  syntax'
    )
    assert fired(repo.write(files)) == []


def test_every_apostrophe_quotes_where_the_charter_says_so(repo: Repo) -> None:
    files = world("icu", "fr", "{hut}", "L'hôte {hut}")
    assert fired(repo.write(files)) == []
    files["lemmar.toml"] = str(files["lemmar.toml"]).replace(
        "  syntax", '  apostrophe = "doubled"\n  syntax'
    )
    assert fired(repo.write(files)) == ["argument-lost"]


def test_a_language_that_cldr_knows_too_little_of(repo: Repo) -> None:
    files = world("icu", "tlh", COUNTED, "{n, plural, one {# x} other {# y}}")
    assert fired(repo.write(files)) == ["plural-surplus"]
    files["lemmar.toml"] = (
        f'{files["lemmar.toml"]!s}\n[locale.tlh]\nname = "tlhIngan Hol"\nscript = "Latn"\nplural = ["one", "other"]\n'
    )
    assert fired(repo.write(files)) == []


def test_keys_that_are_the_source_s_texts(repo: Repo) -> None:
    files = world("brace", "de", None, None)
    files["lemmar.toml"] = str(files["lemmar.toml"]).replace(
        "  syntax", '  source-text = "key"\n  syntax'
    )
    del files["app/w/en.json"]
    files["app/w/de.json"] = '{"{name} stays": "bleibt"}'
    assert fired(repo.write(files)) == ["argument-lost"]
    files["app/w/de.json"] = (
        '{"menu\\u0004A bunk": "Ein Lager"}'  # before the sign stands a context
    )
    assert fired(repo.write(files)) == []


@pytest.mark.parametrize(
    "text",
    [
        "{" * 10_000,
        "'" * 1_000_000,
        "{a}" * 100_000,
        "%" * 100_000,
        "{n, plural, other {" * 10_000,
        "<b>" * 50_000,
        ":" * 100_000,
        "%" + "0" * 200_000,
        "$t(" + " " * 200_000,
        ":" + "a" * 200_000 + ":b",
        "{" + " " * 200_000,
        "{a" + ".a" * 100_000,
        "<x " + " " * 200_000,
    ],
)
@pytest.mark.parametrize("syntax", ["icu", "mf2", "printf", "brace", "double-brace", "colon"])
def test_hostile_texts_end(syntax: str, text: str) -> None:
    from lemmar.formats import Column, Keys
    from lemmar.inventory.shapes import Shapes
    from lemmar.syntax import load

    assert len(Shapes().of_column(Column(None, Keys(["a"]), (text,)), load(syntax))) == 1


@pytest.mark.parametrize(
    ("syntax", "locale", "source", "text"),
    [
        ("plain", "de", "a" * 300_000, "a" * 300_000),
        ("plain", "uk", "x", "a" * 300_000 + " " + "я" * 300_000),
        ("icu", "de", COUNTED, "{n, plural, =" + "1" * 5_000 + " {x} other {y}}"),
        ("mf2", "de", "{$n}", ".input {$n :number} .match $n " + "1" * 5_000 + " {{x}} * {{y}}"),
        ("double-brace", "de", "x", "a@" * 100_000),
    ],
)
def test_an_audit_of_hostile_texts_ends(
    repo: Repo, syntax: str, locale: str, source: str, text: str
) -> None:
    assert repo.write(world(syntax, locale, source, text)).audit()["verdict"] in ("clear", "hold")


WORDS = [
    "snow",
    "rain",
    "wind",
    "fog",
    "storm",
    "cloud",
    "ice",
    "hail",
    "frost",
    "dew",
    "mist",
    "gale",
]


def many(locale: str, translated: list[str]) -> dict[str, str | bytes]:
    """A monorepo of one client whose texts are sentences on the weather."""
    source = {word: f"There is {word} on the pass" for word in WORDS}
    return {
        "lemmar.toml": charter(shipping=f"en {locale}", catalog='  syntax = "plain"\n'),
        "app/locales.json": json.dumps(["en", locale]),
        "app/w/en.json": json.dumps(source),
        f"app/w/{locale}.json": json.dumps(
            dict(zip(source, translated, strict=True)), ensure_ascii=False
        ),
    }


def found(repo: Repo) -> list[str]:
    return [
        f"{each['rule']} {each['locale']}/{each['key']}: {each['message']}"
        for each in repo.audit()["findings"]
    ]


def test_a_catalog_that_was_copied_is_told_once(repo: Repo) -> None:
    copied = [f"There is {word} on the pass" for word in WORDS]
    assert found(repo.write(many("de", [*copied[:11], "Sturm auf dem Pass"]))) == [
        "message.same-as-source de/None: 11 of 12 texts in 'de' are identical to the source"
    ]
    assert (
        len(
            found(
                repo.write(
                    many("de", [*copied[:5], *[f"Wetter {number} am Pass" for number in range(7)]])
                )
            )
        )
        == 5
    )


def test_a_catalog_in_another_script_is_told_once(repo: Repo) -> None:
    latin = [f"Na prevoju pada gusti {word}" for word in WORDS]
    assert found(repo.write(many("sr", latin))) == [
        "message.wrong-script sr/None: 12 of 12 texts in 'sr' are written in Latin letters only"
    ]


def test_a_catalog_in_its_own_script_is_not(repo: Repo) -> None:
    assert (
        found(repo.write(many("sr-Latn", [f"Na prevoju pada gusti {word}" for word in WORDS])))
        == []
    )


def test_what_most_clients_say_is_right(repo: Repo) -> None:
    def client(name: str, text: str) -> dict[str, str | bytes]:
        return {
            f"{name}/locales.json": '["en", "de"]',
            f"{name}/w/en.json": '{"key": "Upper bunk"}',
            f"{name}/w/de.json": json.dumps({"key": text}),
        }

    texts = {"one": "Bett oben", "two": "Oberes Lager", "three": "Oberes Lager"}
    whole = charter(root="one")
    table = whole.partition("[[client]]")[2]
    more = "".join(
        f"\n[[client]]{table}".replace('"one"', f'"{name}"').replace('"app"', f'"{name}"')
        for name in ("two", "three")
    )
    files: dict[str, str | bytes] = {"lemmar.toml": whole + more}
    for name, text in texts.items():
        files |= client(name, text)
    data = repo.write(files).audit()["findings"]
    assert [(each["rule"], each["client"], each["place"]["file"]) for each in data] == [
        ("message.inconsistent", "app", "one/w/de.json")
    ]
    assert "'Upper bunk' is 'Oberes Lager' in two and 'Bett oben' in app" in data[0]["message"]


def test_untranslated_sources_and_two_source_texts(repo: Repo) -> None:
    entry = (
        'msgid "an hour ago"\nmsgid_plural "%(count)s hours ago"\nmsgstr[0] "{}"\nmsgstr[1] "{}"\n'
    )
    repo.write(
        {
            "lemmar.toml": charter("po/{locale}.po", "en de", platform="posix", claim=""),
            "app/po/en.po": entry.format("", ""),
            "app/po/de.po": entry.format("vor einer Stunde", "vor %(count)s Stunden"),
        }
    )
    data = repo.audit()
    assert (data["verdict"], data["findings"]) == ("clear", [])
    assert data["clients"][0]["locales"]["de"]["own"] == 1


OWN_CODES = '\nmsgid "%C22*%O %d joined"\nmsgstr "%C22*%O %s da"\n'


@pytest.mark.parametrize(
    ("flagged", "flags", "expected"),
    [
        (12, "", []),
        (3, "", ["message.argument-type"]),
        (3, "#, no-c-format", []),
        (12, "#, c-format", ["message.argument-type"]),
    ],
)
@pytest.mark.parametrize("line_end", ["\n", "\r\n"])  # read the short way and the careful way
def test_where_a_file_says_which_entries_are_formatted_the_others_are_not(
    repo: Repo, flagged: int, flags: str, expected: list[str], line_end: str
) -> None:
    text = 'msgid ""\nmsgstr "Content-Type: text/plain; charset=UTF-8\\n"\n'
    text += "".join(
        f'\n#, c-format\nmsgid "%d huts {n}"\nmsgstr "%d Hütten {n}"\n' for n in range(flagged)
    )
    text += OWN_CODES.replace("\n", f"\n{flags}\n", 1) if flags else OWN_CODES
    repo.write(
        {
            "lemmar.toml": charter("po/{locale}.po", "en de", platform="posix", claim=""),
            "app/po/de.po": text.replace("\n", line_end),
        }
    )
    assert [each["rule"] for each in repo.audit()["findings"]] == expected


@pytest.mark.parametrize("line_end", ["\n", "\r\n"])
@pytest.mark.parametrize(
    ("text", "expected"), [("${n} Lager", []), ("Lager", ["message.argument-lost"])]
)
def test_a_msgid_that_is_a_name_has_its_text_in_a_comment(
    repo: Repo, text: str, expected: list[str], line_end: str
) -> None:
    head = 'msgid ""\nmsgstr "Content-Type: text/plain; charset=UTF-8\\n"\n'
    entry = f'\n#. Default: "${{n}} "\n#. "bunks"\nmsgid "bunks_left"\nmsgstr "{text}"\n'
    catalog = charter(
        "po/{locale}.po", "en de", platform="posix", claim="", catalog='  syntax = "dollar-brace"\n'
    )
    repo.write({"lemmar.toml": catalog, "app/po/de.po": (head + entry).replace("\n", line_end)})
    assert [each["rule"] for each in repo.audit()["findings"]] == expected


@pytest.mark.parametrize(
    ("locale", "count", "expected"),
    [("ru", 3, []), ("ru", 2, ["message.plural-missing"]), ("es", 2, [])],
)
def test_numerus_forms_are_counted(
    repo: Repo, locale: str, count: int, expected: list[str]
) -> None:
    def forms(tag: str, count: int) -> str:
        rows = "".join(f"<numerusform>%n {tag} {number}</numerusform>" for number in range(count))
        return (
            f'<!DOCTYPE TS><TS version="2.1" language="{tag}"><context><name>M</name>'
            f'<message numerus="yes"><source>%n huts</source><translation>{rows}</translation></message></context></TS>'
        )

    repo.write(
        {
            "lemmar.toml": charter(
                "l/{locale}.ts",
                f"en {locale}",
                catalog='  format = "ts-xml"\n',
                claim='\n  [client.runtime]\n  supported = "files"\n',
            ),
            "app/l/en.ts": forms("en", 2),
            f"app/l/{locale}.ts": forms(locale, count),
        }
    )
    found = repo.audit()["findings"]
    assert [each["rule"] for each in found] == expected
    assert all("'M › %n huts'" in each["message"] for each in found)


def test_an_empty_form_for_the_rest_of_numbers_is_missing(repo: Repo) -> None:
    header = "nplurals=6; plural=(n==0 ? 0 : n==1 ? 1 : n==2 ? 2 : n%100>=3 && n%100<=10 ? 3 : n%100>=11 ? 4 : 5);"
    lines = "".join(f'msgstr[{number}] "%d كوخ {number}"\n' for number in range(5))
    repo.write(
        {
            "lemmar.toml": charter("po/{locale}.po", "en ar", platform="posix", claim=""),
            "app/po/ar.po": PO.format(header, f'{lines}msgstr[5] ""\n'),
        }
    )
    assert [each["rule"] for each in repo.audit()["findings"]] == ["message.plural-missing"]


COMPILED = [  # an entry of resources, and whether their compiler refuses it
    ("<string name='a'>L'hôte</string>", True),
    (r"<string name='a'>L\'hôte</string>", False),
    ("<string name='a'>\"L'hôte\"</string>", False),
    ("<string name='a'>\"Il\" dit l'hôte</string>", True),
    ("<string name='a'>un <b>l'hôte</b></string>", True),
    ("<string name='a'><![CDATA[l'hôte]]></string>", True),
    ("<string name='a'>l&apos;hôte</string>", True),
    ('<string name="a">un <a title="l\'hôte">lien</a></string>', False),
    ("<plurals name='a'><item quantity='one'>l'hôte</item><item quantity='other'>x</item></plurals>", True),
    (r"<string name='a'>\u00e9t\u00e9</string>", False),
    (r"<string name='a'>\u0e9 t</string>", True),
]  # fmt: skip


@pytest.mark.parametrize(("entry", "is_refused"), COMPILED)
def test_what_the_resources_compiler_refuses(repo: Repo, entry: str, is_refused: bool) -> None:
    repo.write(
        {
            "lemmar.toml": charter(
                "values[-{locale}]/s.xml", platform="android", claim="", shipping="en fr"
            ),
            "app/values/s.xml": '<resources><string name="a">The host</string></resources>',
            "app/values-fr/s.xml": f"<resources>\n{entry}\n</resources>\n",
        }
    )
    found = [(each["rule"], each["place"]["line"]) for each in repo.audit()["findings"]]
    assert (("message.syntax", 2) in found) == is_refused, found


@pytest.mark.parametrize(
    ("source", "translated", "expected"),
    [
        ("%1$s of %2$s", "%2$s: %s", True),
        ("%1$s of %2$s", "%2$s: %1$s", False),
        ("%1$s of %2$s", "50% %2$s: %1$s", True),
        ("%d %% of it", "%d %% davon", False),
    ],
)
def test_several_substitutions_need_numbers(
    repo: Repo, source: str, translated: str, expected: bool
) -> None:
    string = '<resources><string name="a">{}</string></resources>'
    files = {
        "app/values/s.xml": string.format(source),
        "app/values-de/s.xml": string.format(translated),
    }
    repo.write(
        {"lemmar.toml": charter("values[-{locale}]/s.xml", platform="android", claim=""), **files}
    )
    assert ("message.syntax" in [each["rule"] for each in repo.audit()["findings"]]) == expected


def test_resources_that_no_compiler_sees_are_sound(repo: Repo) -> None:
    """Other runtimes read such files too, in which an apostrophe is one: that is seen from the source."""
    rows = "".join(f'<string name="k{number}">it\'s {number}</string>' for number in range(4))
    whole = f"<resources>{rows}</resources>"
    files = {"app/values/s.xml": whole, "app/values-de/s.xml": whole.replace("it's", "gibt's")}
    repo.write(
        {"lemmar.toml": charter("values[-{locale}]/s.xml", platform="android", claim=""), **files}
    )
    assert repo.audit()["findings"] == []


def test_edges_of_a_whole_catalog_and_of_many_are_one_finding(repo: Repo) -> None:
    """A template's layout stands around each text of the source; translations have none of it, in all of five parts."""
    wide = json.dumps({f"k{number}": f"\n  Bunk {number}\n" for number in range(12)})
    bare = json.dumps({f"k{number}": f"Lager {number}" for number in range(12)})
    repo.write(
        {"lemmar.toml": charter("w/{locale}/{part}.json"), "app/locales.json": '["en", "de"]'}
    )
    repo.write({f"app/w/en/p{number}.json": wide for number in range(2)})
    repo.write({f"app/w/de/p{number}.json": bare for number in range(2)})
    assert repo.found() == [
        "message.edge-space app/w/de/p0.json:1:1 de/p0",
        "message.edge-space app/w/de/p1.json:1:1 de/p1",
    ]
    repo.write({f"app/w/en/p{number}.json": wide for number in range(5)})
    repo.write({f"app/w/de/p{number}.json": bare for number in range(5)})
    (finding,) = repo.audit()["findings"]
    assert finding["message"] == (
        "12 of 12 texts in 'de' begin or end without the blanks of the source; so it is in 4 more files"
    )


def test_an_entry_is_formatted_where_most_files_say_so(repo: Repo) -> None:
    """One file that flags all its other entries does not make the others' placeholders ones that the source lacks."""
    head = 'msgid ""\nmsgstr "Content-Type: text/plain; charset=UTF-8\\n"\n'
    entry = '\nmsgid "%d joined"\nmsgstr "%d {}"\n'
    more = "".join(f'\n#, c-format\nmsgid "%d huts {n}"\nmsgstr "%d x {n}"\n' for n in range(12))
    tags = ("de", "fr", "it")
    files = {f"app/po/{tag}.po": f"{head}{entry.format(tag)}" for tag in tags}
    files["app/po/fr.po"] += more
    files |= {
        f"app/po/{tag}.po": files[f"app/po/{tag}.po"] + more.replace("#, c-format\n", "")
        for tag in ("de", "it")
    }
    repo.write(
        {
            "lemmar.toml": charter("po/{locale}.po", "en de fr it", platform="posix", claim=""),
            **files,
        }
    )
    assert repo.audit()["findings"] == []


def test_a_form_that_most_plurals_of_a_catalog_lack_is_one_finding(repo: Repo) -> None:
    def both(name: str) -> dict[str, str]:
        return {
            f"{name}_{number}_{form}": f"{form} {name}{number}"
            for number in range(12)
            for form in ("one", "other")
        }

    repo.write(
        {"lemmar.toml": charter(shipping="en pl ja"), "app/locales.json": '["en", "pl", "ja"]'}
    )
    repo.write(
        {
            f"app/w/{tag}.json": json.dumps(both(tag)).replace(f"{tag}_", "k_")
            for tag in ("en", "pl", "ja")
        }
    )
    assert [
        (each["rule"], each["locale"], each["message"]) for each in repo.audit()["findings"]
    ] == [
        (
            "message.plural-missing",
            "pl",
            "12 plurals in 'pl' have no form for 'few' and 'many', which it needs",
        ),
        (
            "message.plural-surplus",
            "ja",
            "12 plurals in 'ja' have a form for 'one', which it does not use",
        ),
    ]


def test_settings_and_lone_signs_are_no_texts(repo: Repo) -> None:
    repo.write({"lemmar.toml": charter(), "app/locales.json": '["en", "de"]'})
    repo.write({"app/w/en.json": '{"a": "x", "colon": ":", "dash": " - "}'})
    repo.write({"app/w/de.json": '{"a": "y", "colon": " :", "dash": "-", "rtl": true, "first": 1}'})
    assert repo.audit()["findings"] == []
    repo.write({"app/w/de.json": '{"a": "y", "colon": " :", "dash": "-", "rtl": "right"}'})
    assert [each["key"] for each in repo.audit()["findings"]] == ["rtl"]
