"""A monorepo in a temporary folder, and the real command run on it."""

from __future__ import annotations

import contextlib
import io
import json
import os
import re
import sys
from collections.abc import Collection, Mapping
from pathlib import Path
from typing import Any, NamedTuple

import pytest
from hypothesis import HealthCheck, settings

from lemmar.cli import main

#: `make test` tries few examples on small monorepos; `make deep`, which `make check` and CI run, as many as were ever asked for, on the whole demo.
DEEP = os.environ.get("LEMMAR_TESTS") == "deep"


def share(number: int) -> int:
    """So many of a *number* of examples are tried."""
    return number if DEEP else max(number // 8, 6)


# Time is measured in `make bench`: a slow machine is no failure, and the first run of all draws up its tables of characters.
settings.register_profile(
    "lemmar",
    deadline=None,
    suppress_health_check=[HealthCheck.too_slow],
    max_examples=100 if DEEP else 20,
)
settings.load_profile("lemmar")

HEAD = """\
[charter]
version = 1
source = "en"

[roster]
shipping = [{shipping}]
{trial}
[chains]
default = ["en"]
"""

CLIENT = """\
[[client]]
name = "{name}"
kind = "web"
root = "{root}"
platform = "{platform}"
assumes = {{ default = "nothing of a test states it", on-miss = "the same" }}

  [[client.catalog]]
  files = "{files}"
"""

SUPPORTED = """
  [[client.claim]]
  states = "supported"
  file = "locales.json"
  pointer = ""
"""


def charter(
    files: str = "w/{locale}.json",
    shipping: str = "en de",
    trial: str = "",
    platform: str = "browser",
    claim: str = SUPPORTED,
    catalog: str = "",
    root: str = "app",
    more: str = "",
    mirrored: str = "",
) -> str:
    """A charter with one client, ``app``. Unless *mirrored*, nothing is said of layouts that run from right to left."""
    head = HEAD.format(
        shipping=", ".join(f'"{tag}"' for tag in shipping.split()),
        trial=f"trial = {trial}\n" if trial else "",
    )
    if not mirrored and {"ar", "he", "fa"} & set(shipping.split()) and "[gate]" not in more:
        more += '\n[gate]\nseverity = { "roster.unstated" = "off" }\n'
    return (
        head
        + CLIENT.format(name="app", root=root, platform=platform, files=files)
        + catalog
        + claim
        + more
    )


def with_clients(files: Mapping[str, str | bytes], kept: Collection[str]) -> dict[str, str | bytes]:
    """The monorepo with no other clients than the *kept*, unless the tests are deep."""
    found = dict(files)
    head, *blocks = re.split(r"(?m)^(?=\[\[client\]\])", str(files["lemmar.toml"]))
    for number, block in enumerate(blocks if not DEEP else ()):
        name, root = (
            re.search(rf'(?m)^{key}\s*= "(.+)"', block)[1]  # type: ignore[index]
            for key in ("name", "root")
        )
        if name not in kept:
            following = re.search(r"(?m)^\[", block[len("[[client]]") :])
            blocks[number] = (
                block[len("[[client]]") + following.start() :] if following is not None else ""
            )
            found = {file: data for file, data in found.items() if not file.startswith(f"{root}/")}
    found["lemmar.toml"] = head + "".join(blocks) if not DEEP else files["lemmar.toml"]
    return found


class Ran(NamedTuple):
    """What a run of the command gave."""

    code: int
    out: str
    err: str

    @property
    def data(self) -> Any:
        return json.loads(self.out)


class Repo:
    """A folder to write files into and run the command in."""

    def __init__(self, root: Path) -> None:
        self.root = root

    def write(self, files: Mapping[str, str | bytes]) -> Repo:
        for name, content in files.items():
            path = self.root / name
            path.parent.mkdir(parents=True, exist_ok=True)
            path.write_bytes(content.encode("utf-8") if isinstance(content, str) else content)
        return self

    def run(self, *arguments: str) -> Ran:
        """Runs ``lemmar ARGUMENTS`` in the folder, in this process."""
        out, err = io.TextIOWrapper(io.BytesIO(), "utf-8"), io.TextIOWrapper(io.BytesIO(), "utf-8")
        before, argv = Path.cwd(), sys.argv
        os.chdir(self.root)
        sys.argv = ["lemmar", *arguments]
        code: Any = 0
        try:
            with contextlib.redirect_stdout(out), contextlib.redirect_stderr(err):
                main()
        except SystemExit as leaving:
            code = leaving.code
        finally:
            os.chdir(before)
            sys.argv = argv
        texts = []
        for stream in (out, err):
            stream.flush()
            stream.buffer.seek(0)
            texts.append(stream.buffer.read().decode("utf-8"))
        return Ran(int(code or 0), *texts)

    def audit(self, *arguments: str) -> Any:
        """The audit as JSON; fails where the command could not audit, and where a second one, which remembers the first, differs."""
        command = ("audit", "--format", "json", "--today", "2026-11-25", *arguments)
        ran = self.run(*command)
        assert self.run(*command) == ran
        assert ran.code in (0, 1, 3), ran.err
        assert (ran.code == 0) == (ran.data["verdict"] == "clear")
        assert (ran.code == 3) <= (not ran.data["complete"])
        return ran.data

    def found(self, *arguments: str) -> list[str]:
        """Each finding as ``rule file:line:column subject``, the subject being what it names of locale, part and key."""
        lines = []
        for finding in self.audit(*arguments)["findings"]:
            place = finding["place"]
            subject = "/".join(finding[name] for name in ("locale", "part", "key") if finding[name])
            waived = " (waived)" if finding["waiver"] else ""
            lines.append(
                f"{finding['rule']} {place['file']}:{place['line']}:{place['column']} {subject}".rstrip()
                + waived
            )
        return lines


@pytest.fixture(autouse=True)
def _wide(monkeypatch: pytest.MonkeyPatch) -> None:
    """A window in which no sentence wraps."""
    monkeypatch.setenv("COLUMNS", "200")
    monkeypatch.delenv("FORCE_COLOR", raising=False)
    monkeypatch.delenv("NO_COLOR", raising=False)


@pytest.fixture(autouse=True)
def _own_cache(tmp_path_factory: pytest.TempPathFactory, monkeypatch: pytest.MonkeyPatch) -> None:
    """A cache that no other test knows."""
    monkeypatch.setenv("XDG_CACHE_HOME", str(tmp_path_factory.mktemp("cache")))


@pytest.fixture
def repo(tmp_path: Path) -> Repo:
    return Repo(tmp_path)
