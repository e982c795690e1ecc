"""What is known of one client, and from where; or a list of all clients."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from typing import Any

from lemmar.basics.phrasing import counted
from lemmar.findings import Basis
from lemmar.inventory.contents import Catalog, Claim
from lemmar.report import LEGEND, SIGNS, Drawn, Table, View, drawn_table, joined, plain
from lemmar.resolve.basis import bases
from lemmar.resolve.key_uses import asking_of
from lemmar.resolve.world import Client, World
from lemmar.tags import Tag
from lemmar.views.patterns import describe


def listing(world: World) -> View:
    """A line for each client, and how each of its facts is known."""
    columns = ("client", "kind", "root", "supported", "catalogs", "messages", "assumed")
    known = [(client, bases(world, client)) for client in world.clients]
    rows = [(*_line(client), " ".join(each.fact for each in basis if each.known == "assumed")) for client, basis in known]
    return View(Table("clients", columns, rows), lambda _page: _draw_all(known, rows))


def _draw_all(known: Sequence[tuple[Client, Sequence[Basis]]], rows: Sequence[tuple[Any, ...]]) -> Iterable[Drawn]:
    sides = ("left", "left", "left", "left", "right", "right")
    yield drawn_table(
        list(zip(("client", "kind", "root", "supported", "catalogs", "messages"), sides, strict=True)), [row[:-1] for row in rows]
    )
    yield ""
    facts = dict.fromkeys(each.fact for _, basis in known for each in basis)
    signs = [(client.name, {each.fact: SIGNS[each.known] for each in basis}) for client, basis in known]
    yield drawn_table(
        [("known from", "left"), *((fact, "left") for fact in facts)],
        [(name, *(signs_of.get(fact, "–") for fact in facts)) for name, signs_of in signs],
    )
    yield ""
    yield LEGEND


def view(world: World, client: Client) -> View:
    """Each trait, claim and catalog of *client*."""
    return View(Table("client", ("what", "name", "value", "origin"), list(_facts(world, client))), lambda _page: _draw(client, world))


def _line(client: Client) -> tuple[Any, ...]:
    messages = sum(len(source.keys) for source in client.sources.values())
    return client.name, client.kind, client.root, " ".join(client.supported), len({catalog.file for catalog in client.catalogs}), messages


def _facts(world: World, client: Client) -> Iterable[tuple[Any, ...]]:
    for name, trait in client.traits.items():
        yield "trait", name, trait.value, trait.origin
    for each in bases(world, client):
        yield "basis", each.fact, each.value, _origin(each)
    for claim in client.claims:
        for entry in claim.entries:
            yield "claim", claim.states, entry.tag or entry.value.text, f"{claim.file}:{entry.value.line}:{entry.value.column}"
        for defect in claim.defects:
            yield "unread", claim.states, defect.detail, f"{claim.file}:{defect.line}:{defect.column}"
    for catalog in client.catalogs:
        yield "catalog", catalog.part, catalog.tag, catalog.file
    for what, where, found in _beside(world, client):
        yield "beside", what, found, where


def _draw(client: Client, world: World) -> Iterable[Drawn]:
    yield joined((client.name, "strong"), f"  {client.kind}, in {client.root}")
    yield ""
    facts = bases(world, client)
    rows = [(each.fact, each.value, f"{SIGNS[each.known][0]} {_origin(each)}") for each in facts]
    told = {each.fact for each in facts}
    rows += [
        (name, trait.value, f"{'–' if trait.origin == 'default' else '✓'} {trait.origin}")
        for name, trait in client.traits.items()
        if name not in told
    ]
    yield drawn_table([("fact", "left"), ("", "left"), ("known from", "left")], rows)
    yield ""
    yield from _claims(client)
    columns = [("catalog", "left"), ("locales", "left"), ("files", "right"), ("messages", "right"), ("read as", "left")]
    yield drawn_table(columns, _catalogs(client, world))
    yield ""
    beside = list(_beside(world, client))
    if beside:
        yield drawn_table([("beside", "left"), ("where", "left"), ("found", "left")], beside)
        yield ""
    supported = " ".join(_in_order(client.supported, client, world)) or "nothing"
    known = {"claims": "by its claims", "files": "by its files", "nothing": "guessed from its files, since no claim says so"}[
        client.declared_by
    ]
    yield f"supports {supported} ({known}); its default is {client.default if client.runtime.falls_back else 'none'}"
    exempt = [tag for tag in world.charter.locales if tag not in client.needs]
    if exempt:
        yield f"exempt from {' '.join(exempt)} by the charter"


def _origin(basis: Basis) -> str:
    """Where a fact is known from, in words."""
    silent = f"assumed: {basis.origin} cannot be read" if basis.origin else "assumed: nothing says it"
    origin = {
        "stated": basis.origin,
        "drafted": f"{basis.origin}, drafted and not confirmed",
        "charter": "charter",
        "preset": f"preset {basis.origin}",
    }.get(basis.known, silent)
    return f"{origin}: {basis.why}" if basis.why else origin


def _beside(world: World, client: Client) -> Iterable[tuple[str, str, str]]:
    """What lies beside the catalogs and is looked at: the ways in which code asks, assets, fonts; each with where, and what was found."""
    asked = asking_of(world, client)
    for number, way in enumerate(client.usage.ways if client.usage is not None and asked is not None else ()):
        total, lacks = asked.found.get(number, (0, 0)) if asked is not None else (0, 0)
        names = (*way.calls, *way.filters, *way.members, *way.resources, *way.attributes, *way.elements, *way.blocks, *way.shows)
        nowhere = f", {lacks} of them nowhere" if lacks else ""
        yield "usage", ", ".join(names), f"{counted(total, 'key')} that the code writes out{nowhere}"
    for assets in client.assets:
        where = assets.entry.files or _below(client, assets.table)
        yield "assets", where, f"{counted(len(assets.found), 'file')} of {counted(len({asset.tag for asset in assets.found}), 'locale')}"
    for fonts in client.fonts:
        signs = sum(last - first + 1 for each in fonts.asked for first, last in each.font.codes)
        yield (
            "fonts",
            ", ".join(_below(client, each.file) for each in fonts.asked),
            f"{counted(signs, 'sign')} in {counted(len(fonts.asked), 'font')}",
        )


def _claims(client: Client) -> Iterable[Drawn]:
    rows = [(claim.states, f"{_below(client, claim.file)}:{_first_line(claim)}", claim.selector, _spelt(claim)) for claim in client.claims]
    if rows:
        yield drawn_table([("claim", "left"), ("place", "left"), ("selector", "left"), ("as written", "left")], rows)
        for claim in client.claims:
            for defect in claim.defects:
                yield plain(f"not read: {claim.file}:{defect.line}:{defect.column} {defect.detail}", "error")
        yield ""


def _below(client: Client, file: str | None) -> str:
    """*file* as seen from the client's root, which the heading names."""
    return (file or "").removeprefix(f"{client.root}/")


