"""PO: an entry a text, its id as the context, so that the same words may be asked for twice; forms by number as the language has them.

Source: the file format's public manual. What is known of a text stands as extracted comments (``#.``), its places as references (``#:``).
"""

from __future__ import annotations

import re

from msgspec.structs import replace

from lemmar.basics.expressions import expression
from lemmar.basics.text import visible
from lemmar.documents.quoting import quoted
from lemmar.formats import ReadOptions, plural_header
from lemmar.formats import load as load_format
from lemmar.handoff.forms._form import Answer, Expected, Form, Line, Package, Returned, notes, numbers, split_id
from lemmar.tags import LanguageTag, whole_numbers, write_spelling

_CONTEXT = "\x04"
_REFERENCES = 6


def write(package: Package) -> bytes:
    """A header, then the entries."""
    tag = LanguageTag.parse(package.locale)
    head = {
        "Content-Type": "text/plain; charset=UTF-8",
        "Content-Transfer-Encoding": "8bit",
        "MIME-Version": "1.0",
        "Language": write_spelling(tag, "posix"),
        "Plural-Forms": plural_header(tag),
    }
    pieces = ['msgid ""\nmsgstr ""\n' + "".join(f"{_quoted(f'{name}: {value}' + chr(10))}\n" for name, value in head.items())]
    by_text: dict[str, list[Line]] = {}
    for line in package.lines:
        by_text.setdefault(line.ask.id, []).append(line)
    categories = tuple(whole_numbers(tag, "cardinal"))
    for lines in by_text.values():
        together = [line for line in lines if not line.form or line.form in categories]
        pieces += [_entry(together, categories)] if together else []
        pieces += [_alone(line) for line in lines if line not in together]
    return "\n".join(pieces).encode("utf-8")


def _quoted(text: str) -> str:
    return quoted(text, code=lambda sign: f"\\{ord(sign):03o}" if ord(sign) < 0x80 else sign)


def _entry(lines: list[Line], categories: tuple[str, ...], of_form: Line | None = None) -> str:
    first = lines[0]
    ask = first.ask
    said = dict.fromkeys(note for line in lines for note in notes(line) if note.kind not in ("used in", "numbers", "so far"))
    rows = [f"#. {note.kind}: {visible(part)}" for note in said for part in note.words.split("\n")]
    if first.form:
        rows += [f"#. form {number}: {visible(ask.wanted[form]) or form}" for number, form in enumerate(categories) if form in ask.wanted]
    rows += [f"#. numbers: {visible(numbers(of_form))}"] if of_form is not None else []
    rows += [f"#: {_place(where.place.file)}:{where.place.line}" for where in ask.where[:_REFERENCES]]
    flags = ["fuzzy"] if any(line.text and line.state == "initial" for line in lines) else []
    flags += ["python-brace-format"] if ask.filled and not ask.syntax else []
    rows += [f"#, {', '.join(flags)}"] if flags else []
    rows += [f"msgctxt {_quoted(ask.id)}", f"msgid {_quoted(ask.source('one') if first.form else first.source)}"]
    if first.form:
        texts = {line.form: line.text for line in lines}
        rows.append(f"msgid_plural {_quoted(ask.source('other'))}")
        rows += [f"msgstr[{number}] {_quoted(texts.get(form, ''))}" for number, form in enumerate(categories)]
    else:
        rows.append(f"msgstr {_quoted(first.text)}")
    return "\n".join(rows) + "\n"


def _alone(line: Line) -> str:
    """A form that only fractions take, for which such files have no number: an entry of its own."""
    return _entry([line._replace(ask=replace(line.ask, id=line.id, forms={"": line.source}, wanted={"": ""}), form="")], (), line)


def _place(file: str) -> str:
    """A file's name as a reference may hold it: names with blanks stand between isolates (the format's manual)."""
    return f"\u2068{visible(file)}\u2069" if " " in file else visible(file)


def read(data: bytes, _expected: Expected) -> Returned:
    """The entries in their order, repeated ones each time; of one with forms, an answer for each."""
    form = load_format("po")
    options = ReadOptions(suffix=".po")
    fuzzy = {(entry.key, line) for entry, line in form.every_entry(data, options) if entry.rare.get("state") == "fuzzy"}
    answers: list[Answer] = []
    for entry, line in form.every_entry(_FLAGS.sub(_without_fuzzy, data), options):
        context, sign, source = entry.key.partition(_CONTEXT)
        name, source = (context, source) if sign else ("", context)
        name, form_of_id = split_id(name)
        state = "initial" if (entry.key, line) in fuzzy else "translated"
        remark = "\n".join(line for line in (entry.rare.get("comment") or "").split("\n") if line.startswith("remark:"))
        several = entry.rare.get("several")
        forms = entry.rare.get("forms") or ({"other": ""} if several else {form_of_id: entry.text or ""})
        for category, text in forms.items():
            answers.append(Answer(name, category, source if category in ("", "one") else several or source, text, state, "", remark, line))
    reading = form.read(data, options)
    mark = next((column.mark for column in reading.columns), None)
    faults = tuple(f"line {defect.line}: {defect.detail}" for defect in reading.defects[:3] if defect.kind != "duplicate-key")
    return Returned(mark, tuple(answers), faults)


_FLAGS = expression(rb"(?m)^#,[^\r\n]*")


def _without_fuzzy(match: re.Match[bytes]) -> bytes:
    """The line without that flag, as long as it was, so that every place stays where it is."""
    return match.group().replace(b"fuzzy", b"     ").replace(b",     ", b"      ")


FORM = Form(
    name="po",
    suffix=".po",
    write=write,
    read=read,
    likely=lambda _name, data: b"msgid" in data[:65536] and b"msgstr" in data[:65536],
)
