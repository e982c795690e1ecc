"""Message syntaxes by tables of texts: what each takes, where it breaks; held against the open runtimes that define them."""

from __future__ import annotations

import random
from pathlib import Path

import pytest
from hypothesis import given
from hypothesis import strategies as st

from lemmar.syntax import Shape, element_words, load, names, seen_syntax
from lemmar.syntax.icu import doubled_shape, shape

_TABLES = Path(__file__).parent / "syntax"


def shape_words(shape: Shape) -> str:
    """What Lemmar makes of a text, in one line: its arguments, branches, markup, or its fault."""
    if shape.fault is not None:
        return f"broken at character {shape.fault.offset + 1}: {shape.fault.words}"
    words = [f"{name} ({kind})" if kind else name for name, kind in shape.arguments]
    words += [
        f"{choice.kind}{' of ' + choice.argument if choice.argument else ''}: {' '.join(choice.keys)}"
        for choice in shape.choices
    ]
    words += map(element_words, shape.markup)
    return "; ".join(words)


def rows(name: str) -> list[tuple[str, str]]:
    """The rows of a table: a text, with ``\\n`` and ``\\uXXXX`` escaped, and what is made of it."""
    found = []
    for line in (_TABLES / f"{name}.txt").read_text("utf-8").splitlines():
        if line and not line.startswith("#!"):
            text, _, words = line.partition(" ⇒ ")
            found.append((text.replace("\\n", "\n").replace("\\t", "\t").replace("␣", " "), words))
    return found


ROWS = [
    (file.stem, text, words)
    for file in sorted(_TABLES.glob("*.txt"))
    for text, words in rows(file.stem)
]


@pytest.mark.parametrize(("name", "text", "words"), ROWS)
def test_tables(name: str, text: str, words: str) -> None:
    found = doubled_shape(text) if name == "icu-doubled" else load(name).shape(text)
    if words[:1] == "@" and words[1:].isdigit():  # where it breaks; the words are for people
        assert found.fault is not None
        assert f"@{found.fault.offset + 1}" == words
    else:
        assert shape_words(found) == words


def test_every_syntax_has_its_table() -> None:
    assert {name for name, _, _ in ROWS} - {"icu-doubled"} == set(names())
    assert len(rows("icu")) >= 150


_PIECES = (
    *(
        "{",
        "}",
        "'",
        "''",
        "#",
        "|",
        ",",
        "n",
        "name",
        "0",
        "01",
        "1a",
        " ",
        "plural",
        "select",
        "selectordinal",
        "number",
        "date",
    ),
    *(
        "choice",
        "other",
        "one",
        "=1",
        "=",
        "offset:",
        "offset:1",
        "{n, plural, one {x} other {y}}",
        "{n, plural,",
        "other {",
        "}}",
    ),
    *(
        "{g, select, other {z}}",
        "0#",
        "1<",
        "é",
        "-",
        "short",
        "::currency/USD",
        "€",
        "\u200e",
        "x y",
    ),
)


@pytest.mark.parametrize("mode", ["optional", "doubled"])
def test_icu_takes_what_lemmar_takes(mode: str) -> None:
    icu = pytest.importorskip("icu", reason="there is no binding to ICU on this machine")
    kind = icu.UMessagePatternApostropheMode
    wanted = kind.DOUBLE_OPTIONAL if mode == "optional" else kind.DOUBLE_REQUIRED
    chance = random.Random(20261126)
    different = []
    for _ in range(20_000):
        text = "".join(chance.choice(_PIECES) for _ in range(chance.randint(1, 12)))
        try:
            icu.MessagePattern(wanted).parse(text)
            theirs = True
        except icu.ICUError:
            theirs = False
        ours = (shape if mode == "optional" else doubled_shape)(text).fault is None
        if ours != theirs:
            different.append((text, ours, theirs))
    assert different == []


@given(st.text("{}'|#,n =:$.@/\\*plural select other one{{}}", max_size=40))
def test_every_text_has_a_shape_and_a_fault_lies_in_it(text: str) -> None:
    for name in names():
        fault = load(name).shape(text).fault
        assert fault is None or (0 <= fault.offset <= len(text) and fault.words)