def _first_line(claim: Claim) -> int:
    return claim.entries[0].value.line if claim.entries else 1


def _spelt(claim: Claim) -> str:
    """The locales; where one is written in another way, how: ``de-AT (de_AT)``; of a claim that says yes or no, which."""
    if claim.states == "mirrored":
        return " ".join(entry.value.text for entry in claim.entries) or "–"
    found = []
    for entry in claim.entries:
        written = entry.value.text
        found.append(f"{entry.tag} ({written})" if entry.tag and entry.tag != written else written if entry.tag else f"?{written}")
    return " ".join(found) or "–"


def _in_order(tags: Iterable[Tag], client: Client, world: World) -> list[Tag]:
    """The client's tags in the roster's order, what is not on it at the end."""
    order = {tag: index for index, tag in enumerate(world.charter.locales)}
    return sorted(tags, key=lambda tag: (order.get(client.roster(tag), len(order)), tag))


def _catalogs(client: Client, world: World) -> Iterable[tuple[Any, ...]]:
    for pattern in client.patterns:
        held: list[Catalog] = [catalog for catalog in client.catalogs if catalog.order == pattern.number]
        locales = _in_order(dict.fromkeys(catalog.tag for catalog in held), client, world)
        syntax = describe(pattern.seen) if pattern.seen is not None else pattern.syntax
        reading = (
            f"{pattern.format or (pattern.read_as.name if pattern.read_as else 'by name')}, {pattern.layout}, {pattern.spelling}, {syntax}"
        )
        yield pattern.files, " ".join(locales), pattern.matches, client.messages_in(pattern), reading
