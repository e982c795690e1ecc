"""Whole monorepos with odd names and mutated files, through every command and output: an exit code that is known, and nothing raw in what is said."""

from __future__ import annotations

import contextlib
import json
import random
import tempfile
from pathlib import Path

from fuzzing.catalogs import SEEDS, mutated
from fuzzing.running import fault_in, run
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
_COMMANDS = (
    *(["audit"], ["audit", "-v"], ["audit", "--format", "json"], ["audit", "--format", "sarif"], ["audit", "--format", "csv"]),
    *(["grid"], ["grid", "--format", "csv"], ["client"], ["read", "."], ["peek", "a"], ["landing", "de-CH"], ["chain"]),
    *(["brief", "--format", "jsonl"], ["terms"], ["compose"]),
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
                wrong = wrong or fault_in(command, *run(root, command), hidden=_CANARY)
            return "a monorepo", repr(names).encode(), wrong

    def _made(self, root: Path, secret: Path) -> list[str]:
        chance, names = self._chance, []
        for folder in {self._name() for _ in range(3)}:
            which = chance.choice(sorted(SEEDS))
            suffix = next(iter(load(which).suffixes), ".txt")  # a document has none of its own
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
