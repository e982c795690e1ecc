"""CSV (RFC 4180): a row a line, UTF-8 with the mark by which sheet programs know it. What comes back may be in another encoding, with another separator."""

from __future__ import annotations

import csv as library
import io
from itertools import pairwise

from lemmar.basics.expressions import expression
from lemmar.basics.text import Lines, decode
from lemmar.documents.sheet import find_delimiter, rows
from lemmar.handoff.forms._cells import cells, headings, read_rows, used_columns
from lemmar.handoff.forms._form import Expected, Form, Package, Returned
from lemmar.handoff.plainly import plainly, with_apostrophe
from lemmar.tags import LanguageTag, Tag

#: The encodings that sheet programs use where they do not write UTF-8, by the scripts of languages.
_ENCODINGS = {
    "Latn": ("cp1252", "cp1250", "cp1254", "cp1257", "cp1258", "mac_roman", "iso8859-15"),
    "Cyrl": ("cp1251", "koi8_r", "koi8_u", "mac_cyrillic", "cp866"),
    "Grek": ("cp1253",),
    "Arab": ("cp1256",),
    "Hebr": ("cp1255",),
    "Thai": ("cp874",),
    "Hans": ("gb18030",),
    "Hant": ("big5hkscs",),
    "Jpan": ("cp932",),
    "Kore": ("cp949",),
}


def write(package: Package) -> bytes:
    """A row of headings, then the lines."""
    out = io.StringIO()
    writer = library.writer(out, lineterminator="\r\n")
    held, heads = list(map(cells, package.lines)), headings(package)
    columns = used_columns(held)
    writer.writerow([heads[name] for name in columns])
    writer.writerows([with_apostrophe(row[name]) for name in columns] for row in held)
    return b"\xef\xbb\xbf" + out.getvalue().encode("utf-8")


def read(data: bytes, expected: Expected) -> Returned:
    """The rows, whatever parts their cells."""
    decoded = decode(data)
    if decoded.fault is None:
        return _read(decoded.text, expected)
    best: Returned | None = None
    score = -1.0
    for encoding in dict.fromkeys(name for tag in expected.locales for name in _ENCODINGS.get(_script(tag), ())):
        try:
            text = data.decode(encoding)
        except UnicodeDecodeError:
            continue
        found = _read(text, expected)
        suits = _suits(found, expected)
        if suits > score:
            best, score = found, suits
    if best is None or score <= 0:
        return Returned(None, (), ("its encoding is not known; save it as UTF-8",))
    return best


def _read(text: str, expected: Expected) -> Returned:
    lines = Lines(text)
    hinted = _SEPARATOR.match(text)
    sign = hinted[1] if hinted else _delimiter(text)
    found = [(lines.place(row.start)[0], row.texts) for row in rows(text[hinted.end() :] if hinted else text, sign)]
    return read_rows(found, expected)


_SEPARATOR = expression(r"sep=(.)\r?\n")
_ID = expression(r"t-[a-z2-7]{10}(?:\.[a-z]+)?[\"']?([,;\t|])")


def _delimiter(text: str) -> str:
    """What stands behind ids, where there are such; else what most rows have."""
    signs = _ID.findall(text)
    return max(set(signs), key=lambda sign: (signs.count(sign), sign)) if signs else find_delimiter(text)


def _script(tag: Tag) -> str:
    return LanguageTag.parse(tag).maximized().script or ""


def _suits(found: Returned, expected: Expected) -> float:
    """How well answers fit the locale that they are in: by letters of its language, and by source texts that are today's."""
    from lemmar.prose.guessing import has_letters

    known = {locale: LanguageTag.parse(locale) for locale in expected.locales}
    languages = [known[Tag(found.locale)].language] if found.locale in known else []
    odd = [text for answer in found.answers if not (text := answer.text).isascii()]
    right = sum(plainly(answer.source) in expected.by_source for answer in found.answers)
    if not languages or not odd:
        return float(right)
    letters = sum(has_letters(languages[0], {sign for sign in text if not sign.isascii()}) and not _is_garbled(text) for text in odd)
    small = sum(sign.islower() for text in odd for sign in text) / max(sum(sign.isalpha() for text in odd for sign in text), 1)
    return right + (10 * letters / len(odd) + small) * len(found.answers)


def _is_garbled(text: str) -> bool:
    """Whether a text has signs that only another encoding gives, or capital letters behind small ones, as one that swaps these does."""
    return _ODD.search(text) is not None or any(first.islower() and second.isupper() for first, second in pairwise(text))


_ODD = expression("[\x80-\x9f\u0402\u0403\u2030\u20ac\ufffd\u2122\u2500-\u257f]")


FORM = Form(
    name="csv",
    suffix=".csv",
    write=write,
    read=read,
    likely=lambda name, data: name.endswith((".csv", ".tsv", ".txt")),
)
