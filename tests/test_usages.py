"""What code and markup ask for, and what they show: by language and by sort of file; nothing of a file is run."""

from __future__ import annotations

import json
from contextlib import suppress

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from lemmar.basics.errors import IncompleteError
from lemmar.cache import Store
from lemmar.charter.types import UsageEntry
from lemmar.inventory.readings import Readings
from lemmar.inventory.using import usage_of
from lemmar.prose.readable import is_for_people
from lemmar.trees.folder import FolderTree
from lemmar.usages import Found, Way, is_read, read

from .conftest import Repo, charter, share

SAY = Way(calls=("say",))


def asked(code: str | bytes, name: str, *ways: Way) -> list[str]:
    """What a file asks for: keys, with their ends where they are put together."""
    found = read(code.encode() if isinstance(code, str) else code, name, ways or (SAY,))
    return [f"{use.key}…{use.end}" if use.computed else use.key for use in found.uses]


@pytest.mark.parametrize(
    ("name", "code"),
    [
        ("a.ts", "say('a.b'); words.say(c ? 'd' : `e`); say('f.' + x); say(`g.${x}.h`); say(z ?? 'i'); say(x.y)"),
        ("a.jsx", "const a = <b>{say('a.b')}</b>; say(c ? 'd' : 'e'); say('f.' + x); say(`g.${x}.h`); say(z || 'i'); say(x)"),
        ("a.py", "say('a.b'); w.say('d' if c else 'e'); say('f.' + x); say(f'g.{x}.h'); say(z or 'i'); say(x)"),
        ("a.php", "<?php say('a.b'); say($c ? 'd' : 'e'); say('f.' . $x); say(\"g.$x.h\"); say($z ?? 'i'); say($x);"),
        ("a.rb", "say('a.b'); say(c ? 'd' : 'e'); say('f.' + x); say(\"g.#{x}.h\"); say(z || 'i'); say(x)"),
        ("a.cs", 'class A{void f(){ say("a.b"); say(c ? "d" : "e"); say("f." + x); say($"g.{x}.h"); say(z ?? "i"); say(x);}}'),
        ("a.kt", 'fun f(){ say("a.b"); say(if (c) "d" else "e"); say("f." + x); say("g.${x}.h"); say(z ?: "i"); say(x) }'),
        ("a.swift", 'func f(){ say("a.b"); say(c ? "d" : "e"); say("f." + x); say("g.\\(x).h"); say(z ?? "i"); say(x) }'),
        ("a.dart", "void f(){ say('a.b'); say(c ? 'd' : 'e'); say('f.' + x); say('g.${x}.h'); say(z ?? 'i'); say(x); }"),
    ],
)  # fmt: skip
def test_what_an_argument_may_be(name: str, code: str) -> None:
    found = asked(code, name)
    assert [*dict.fromkeys(each for each in found if each != "i")] == [
        "a.b",
        "d",
        "e",
        "f.…",
        "g.….h",
        "…",
    ]
    assert "i" in found or name in (
        "a.kt",
        "a.swift",
        "a.dart",
    )  # of which the grammars have other words


@pytest.mark.parametrize(
    ("name", "code"),
    [
        ("a.java", 'class A{void f(){ say("a.b"); say(c ? "d" : "e"); say("f." + x);}}'),
        ("a.cpp", 'void f(){ say("a.b"); say(c ? "d" : "e"); say("f." + x); }'),
        ("a.gd", "func f():\n\tsay('a.b')\n\tsay('d' if c else 'e')\n\tsay('f.' + x)\n"),
    ],
)
def test_in_languages_without_put_in_texts(name: str, code: str) -> None:
    assert asked(code, name) == ["a.b", "d", "e", "f.…"]


