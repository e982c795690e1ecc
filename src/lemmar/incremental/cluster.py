"""Clients judged by more than one machine: the workers of a cluster, which all read the same folder."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from concurrent.futures import Executor
from typing import NamedTuple

from lemmar import __version__
from lemmar.basics.errors import IncompleteError, UsageError
from lemmar.basics.phrasing import listed
from lemmar.incremental.workers import Done, Task, judged, version

#: How long a scheduler may take to answer, in seconds.
_PATIENCE = 20
#: How often a client is given to another worker when the one that had it dies.
_RETRIES = 3


class Cluster(NamedTuple):
    """A cluster: the address of its scheduler, and where its workers find the monorepo (None: where it is here)."""

    scheduler: str
    folder: str | None = None


def judged_by_cluster(tasks: Sequence[Task], cluster: Cluster) -> Iterator[tuple[Task, Done | None]]:
    """The clients of *tasks* as they are done.

    Raises:
        UsageError: the cluster cannot be reached, or its workers run another Lemmar or do not see the folder.
        IncompleteError: the library for clusters is not installed, or the workers that had a client have died.
    """
    try:
        from distributed import Client, KilledWorker
    except ImportError as error:
        raise IncompleteError("a cluster needs a library that is not installed; pip install 'lemmar[cluster]'") from error
    address, folder = cluster.scheduler, cluster.folder
    try:
        client = Client(address, timeout=_PATIENCE, set_as_default=False)  # type: ignore[no-untyped-call]
    except (OSError, ValueError, TypeError) as error:
        raise UsageError(f"the scheduler {address} cannot be reached ({error}); see whether it runs, and its address") from error
    with client:
        _check(client, address)
        executor: Executor = client.get_executor(retries=_RETRIES, pure=False)  # type: ignore[no-untyped-call]
        there = [task._replace(root=folder or task.root, checks=True) for task in tasks]
        try:
            yield from judged(there, executor)
        except KilledWorker as error:
            words = "the workers that had it have died, one after the other; see whether they have enough memory"
            raise IncompleteError(f"a client could not be judged: {words}") from error


def _check(client: object, address: str) -> None:
    """Refuses workers that would judge by other rules. Raises `UsageError`."""
    try:
        versions = client.run(version, on_error="return")  # type: ignore[attr-defined]
    except Exception as error:  # whatever a scheduler without Lemmar raises when it is asked for it
        raise UsageError(f"a worker of {address} has no Lemmar, or another one ({error}); install {__version__} on all of them") from error
    versions = {worker: found for worker, found in versions.items() if not isinstance(found, OSError)}  # one that just died judges nothing
    without = next((found for found in versions.values() if isinstance(found, Exception)), None)
    if without is not None:
        raise UsageError(f"a worker of {address} has no Lemmar, or another one ({without}); install {__version__} on all of them")
    if not versions:
        raise UsageError(f"the scheduler {address} has no workers; start some")
    others = sorted(worker for worker, found in versions.items() if found != version())
    if others:
        raise UsageError(f"workers of {address} run another version of Lemmar: {listed(others, 3)}; install {__version__} on all of them")
