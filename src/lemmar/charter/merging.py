"""Makes one charter of what a team wrote in several places: the clients of included files, and what one client takes over from another."""

from __future__ import annotations

import posixpath
from collections.abc import Sequence
from typing import Any, NamedTuple

from lemmar.basics.phrasing import nearest
from lemmar.charter.lines import Path

#: The name under which the gates of a team's own are converted; in the file they stand in the table ``gate``.
GATES = "[gate.NAME]"
#: What a client that is like another takes over, where it does not state it itself; its runtime key by key.
_TAKEN = ("platform", "spelling", "spelled", "source", "assumes", "uses", "catalog", "claim", "usage")
#: A client is like one that is like another, and so on, so often at the most.
_MOST_ALIKE = 8


class Merged(NamedTuple):
    """The charter as one table. *firsts* are the indexes of the included files' first clients, *copied* the paths of what stands elsewhere. *strangers*
    are keys of included files that belong into the charter itself: the file, the key, and what is to be done; *mistakes* are others, by path.
    """

    value: dict[str, Any]
    firsts: list[int]
    copied: list[Path]
    strangers: list[tuple[str, str, str]]
    mistakes: list[tuple[Path, str]]


def merge(value: dict[str, Any], included: Sequence[tuple[str, dict[str, Any]]]) -> Merged:
    """The charter in *value* with the clients of *included* files, which have their names beside them."""
    merged = Merged(dict(value), [], [], [], [])
    _part_gates(merged)
    clients = value.get("client", [])
    if isinstance(clients, list):
        clients = list(clients)
        for name, other in included:
            merged.firsts.append(len(clients))
            clients += _clients(name, other, merged)
        if clients:
            names: dict[Any, int] = {}
            for index, client in enumerate(clients):
                if isinstance(client, dict) and isinstance(client.get("name"), str):
                    names.setdefault(client["name"], index)
            merged.value["client"] = [_taking_over(clients, index, names, merged) for index in range(len(clients))]
    merged.firsts.extend([0] * (len(included) - len(merged.firsts)))
    return merged


def _part_gates(merged: Merged) -> None:
    gate = merged.value.get("gate")
    if GATES in merged.value:
        merged.mistakes.append(((GATES,), f"unknown key {GATES!r}; write a gate of your own as a table [gate.merge], say"))
        del merged.value[GATES]
    if isinstance(gate, dict):
        named = {key: item for key, item in gate.items() if isinstance(item, dict) and key != "severity"}
        if named:
            merged.value["gate"] = {key: item for key, item in gate.items() if key not in named}
            merged.value[GATES] = named


def _clients(name: str, other: dict[str, Any], merged: Merged) -> list[Any]:
    """The clients of an included file, their roots from the charter's folder."""
    folder = posixpath.dirname(name)
    merged.strangers.extend(
        (name, key, f"an included file holds [[client]] tables only; {key!r} belongs into the charter itself")
        for key in other
        if key != "client"
    )
    found = other.get("client", [])
    if not isinstance(found, list):
        merged.strangers.append((name, "client", "'client' is a list of tables; write [[client]]"))
        return []
    return [{**client, "root": _below(folder, client["root"])} if _has_root(client) else client for client in found]


def _has_root(client: Any) -> bool:
    return isinstance(client, dict) and isinstance(client.get("root"), str)


def _below(folder: str, root: str) -> str:
    """A client's *root* from the charter's folder; what leads out of *folder* keeps its ``..``, which is refused."""
    steps = [step for step in root.split("/") if step not in ("", ".")]
    if root.startswith("/"):
        return root
    return "/".join([*([folder] if folder else []), *steps]) or "."


def _taking_over(clients: list[Any], index: int, names: dict[str, int], merged: Merged) -> Any:
    """The client at *index* with what it takes over from the one that it is like."""
    client = clients[index]
    seen = {index}
    own = client
    while isinstance(own, dict) and isinstance(own.get("like"), str):
        if own["like"] not in names:
            if own is clients[index]:
                texts = [name for name in names if name != own.get("name")]
                merged.mistakes.append((("client", index, "like"), f"there is no client {own['like']!r}{nearest(own['like'], texts)}"))
            break
        other = names[own["like"]]
        if other in seen or len(seen) > _MOST_ALIKE:
            merged.mistakes.append(
                (("client", index, "like"), "clients are like each other in a circle, or in a long row; let one state what it has itself")
            )
            break
        seen.add(other)
        own = clients[other]
        if not isinstance(own, dict):
            break
        client = _with(client, own, index, merged)
    return client


def _with(client: dict[str, Any], other: dict[str, Any], index: int, merged: Merged) -> dict[str, Any]:
    taken = {key: other[key] for key in _TAKEN if key in other and key not in client}
    merged.copied.extend(("client", index, key) for key in taken)
    runtime, theirs = client.get("runtime", {}), other.get("runtime", {})
    if isinstance(runtime, dict) and isinstance(theirs, dict) and theirs:
        merged.copied.extend(("client", index, "runtime", key) for key in theirs if key not in runtime)
        taken["runtime"] = {**theirs, **runtime}
    return {**client, **taken}