@pytest.mark.parametrize(
    ("name", "code", "way", "expected"),
    [
        ("a.go", 'package a\nfunc f(){ say("a.b"); say("f."+x) }', SAY, ["a.b", "f.…"]),
        ("a.lua", "say('a.b') say('f.'..x) say'q'", SAY, ["a.b", "f.…", "q"]),
        ("a.ts", "L['a'] + L[`b.${x}`] + l['c'] + XL['d']", Way(calls=("L[]",)), ["a", "b.…"]),
        ("a.cs", 'class A{string a = L["k"]; string b = Words.HutNear; }', Way(calls=("L[]",), members=("Words.{key}",)), ["k", "HutNear"]),
        ("a.ts", "Words.hut.near.trim(); // Words.no\nconst a = 'Words.no'; My.Words.no; words?.ok", Way(members=("Words.{key}",)), ["hut.near.trim"]),
        ("a.dart", "var a = Words.of(context)!.hutNear;", Way(members=("Words.of(context).{key}",)), ["hutNear"]),
        ("a.ts", "ask({id: 'a.b', text: 'x'}); all({p: {id: 'c'}, q: {id: 'd'}})", Way(calls=("ask",), pointer="/id"), ["a.b"]),
        ("a.ts", "all({p: {id: 'c'}, q: {id: 'd'}, r: {id: x}})", Way(calls=("all",), pointer="/*/id"), ["c", "d", "…"]),
        ("a.ts", "say('ctx', 'key')", Way(calls=("say",), argument=1, context=0), ["ctx\x04key"]),
        ("a.py", "say(n=1, key='a')", Way(calls=("say",), argument="key"), ["a"]),
        ("a.tsx", "<Say id='a'/>; <Say id={`b.${x}`}/>; <Other id='c'/>; 'id=\\'d\\''", Way(attributes=("id",), elements=("Say",)), ["a", "b.…"]),
        ("a.html", "<p data-say='a.b'>x</p><!-- data-say='c' --><say>d.e</say>", Way(attributes=("data-say",)), ["a.b"]),
        ("a.html", "<say>d.e</say><says>no</says>", Way(elements=("say",)), ["d.e"]),
        ("l.xml", '<a text="@string/hut_near"/><!-- "@string/no" -->', Way(resources=("@string/{key}",)), ["hut_near"]),
        ("a.vue", "<p :a=\"say('a')\">{{ 'b' | put }} {{ say(`c.${x}`) }}</p><script>\n// say('no')\nsay(d ? 'e' : 'f')</script>",
            Way(calls=("say",), filters=("put",)), ["a", "b", "c.…", "e", "f"]),
        ("a.html.erb", "<%= say 'a.b' %> <%= say('c', n: 1) %> <%# say('no') %>", SAY, ["a.b", "c"]),
        ("a.blade.php", "{{ say('a', ['n' => 1]) }} {{-- say('no') --}} @say('b')", SAY, ["a", "b"]),
        ("a.html", "{% say trimmed %}\n  Two {{ count }}\n  bunks\n{% plural %}x{% endsay %}", Way(blocks=("say",)), ["Two %(count)s bunks"]),
        ("a.cshtml", '<p>@L["k"] @Words.HutNear</p>', Way(calls=("L[]",), members=("Words.{key}",)), ["k", "HutNear"]),
    ],
)  # fmt: skip
def test_the_ways_to_ask(name: str, code: str, way: Way, expected: list[str]) -> None:
    assert asked(code, name, way) == expected


@pytest.mark.parametrize(
    ("code", "expected"),
    [
        ("const say = useWords('hut'); say('near')", ["hut.near"]),
        ("function a(){ const {say} = useWords('hut'); return () => say('near') } function b(){ const say = useWords('bunk'); say('free') }",
            ["hut.near", "bunk.free"]),
        ("const hut = useWords('hut'), bunk = useWords('bunk'); hut('near'); bunk('free')", ["hut.near", "bunk.free"]),
        ("const say = useWords(which); say('near')", ["…near"]),
        ("const say = useWords(); say('near')", ["near"]),
    ],
)  # fmt: skip
def test_what_stands_before_a_key(code: str, expected: list[str]) -> None:
    assert asked(code, "a.ts", Way(calls=("say",), under="useWords")) == expected


