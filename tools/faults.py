"""``make faults``: what may happen to a run. Kills at a hundred moments, signals, streams that are closed or full, a full disk, permissions,
files that change or vanish meanwhile.

Each row says what was done, how often, and what came of it; the first fault ends it with exit code 1. What needs root, or a file system that
cannot be mounted here, is passed over and said to be so. ``python tools/faults.py [--seed N]``.
"""

from __future__ import annotations

import argparse
import contextlib
import json
import os
import random
import shutil
import signal
import subprocess
import sys
import tempfile
import threading
import time
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from pathlib import Path

LEMMAR = str(Path(sys.executable).with_name("lemmar"))
#: Exit codes that a run may end with that was not stopped: its verdict, or that the call or the output went wrong.
_OWN = (0, 1, 2, 3, 74)


class FaultError(Exception):
    """What must not have happened."""


def run(root: Path, *arguments: str, shell: str = "") -> subprocess.CompletedProcess[str]:
    """A run in *root*, its streams redirected as *shell* says."""
    command = ["sh", "-c", f'"$0" "$@" {shell}', LEMMAR, *arguments] if shell else [LEMMAR, *arguments]
    return subprocess.run(command, cwd=root, capture_output=True, text=True)


def whole(root: Path) -> dict[str, bytes]:
    """Every file below *root*."""
    return {str(path.relative_to(root)): path.read_bytes() for path in sorted(root.rglob("*")) if path.is_file()}


def kills(root: Path, chance: random.Random) -> str:
    """SIGKILL at a hundred moments of audit, survey and demo: what is there stays, what is written is whole or not there."""
    before = whole(root)
    audit = run(root, "audit", "--format", "json").stdout
    demo: dict[str, bytes] | None = None
    for number in range(100):
        made = root.parent / "made"
        shutil.rmtree(made, ignore_errors=True)
        command = (["audit", "--format", "json", "-o", "out.json"], ["survey"], ["demo", "--into", str(made)])[number % 3]
        running = subprocess.Popen([LEMMAR, *command], cwd=root, stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL)
        time.sleep(chance.random() * (1.2 if command[0] != "survey" else 2.0))
        running.kill()
        running.wait()
        out = root / "out.json"
        if out.exists() and out.read_text("utf-8") != audit:
            raise FaultError("a killed audit left half a file")
        out.unlink(missing_ok=True)
        for left in root.glob(".out.json.*"):
            left.unlink()
        if whole(root) != before:
            raise FaultError(f"{command} changed the monorepo")
        if made.exists():
            demo = demo or _demo(root.parent / "sound-demo")
            there = {name: data for name, data in whole(made).items() if not name.startswith(".unfinished-")}
            if any(demo.get(name) != data for name, data in there.items()):
                raise FaultError("a killed demo left a file that is not whole")
    return "100 kills, each file whole or not there"


def _demo(folder: Path) -> dict[str, bytes]:
    run(folder.parent, "demo", "--into", str(folder))
    return whole(folder)


def signals(root: Path, chance: random.Random) -> str:
    """SIGINT and SIGTERM at sixty moments: 130 and 143, or a run that was through."""
    stopped = 0
    for number in range(60):
        which, code = ((signal.SIGINT, 130), (signal.SIGTERM, 143))[number % 2]
        running = subprocess.Popen([LEMMAR, "audit"], cwd=root, stdout=subprocess.PIPE, stderr=subprocess.PIPE, text=True)
        time.sleep(chance.random() * 1.2)
        running.send_signal(which)
        out, err = running.communicate()
        if running.returncode in (code, -which):
            stopped += 1
        elif "verdict:" not in out:
            raise FaultError(f"exit code {running.returncode} after {which.name}: {err[-400:]}")
        if "Traceback" in err and "/lemmar/" in err:
            raise FaultError(f"a traceback after {which.name}")
    return f"60 signals, {stopped} of them in time; no verdict of a run that was stopped"


def streams(root: Path, _chance: random.Random) -> str:
    """Closed and full streams of every command."""
    count = 0
    commands = (["audit"], ["grid"], ["client"], ["chain"], ["landing", "de-CH"], ["rules"], ["survey"], ["read", "."], ["--help"])
    for command in commands:
        plain = run(root, *command)
        for shell, codes in (
            (">&-", {74}),
            (">/dev/full", {74}),
            ("2>&-", {plain.returncode}),
            ("2>/dev/full", {plain.returncode}),
            (">&- 2>&-", {74}),
        ):
            done = run(root, *command, shell=shell)
            count += 1
            if done.returncode not in codes:
                raise FaultError(f"{command} {shell}: exit code {done.returncode}")
            if shell.startswith("2") and done.stdout != plain.stdout:
                raise FaultError(f"{command} {shell}: the output differs")
    return f"{count} runs with a stream that is closed or full"


@contextmanager
def _small_disk() -> Iterator[Path | None]:
    place = Path(tempfile.mkdtemp())
    mounted = subprocess.run(["mount", "-t", "tmpfs", "-o", "size=1m", "tmpfs", str(place)], capture_output=True).returncode == 0
    try:
        yield place if mounted else None
    finally:
        if mounted:
            subprocess.run(["umount", str(place)], capture_output=True)
        place.rmdir()


