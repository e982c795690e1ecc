"""A git repository, asked by plumbing commands only: nothing that its configuration names (a filter, a hook, a monitor, a text conversion, a
transport) is ever run, and nothing is fetched.
"""

from __future__ import annotations

import os
import subprocess
import weakref
from collections.abc import Mapping
from pathlib import Path
from typing import NamedTuple

from lemmar.basics.errors import TreeError

#: How long git may take for anything but contents, in seconds.
_PATIENCE = 120
_ORDINARY, _LINK, _SUBMODULE = "100", "120000", "160000"


class Entry(NamedTuple):
    """What stands at *path* (from the folder that was listed): a ``file``, a ``link`` or a ``submodule``, with the name of its object."""

    path: str
    kind: str
    object: str


class Changed(NamedTuple):
    """A file that a commit changed: its *path* after it, what that *was* before (None: the commit brought it), and the object that it was."""

    path: str
    was: str | None
    before: str


class History(NamedTuple):
    """What commits changed, the newest first; whether that *is_whole*: the first commit of all is among them."""

    steps: tuple[tuple[Changed, ...], ...]
    is_whole: bool


class Repository:
    """The git repository that *folder* lies in, bare or not."""

    def __init__(self, folder: Path) -> None:
        self._folder = folder
        self._reader: _Reader | None = None
        self.prefix = self._ask("rev-parse", "--show-prefix").rstrip("\n").rstrip("/")

    @property
    def top(self) -> Path | None:
        """The top of the working tree; None where there is none, as in a bare repository."""
        done = self._run("rev-parse", "--show-toplevel")
        return Path(os.fsdecode(done.stdout).rstrip("\n")) if done.returncode == 0 else None

    def commit(self, revision: str) -> str:
        """The name of the commit that *revision* means. Raises `TreeError` where it means none here."""
        found = self._object(f"{revision}^{{commit}}") if revision and "\0" not in revision else None
        if found is None:
            raise TreeError(f"there is no revision {revision!r} in this repository; see 'git log', or fetch more of its history")
        return found

    def tree(self, commit: str, folder: str) -> str | None:
        """The name of the tree that *folder* is at a *commit*; None where there is no such folder."""
        found = self._object(f"{commit}:{folder}")
        return found if found is not None and self._run("cat-file", "-t", found).stdout.strip() == b"tree" else None

    def blob(self, commit: str, path: str) -> str | None:
        """The name of the contents of the file *path* at a *commit*; None where there is no such file."""
        found = self._object(f"{commit}:{path}")
        return found if found is not None and self._run("cat-file", "-t", found).stdout.strip() == b"blob" else None

    def listing(self, tree: str) -> list[Entry]:
        """All that is under a *tree*, in git's order. Raises `TreeError` where the clone does not have it whole."""
        done = self._run("ls-tree", "-r", "-z", "--full-tree", tree)
        if done.returncode != 0:
            raise TreeError(f"git cannot list the revision: {_words(done.stderr)}")
        entries = []
        for line in done.stdout.decode("utf-8", "surrogateescape").split("\0")[:-1]:
            facts, _, path = line.partition("\t")
            mode, _, name = facts.split(" ")
            kind = "link" if mode == _LINK else "submodule" if mode == _SUBMODULE else "file"
            entries.append(Entry(path, kind, name))
        return entries

    def rewritten(self, before: str, after: str) -> frozenset[str] | None:
        """The files that hold something else in the tree *after* than in the one *before*; None where there is more between them than that, or one is
        not here.
        """
        done = self._run("diff-tree", "-r", "-z", "--no-renames", "--no-ext-diff", "--no-textconv", before, after)
        if done.returncode != 0:
            return None
        pieces = done.stdout.decode("utf-8", "surrogateescape").split("\0")[:-1]
        facts = [piece.split(" ") for piece in pieces[::2]]
        if any(each[-1] != "M" or each[0] != f":{each[1]}" or not each[1].startswith(_ORDINARY) for each in facts):
            return None
        return frozenset(pieces[1::2])

    def history(self, commit: str, depth: int) -> History:
        """What each of the last *depth* commits up to *commit* changed in the main line (first parents), the newest first; files that were only moved are
        known as such. Raises `TreeError`.
        """
        lines = self._ask("rev-list", "--first-parent", "--parents", f"--max-count={depth}", "--end-of-options", commit).splitlines()
        pairs = [line.split()[:2] for line in lines]
        is_shallow = self._ask("rev-parse", "--is-shallow-repository").strip() == "true"
        is_whole = len(pairs) < depth and not is_shallow
        if is_shallow:  # what a commit without its parents changed is not known
            pairs = [pair for pair in pairs if len(pair) > 1]
        asked = "".join(f"{' '.join(pair)}\n" for pair in pairs)
        options = ("--root", "-r", "-z", "--raw", "--no-abbrev", "--find-renames=100%", "--no-ext-diff", "--no-textconv")
        done = self._run("diff-tree", "--stdin", *options, given=asked.encode("ascii"))
        if done.returncode != 0:
            raise TreeError(f"git cannot tell what the commits changed: {_words(done.stderr)}")
        changes: dict[str, list[Changed]] = {pair[0]: [] for pair in pairs}
        pieces = iter(done.stdout.decode("utf-8", "surrogateescape").split("\0"))
        now = ""
        for piece in pieces:
            if not piece.startswith(":"):
                now = piece.strip() or now
                continue
            _, _, before, _, status = piece.split(" ")
            path = next(pieces)
            was = path
            if status[0] in "RC":
                path = next(pieces)
            changes[now].append(Changed(path, None if status[0] in "AC" else was, before))
        return History(tuple(tuple(changes[pair[0]]) for pair in pairs), is_whole)

    def contents(self, name: str, most: int) -> bytes:
        """The contents of an object. Raises `OSError` where the clone does not have them, or they are larger than *most* bytes."""
        if self._reader is None:
            self._reader = _Reader(self._command("cat-file", "--batch"))
        try:
            return self._reader.read(name, most)
        except EOFError:
            self._reader = None
            raise OSError(_NOT_HERE) from None

    def record_moves(self, moves: Mapping[str, str]) -> None:
        """Tells the index that files which it has lie elsewhere now, by paths from this folder; contents are not looked at, so that no filter runs.

        Raises:
            TreeError: git cannot be asked.
        """
        known = {}
        for line in self._ask("ls-files", "--stage", "-z", "--full-name", "--", *moves).split("\0") if moves else ():
            facts, _, path = line.partition("\t")
            if path and facts.endswith(" 0"):
                known[path.removeprefix(f"{self.prefix}/") if self.prefix else path] = facts.split()[:2]
        arguments: list[str] = []
        for old, new in moves.items():
            if old in known:
                mode, name = known[old]
                inside = f"{self.prefix}/{new}" if self.prefix else new
                arguments += ["--cacheinfo", f"{mode},{name},{inside}", "--force-remove", old]
        for start in range(0, len(arguments), 400):
            self._ask("update-index", "--add", *arguments[start : start + 400])

    def _object(self, name: str) -> str | None:
        done = self._run("rev-parse", "--verify", "--quiet", "--end-of-options", name)
        return done.stdout.decode("ascii", "replace").strip() if done.returncode == 0 else None

    def _ask(self, *arguments: str) -> str:
        done = self._run(*arguments)
        if done.returncode != 0:
            words = _words(done.stderr)
            if "not a git repository" in words:
                raise TreeError(f"{self._folder} is in no git repository; go to one, or leave the revision out")
            raise TreeError(f"git cannot be asked about {self._folder}: {words}")
        return os.fsdecode(done.stdout)

    def _run(self, *arguments: str, given: bytes = b"") -> subprocess.CompletedProcess[bytes]:
        command = self._command(*arguments)
        try:
            return subprocess.run(command, capture_output=True, timeout=_PATIENCE, input=given, env=_environment(), check=False)
        except FileNotFoundError as error:
            raise TreeError("git is not on this machine, or not on the path; install it to look at revisions") from error
        except (OSError, ValueError) as error:
            raise TreeError(f"git cannot be run: {error}") from error
        except subprocess.TimeoutExpired as error:
            raise TreeError(f"git takes longer than {_PATIENCE} s for {arguments[0]}; see whether the repository is whole") from error

    def _command(self, *arguments: str) -> list[str]:
        settings = ("core.fsmonitor=false", f"core.hooksPath={os.devnull}", "protocol.allow=never", "core.useReplaceRefs=false")
        options = [word for setting in settings for word in ("-c", setting)]
        return ["git", "--no-pager", "--no-optional-locks", "--literal-pathspecs", *options, "-C", str(self._folder), *arguments]