def test_values_and_parts() -> None:
    (use,) = read(
        b"say('a:b', {count: 1, name, [x]: 2})", "a.ts", (Way(calls=("say",), separator=":"),)
    ).uses
    assert (use.key, use.part, use.given) == ("b", "a", None)
    (use,) = read(b"say('b', {count: 1, name})", "a.ts", (SAY,)).uses
    assert use.given == ("count", "name")
    (use,) = read(b"say('b', n=1, m=2)", "a.py", (SAY,)).uses
    assert use.given == ("n", "m")
    (use,) = read(b"say('b', 1, 2)", "a.ts", (Way(calls=("say",), values="*"),)).uses
    assert use.count == 2
    (use,) = read(
        b"const say = useWords('hut'); say('near')",
        "a.ts",
        (Way(calls=("say",), scope="useWords"),),
    ).uses
    assert (use.key, use.part) == ("near", "hut")
    (use,) = read(
        "/* ü */ say('ü', 'p')".encode(), "a.ts", (Way(calls=("say",), part_argument=1),)
    ).uses
    assert (use.key, use.part, use.line, use.column) == ("ü", "p", 1, 13)


@pytest.mark.parametrize(
    "text",
    [
        "Book now",
        "Delete",
        "No bunk is left.",
        "Name:",
        "雪が多いので道は閉まっています",
        "Übernachten",
        "Save & close",
        "Are you sure?",
    ],
)
def test_for_people(text: str) -> None:
    assert is_for_people(text) or not text.isascii()  # scripts without blanks are one word


@pytest.mark.parametrize(
    "text",
    ["", "OK", "API", "arrow_back", "data-id", "a@example.org", "https://example.org/a b", "hut.near", "camelCase", "PascalCase", "12 %", "f(x)",
        "#fff", "--flag on", "a = b", "{x} {y}", "delete", "GPS API", "&nbsp;", "x", "/srv/data"],
)  # fmt: skip
def test_not_for_people(text: str) -> None:
    assert not is_for_people(text)


def test_a_sentence_with_elements_in_it_is_one_text() -> None:
    found = read(b"<p>Book <b>now</b>, {{ name }}, or <a>later</a></p>", "a.html", (SAY,)).shown
    assert [each.text for each in found] == ["Book now, … , or later"]
    found = read(
        b"const a = <p>Book <b>now</b>, {name}, or <a>later</a></p>", "a.tsx", (SAY,)
    ).shown
    assert len(found) == 1


@given(
    st.binary(max_size=200),
    st.sampled_from(["a.ts", "a.vue", "a.html", "a.py", "l.xml", "a.tsx", "a.html.erb", "a.cs"]),
)
def test_whatever_a_file_holds(data: bytes, name: str) -> None:
    """Any bytes, and any bytes around a call, end in an answer; every use and text has its place in the file."""
    ways = (
        Way(
            calls=("say", "L[]"),
            members=("Words.{key}",),
            attributes=("id",),
            filters=("put",),
            blocks=("say",),
            under="use",
            shows=("warn",),
        ),
    )
    for held in (
        data,
        b"say('a') " + data,
        b"<p id='b'>" + data + b" Words.c L['d'] {% say %}e{% endsay %}",
    ):
        found = read(held, name, ways)
        assert isinstance(found, Found)
        lines = held.decode("utf-8", "replace").count("\n") + 1
        assert all(1 <= use.line <= lines and use.column >= 1 for use in found.uses)
        assert all(1 <= each.line <= lines and each.column >= 1 for each in found.shown)


