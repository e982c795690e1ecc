"""An audit that remembers: what is as it was at the last one is not read, judged or concluded again."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence
from functools import partial
from typing import TYPE_CHECKING, Any, NamedTuple

from lemmar.basics.profiling import Times
from lemmar.cache import Cache, Nothing, Store, key_of
from lemmar.cache.messagepack import packed, unpacked
from lemmar.findings import Verdict
from lemmar.incremental.memory import Memory
from lemmar.trees import File
from lemmar.trees.known import KnownTree
from lemmar.trees.sights import Watched
from lemmar.trees.watching import WatchedTree

if TYPE_CHECKING:
    from lemmar.auditing.judging import Judging
    from lemmar.auditing.owners import Lines
    from lemmar.charter.file import CharterFile
    from lemmar.charter.reading import ReadCharter
    from lemmar.charter.types import Charter
    from lemmar.incremental.cluster import Cluster
    from lemmar.resolve.outlines import Beyond


class How(NamedTuple):
    """How an audit is made, whatever comes of it: with which cache, which *times* are told where the time goes, by how many processes (0: as many as
    pay), what is told how far it is (how many files are read, of how many), and which *cluster* does the work, if one does.
    """

    cache: Cache
    times: Times
    workers: int = 0
    tell: Callable[[int, int], None] | None = None
    cluster: Cluster | None = None


def incremental_verdict(file: CharterFile, tree: KnownTree, day: str, parsed: Callable[[], ReadCharter], how: How) -> Verdict:
    """The verdict of the *day* (ISO 8601) on the monorepo *tree* that the charter in *file* speaks of, which is *parsed* where that is needed.

    Raises:
        CharterError, UsageError, IncompleteError: as `lemmar.auditing.pipeline.audit`.
    """
    with how.times.of("remember"):
        memory = Memory(how.cache, tree, file)
        known = memory.verdict(day)
    return known if known is not None else _anew(parsed(), tree, file, day, memory, how)


def _anew(read: ReadCharter, tree: KnownTree, file: CharterFile, day: str, memory: Memory, how: How) -> Verdict:
    from lemmar.auditing.judging import Judge, Judged, Judging
    from lemmar.auditing.owners import Owners
    from lemmar.auditing.pipeline import conclude, held_by
    from lemmar.inventory.contents import Spot
    from lemmar.resolve.outlines import Told

    charter, kind = read.charter, tuple[Judged, tuple[str, ...]]
    found: dict[int, Judging] = {}
    questions = _questions(read, memory.code)
    nothing = Watched({}, {}, {})

    def told_again(index: int) -> bytes:
        """What was kept with an answer; where it is there no more, the client is judged once more."""
        data = memory.told(questions[index])
        return data if data is not None else Judge(read, tree).judge(index).told.packed

    for index, question in enumerate(questions):
        with how.times.of("remember"):
            known = memory.recalled(question, kind, with_told=True)
        if known is not None:
            found[index] = Judging(known[0], Told(known[1], partial(told_again, index)), nothing)
    missing = [index for index in range(len(questions)) if index not in found]
    for index, made, whole in _made(read, tree, file, missing, memory.code, how):
        found[index] = made
        if whole:
            with how.times.of("cache"):
                memory.keep(questions[index], (made.judged, made.told.words), made.watched, made.told.packed)
    judgings = [found[index] for index in range(len(questions))]
    beyond = _beyond(charter, tree, held_by(each.judged for each in judgings), memory, how)
    owners = Owners(_ownership(tree, memory), charter)
    known_places = {Spot(*spot): place for spot, place in memory.places().items()}
    with how.times.of("conclude"):
        verdict, places = conclude(read, tree, judgings, beyond, owners, day, known_places)
    if not verdict.unsure and not tree.changing:
        with how.times.of("cache"):
            memory.conclude(verdict, day, places)
    return verdict


def _beyond(charter: Charter, tree: KnownTree, held: frozenset[File], memory: Memory, how: How) -> Beyond:
    """Which catalogs no client has; *held* are the files that clients have."""
    from lemmar.resolve.outlines import Beyond

    asked = key_of(memory.code, "uncharted", repr(charter.charter.ignore), *sorted(held))
    known: Beyond | None = memory.recalled(asked, Beyond)
    if known is not None:
        return known
    from lemmar.survey.uncharted import uncharted

    seen = WatchedTree(tree)
    with how.times.of("uncharted"):
        found = uncharted(charter, seen, held)
    if not found.unfinished:
        memory.keep(asked, found, seen.watched)
    return found


def _ownership(tree: KnownTree, memory: Memory) -> Lines:
    """What the repository says of owners."""
    from lemmar.auditing.owners import Lines, ownership

    asked = key_of(memory.code, "owners")
    known: Lines | None = memory.recalled(asked, Lines)
    if known is not None:
        return known
    seen = WatchedTree(tree)
    found = ownership(seen)
    memory.keep(asked, found, seen.watched)
    return found


def _made(
    read: ReadCharter, tree: KnownTree, file: CharterFile, missing: Sequence[int], code: bytes, how: How
) -> Iterator[tuple[int, Judging, bool]]:
    """The clients that are *missing*, judged, in whatever order: their index, what is left of them, and whether it is whole."""
    from lemmar.auditing.judging import Judged, Judging
    from lemmar.incremental import workers
    from lemmar.resolve.outlines import Told
    from lemmar.trees.folder import FolderTree

    with how.times.of("find"):
        sizes = (
            workers.sizes(read, tree, missing)
            if (how.workers != 1 and len(missing) > 1) or how.tell is not None or how.cluster is not None
            else {}
        )
    number = how.workers or (workers.cores() if sum(size.bytes for size in sizes.values()) >= workers.WORTHWHILE else 1)
    files = sum(size.files for size in sizes.values())
    if not isinstance(tree, FolderTree) or (how.cluster is None and (number == 1 or len(missing) < 2)):
        yield from _made_here(read, tree, missing, code, how, files)
        return
    folder = None
    if isinstance(how.cache, Store) and how.cluster is None:
        how.cache.close()  # no process goes on with a file that another one has opened
        folder = str(how.cache.file.parent)
    largest_first = sorted(missing, key=lambda index: -sizes[index].bytes)
    tasks = workers.tasks_of(file, largest_first, folder, code)
    ready, left = 0, []
    if how.cluster is not None:
        from lemmar.incremental.cluster import judged_by_cluster

        several = judged_by_cluster(tasks, how.cluster)
    else:
        several = workers.judged_by_processes(tasks, number)
    for task, done in several:
        ready += sizes[task.client].files
        if how.tell is not None:
            how.tell(ready, files)
        if done is None:
            left.append(task.client)
            continue
        how.times.take(done.spent)
        tree.take(done.sights, done.unread, map(File, done.changed), same_disk=how.cluster is None)
        judged, words = unpacked(bytes(done.answer), tuple[Judged, tuple[str, ...]])
        yield task.client, Judging(judged, Told(words, done.told), done.watched), done.whole
    yield from _made_here(read, tree, sorted(left), code, how, files) if left else ()


def _made_here(
    read: ReadCharter, tree: KnownTree, missing: Sequence[int], code: bytes, how: How, files: int
) -> Iterator[tuple[int, Judging, bool]]:
    """The same by this process; of so many *files* it is told how many are read."""
    from lemmar.auditing.judging import Judge
    from lemmar.inventory.readings import Readings

    keeps, tell = not isinstance(how.cache, Nothing), how.tell
    told = (lambda read: tell(read, files)) if tell is not None else None
    judge = Judge(read, tree, Readings(keeps=False, cache=how.cache if keeps else None, code=code, times=how.times, told=told))
    for index in missing:
        made = judge.judge(index)
        yield index, made, not made.judged.unfinished


def _questions(read: ReadCharter, code: bytes) -> list[bytes]:
    """What each client's judgement depends on beside the tree: the code, its part of the charter, and the lines of that."""
    from lemmar.auditing.judging import slices

    others: list[tuple[Any, int]] = []
    own: dict[object, list[tuple[Any, int]]] = {}
    for path, line in read.lines.items():
        if path[:1] == ("client",) and len(path) > 1:
            own.setdefault(path[1], []).append((path, line))
        elif path[:1] != ("waiver",):
            others.append((path, line))
    shared = key_of(code, read.file, packed(slices(read.charter)), repr(others))
    return [
        key_of(shared, str(index), packed(entry), read.lines.file(("client", index)) or "", repr(own.get(index, ())))
        for index, entry in enumerate(read.charter.client)
    ]