@given(st.text(st.characters(exclude_characters="{}'\\.%$:@<_\0"), max_size=40))
def test_texts_without_special_characters_take_nothing(text: str) -> None:
    for name in names():
        assert load(name).shape(text) == Shape(), name


_VALUES = {
    "s": "x",
    "d": 3,
    "i": 3,
    "f": 1.5,
    "e": 1.5,
    "g": 1.5,
    "x": 3,
    "X": 3,
    "o": 3,
    "c": "x",
    "u": 3,
}


@given(
    st.lists(
        st.one_of(
            st.sampled_from(["a ", "%%", "é", ", ", "\n"]),
            st.builds(
                lambda flag, width, precision, kind: f"%{flag}{width}{precision}{kind}",
                st.sampled_from(["", "-", "+", "0", "#"]),
                st.sampled_from(["", "5", "12"]),
                st.sampled_from(["", ".2", "."]),
                st.sampled_from(sorted(_VALUES)),
            ),
        ),
        max_size=8,
    )
)
def test_printf_takes_as_many_values_as_python_s_formatting(pieces: list[str]) -> None:
    text = "".join(pieces)
    found = load("printf").shape(text)
    values = tuple(_VALUES[piece[-1]] for piece in pieces if piece[0] == "%" and piece != "%%")
    assert len(found.arguments) == len(values)
    text % values  # raises where the count or a kind is wrong


@pytest.mark.parametrize(
    ("texts", "fixed", "expected"),
    [
        (["Stove", "Water"], None, "plain"),
        (["{{a}}", "{{b}} x"], None, "double-brace"),
        (["{a}", "{0} x"], None, "brace"),
        (["{a}", "{n, plural, other {#}}"], None, "icu"),
        (["{a}", "{ x: {y", "{ {", "{b, number}", "{c", "{d.e}", "{f.g}"], None, "brace"),
        (["%{a}", "100 %"], None, "percent-brace"),
        (["${a}", "{b"], None, "dollar-brace"),
        (["at :time", ":name stays"], None, "colon"),
        (["%s", "%1$d"], None, "printf"),
        (["%turn% of 3", "by %who%"], None, "percent-name"),
        (["in %TEMP%", "no"], None, "plain"),
        (["50%-ig", "100 % der 5 %", "%D1%88%D0"], None, "plain"),
        (["__n__ left", "__n__", "by __who__"], None, "underline-name"),
        (["__Note__", "by __who__"], None, "plain"),
        (["{$a}", "{$n :number}"], None, "mf2"),
        (["a", "b"], "icu", "icu"),
        (["a", "b"], "printf", "printf"),
        (["%1 of %2"], "percent-number", "percent-number"),
        ([None, "%s"], None, "printf"),
    ],
)
def test_a_syntax_is_seen_from_the_source_s_texts(
    texts: list[str | None], fixed: str | None, expected: str
) -> None:
    assert seen_syntax(texts, fixed).name == expected


def test_texts_of_another_syntax_are_told() -> None:
    assert seen_syntax(["{{a}}", "{{b}}", "%{c}"], None).others == (("percent-brace", 1),)


_SIGNS = st.sampled_from(
    ["%", "%s", "%d", "s", "d", "% s", "__", "_", "%1$s", "%2$d", "%(name)s", "%D1", "%88", "%count%", "{", "}", "{{", "}}", "${", "%{", ":", "n", "name", "0",
     "|", "://", "a", " ", "/", "'", '"', ".", "%%", "@", "5", "\\", "$"]
)  # fmt: skip


@pytest.mark.parametrize("name", [name for name in names() if load(name).placeholder is not None])
@given(st.lists(st.lists(_SIGNS, max_size=8).map("".join), min_size=2, max_size=6))
def test_texts_that_share_what_decides_have_one_shape(name: str, texts: list[str]) -> None:
    """A text is parsed once for all in which the syntax's expression finds the same: that must then be their shape."""
    syntax = load(name)
    assert syntax.placeholder is not None
    shapes: dict[tuple[object, ...], object] = {}
    for text in texts:
        found = syntax.shape(text)
        facts = (found.arguments, found.choices, found.fault is None)
        assert shapes.setdefault(tuple(syntax.placeholder.findall(text)), facts) == facts
