"""Briefs that were filled in and mutated, taken back: an exit code that is known, nothing raw in what is said, and catalogs that are read as before."""

from __future__ import annotations

import contextlib
import csv
import io
import json
import random
import re
import tempfile
from pathlib import Path

from fuzzing.catalogs import mutated
from fuzzing.running import fault_in, run

_FORMS = ("csv", "po", "xliff1", "xliff2")  # a mutated XLSX is a broken archive, and nothing else
_TEXTS = {"a": "Two {count} bunks", "b": "Open <b>now</b>", "c": "Snow, and more of it", "d": "It\u2019s 100 % dry"}


_CHARTER = """
[charter]
version = 1
source = "en"
[roster]
shipping = ["en", "de"]
[chains]
default = ["en"]
[[client]]
name = "hut"
kind = "web"
root = "locales"
platform = "browser"
  [[client.catalog]]
  files = "{locale}.json"
  format = "json"
  syntax = "icu"
  [[client.claim]]
  states = "supported"
  file = "../locales.json"
  pointer = ""
"""


class Answers:
    """The target: what was asked of a translator, with a text for each, mutated."""

    def __init__(self, chance: random.Random) -> None:
        self._chance = chance
        self._briefs: dict[str, dict[str, bytes]] = {}

    def next(self) -> tuple[str, bytes, str | None]:
        """What was tried, its bytes, and what is wrong with what came of it."""
        form = self._chance.choice(_FORMS)
        with tempfile.TemporaryDirectory() as above:
            root, asked = Path(above) / "repo", Path(above) / "asked"
            _made(root)
            if form not in self._briefs:
                run(root, ["brief", "-q", "--no-cache", "--depth", "0", "--as", form, "-o", str(asked)])
                self._briefs[form] = {path.name: _filled(form, path.read_bytes()) for path in asked.iterdir()}
            asked.mkdir(exist_ok=True)
            sent = b""
            for name, data in self._briefs[form].items():
                sent = mutated(data, self._chance)
                (asked / name).write_bytes(sent)
            files = (str(path) for path in sorted(asked.iterdir()))
            command = ["intake", "--write", "--back", str(Path(above) / "back"), *files]
            wrong = fault_in(command, *run(root, command))
            catalog = (root / "locales/de.json").read_text()
            with contextlib.suppress(ValueError):
                if json.loads(catalog)["a"] == "{count} Betten":
                    return form, sent, wrong
            return form, sent, wrong or f"{form}: the catalog is not what it was: {catalog}"


def _made(root: Path) -> None:
    (root / "locales").mkdir(parents=True)
    (root / "locales/en.json").write_text(json.dumps(_TEXTS, indent=2))
    (root / "locales/de.json").write_text(json.dumps({"a": "{count} Betten"}, indent=2))
    (root / "locales.json").write_text('["en", "de"]')
    (root / "lemmar.toml").write_text(_CHARTER)


def _filled(form: str, data: bytes) -> bytes:
    """A brief with a text for each of its lines."""
    text = data.decode("utf-8-sig")
    if form == "csv":
        rows = list(csv.reader(io.StringIO(text)))
        out = io.StringIO()
        csv.writer(out).writerows([rows[0], *([row[0], row[1], f"Ein {row[1]}", "translated", *row[4:]] for row in rows[1:])])
        return out.getvalue().encode()
    if form == "po":
        head, *entries = text.split("\n\n")
        return "\n\n".join(
            (head, *(re.sub(r'(?s)msgid "(.*)"\nmsgstr ""', r'msgid "\1"\nmsgstr "Ein \1"', each) for each in entries))
        ).encode()
    return re.sub(r"(?s)<source>(.*?)</source>(\s*<target[^>]*/>)?", r"<source>\1</source><target>Ein \1</target>", text).encode()
