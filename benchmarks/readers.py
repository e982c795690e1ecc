"""Times each format's reader on 100,000 messages against the fastest general parser of that format, parse only; prints the ratios.

``python benchmarks/readers.py`` prints a line a format: name, ratio. The readers give keys, texts, repeated keys and defects; the parsers nothing of that.
"""

from __future__ import annotations

import csv
import io
import json
import statistics
import sys
import time
from collections.abc import Callable
from functools import partial

import msgspec
import polib
import yaml
from lxml import etree

from lemmar import formats, languages
from lemmar.formats import ReadOptions

COUNT = 100_000


def texts(count: int) -> list[tuple[str, str]]:
    """Keys and texts, a placeholder in every fourth."""
    return [
        (f"group{number // 50}_key{number}", f"Text number {number} of the hut{' {n}' if number % 4 == 0 else ''}")
        for number in range(count)
    ]


def nested(rows: list[tuple[str, str]]) -> str:
    """The rows as nested JSON."""
    tree: dict[str, dict[str, str]] = {}
    for key, text in rows:
        branch, _, leaf = key.partition("_")
        tree.setdefault(branch, {})[leaf] = text
    return json.dumps(tree, indent=2)


def written(name: str, rows: list[tuple[str, str]]) -> bytes:
    """A catalog of the format."""
    makers: dict[str, Callable[[], str]] = {
        "json": lambda: nested(rows),
        "arb": lambda: json.dumps(dict(rows), indent=1),
        "yaml": lambda: "".join(f"{key}: {text.replace('{n}', 'n')}\n" for key, text in rows),
        "resx": lambda: "<root>\n" + "".join(f'<data name="{key}"><value>{text}</value></data>\n' for key, text in rows) + "</root>",
        "android-xml": lambda: "<resources>\n" + "".join(f'<string name="{key}">{text}</string>\n' for key, text in rows) + "</resources>",
        "xliff": lambda: (
            '<xliff version="1.2"><file source-language="en" target-language="de"><body>\n'
            + "".join(f'<trans-unit id="{key}"><source>{text}</source><target>{text}</target></trans-unit>\n' for key, text in rows)
            + "</body></file></xliff>"
        ),
        "properties": lambda: "".join(f"{key} = {text}\n" for key, text in rows),
        "strings": lambda: "".join(f'"{key}" = "{text}";\n' for key, text in rows),
        "po": lambda: (
            'msgid ""\nmsgstr "Language: de\\n"\n\n' + "".join(f'#: a.c:1\nmsgid "{text} {key}"\nmsgstr "{text}"\n\n' for key, text in rows)
        ),
        "code": lambda: "export default {\n" + "".join(f'  {key}: "{text}",\n' for key, text in rows) + "};\n",
        "sheet": lambda: "Key,en,de\n" + "".join(f'{key},"{text}",{text}\n' for key, text in rows),
    }
    return makers[name]().encode()


def _syntax_tree(data: bytes) -> object:
    language = languages.load(".ts")
    return language.parser().parse(data) if language is not None else None


def _split(data: bytes) -> object:
    return [line.split("=") for line in data.decode().split("\n")]


PARSERS: dict[str, tuple[str, Callable[[bytes], object], float]] = {
    "json": ("msgspec", msgspec.json.decode, 5),
    "arb": ("msgspec", msgspec.json.decode, 5),
    "yaml": ("PyYAML's C load", lambda data: yaml.load(data, Loader=yaml.CSafeLoader), 1),
    "resx": ("lxml", etree.fromstring, 2),
    "android-xml": ("lxml", etree.fromstring, 2),
    "xliff": ("lxml", etree.fromstring, 2),
    "properties": ("a bare loop over split lines", _split, 3),
    "strings": ("a bare loop over split lines", _split, 3),
    "po": ("polib", lambda data: polib.pofile(data.decode()), 0.5),
    "code": ("tree-sitter", _syntax_tree, 2),
    "sheet": ("csv", lambda data: list(csv.reader(io.StringIO(data.decode(), newline=""))), 1.5),
}


def seconds(work: Callable[[], object]) -> float:
    """Time of one run."""
    start = time.perf_counter()
    work()
    return time.perf_counter() - start


def main() -> None:
    """Prints the median ratio of each format."""
    rows = texts(COUNT)
    for name, (parser, parse, must) in PARSERS.items():
        if sys.argv[1:] and name not in sys.argv[1:]:
            continue
        data = written(name, rows)
        reader = formats.load(name)
        options = ReadOptions(layout=reader.layouts[0], suffix={"sheet": ".csv", "code": ".ts"}.get(name, ""))
        read, load = partial(reader.read, data, options), partial(parse, data)
        ratios = [seconds(read) / seconds(load) for _ in range(5)]
        print(f"{name}\t{parser}\t{statistics.median(ratios):.2f}\t{must}")


if __name__ == "__main__":
    main()
