"""The charter: every mistake at once, each with its line; what is not there yet is said; the schema and the keys agree."""

from __future__ import annotations

import json
import pickle

import jsonschema
import pytest

from lemmar import selectors
from lemmar.basics.errors import CharterError
from lemmar.charter.lines import key_lines
from lemmar.charter.reading import parse, schema
from lemmar.rules import all_rules

from .conftest import Repo, charter

FIVE = """\
[charter]
version = 2
source = "en"

[roster]
shiping = ["en"]
trial = { uk = 1.5 }

[[client]]
name = "app"
kind = "phone"
root = "app"

  [[client.catalog]]
  files = 3
"""


def mistakes(text: str) -> list[str]:
    with pytest.raises(CharterError) as caught:
        parse(text.encode(), "lemmar.toml", tuple(all_rules()))
    *lines, last = str(caught.value).split("\n")
    assert not lines or last == (
        f"lemmar.toml has {len(lines)} mistakes; correct them, and run the command again"
    )
    return lines or [last]


def test_all_mistakes_are_told_at_once() -> None:
    assert mistakes(FIVE) == [
        "lemmar.toml:2: 2 is not a value of 'charter.version'; it is one of 1",
        "lemmar.toml:5: the key 'shipping' is missing in 'roster'",
        "lemmar.toml:6: unknown key 'shiping' in 'roster'; did you mean 'shipping'?",
        "lemmar.toml:7: 'roster.trial.uk' is 1.5; it lies from 0 to 1",
        "lemmar.toml:11: 'phone' is not a value of 'client[1].kind'; it is one of desktop, game, mobile, service, web",
        "lemmar.toml:15: 'client[1].catalog[1].files' wants a text, found a whole number",
    ]


def test_what_is_wrong_in_meaning_is_told_beside_what_is_wrong_in_shape() -> None:
    text = SOUND.replace('kind = "web"', 'kind = "webb"').replace(
        'files = "', 'syntax = "icuu"\n  files = "'
    )
    assert [line.partition(": ")[2] for line in mistakes(text)] == [
        "'webb' is not a value of 'client[1].kind'; did you mean 'web'?",
        "there is no syntax 'icuu'; did you mean 'icu'?",
    ]


SOUND = charter()
MEANING = [
    (
        'source = "en"',
        'source = "EN"',
        [
            "lemmar.toml:3: the charter writes tags in canonical form: 'en', not 'EN'",
            "lemmar.toml:3: the source locale 'EN' is not on the roster; add it to 'shipping'",
        ],
    ),
    (
        '"de"',
        '"de_AT"',
        [
            "lemmar.toml:6: 'de_AT' is not a language tag: expected a subtag of 1 to 8 ASCII letters and digits at character 3"
        ],
    ),
    ('"de"', '"en"', ["lemmar.toml:5: 'en' stands twice on the roster"]),
    (
        '"de"',
        '"cn"',
        [
            "lemmar.toml:6: 'cn': 'cn' is the region China, not a language; its main language is 'zh-Hans'; write 'zh-Hans'"
        ],
    ),
    ('"de"', '"iw"', ["lemmar.toml:6: the charter writes tags in canonical form: 'he', not 'iw'"]),
    (
        'root = "app"',
        'root = "../app"',
        [
            "lemmar.toml:13: a client's root is a folder inside the monorepo, with '/' between its segments"
        ],
    ),
    (
        'root = "app"',
        'root = "app"\nuses = ["words"]',
        ["lemmar.toml:14: there is no shared catalog 'words'"],
    ),
    (
        'root = "app"',
        'root = "app"\nwithout = { fr = "x" }',
        ["lemmar.toml:14: 'fr' is not on the roster; it is one of de, en"],
    ),
    (
        '  files = "w/{locale}.json"',
        '  files = "w/{locale}.json"\n  over = "words"',
        ["lemmar.toml:19: the client has no other catalog 'words'"],
    ),
    (
        "{locale}.json",
        "{tongue}.json",
        [
            "lemmar.toml:18: '{tongue}' is not known; a pattern has {locale}, {part}, {part+} and {key}"
        ],
    ),
    (
        'pointer = ""',
        'pointer = ""\n  match = "x"',
        [
            f"lemmar.toml:20: a claim has one selector ({', '.join(selectors.names()[:-1])} or {selectors.names()[-1]}), found match and pointer"
        ],
    ),
    ('pointer = ""', 'pointer = "x"', ["lemmar.toml:23: a pointer is empty or begins with '/'"]),
    (
        'pointer = ""',
        'match = "["',
        [
            "lemmar.toml:23: '[' is not a regular expression: unterminated character set at position 1"
        ],
    ),
]


