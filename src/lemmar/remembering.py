"""An audit that remembers: what is as it was at the last one is not read, judged or concluded again.

Four things are kept, each under a digest of all that it depends on: how a file was read (its contents, how the charter has it read), how a client
was judged (its part of the charter, what was asked of the tree for it), which catalogs no client has, and, for each folder that was audited, what was
seen of it and the verdict. All of them depend on the code as well. The folder's own sights only save looking at files: what they say is
compared with what is there.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping
from typing import TYPE_CHECKING, Any, NamedTuple

import msgspec

from lemmar.cache import Cache, code_digest, key_of
from lemmar.findings import Place, Verdict
from lemmar.trees import File
from lemmar.trees.sights import Sights, Since, Watched
from lemmar.trees.watching import WatchedTree, is_same

if TYPE_CHECKING:
    from lemmar.charter.reading import ReadCharter
    from lemmar.charterfile import CharterFile
    from lemmar.inventory.contents import Spot
    from lemmar.trees.folder import FolderTree

#: An answer, what was asked of the tree for it, and whether it is whole: nothing was cut short.
Made = tuple[Any, Watched, bool]
#: Of one question so many answers are kept, for the branches that a team works on.
_ANSWERS = 6


class Record(NamedTuple):
    """The last audit of a folder: by which code, of which charter and on which day; what was seen; which answers were right, by their question;
    the places of spots (each as a tuple of its fields) that were looked up; and what came of it.
    """

    code: bytes
    charter: bytes
    day: str
    sights: Sights
    answers: dict[bytes, bytes]
    places: tuple[tuple[tuple[Any, ...], Place], ...]
    verdict: Verdict


class Memory:
    """What is kept of earlier audits of the folder *tree* with one charter, whose *name* and bytes (*data*) are given."""

    def __init__(self, cache: Cache, tree: FolderTree, name: str, data: bytes) -> None:
        self._cache = cache
        self._tree = tree
        self.code = code_digest()
        self._charter = key_of(name, data)
        facts = tree.root.stat()
        self._here = key_of("here", name, str(facts.st_dev), str(facts.st_ino))
        self._anywhere = key_of("anywhere", name)
        self._record = self._load()
        self._since: Since | None = None
        self._answers: dict[bytes, bytes] = {}
        self._files: set[File] = set()

    def _load(self) -> Record | None:
        data = self._cache.get("audit", self._here)
        if data is None:  # another clone of the same monorepo may have been audited
            where = self._cache.get("audit", self._anywhere)
            data = self._cache.get("audit", where) if where is not None else None
        found: Record | None = _decoded(data, Record)
        return found

    def verdict(self, day: str) -> Verdict | None:
        """The last verdict, where it would be the same now; None where it may be another."""
        record = self._record
        if record is None:
            return None
        since = self._since = self._tree.since(record.sights)
        if (record.code, record.charter, record.day) != (self.code, self._charter, day) or since.files:
            return None
        if not since.moved:
            if since.renewed:
                self._keep(record._replace(sights=self._tree.sights()))
            return record.verdict
        for question, key in record.answers.items():  # other files are there: perhaps none that matters
            row = _decoded(self._cache.get("answer", key), tuple[Watched, msgspec.Raw])
            if row is None or not is_same(row[0], self._tree):
                return None
            self._note(question, key, row[0])
        if self._tree.unread():
            return None
        self._keep(record._replace(sights=self._tree.sights(self._files)))
        return record.verdict

    def recalled(self, question: bytes, kind: Any, made: Callable[[], Made]) -> Any:
        """The answer to *question*, of the *kind*, as it was kept where the tree is still the same for it, else as it is *made*."""
        for key in self._candidates(question):
            row = _decoded(self._cache.get("answer", key), tuple[Watched, msgspec.Raw])
            if row is None or not self._holds(question, key, row[0]):
                continue
            found = _decoded(bytes(row[1]), kind)
            if found is not None:
                self._note(question, key, row[0])
                return found
        answer, watched, whole = made()
        key = key_of(question, repr((sorted(watched.patterns.items()), sorted(watched.files.items()), sorted(watched.there.items()))))
        if whole and self._put("answer", key, (watched, answer)):
            others = [other for other in self._candidates(question) if other != key]
            self._put("answers", question, [key, *others][:_ANSWERS])
        self._note(question, key, watched)
        return answer

    def _candidates(self, question: bytes) -> list[bytes]:
        """The keys of the answers that are kept, the one that was right at the last audit first."""
        kept = _decoded(self._cache.get("answers", question), list[bytes]) or []
        last = self._record.answers.get(question) if self._record is not None else None
        return [*([last] if last is not None else []), *(key for key in kept if key != last)]

    def _holds(self, question: bytes, key: bytes, watched: Watched) -> bool:
        record, since = self._record, self._since
        if record is not None and since is not None and not since.moved and record.answers.get(question) == key:
            return since.files.isdisjoint(watched.files)
        return is_same(watched, self._tree)

    def _note(self, question: bytes, key: bytes, watched: Watched) -> None:
        self._answers[question] = key
        self._files.update(watched.files)

    def places(self) -> dict[tuple[Any, ...], Place]:
        """Where things stood at the last audit, in files that are named with their digests; none where another charter had them read."""
        record = self._record
        same = record is not None and (record.code, record.charter) == (self.code, self._charter)
        return dict(record.places) if record is not None and same else {}

    def conclude(self, verdict: Verdict, day: str, places: Mapping[Spot, Place]) -> None:
        """Keeps what this audit has seen and found."""
        sights = self._tree.sights(self._files)
        self._keep(Record(self.code, self._charter, day, sights, self._answers, tuple(places.items()), verdict))

    def _keep(self, record: Record) -> None:
        if self._put("audit", self._here, record):
            self._cache.put("audit", self._anywhere, self._here)

    def _put(self, kind: str, key: bytes, value: object) -> bool:
        try:
            self._cache.put(kind, key, _ENCODER.encode(value))
        except UnicodeEncodeError:  # a lone surrogate, of a file's name or a broken text
            return False
        return True


def audited(file: CharterFile, day: str, cache: Cache, parsed: Callable[[], ReadCharter]) -> Verdict:
    """The verdict of the *day* (ISO 8601) on the monorepo that the charter in *file* speaks of, which is *parsed* where that is needed. What is kept
    in *cache* spares what is as it was.

    Raises:
        CharterError, UsageError, IncompleteError: as `lemmar.audit.audit`.
    """
    from lemmar.trees.folder import FolderTree

    tree = FolderTree(file.root)
    memory = Memory(cache, tree, file.name, file.data)
    known = memory.verdict(day)
    return known if known is not None else _anew(parsed(), tree, day, memory, cache)


def _anew(read: ReadCharter, tree: FolderTree, day: str, memory: Memory, cache: Cache) -> Verdict:
    from lemmar.audit import concluded, held_by
    from lemmar.inventory.contents import Spot
    from lemmar.inventory.readings import Readings
    from lemmar.judging import Judge, Judged, Judging
    from lemmar.resolve.outlines import Told
    from lemmar.survey import Beyond, uncharted

    charter = read.charter
    judge = Judge(read, tree, Readings(keeps=False, cache=cache, code=memory.code))
    judgings = []
    for index, question in enumerate(_questions(read, memory.code)):

        def judged(index: int = index) -> Made:
            made = judge.judge(index)
            return (made.judged, made.told), made.watched, not made.judged.unfinished

        found, told = memory.recalled(question, tuple[Judged, Told], judged)
        judgings.append(Judging(found, told, Watched({}, {}, {})))
    held = held_by(each.judged for each in judgings)

    def unheld() -> Made:
        seen = WatchedTree(tree)
        found = uncharted(charter, seen, held)
        return found, seen.watched, not found.unfinished

    asked = key_of(memory.code, "uncharted", repr(charter.charter.ignore), *sorted(held))
    beyond = memory.recalled(asked, Beyond, unheld)
    known = {Spot(*spot): place for spot, place in memory.places().items()}
    verdict, places = concluded(read, tree, judgings, beyond, day, known)
    if not verdict.unsure and not tree.changed():
        memory.conclude(verdict, day, places)
    return verdict


def _questions(read: ReadCharter, code: bytes) -> list[bytes]:
    """What each client's judgement depends on beside the tree: the code, its part of the charter, and the lines of that."""
    from lemmar.judging import slices

    others: list[tuple[Any, int]] = []
    own: dict[object, list[tuple[Any, int]]] = {}
    for path, line in read.lines.items():
        if path[:1] == ("client",) and len(path) > 1:
            own.setdefault(path[1], []).append((path, line))
        elif path[:1] != ("waiver",):
            others.append((path, line))
    shared = key_of(code, read.file, _ENCODER.encode(slices(read.charter)), repr(others))
    return [key_of(shared, str(index), _ENCODER.encode(entry), repr(own.get(index, ()))) for index, entry in enumerate(read.charter.client)]


def _as_dict(value: object) -> object:
    if isinstance(value, Mapping):
        return dict(value)
    raise NotImplementedError(f"{type(value)} is not kept")


_ENCODER = msgspec.msgpack.Encoder(enc_hook=_as_dict)


def _decoded(data: bytes | None, kind: Any) -> Any:
    """What *data* holds; None where that is nothing of the *kind*."""
    if data is None:
        return None
    try:
        return msgspec.msgpack.decode(data, type=kind)
    except msgspec.MsgspecError:
        return None