_NOT_HERE = "its contents are not in this clone; fetch them first"


class _Reader:
    """A process of git that gives the contents of one object after the other."""

    def __init__(self, command: list[str]) -> None:
        self._process = subprocess.Popen(
            command, stdin=subprocess.PIPE, stdout=subprocess.PIPE, stderr=subprocess.DEVNULL, env=_environment()
        )
        weakref.finalize(self, _end, self._process)

    def read(self, name: str, most: int) -> bytes:
        """Raises `OSError` where the contents are not there or too large, `EOFError` where the process is gone."""
        into, out = self._process.stdin, self._process.stdout
        assert into is not None and out is not None
        try:
            into.write(name.encode("ascii") + b"\n")
            into.flush()
        except OSError:
            raise EOFError from None
        head = out.readline().split()
        if not head:
            raise EOFError
        if len(head) != 3:
            raise OSError(_NOT_HERE)
        size = int(head[2])
        if size > most:
            while size > 0:
                size -= len(out.read(min(size, 1 << 20)) or b"x" * size)
            out.read(1)
            raise OSError(f"it is larger than {most // 2**20} MiB")
        data = out.read(size + 1)
        if len(data) != size + 1:
            raise EOFError
        return data[:-1]


def _end(process: subprocess.Popen[bytes]) -> None:
    for stream in (process.stdin, process.stdout):
        if stream is not None:
            stream.close()
    process.kill()
    process.wait()


def _environment() -> dict[str, str]:
    """That of this process, in which git fetches nothing, asks nobody and speaks English."""
    never = {
        "GIT_NO_LAZY_FETCH": "1",
        "GIT_ALLOW_PROTOCOL": "none",
        "GIT_TERMINAL_PROMPT": "0",
        "GIT_NO_REPLACE_OBJECTS": "1",
        "LC_ALL": "C",
    }
    return {**os.environ, **never, "GIT_OPTIONAL_LOCKS": "0"}


def _words(said: bytes) -> str:
    lines = said.decode("utf-8", "replace").strip().splitlines()
    return lines[0].removeprefix("fatal: ").strip() if lines else "it says nothing"