@pytest.mark.parametrize(("old", "new", "expected"), MEANING)
def test_meaning(old: str, new: str, expected: list[str]) -> None:
    assert old in SOUND
    assert mistakes(SOUND.replace(old, new, 1)) == expected


MESSAGES = [
    ('files = "', 'syntax = "icuu"\n  files = "', "there is no syntax 'icuu'; did you mean 'icu'?"),
    (
        'files = "',
        'syntax = "brace"\n  apostrophe = "doubled"\n  files = "',
        "'apostrophe' belongs to catalogs with syntax = \"icu\"",
    ),
    (
        "[[client]]",
        "[syntax.caret]\nplaceholder = '\\^w'\n[[client]]",
        "the expression '\\\\^w' has no group (?P<name>…)",
    ),
    (
        "[[client]]",
        '[locale.tlh]\nname = "x"\nscript = "Latn"\nplural = ["other", "meny"]\n[[client]]',
        "'meny' is no plural category; did you mean 'many'?",
    ),
]


@pytest.mark.parametrize(("old", "new", "expected"), MESSAGES)
def test_what_is_said_of_messages_is_checked_and_fits_the_schema(
    old: str, new: str, expected: str
) -> None:
    import tomllib

    text = SOUND.replace(old, new, 1)
    assert [line.split(": ", 1)[1] for line in mistakes(text)] == [expected]
    jsonschema.validate(json.loads(json.dumps(tomllib.loads(text))), schema())


def test_the_schema_refuses_what_the_reader_refuses() -> None:
    import tomllib

    with pytest.raises(jsonschema.ValidationError):
        jsonschema.validate(tomllib.loads(FIVE), schema())


@pytest.mark.parametrize(
    ("data", "expected"),
    [
        (
            b"[charter\n",
            "lemmar.toml:1: this is not TOML: expected ']' at the end of a table declaration (column 9)",
        ),
        (
            b"\n[charter]\nversion = \xff\n",
            "lemmar.toml:3: the charter is not UTF-8; save it as UTF-8",
        ),
        (b"", "lemmar.toml:1: the key 'charter' is missing"),
    ],
)
def test_no_toml(data: bytes, expected: str) -> None:
    with pytest.raises(CharterError) as caught:
        parse(data, "lemmar.toml")
    assert str(caught.value).split("\n")[0] == expected
    assert str(pickle.loads(pickle.dumps(caught.value))) == str(caught.value)


def test_lines_of_every_form_of_key() -> None:
    text = b'a.b = 1\n[t."q r"]\nx = { y = 1 }\n[[l]]\nv = [\n 1,\n 2]\n[[l]]\n  [[l.m]]\n  n = 1\n'
    lines = key_lines(text)
    wanted = {
        ("a", "b"): 1,
        ("t", "q r"): 2,
        ("t", "q r", "x", "y"): 3,
        ("l", 0): 4,
        ("l", 0, "v", 1): 7,
        ("l", 1): 8,
        ("l", 1, "m", 0, "n"): 10,
    }
    assert {path: lines[path] for path in wanted} == wanted


def test_the_command(repo: Repo) -> None:
    ran = repo.write({"lemmar.toml": FIVE, "sub/x": ""}).run("charter")
    assert (ran.code, ran.out, len(ran.err.splitlines())) == (2, "", 7)
    assert all(line.startswith("lemmar: lemmar.toml:") for line in ran.err.splitlines()[:-1])
    assert (
        repo.write({"lemmar.toml": SOUND}).run("charter").out
        == "lemmar.toml is in order: 1 client, 2 shipping locales, source en.\n"
    )
    assert (
        json.loads(repo.run("charter", "--schema").out)["$defs"]["Charter"]["additionalProperties"]
        is False
    )


def test_no_charter(repo: Repo) -> None:
    ran = repo.run("audit")
    assert ran.code == 2 and "there is no lemmar.toml in" in ran.err and "--charter" in ran.err
    assert repo.run("audit", "--charter", "gone.toml").code == 2


def test_an_unknown_rule_is_a_mistake(repo: Repo) -> None:
    text = SOUND + '\n[gate]\nseverity = { "message.mising" = "off" }\n'
    assert mistakes(text) == [
        "lemmar.toml:26: there is no rule 'message.mising'; did you mean 'message.missing'?"
    ]
