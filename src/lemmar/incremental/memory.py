"""What is known of earlier audits of a folder, and whether it still holds.

Three things are kept here, each under a digest of all that it depends on, the code among it: how a client was judged (by its part of the charter and
what was asked of the tree for it), which catalogs no client has, and, for each folder that was audited, what was seen of it and the verdict. The
folder's own sights only save looking at files: what they say is compared with what is there.
"""

from __future__ import annotations

from collections.abc import Mapping
from typing import TYPE_CHECKING, Any, NamedTuple

import msgspec

from lemmar.cache import Cache, code_digest, key_of
from lemmar.cache.messagepack import packed, unpacked
from lemmar.findings import Place, Verdict
from lemmar.trees import File
from lemmar.trees.known import KnownTree
from lemmar.trees.sights import Sights, Since, Watched
from lemmar.trees.watching import is_same

if TYPE_CHECKING:
    from lemmar.charter.file import CharterFile
    from lemmar.inventory.contents import Spot

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
    """What is kept of earlier audits of the *tree* with the charter in *file*."""

    def __init__(self, cache: Cache, tree: KnownTree, file: CharterFile) -> None:
        self._cache = cache
        self._tree = tree
        self.code = code_digest()
        self._charter = file.key
        self._here = key_of("here", file.name, file.gate or "", *tree.identity)
        self._anywhere = key_of("anywhere", file.name, file.gate or "")
        self._record = self._load()
        self._since: Since | None = None
        self._answers: dict[bytes, bytes] = {}
        self._files: set[File] = set()

    def _load(self) -> Record | None:
        data = self._cache.get("audit", self._here)
        if data is None:  # another clone of the same monorepo may have been audited
            where = self._cache.get("last", self._anywhere)
            data = self._cache.get("audit", where) if where is not None else None
        found: Record | None = unpacked(data, Record)
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
            row = unpacked(self._cache.get("answer", key), tuple[Watched, msgspec.Raw])
            if row is None or not is_same(row[0], self._tree):
                return None
            self._note(question, key, row[0])
        if self._tree.unread():
            return None
        self._keep(record._replace(sights=self._tree.sights(self._files)))
        return record.verdict

    def recalled(self, question: bytes, kind: Any, with_told: bool = False) -> Any:
        """The answer to *question*, of the *kind*, where one is kept and the tree is still the same for it; else None. With *with_told* it is kept
        with how a client says things, which `told` gives.
        """
        for key in self._candidates(question):
            row = unpacked(self._cache.get("answer", key), tuple[Watched, msgspec.Raw])
            if row is None or not self._holds(question, key, row[0]) or (with_told and not self._cache.has("told", _beside(key))):
                continue
            found = unpacked(bytes(row[1]), kind)
            if found is not None:
                self._note(question, key, row[0])
                return found
        return None

    def told(self, question: bytes) -> bytes | None:
        """What was kept with the answer to *question* that is right now; None where it is there no more."""
        return self._cache.get("told", _beside(self._answers[question]))

    def keep(self, question: bytes, answer: object, watched: Watched, told: bytes | None = None) -> None:
        """Keeps the *answer* to *question*, for which that was asked of the tree, and with it what is *told*."""
        key = key_of(question, repr((sorted(watched.patterns.items()), sorted(watched.files.items()), sorted(watched.there.items()))))
        if self._put("answer", key, (watched, answer)):
            if told is not None:
                self._cache.put("told", _beside(key), told)
            others = [other for other in self._candidates(question) if other != key]
            self._put("answers", question, [key, *others][:_ANSWERS])
        self._note(question, key, watched)

    def _candidates(self, question: bytes) -> list[bytes]:
        """The keys of the answers that are kept, the one that was right at the last audit first."""
        kept = unpacked(self._cache.get("answers", question), list[bytes]) or []
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
            self._cache.put("last", self._anywhere, self._here)

    def _put(self, kind: str, key: bytes, value: object) -> bool:
        try:
            self._cache.put(kind, key, packed(value))
        except UnicodeEncodeError:  # a lone surrogate, of a file's name or a broken text
            return False
        return True


def _beside(key: bytes) -> bytes:
    """The key of what is kept with an answer."""
    return key_of("told", key)
