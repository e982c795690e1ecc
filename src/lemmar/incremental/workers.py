"""Several clients judged at once, by processes that share nothing but the files.

What comes back of a client is what `lemmar.auditing.judging` leaves of it, encoded, and what was seen of the tree; never its texts as a whole. Any
`concurrent.futures.Executor` may do the work: the pool of processes here, or a cluster's.
"""

from __future__ import annotations

import os
import signal
import sys
import threading
import time
from collections.abc import Iterable, Iterator, Mapping, Sequence
from contextlib import contextmanager, suppress
from itertools import islice
from pathlib import Path
from typing import TYPE_CHECKING, Any, NamedTuple

import msgspec

from lemmar.auditing.judging import Judge
from lemmar.basics.errors import IncompleteError, TreeError, UsageError
from lemmar.basics.profiling import Times
from lemmar.cache import Store, contents_digest
from lemmar.cache.messagepack import packed
from lemmar.charter.file import CharterFile, load
from lemmar.charter.reading import ReadCharter, parsed
from lemmar.inventory.gathering import base_of
from lemmar.inventory.readings import Readings
from lemmar.trees.folder import FolderTree
from lemmar.trees.known import KnownTree
from lemmar.trees.sights import Sights, Watched

if TYPE_CHECKING:
    from concurrent.futures import Executor, Future
    from multiprocessing.context import BaseContext

#: Below so many bytes of catalogs (some 200,000 messages) starting processes costs more than it saves.
WORTHWHILE = 12_000_000


class Task(NamedTuple):
    """A client to be judged: the run that it is of, the folder, the charter and the client's index in it; where the cache is (None: nothing is kept),
    and by which code. Whoever *checks* sees whether the charter on disk is that one, and looks at the files once more when they have been judged.
    """

    run: str
    root: str
    charter: CharterFile
    client: int
    cache: str | None
    code: bytes
    checks: bool = False


class Done(NamedTuple):
    """A client that was judged: what is left of it, encoded, and how it says what others may say; what was asked of the tree for it; whether that is
    whole; what was seen of the tree, and what could not be; and the time that it took.
    """

    answer: msgspec.Raw
    told: bytes
    watched: Watched
    whole: bool
    sights: Sights
    unread: tuple[str, ...]
    changed: tuple[str, ...]
    spent: dict[tuple[str, str], tuple[float, int]]


class _Bench(NamedTuple):
    """What a process keeps from one task to the next of the same audit; of what it has seen so many have been *sent*."""

    judge: Judge
    times: Times
    tree: FolderTree
    cache: Store | None
    sent: list[int]


_BENCHES: dict[str, _Bench] = {}


def work(task: Task) -> bytes:
    """Judges a client; gives a `Done`, encoded; nothing where it cannot be: of half a character, or of a name that is no Unicode."""
    if task.run not in _BENCHES:
        _BENCHES.clear()  # of another run nothing counts: the files may be others now
        _BENCHES[task.run] = _bench(task)
    bench = _BENCHES[task.run]
    bench.times.spent.clear()
    made = bench.judge.judge(task.client)
    if bench.cache is not None:
        bench.cache.flush()
    sights = bench.tree.sights(made.watched.files, lasts=False)
    if task.checks:
        bench.tree.changed()
    else:  # what comes back from a cluster may be lost and asked for again
        sights = _news(sights, bench.sent)
    whole, spent = not made.judged.unfinished, bench.times.spent
    try:
        answer = msgspec.Raw(packed((made.judged, made.told.words)))
        return packed(Done(answer, made.told.packed, made.watched, whole, sights, bench.tree.unread(), bench.tree.changing, spent))
    except UnicodeEncodeError:
        return b""


def _bench(task: Task) -> _Bench:
    if task.checks and task.charter.on_disk:
        name = task.charter.name
        try:
            file = load(Path(task.root) / name)
        except TreeError as error:
            raise UsageError(f"a worker does not see what is audited: {error}") from error
        if file.data != task.charter.data:
            raise IncompleteError(f"a worker sees another {name} in {task.root} than the one that is audited; run it again")
    read = parsed(task.charter)
    tree = FolderTree(Path(task.root))
    cache = Store(Path(task.cache)) if task.cache is not None else None
    readings = Readings(keeps=False, cache=cache, code=task.code)
    return _Bench(Judge(read, tree, readings), readings.times, tree, cache, [0, 0])


