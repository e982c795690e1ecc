"""What a client's code and markup ask for: found in its files, none of which is run; tests, copied libraries and packed code are passed over."""

from __future__ import annotations

from collections.abc import Collection, Iterable

from msgspec import Struct

from lemmar import usages
from lemmar.basics.errors import IncompleteError
from lemmar.basics.expressions import expression
from lemmar.charter.types import UsageEntry, UsagePart
from lemmar.inventory.aside import SettingAside, is_packed, is_spare, made_from
from lemmar.inventory.readings import Readings
from lemmar.trees import Digest, File, Tree
from lemmar.trees.patterns import matcher
from lemmar.usages import Found, ShownText, Use, Way

_TEST = expression(
    r"(?:^|/)(?:test[_-][^/]*|setup-?[Tt]ests?\.[^/]*|storybook[^/]*|\.storybook/.*|[^/]*(?:[._-](?:tests?|specs?|stories|story|cy|e2e|mock|fixture)|(?:Tests?|Spec|TestCase))\.[^/.]+|conftest\.py|[^/]*\.d\.ts)$"
)


class UsedIn(Struct, frozen=True):
    """What one file asks for and shows."""

    file: File
    digest: Digest
    uses: tuple[Use, ...]
    shown: tuple[ShownText, ...]


class Usage(Struct, frozen=True):
    """What a client's files ask for: those that ask or show anything, all that they quote, how many were looked through, the ways of the charter,
    parallel to its tables; *faults* are files that could not be parsed, each with the reason, *unfinished* sentences on what could not be read, or not in time.
    """

    files: tuple[UsedIn, ...]
    quoted: frozenset[str]
    looked: int
    ways: tuple[Way, ...]
    faults: tuple[tuple[File, str], ...] = ()
    unfinished: tuple[str, ...] = ()


def usage_of(
    tree: Tree, entries: Iterable[UsageEntry], base: str, others: Collection[str], known: Collection[File], readings: Readings
) -> Usage | None:
    """What the files of a client ask for by the *entries* of its charter; None where it has none. *base* is its folder, *others* are those of other
    clients, *known* are files that hold the texts themselves.
    """
    entries = tuple(entries)
    if not entries:
        return None
    ways = tuple(map(way_of, entries))
    wanted: dict[File, list[bool]] = {}
    for index, entry in enumerate(entries):
        excepted = [matcher(pattern, base) for pattern in entry.exceptions]
        for file in looked_through(tree, entry.files, base, others, known):
            if not any(each(file) for each in excepted):
                wanted.setdefault(file, [False] * len(ways))[index] = True
    files: list[UsedIn] = []
    quoted: set[str] = set()
    faults: list[tuple[File, str]] = []
    unfinished: list[str] = []
    for file, which in sorted(wanted.items()):
        own = tuple(way if has else Way() for way, has in zip(ways, which, strict=True))
        try:
            digest, found = _read(tree, file, own, readings)
        except OSError as error:
            unfinished.append(f"{file}: the file cannot be read: {error.strerror or error}")
            continue
        except IncompleteError as error:
            unfinished.append(f"{file}: {error}")
            continue
        quoted.update(found.quoted)
        if found.fault:
            faults.append((file, found.fault))
        if found.uses or found.shown:
            files.append(UsedIn(file, digest, found.uses, found.shown))
    return Usage(tuple(files), frozenset(quoted), len(wanted), ways, tuple(faults), tuple(unfinished))


def looked_through(tree: Tree, patterns: Iterable[str], base: str, others: Collection[str], known: Collection[File]) -> list[File]:
    """The files with code or markup that *patterns* match from the folder *base*: none of *others*, clients' folders inside of it, none that is
    *known* as something else, no tests and copies.
    """
    inner = tuple(f"{other}/" for other in others if other != base and (not base or other.startswith(f"{base}/")))
    found = {
        match.file: match.file.removeprefix(f"{base}/")
        for pattern in patterns
        for match in tree.files(pattern, base)
        if usages.is_read(match.file) and match.file not in known and not (pattern == "**" and match.file.startswith(inner))
    }
    aside = SettingAside(tuple(found.values()))
    own = {file: below for file, below in found.items() if (aside.of(below) is None or _is_named_so(below)) and not _TEST.search(below)}
    written = [file for file, below in own.items() if made_from(below.rpartition("/")[0]) is None]
    return written or list(own)  # what a build made is looked through where nothing else is there


def _is_named_so(file: str) -> bool:
    """Whether a file is set aside only for the word that its name begins with: ``backup_page.html`` is about copies, and is none."""
    folder, _, name = file.rpartition("/")
    rest = _FIRST_WORD.sub("x", name, count=1)
    return not is_spare(rest) and SettingAside((file,)).of(f"{folder}/{rest}" if folder else rest) is None


_FIRST_WORD = expression(r"^[A-Za-z]+")


def _read(tree: Tree, file: File, ways: tuple[Way, ...], readings: Readings) -> tuple[Digest, Found]:
    digest = tree.digest(file)
    if digest.startswith("!"):
        raise OSError(0, digest[1:])

    def made() -> Found:
        data = tree.data(file)
        return usages.quoted_in(data) if is_packed(data) or _is_dense(data) else usages.read(data, name, ways)

    name = file.rpartition("/")[2]
    return digest, readings.kept("usage", (digest, name, ways), Found, made)


def _is_dense(data: bytes) -> bool:
    """Whether a short file is packed too: nobody writes lines of so many bytes on average."""
    return len(data) > 2_000 and len(data) > 400 * (data.count(b"\n") + 1)


def way_of(entry: UsageEntry) -> Way:
    """A table of the charter as plain values."""
    part = entry.part
    told = part if isinstance(part, UsagePart) else UsagePart()
    return Way(
        _several(entry.call),
        _several(entry.filter),
        _several(entry.member),
        _several(entry.resource),
        _several(entry.attribute),
        _several(entry.element),
        entry.argument,
        entry.context,
        entry.values,
        part if isinstance(part, str) else None,
        told.argument,
        told.separator or "",
        told.scope or "",
        entry.under or "",
        entry.shows,
        _several(entry.block),
        entry.pointer,
    )


def _several(value: str | tuple[str, ...]) -> tuple[str, ...]:
    return (value,) if isinstance(value, str) else value
