"""Decoding, lines and columns, and what is made visible."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from lemmar.basics.text import BIDI_CONTROLS, Bytes, Lines, decode, decode_fault, lines, visible

DECODED = [
    (b"a", None, ("a", "utf-8", 0, None)),
    (b"\xef\xbb\xbfa", None, ("a", "utf-8", 3, None)),
    ("é".encode("utf-16"), None, ("é", "utf-16-le", 2, None)),
    ('"a" ='.encode("utf-16-be"), None, ('"a" =', "utf-16-be", 0, None)),
    ('"a" ='.encode("utf-16-le"), None, ('"a" =', "utf-16-le", 0, None)),
    (b"a\xe9", None, ("a\ufffd", "utf-8", 0, 1)),
    (b"a\xe9", "latin-1", ("aé", "iso8859-1", 0, None)),
    (b"\xef\xbb\xbfa\xff", "latin-1", ("a\ufffd", "utf-8", 3, 4)),
]


@pytest.mark.parametrize(("data", "declared", "expected"), DECODED)
def test_decoding(data: bytes, declared: str | None, expected: tuple[object, ...]) -> None:
    assert tuple(decode(data, declared))[:4] == expected


def test_the_place_of_what_does_not_decode() -> None:
    data = "\ufeffäö\nü".encode() + b"\xff"
    assert decode_fault(data, decode(data)) == (2, 2)


def test_only_three_ends_end_a_line() -> None:
    text = "a\nb\r\nc\rd\x0be\x0cf\x85g\u2028h"
    assert lines(text) == ["a", "b", "c", "d\x0be\x0cf\x85g\u2028h"]
    found = Lines(text)
    assert [found.place(text.index(sign)) for sign in "abcdh"] == [
        (1, 1),
        (2, 1),
        (3, 1),
        (4, 1),
        (4, 9),
    ]
    assert Lines("").place(0) == (1, 1)


@given(
    st.text("aé😀\n\r", max_size=20), st.sampled_from(["utf-8", "utf-8-sig", "utf-16"]), st.data()
)
def test_byte_spans_cut_out_what_they_name(text: str, encoding: str, data: st.DataObject) -> None:
    text *= data.draw(st.sampled_from([1, 300]))  # of more code points than are reckoned at a time
    raw = text.encode(encoding)
    found = decode(raw)
    if found.text != text:  # UTF-16 of an empty text is a mark alone
        return
    offsets = Bytes(found)
    for _ in range(3):
        start = data.draw(st.integers(0, len(text)))
        end = data.draw(st.integers(start, len(text)))
        first, last = offsets.span(start, end)
        assert raw[first:last].decode(found.encoding) == text[start:end]


VISIBLE = {
    "plain ü 漢字 \u200d\u00a0": "plain ü 漢字 \u200d\u00a0",
    "a\tb\nc\r": "a\\tb\\nc\\r",
    "\x1b[2J": "\\x1b[2J",
    "\x7f\x85": "\\x7f\\x85",
    "\u202eevil\u2066": "\\u202eevil\\u2066",
    "fr\udcff.json": "fr\\xff.json",
    "\ud800": "\\ud800",
    "\u2028": "\\u2028",
    "\U000e0001": "\U000e0001",
}


@pytest.mark.parametrize(("text", "expected"), VISIBLE.items())
def test_visible(text: str, expected: str) -> None:
    assert visible(text) == expected


@given(st.text())
def test_nothing_that_controls_a_terminal_is_left(text: str) -> None:
    shown = visible(text)
    assert not any(
        sign < " "
        or "\x7f" <= sign < "\xa0"
        or sign in "\u202a\u202b\u202c\u202d\u202e\u2066\u2067\u2068\u2069"
        for sign in shown
    )


def test_no_bidirectional_control_counts_as_printable() -> None:
    """What `visible` goes by."""
    assert not any(sign.isprintable() for sign in BIDI_CONTROLS)
    assert all(visible(f"a{sign}b") == f"a\\u{ord(sign):04x}b" for sign in BIDI_CONTROLS)