def _news(sights: Sights, sent: list[int]) -> Sights:
    """*sights* without the folders and answers that were sent with an earlier client; *sent* says how many those are, and is brought up to date."""
    every: tuple[Mapping[str, Any], ...] = (sights.folders, sights.asked)
    folders, asked = (dict(islice(each.items(), number, None)) for each, number in zip(every, sent, strict=True))
    sent[:] = map(len, every)
    return Sights(sights.files, folders, sights.ignoring, asked, sights.index)


def tasks_of(file: CharterFile, clients: Iterable[int], cache: str | None, code: bytes) -> list[Task]:
    """A task for each of the *clients* of the charter in *file*."""
    run = os.urandom(16).hex()
    return [Task(run, str(file.root), file, client, cache, code) for client in clients]


def version() -> bytes:
    """What another machine must have in common with this one: the code, and the libraries that files are read by."""
    return contents_digest()


def judged(tasks: Sequence[Task], executor: Executor) -> Iterator[tuple[Task, Done | None]]:
    """The clients as they are done, by *executor*, which is given all *tasks* at once; None for one that must be judged where it is needed.

    Raises:
        BrokenExecutor: a process has died.
        IncompleteError: as `Judge.judge`.
    """
    from concurrent.futures import FIRST_COMPLETED, wait

    waiting: dict[Future[bytes], Task] = {executor.submit(work, task): task for task in tasks}
    while waiting:
        done, _ = wait(waiting, return_when=FIRST_COMPLETED)
        for each in done:
            told = each.result()
            yield waiting.pop(each), _DONE.decode(told) if told else None


_DONE = msgspec.msgpack.Decoder(Done)


def judged_by_processes(tasks: Sequence[Task], number: int) -> Iterator[tuple[Task, Done | None]]:
    """The same by so many processes of this machine. What a process that dies leaves undone is done by another one, client by client.

    Raises:
        IncompleteError: it has died again, or what it did was cut short as a whole.
    """
    from concurrent.futures.process import BrokenProcessPool

    left = {task.client: task for task in tasks}
    try:
        with _pool(min(number, len(tasks))) as pool:
            for task, done in judged(tasks, pool):
                del left[task.client]
                yield task, done
        return
    except BrokenProcessPool:
        pass
    for task in tasks:
        if task.client in left:
            try:
                with _pool(1) as pool:
                    yield from judged([task], pool)
            except BrokenProcessPool:
                words = "the process that judged it has died twice; see whether the machine has enough memory"
                raise IncompleteError(f"client number {task.client + 1} of {task.charter.name} could not be judged: {words}") from None


@contextmanager
def _pool(number: int) -> Iterator[Executor]:
    """So many processes, which end with this one, however it ends."""
    from concurrent.futures import ProcessPoolExecutor

    pool = ProcessPoolExecutor(number, mp_context=_context(), initializer=_begin, initargs=(os.getpid(),))
    whole = False
    try:
        yield pool
        whole = True
    finally:
        pool.shutdown(wait=whole, cancel_futures=True)


def _context() -> BaseContext:
    import multiprocessing

    return multiprocessing.get_context("fork" if sys.platform == "linux" else "spawn")


def _begin(parent: int) -> None:
    """Begins a process: an interrupt is the parent's business, and when that is gone there is none left."""
    import gc

    gc.disable()
    signal.signal(signal.SIGINT, signal.SIG_IGN)
    signal.signal(signal.SIGTERM, signal.SIG_DFL)

    def watch() -> None:
        while os.getppid() == parent:
            time.sleep(1)
        os._exit(1)

    threading.Thread(target=watch, daemon=True).start()


class Size(NamedTuple):
    """How many files a client's catalogs have, and how many bytes."""

    files: int
    bytes: int


def sizes(read: ReadCharter, tree: KnownTree, clients: Iterable[int]) -> dict[int, Size]:
    """The sizes of clients, by their index in the charter."""
    found = {}
    for index in clients:
        client = read.charter.client[index]
        files = {match.file for entry in client.catalog for match in tree.files(entry.files, base_of(client))}
        found[index] = Size(len(files), sum(map(tree.size, files)))
    return found


def cores() -> int:
    """How many processors this process may use."""
    with suppress(AttributeError):
        return len(os.sched_getaffinity(0))
    return os.cpu_count() or 1
