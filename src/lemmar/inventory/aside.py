"""What lies in a monorepo and is no client's own: fetched and copied libraries, what a build made, test data, documentation, spare copies."""

from __future__ import annotations

import re
from collections.abc import Iterable, Sequence
from typing import NamedTuple

from lemmar.basics.expressions import expression
from lemmar.documents.structured import suffix_of

_FETCHED = frozenset(
    {"node_modules", "bower_components", "jspm_packages", "third_party", "third-party", "thirdparty", "3rdparty", "pods", "carthage"}
)
#: Folders in which libraries are copied: whatever has a licence or a manifest there is one; in the second sort own code lies as well, so that
#: a manifest alone says nothing.
_COPIED = frozenset({"vendor", "vendors", "external", "externals", "extern", "deps"})
_SHARED = frozenset({"libs", "lib", "ext", "assets", "static", "public", "js", "plugins"})
_LICENCES = ("license", "licence", "copying")
_MANIFESTS = ("bower.json", "component.json", "package.json", "composer.json", "pom.xml", "setup.py", "pyproject.toml")
#: Folders inside of a library that its licence or manifest may lie in.
_INNER = frozenset({"src", "js", "css", "dist", "build"})
_MADE = frozenset({"build", "dist", "out", "target", "bin", "obj", "_build", "deploy", "publish"})
_TESTS = frozenset(
    {
        *(
            "test",
            "tests",
            "__tests__",
            "spec",
            "specs",
            "fixtures",
            "__fixtures__",
            "fixture",
            "testdata",
            "test-data",
            "test_data",
            "testing",
        ),
        *(
            "mocks",
            "__mocks__",
            "mock",
            "e2e",
            "cypress",
            "androidtest",
            "sharedtest",
            "integration-tests",
            "unittest",
            "unittests",
            "benchmarks",
        ),
    }
)
_DOCUMENTATION = frozenset({"doc", "docs", "documentation", "example", "examples", "sample", "samples", "tutorial", "tutorials"})


class Aside(NamedTuple):
    """A folder or file that is set aside, and why."""

    pattern: str
    reason: str


class SettingAside:
    """Which of *files* are set aside. What is in a folder of libraries is so where the folder shows it: by a licence, a manifest, packed files."""

    def __init__(self, files: Sequence[str]) -> None:
        self._known: dict[str, Aside | None] = {"": None}
        self._names: dict[str, tuple[bool, str]] = {}
        self._signs = _signs(files)

    def of(self, file: str) -> Aside | None:
        """Why *file* is set aside, with the folder that is so as a whole; None where it is not."""
        folder, _, name = file.rpartition("/")
        found = self._known[folder] if folder in self._known else self._folder(folder)
        if found is not None:
            return found
        reason = self._names.get(name)
        if reason is None:
            packed = f"*.min{suffix_of(name)}" if ".min." in name else ""
            reason = self._names[name] = (is_spare(name), packed)
        spare, packed = reason
        if packed:
            return Aside(f"{folder}/{packed}" if folder else packed, "packed from what lies beside it")
        return Aside(file, "a copy that somebody keeps") if spare else None

    def _folder(self, folder: str) -> Aside | None:
        if folder not in self._known:
            above, _, name = folder.rpartition("/")
            self._known[folder] = self._folder(above) or self._own(folder, above, name.lower())
        return self._known[folder]

    def _own(self, folder: str, above: str, name: str) -> Aside | None:
        if name in _FETCHED:
            return Aside(f"{folder}/**", "fetched libraries")
        if name.startswith(".") and len(name) > 1:
            return Aside(f"{folder}/**", "a hidden folder")
        if name in _TESTS or name.endswith((".tests", ".test")) or folder.endswith(("Tests", "UITests")):
            return Aside(f"{folder}/**", "test data")
        if name in _DOCUMENTATION and above.count("/") < 2:
            return Aside(f"{folder}/**", "documentation and examples")
        holder = above.rpartition("/")[2].lower()
        sign = self._signs.get(folder)
        if sign is not None and (holder in _COPIED or (holder in _SHARED and not sign.lower().startswith(_MANIFESTS[2:]))):
            return Aside(
                f"{folder}/**", f"a copied library: it has {'packed files' if '.min.' in sign.lower() else f'a {sign}'} of its own"
            )
        return None


def _signs(files: Iterable[str]) -> dict[str, str]:
    """The folders that have a licence, packed files or a manifest of their own, the first of these with its name."""
    found: dict[str, tuple[int, str]] = {}
    ranks: dict[str, int] = {}
    for file in files:
        folder, _, name = file.rpartition("/")
        rank = ranks.get(name)
        if rank is None:
            lower = name.lower()
            rank = ranks[name] = 0 if lower.startswith(_LICENCES) else 1 if ".min." in lower else 2 if lower in _MANIFESTS else 3
        if rank < 3:
            below = folder.rpartition("/")[2].lower() in _INNER
            for holder in (folder, folder.rpartition("/")[0]) if below else (folder,):
                found[holder] = min(found.get(holder, (3, "")), (rank, name))
    return {folder: name for folder, (_, name) in found.items()}


def is_packed(data: bytes) -> bool:
    """Whether a build has packed the code, so that nobody wrote it so: lines of a thousand bytes on average in no short file, or a megabyte."""
    return len(data) > 1_000_000 or (len(data) > 20_000 and len(data) > 1_000 * (data.count(b"\n") + 1))


def made_from(folder: str) -> str | None:
    """What stands before and behind the name that says that a build made what is in *folder*; None where none does."""
    parts = folder.split("/")
    index = next((index for index, part in enumerate(parts) if part.lower() in _MADE), None)
    return "/".join(parts[:index]) if index is not None else None


_SPARE = expression(
    r"(?:^|[ ._-])(?:orig|original|bak|backup|old|tmp|temp|rej|mine|theirs)(?=[._-]|$)|^copy (?:\(\d+\) )?of |[ _-]+copy(?: ?\(?\d+\)?)?(?=\.|$)"
    r"|~(?=\.|$)| \(\d+\)(?=\.)",
    re.IGNORECASE,
)


def is_spare(file: str) -> bool:
    """Whether the file's name says that it is a copy of another: ``de.orig.json``, ``de.json.bak``, ``copy of de.json``."""
    return bool(_SPARE.search(file.rpartition("/")[2]))