def test_a_file_that_names_no_way_is_not_parsed(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr("lemmar.languages.parse", lambda *_: pytest.fail("it was parsed"))
    assert read(b"other('a.b')", "a.ts", (SAY,)).quoted == ("a.b",)


def test_code_that_cannot_be_parsed_is_named(repo: Repo, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr("lemmar.languages.parse", lambda *_, **__: None)
    files = {
        "app/w/en.json": WORDS,
        "app/w/de.json": WORDS,
        "app/a.ts": CODE,
        "app/locales.json": '["en", "de"]',
    }
    repo.write(files | {"lemmar.toml": charter(catalog='  [[client.usage]]\n  call = "say"\n')})
    assert (
        "app/a.ts cannot be looked through: the code is too broken to be parsed"
        in repo.run("audit", "--no-cache", "--all").out
    )


@settings(max_examples=share(80))
@given(
    st.lists(
        st.sampled_from(
            [
                "say('a.b');",
                "use('hut'); say('c');",
                "warn('No bunk is left');",
                "L['d'];",
                "Words.e;",
                "<Say id='f'/>;",
                "// x",
            ]
        ),
        max_size=4,
    ),
    st.sampled_from(["a.ts", "a.tsx", "a.py"]),
    st.sampled_from(
        [
            SAY,
            Way(shows=("warn",)),
            Way(calls=("L[]",)),
            Way(members=("Words.{key}",)),
            Way(attributes=("id",)),
            Way(calls=("say",), under="use"),
        ]
    ),
)
def test_what_is_not_parsed_holds_nothing(pieces: list[str], name: str, way: Way) -> None:
    """The short way, that a file which names no way need not be parsed, finds what parsing it always would."""
    data = "\n".join(pieces).encode()
    short = read(data, name, (way,))
    with pytest.MonkeyPatch.context() as patch:
        patch.setattr("lemmar.usages.reading._is_named", lambda *_: True)
        assert read(data, name, (way,)) == short


def test_long_keys_cost_what_they_are_long(repo: Repo) -> None:
    words = json.dumps({"a_" * 100_000: "Long", "b." * 100_000 + "c": "Long too", "hut": "Hut"})
    files = {
        "app/w/en.json": words,
        "app/w/de.json": words,
        "app/a.ts": "say('hut'); say('nope')",
        "app/locales.json": '["en", "de"]',
    }
    repo.write(files | {"lemmar.toml": charter(catalog='  [[client.usage]]\n  call = "say"\n')})
    assert "key.undefined" in {each["rule"] for each in repo.audit()["findings"]}


def test_many_broken_calls_of_a_template_end_soon() -> None:
    data = (
        b"<p>"
        + b"{{ say("
        + b"->" * 900
        + b") }}\n" * 1
        + (b"{{ say(" + b"->" * 900 + b") }}\n") * 400
        + b"{{ say('a.b') }}</p>"
    )
    with suppress(
        IncompleteError
    ):  # where a parser took too long, the audit says that it is not complete
        assert "a.b" in [use.key for use in read(data, "a.html", (SAY,)).uses]


def test_only_code_and_markup_is_looked_through() -> None:
    assert all(map(is_read, ("a.ts", "b/c.vue", "a.blade.php", "l.xml", "a.gd")))
    assert not any(map(is_read, ("a.json", "a.png", "a", "a.md", "a.css")))


CODE = """
export const a = [say('hut.near'), say('hut.far'), say(`hut.${x}`), say('bunk.free', {count: 3}), other('x'), other('y'), say('hut.near')];
"""
WORDS = '{"hut.near": "Huts near you", "hut.far": "Huts far away", "bunk.free": "{{count}} bunks", "bunk.full": "Full"}'


def test_the_survey_finds_how_code_asks(repo: Repo) -> None:
    files = {
        "app/w/en.json": WORDS,
        "app/w/de.json": WORDS,
        "app/a.ts": CODE,
        "app/package.json": '{"name": "app"}',
    }
    assert repo.write(files).run("survey", "--write").code == 0
    drawn = (repo.root / "lemmar.toml").read_text()
    assert '  [[client.usage]]\n  call = "say"\n' in drawn
    assert "# 'bunk.free' and 2 more keys in 1 file" in drawn
    assert "key.unused" not in drawn
    assert [each for each in repo.found() if each.startswith("key.")] == [
        "key.unused app/w/en.json:1:91",
        "key.computed app/a.ts:2:56",
    ]


def test_the_survey_asks_where_it_is_not_sure(repo: Repo) -> None:
    code = (
        "say('hut.near'); say('hut.far'); say('bunk.free'); say('a'); say('b'); say('c'); say('d')"
    )
    files = {
        "app/w/en.json": WORDS,
        "app/w/de.json": WORDS,
        "app/a.ts": code,
        "app/package.json": '{"name": "app"}',
    }
    assert repo.write(files).run("survey", "--write").code == 0
    drawn = (repo.root / "lemmar.toml").read_text()
    assert (
        "# ? does the code ask for messages by say()? Of 7 texts that it is given 3 are keys"
        in drawn
    )
    assert "client.usage" not in drawn


def test_peek_says_where_a_message_is_used(repo: Repo) -> None:
    files = {
        "app/w/en.json": WORDS,
        "app/w/de.json": WORDS,
        "app/a.ts": CODE,
        "app/locales.json": '["en", "de"]',
    }
    repo.write(files | {"lemmar.toml": charter(catalog='  [[client.usage]]\n  call = "say"\n')})
    shown = repo.run("peek", "hut.near").out
    assert "used in app/a.ts:2:23" in shown
    assert "app/a.ts:2:56 (as hut.…, put together at run time)" in shown
    assert "no code asks for it" in repo.run("peek", "bunk.full").out
    assert "3 keys that the code writes out" in repo.run("client", "app").out
    assert (
        repo.run("peek", "hut.far", "--format", "json").data["rows"][0]["used"]
        == "app/a.ts:2:40 app/a.ts:2:56"
    )


@pytest.mark.parametrize(
    ("usage", "wrong"),
    [
        (
            "",
            "a usage says how code asks for a message: by call, filter, attribute, element, block, member, resource or shows",
        ),
        ('member = "Words"', "'Words' wants {key} once"),
        ('call = "say"\npart = {}', "'part' wants 'argument', 'separator' or 'scope'"),
        ('attribute = "id"\nunder = "use"', "'under' belongs to a 'call'"),
        ('call = "say"\npointer = "id"', "a pointer begins with '/'"),
        ('call = "say"\nfiles = ["../../x"]', "the pattern leads out of the monorepo"),
    ],
)
def test_a_usage_that_says_nothing(repo: Repo, usage: str, wrong: str) -> None:
    repo.write({"lemmar.toml": charter(catalog=f"  [[client.usage]]\n  {usage}\n")})
    ran = repo.run("audit")
    assert ran.code == 2
    assert wrong in ran.err


@settings(max_examples=share(40))
@given(
    st.lists(
        st.tuples(
            st.sampled_from(["a.ts", "b.ts", "licence.html", "c.html"]),
            st.sampled_from(
                [b"say('a')", b"say('b'); use('hut')", b"<p>Book a bunk</p>", b"", b"\xff say('c')"]
            ),
        ),
        min_size=1,
        max_size=6,
    ),
    st.lists(st.sampled_from(["say", "use", "ask"]), min_size=1, max_size=2),
)
def test_what_is_kept_is_what_is_read_anew(
    tmp_path_factory: pytest.TempPathFactory, files: list[tuple[str, bytes]], names: list[str]
) -> None:
    """Uses as they were kept, of whatever files and ways were read before, are those of the plain way."""
    folder = tmp_path_factory.mktemp("code")
    cache = Store(folder / "cache")
    for count in range(1, len(files) + 1):
        for name, data in files[:count]:
            (folder / "tree").mkdir(exist_ok=True)
            (folder / "tree" / name).write_bytes(data)
        entries = [UsageEntry(call=name) for name in names[:count]]
        kept = usage_of(
            FolderTree(folder / "tree"), entries, "", (), (), Readings(keeps=False, cache=cache)
        )
        assert kept == usage_of(
            FolderTree(folder / "tree"), entries, "", (), (), Readings(keeps=False)
        )
    cache.close()
