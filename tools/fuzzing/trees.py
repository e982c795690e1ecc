"""Whole monorepos with odd names and mutated files, through every command and output: an exit code that is known, and nothing raw in what is said."""

from __future__ import annotations

import contextlib
import csv
import io
import json
import os
import random
import re
import sys
import tempfile
from pathlib import Path

from fuzzing.catalogs import SEEDS, mutated
from lemmar.cli import main
from lemmar.formats import load

_CANARY = "canary-that-no-output-may-show"
_PIECES = (
    "app",
    "w",
    "de",
    "en",
    "locales",
    "{locale}",
    "[x]",
    "*",
    "\\",
    "\x1b[2J",
    "\u202e",
    "\n",
    "'",
    '"',
    "#",
    "é",
    " ",
    "=1+1",
    "<b>",
    "|",
    "-",
    ".",
    "\x85",
)
_RAW = re.compile("[\x00-\x08\x0b-\x1f\x7f-\x9f\u202a-\u202e\u2066-\u2069]")
_COMMANDS = (
    *(["audit"], ["audit", "-v"], ["audit", "--format", "json"], ["audit", "--format", "jsonl"], ["audit", "--format", "csv"]),
    *(["grid"], ["grid", "--format", "csv"], ["client"], ["read", "."], ["peek", "a"], ["landing", "de-CH"], ["chain"]),
)


class Trees:
    """The target: one monorepo after the other; a file outside of it, to which links lead, must not show."""

    def __init__(self, chance: random.Random) -> None:
        self._chance = chance

    def next(self) -> tuple[str, bytes, str | None]:
        """What was tried, its files, and what is wrong with what came of it."""
        with tempfile.TemporaryDirectory() as above:
            root = Path(above) / "repo"
            (Path(above) / "secret.json").write_text(json.dumps({"a": _CANARY}))
            names = self._made(root, Path(above) / "secret.json")
            wrong = None
            for command in (["survey", "--write"], *_COMMANDS):
                wrong = wrong or self._wrong(root, command)
            return "a monorepo", repr(names).encode(), wrong

    def _made(self, root: Path, secret: Path) -> list[str]:
        chance, names = self._chance, []
        for folder in {self._name() for _ in range(3)}:
            which = chance.choice(sorted(SEEDS))
            suffix = load(which).suffixes[0]
            for locale in ("en", "de", chance.choice(("fr", self._name()))):
                path = root / folder / f"{locale}{suffix}"
                data = SEEDS[which].encode()
                with contextlib.suppress(OSError, ValueError):
                    path.parent.mkdir(parents=True, exist_ok=True)
                    path.write_bytes(mutated(data, chance) if chance.random() < 0.5 else data)
                    names.append(str(path.relative_to(root)))
            with contextlib.suppress(OSError, ValueError):
                (root / folder / f"{chance.choice(('it', 'sv'))}{suffix}").symlink_to(secret)
        root.mkdir(exist_ok=True)
        return names

    def _name(self) -> str:
        return "".join(self._chance.choice(_PIECES) for _ in range(self._chance.randint(1, 4))).strip(".") or "x"

    def _wrong(self, root: Path, command: list[str]) -> str | None:
        code, out, err = _run(root, command)
        said = f"{' '.join(command)}: "
        if code not in (0, 1, 2, 3):
            return f"{said}exit code {code}: {err[-600:]}"
        if _CANARY in out + err:
            return f"{said}the text of a file outside of the monorepo shows"
        raw = _RAW.search((out + err).replace("\r\n", "\n"))
        if raw is not None:
            return f"{said}{raw[0]!r} comes out raw: {(out + err)[max(raw.start() - 40, 0) : raw.end() + 20]!r}"
        if code != 2 and "--format" in command:
            return _malformed(said, command[-1], out)
        return None


def _malformed(said: str, kind: str, out: str) -> str | None:
    try:
        if kind == "json":
            json.loads(out)
        elif kind == "jsonl":
            for line in out.splitlines():
                json.loads(line)
        elif kind == "csv" and len({len(row) for row in csv.reader(io.StringIO(out), strict=True) if row}) > 1:
            return f"{said}rows of several widths"
    except ValueError as error:
        return f"{said}no {kind}: {error}"
    return None


def _run(root: Path, command: list[str]) -> tuple[int, str, str]:
    """A command in this process: its exit code, and what it said."""
    out, err = io.TextIOWrapper(io.BytesIO(), "utf-8"), io.TextIOWrapper(io.BytesIO(), "utf-8")
    before, argv = Path.cwd(), sys.argv
    os.chdir(root)
    sys.argv = ["lemmar", *command]
    code = 0
    try:
        with contextlib.redirect_stdout(out), contextlib.redirect_stderr(err):
            main()
    except SystemExit as leaving:
        code = int(leaving.code or 0)
    finally:
        os.chdir(before)
        sys.argv = argv
    for stream in (out, err):
        stream.flush()
    return code, out.buffer.getvalue().decode(), err.buffer.getvalue().decode()
