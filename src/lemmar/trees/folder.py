"""A folder as a tree: what lies under a monorepo's root on disk.

Only regular files match, links only where they stay inside the root. What git ignores and folders of fetched packages are
passed over, unless the pattern names them.
"""

from __future__ import annotations

import os
import stat
import time
from collections.abc import Iterable
from contextlib import suppress
from pathlib import Path

from lemmar.trees import Digest, File, Match, digest_of
from lemmar.trees.ignoring import Ignoring
from lemmar.trees.opening import READ, Facts, facts_of, regular_file
from lemmar.trees.sights import EVER, Sight, Sights, Since, lasting
from lemmar.trees.submodules import submodule_words, submodules
from lemmar.trees.walking import matches

_CHANGED_SHOWN = 10


class FolderTree:
    """The files under *root*. Listings are kept: a folder is read once however many patterns pass through it."""

    def __init__(self, root: Path) -> None:
        self.root = Path(os.path.realpath(root))
        self._prefix = f"{self.root}/"
        self._now = time.time_ns()
        self._listings: dict[str, list[tuple[str, bool]]] = {}
        self._unlisted: dict[str, str] = {}
        self._ignoring = Ignoring(self.root)
        self._seen: dict[File, Facts] = {}
        self._changed: dict[File, None] = {}
        self._digests: dict[File, Digest] = {}
        self._folders: dict[str, Sight] = {}
        self._asked: dict[str, bool] = {}

    def files(self, pattern: str, base: str = "") -> list[Match]:
        """The matches of *pattern* relative to the folder *base*, with files from the root, sorted by file.

        A file that can be read in several ways comes once for each, those with a locale first.

        Raises:
            PatternError: the pattern cannot be read or leads out of the root.
        """
        return matches(self, pattern, base)

    @property
    def identity(self) -> tuple[str, ...]:
        """What tells this folder from others on this machine."""
        try:
            facts = self.root.stat()
        except OSError:  # it is gone; whoever looks into it will say so
            return "", ""
        return str(facts.st_dev), str(facts.st_ino)

    def read(self, file: File) -> tuple[Digest, bytes]:
        """The file's digest and bytes. Raises `OSError` where it is no regular file or cannot be read or is too large."""
        try:
            data, facts = regular_file(f"{self._prefix}{file}")
        except OSError as error:
            self._digests[file] = Digest(f"!{error.strerror or error}")
            raise
        if self._seen.setdefault(file, facts) != facts:
            self._changed[file] = None
        digest = self._digests[file] = digest_of(data)
        return digest, data

    def data(self, file: File) -> bytes:
        """The file's bytes. Raises `OSError` as `read` does."""
        return self.read(file)[1]

    def size(self, file: File) -> int:
        """The file's size in bytes; 0 where there is none."""
        try:
            return os.stat(f"{self._prefix}{file}").st_size
        except OSError:
            return 0

    def digest(self, file: File) -> Digest:
        """The file's digest, without reading it again; of one that cannot be read, the reason after a ``!``."""
        if file not in self._digests:
            try:
                return self.read(file)[0]
            except OSError as error:
                return Digest(f"!{error.strerror or error}")
        return self._digests[file]

    @property
    def changing(self) -> tuple[File, ...]:
        """The files that were not the same when they were read again."""
        return tuple(self._changed)

    def take(self, sights: Sights, unread: Iterable[str], changing: Iterable[File], same_disk: bool = True) -> None:
        """Takes up what another look at the same folder has seen, with facts that need not last, and what it could not see. From another machine, or
        by another way to the disk, facts are not comparable.
        """
        self._changed.update(dict.fromkeys(changing))
        for file, sight in sights.files.items():
            with suppress(OSError):
                found = os.stat(f"{self._prefix}{file}")
                READ.add((found.st_dev, found.st_ino))  # no result is written over it unasked, whoever has read it
            if self._digests.setdefault(file, Digest(sight.digest)) != sight.digest:
                self._changed[file] = None
            if same_disk and sight.facts is not None and self._seen.setdefault(file, sight.facts) != sight.facts:
                self._changed[file] = None
        for folder, sight in sights.folders.items():
            seen = sight if same_disk else sight._replace(facts=None)
            if self._folders.setdefault(folder, seen).digest != seen.digest:
                self._changed[File(folder)] = None
        self._asked.update(sights.asked)
        index = sights.index if same_disk or sights.index is None else sights.index._replace(facts=None)
        ignoring = sights.ignoring if same_disk else {file: sight._replace(facts=None) for file, sight in sights.ignoring.items()}
        self._ignoring.take(ignoring, index)
        self._unlisted.update({words: words for words in unread})

    def sights(self, files: Iterable[File] | None = None, lasts: bool = True) -> Sights:
        """All that was seen so far, of files only *files* where they are given; with facts that last, or whatever facts there are."""
        wanted = self._digests if files is None else {file: self.digest(file) for file in files}
        now = self._now if lasts else EVER
        seen = {file: Sight(digest, lasting(self._seen[file], now) if file in self._seen else None) for file, digest in wanted.items()}
        ignoring = {  # that there is none in a folder shows where that is listed
            file: sight
            for file, sight in self._ignoring.sights(now).items()
            if sight.digest or file.rpartition("/")[0] not in self._folders
        }
        return Sights(seen, dict(self._folders), ignoring, dict(self._asked), self._ignoring.index_sight(now))

    def since(self, earlier: Sights) -> Since:
        """What is not as it was when *earlier* was seen. What is as it was counts as seen now."""
        changed, renewed = set(), False
        prefix = self._prefix
        for file, sight in earlier.files.items():
            try:
                found = os.stat(f"{prefix}{file}")
            except OSError:
                facts = None
            else:
                facts = facts_of(found)
                READ.add((found.st_dev, found.st_ino))
            if facts is not None and facts == sight.facts:
                self._seen[file], self._digests[file] = facts, Digest(sight.digest)
                continue
            renewed = True
            if self.digest(file) != sight.digest:
                changed.add(file)
        moved = any(self._noted(question) != answer for question, answer in earlier.asked.items())
        moved = moved or not self._ignoring.is_as(earlier.ignoring, earlier.index)
        for folder, sight in () if moved else earlier.folders.items():
            try:
                same = facts_of(os.stat(f"{prefix}{folder}")) == sight.facts
            except OSError:
                same = False
            if same:
                self._folders[folder] = sight
            else:
                renewed = True
                self.listing(folder)
                moved = moved or self._folders[folder].digest != sight.digest
        if moved:
            self._folders = {folder: sight for folder, sight in self._folders.items() if folder in self._listings}
        return Since(frozenset(changed), moved, renewed)

    def unread(self) -> tuple[str, ...]:
        """Sentences on the folders that were to be listed, and the ignore files that were to be read, and could not be."""
        return (*self._unlisted.values(), *self._ignoring.unread)

    def changed(self) -> tuple[str, ...]:
        """Sentences on the files that are not any more what was read of them."""
        for file, facts in self._seen.items():
            try:
                if facts_of(os.stat(f"{self._prefix}{file}")) != facts:
                    self._changed[file] = None
            except OSError:
                self._changed[file] = None
        changed = sorted(self._changed)
        words = [f"the file {file} changed while this ran; run it again" for file in changed[:_CHANGED_SHOWN]]
        more = [f"{len(changed) - _CHANGED_SHOWN} more files changed while this ran"] if len(changed) > _CHANGED_SHOWN else []
        return (*words, *more)

    def is_file(self, path: str) -> bool:
        """Whether *path* is a regular file inside the root."""
        return self._noted(f"file {path}")

    def _noted(self, question: str) -> bool:
        """The answer to a *question* that is noted: ``file PATH``, ``inside PATH`` or ``submodule PATH``."""
        if question not in self._asked:
            what, _, path = question.partition(" ")
            ask = {"file": self._is_file, "inside": self._inside, "submodule": self._is_submodule}[what]
            self._asked[question] = ask(path)
        return self._asked[question]

    def _is_file(self, path: str) -> bool:
        try:
            return stat.S_ISREG(os.stat(self.root / path).st_mode) and self._inside(path)
        except PermissionError:  # whoever reads it is told why it cannot
            return True
        except (OSError, ValueError):
            return False

    def _is_submodule(self, folder: str) -> bool:
        """Whether an empty folder is where git says that another repository belongs."""
        with suppress(OSError):
            if os.listdir(self.root / folder):
                return False
            for above in (self.root, *self.root.parents):
                if os.path.exists(above / ".git"):
                    text = regular_file(str(above / ".gitmodules"))[0].decode("utf-8", "surrogateescape")
                    return (self.root / folder).relative_to(above).as_posix() in submodules(text)
        return False

    def _inside(self, path: str) -> bool:
        real = os.path.realpath(self.root / path)
        return real == str(self.root) or real.startswith(str(self.root).rstrip(os.sep) + os.sep)

    def leads_out(self, start: str) -> bool:
        """Whether the folder that a pattern starts from is not inside the root."""
        if self._noted(f"inside {start}"):
            return False
        self._unlisted[start] = f"the folder {start} leads out of the monorepo and is not looked into"
        return True

    def entered(self, folder: str) -> None:
        """Notes that files were looked for in *folder*, and none were there: perhaps it is a submodule that is not checked out."""
        if folder and self._noted(f"submodule {folder}"):
            self._unlisted[folder] = submodule_words(folder)

    def ignores(self, path: str, is_folder: bool) -> bool:
        """Whether git ignores *path*."""
        return self._ignoring.ignores(path, is_folder)

    def listing(self, folder: str) -> list[tuple[str, bool]]:
        """The regular files and folders in *folder*, sorted: names, and whether each is a folder."""
        known = self._listings.get(folder)
        if known is not None:
            return known
        listing, linked, facts = [], False, None
        try:
            facts = facts_of(os.stat(self.root / folder))
            with os.scandir(self.root / folder) as entries:
                for entry in entries:
                    linked = linked or entry.is_symlink()
                    with suppress(OSError):  # a link to itself is neither a file nor a folder
                        path = f"{folder}/{entry.name}" if folder else entry.name
                        sound = not entry.is_symlink() or self._link_is_sound(path)
                        if sound and (entry.is_dir() or entry.is_file()):
                            listing.append((entry.name, entry.is_dir()))
        except OSError as error:
            if not folder or not isinstance(error, (FileNotFoundError, NotADirectoryError)) or self._was_listed(folder):
                self._unlisted[folder] = f"the folder {folder or '.'} cannot be listed: {error.strerror or error}"
        listing.sort()
        stays = None if facts is None or linked else lasting(facts, self._now)  # where a link leads, its folder does not tell
        self._folders[folder] = Sight(digest_of(repr(listing).encode("utf-8", "surrogatepass")), stays)
        self._listings[folder] = listing
        return listing

    def _was_listed(self, folder: str) -> bool:
        """Whether the folder was there when the one around it was listed."""
        above, _, name = folder.rpartition("/")
        return (name, True) in self._listings.get(above, ())

    def _link_is_sound(self, path: str) -> bool:
        """Whether a link stays inside the root and does not lead to a folder that it lies in."""
        real = os.path.realpath(self.root / path)
        here = os.path.realpath(self.root / path.rpartition("/")[0])
        return self._inside(path) and not (here + os.sep).startswith(real + os.sep)