def full_disk(root: Path, _chance: random.Random) -> str:
    """A disk of a megabyte that fills up while a result or the demo is written."""
    with _small_disk() as disk:
        if disk is None:
            return "passed over: no file system can be mounted here"
        old = disk / "out.json"
        old.write_text("old")
        with (disk / "filling").open("wb", buffering=0) as filling, contextlib.suppress(OSError):
            while filling.write(b"x" * 4_096):
                pass
        done = run(root, "audit", "--format", "json", "-o", str(old))
        if done.returncode != 2 or "cannot be written" not in done.stderr or old.read_text() != "old":
            raise FaultError(f"exit code {done.returncode} on a full disk: {done.stderr}")
        done = run(root, "demo", "--into", str(disk / "made"))
        if done.returncode != 2 or "cannot be written" not in done.stderr or (disk / "made" / "lemmar.toml").exists():
            raise FaultError(f"exit code {done.returncode} of the demo on a full disk: {done.stderr}")
        done = run(root, "audit", shell=f"> {disk}/text")
        if done.returncode != 74:
            raise FaultError(f"exit code {done.returncode} where the disk of the output is full")
    return "-o, the demo and a redirected output on a full disk: said, and what was there stays"


def permissions(root: Path, _chance: random.Random) -> str:
    """Folders and files that may not be read, as another user."""
    if os.geteuid() != 0 or shutil.which("setpriv") is None:
        return "passed over: only root can become another user"
    for folder in (root, *root.parents):
        if folder != Path("/"):
            folder.chmod(folder.stat().st_mode | 0o755)
    somebody = ["setpriv", "--reuid=65534", "--regid=65534", "--clear-groups", LEMMAR]
    if subprocess.run([*somebody, "--version"], capture_output=True).returncode:
        return "passed over: another user may not run the program here"
    count = 0
    for path in [root / "app", root / "app/w", root / "app/w/de", *sorted((root / "app/w/de").iterdir())[:2]]:
        mode = path.stat().st_mode
        path.chmod(0)
        try:
            done = subprocess.run(
                [*somebody, "audit"], cwd=root, capture_output=True, text=True, env={**os.environ, "HOME": "/nonexistent"}
            )
        finally:
            path.chmod(mode)
        count += 1
        if done.returncode not in (1, 2, 3) or "ermission denied" not in done.stdout + done.stderr:
            raise FaultError(f"exit code {done.returncode} where {path} may not be read: {done.stdout[-300:]}{done.stderr[-300:]}")
    return f"{count} runs without permission for a folder or a file; never clear"


def changes(root: Path, chance: random.Random) -> str:
    """Files that change or vanish while an audit runs: it names them and is not complete, or it is one of the two states."""
    files = sorted((root / "app/w/de").iterdir())
    states = {json.loads(run(root, "audit", "--format", "json").stdout)["verdict"]}
    seen = dict.fromkeys(("as before", "told"), 0)
    for _ in range(20):
        stop = threading.Event()
        worker = threading.Thread(target=_changing, args=(files, chance, stop))
        worker.start()
        done = run(root, "audit", "--format", "json")
        stop.set()
        worker.join()
        data = json.loads(done.stdout)
        named = any("changed while this ran" in words for words in data["unfinished"])
        gone = any(finding["rule"] in ("catalog.unreadable", "catalog.absent") for finding in data["findings"])
        if named and (data["complete"] or done.returncode != (1 if data["counts"]["error"] else 3)):
            raise FaultError(f"files changed, and the audit calls itself complete: exit code {done.returncode}")
        if not named and not gone and data["verdict"] not in states:
            raise FaultError(f"a verdict of neither state: {data['findings'][:2]}")
        seen["told" if named or gone else "as before"] += 1
    return f"20 audits of files that change: {seen['told']} said so, {seen['as before']} had not read them by then"


def _changing(files: list[Path], chance: random.Random, stop: threading.Event) -> None:
    while not stop.is_set():
        path = chance.choice(files)
        data = path.read_bytes()
        path.unlink()
        path.write_bytes(data)
        time.sleep(0.002)


def made(root: Path) -> None:
    """A monorepo of one client, large enough that there is a middle."""
    texts = {f"k{number}": f"Bunk {number}" for number in range(300)}
    german = {f"k{number}": f"Lager {number}" for number in range(300)}
    (root / "app").mkdir(parents=True)
    (root / "lemmar.toml").write_text(
        '[charter]\nversion = 1\nsource = "en"\n[roster]\nshipping = ["en", "de"]\n[chains]\ndefault = ["en"]\n'
        '[[client]]\nname = "app"\nkind = "web"\nroot = "app"\nplatform = "browser"\n[[client.catalog]]\nfiles = "w/{locale}/{part}.json"\n'
        '[[client.claim]]\nstates = "supported"\nfile = "locales.json"\npointer = ""\n'
    )
    (root / "app/locales.json").write_text('["en", "de"]')
    for locale, words in (("en", texts), ("de", german)):
        (root / "app/w" / locale).mkdir(parents=True)
        for part in range(120):
            (root / "app/w" / locale / f"p{part}.json").write_text(json.dumps(words, indent=1))


FAULTS: tuple[Callable[[Path, random.Random], str], ...] = (kills, signals, streams, full_disk, permissions, changes)


def main() -> None:
    """Runs all of them."""
    parser = argparse.ArgumentParser(description="what may happen to a run")
    parser.add_argument("--seed", type=int, default=7)
    parser.add_argument("--only", choices=[each.__name__ for each in FAULTS])
    arguments = parser.parse_args()
    for each in FAULTS:
        if arguments.only in (None, each.__name__):
            with tempfile.TemporaryDirectory() as above:
                root = Path(above) / "repo"
                made(root)
                try:
                    print(f"{each.__name__:12} {each(root, random.Random(arguments.seed))}", flush=True)
                except FaultError as fault:
                    sys.exit(f"{each.__name__}: {fault}")


if __name__ == "__main__":
    main()
