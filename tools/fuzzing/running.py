"""A command in this process, and what is wrong with what it says."""

from __future__ import annotations

import contextlib
import csv
import io
import json
import os
import re
import sys
from pathlib import Path

from lemmar.cli import main

_RAW = re.compile("[\x00-\x08\x0b-\x1f\x7f-\x9f\u202a-\u202e\u2066-\u2069]")


def fault_in(command: list[str], code: int, out: str, err: str, hidden: str | None = None) -> str | None:
    """What is wrong with what *command* came to: an exit code that is not known, signs that come out raw, broken data, a text that is to stay *hidden*."""
    said = f"{' '.join(command)}: "
    if code not in (0, 1, 2, 3):
        return f"{said}exit code {code}: {err[-600:]}"
    if err.startswith("Usage:"):
        return f"{said}is no command: {err}"
    if hidden is not None and hidden in out + err:
        return f"{said}the text of a file outside of the monorepo shows"
    raw = _RAW.search((out + err).replace("\r\n", "\n"))
    if raw is not None:
        return f"{said}{raw[0]!r} comes out raw: {(out + err)[max(raw.start() - 40, 0) : raw.end() + 20]!r}"
    if code != 2 and "--format" in command:
        return _malformed(said, command[-1], out)
    return None


def _malformed(said: str, kind: str, out: str) -> str | None:
    try:
        if kind in ("json", "sarif"):
            json.loads(out)
        elif kind == "jsonl":
            for line in out.splitlines():
                json.loads(line)
        elif kind == "csv" and len({len(row) for row in csv.reader(io.StringIO(out), strict=True) if row}) > 1:
            return f"{said}rows of several widths"
    except ValueError as error:
        return f"{said}no {kind}: {error}"
    return None


def run(root: Path, command: list[str]) -> tuple[int, str, str]:
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
