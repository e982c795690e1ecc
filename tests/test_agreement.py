"""What one command calls wrong, all do: `fresh_verdict`, `landing`, `chain`, `peek` and `grid` held against each other on generated monorepos."""

from __future__ import annotations

import json
import tempfile
from collections import Counter
from pathlib import Path
from typing import Any

from hypothesis import given, settings
from hypothesis import strategies as st
from msgspec.structs import replace

from lemmar import rules
from lemmar.auditing.pipeline import fresh_verdict, world_of_charter
from lemmar.charter.reading import ReadCharter, parse
from lemmar.lookups import names as lookup_names
from lemmar.resolve.chains import chains
from lemmar.resolve.claims import stated
from lemmar.resolve.effective import sights
from lemmar.resolve.landings import landed
from lemmar.resolve.world import Client, World
from lemmar.rules import Problem
from lemmar.trees.folder import FolderTree
from lemmar.views import chains as chain_view
from lemmar.views import grid, landings

from .conftest import share

_TAGS = ("en", "de", "de-AT", "fr", "pt", "pt-BR", "zh-Hans", "zh-Hant", "sr-Latn", "he")
_WRITTEN = {"pt-BR": "pt_BR", "he": "iw", "zh-Hans": "zh-CN", "de-AT": "de-at"}
_KEYS = ("a", "b", "c")
_REQUESTS = ("de-CH", "de-AT", "zh-TW", "pt-PT", "fr-CA", "sr-ME", "he-IL", "xx", "de", "uk,de")


def _list(draw: Any, among: tuple[str, ...], least: int = 0) -> list[str]:
    found: list[str] = draw(st.lists(st.sampled_from(among), min_size=least, unique=True))
    return found


@st.composite
def clients(draw: Any, name: str, roster: list[str]) -> tuple[str, dict[str, str]]:
    """A client's table in the charter, and its files."""
    held = list(dict.fromkeys(["en", *_list(draw, _TAGS)]))
    supported = list(dict.fromkeys(["en", *_list(draw, _TAGS)])) if draw(st.booleans()) else held
    odd = draw(st.booleans())
    files = {}
    for tag in held:
        texts = {key: f"{tag} {key}" for key in _KEYS if tag == "en" or draw(st.integers(0, 3))}
        if tag != "en" and texts and not draw(st.integers(0, 4)):
            texts[next(iter(texts))] = ""
        files[f"{name}/w/{tag}.json"] = json.dumps(texts)
    claims = {"supported": [_WRITTEN.get(tag, tag) if odd else tag for tag in supported]}
    if draw(st.booleans()):
        claims["offered"] = _list(draw, _TAGS, 1)
    if draw(st.booleans()):
        claims["routed"] = _list(draw, _TAGS, 1)
    if draw(st.booleans()):
        claims["default"] = [draw(st.sampled_from(_TAGS))]
    chain: Any = None
    if draw(st.booleans()):
        among = st.sampled_from(_TAGS)
        chain = draw(st.dictionaries(among, st.lists(among, min_size=1, max_size=2), max_size=3))
        claims["chain"] = chain or {"de-AT": ["de"]}  # type: ignore[assignment]
    files[f"{name}/locales.json"] = json.dumps(claims)
    lines = ["[[client]]", f'name = "{name}"', 'kind = "web"', f'root = "{name}"']
    without = [tag for tag in roster if tag != "en" and not draw(st.integers(0, 5))]
    if without:
        reasons = ", ".join(f'{tag} = "x"' for tag in without)
        lines.append(f"without = {{ {reasons} }}")
    runtime = {
        "lookup": draw(st.sampled_from(lookup_names())),
        "grain": draw(st.sampled_from(("message", "message", "catalog"))),
        "on-miss": draw(st.sampled_from(("key", "blank", "source", "error"))),
        "on-empty": draw(st.sampled_from(("next", "blank"))),
        "supported": draw(st.sampled_from(("claims", "claims", "files"))),
    }
    if draw(st.booleans()):
        runtime["chain"] = "first"
    lines += ["[client.runtime]", *(f'{key} = "{value}"' for key, value in runtime.items())]
    lines += ["[[client.catalog]]", 'files = "w/{locale}.json"']
    for states in claims:
        lines += ["[[client.claim]]", f'states = "{states}"', 'file = "locales.json"']
        lines.append(f'pointer = "/{states}"')
    return "\n".join(lines) + "\n", files


@st.composite
def monorepos(draw: Any) -> dict[str, str]:
    """A charter and the files of two clients."""
    roster = list(dict.fromkeys(["en", *_list(draw, _TAGS)]))
    trial = [tag for tag in roster if tag != "en" and not draw(st.integers(0, 4))]
    shipping = [tag for tag in roster if tag not in trial]
    chain = draw(st.dictionaries(st.sampled_from(_TAGS), st.sampled_from(_TAGS), max_size=2))
    wanted = st.sampled_from([*roster, "agree"])
    audience = draw(st.dictionaries(st.sampled_from(_REQUESTS), wanted, max_size=4))
    lines = ["[charter]", "version = 1", 'source = "en"', "[roster]"]
    lines.append(f"shipping = {json.dumps(shipping)}")
    lines.append(f"trial = {{ {', '.join(f'{tag} = 0.5' for tag in trial)} }}")
    lines += ["[chains]", 'default = ["en"]']
    lines += [f'{tag} = ["{link}", "en"]' for tag, link in chain.items() if tag != link]
    lines += ["[audience]", *(f'"{request}" = "{tag}"' for request, tag in audience.items())]
    files: dict[str, str] = {}
    tables = []
    for name in ("one", "two"):
        table, held = draw(clients(name, roster))
        tables.append(table)
        files |= held
    return files | {"lemmar.toml": "\n".join([*lines, *tables])}


def _problems(world: World, client: Client, *names: str) -> list[Problem]:
    """What rules find of one client, nothing hidden."""
    known = rules.all_rules()
    own = replace(world, clients=(client,), memo={})
    return [found for name in names for found in known[name].check(own)]


@settings(max_examples=share(150))
@given(monorepos())
def test_all_commands_agree(files: dict[str, str]) -> None:
    with tempfile.TemporaryDirectory() as work:
        root = Path(work)
        for name, text in files.items():
            (root / name).parent.mkdir(parents=True, exist_ok=True)
            (root / name).write_text(text, "utf-8")
        charter, lines = parse(files["lemmar.toml"].encode(), "lemmar.toml")
        read = ReadCharter(charter, root, "lemmar.toml", lines)
        verdict = fresh_verdict(read, FolderTree(root), "2026-11-25")
        world = world_of_charter(read, FolderTree(root))
    for client in world.clients:
        marked = _landings(world, client) | _chains(world, client) | _claims(world, client)
        marked |= _texts(world, client)
        told = [each for each in verdict.findings if client.name in each.subject.clients]
        assert bool(told) or not marked, marked
    assert verdict.hold or all(each.severity != "error" for each in verdict.findings)


def _landings(world: World, client: Client) -> set[str]:
    """`landing` marks what the rules report: of the audience, and of locales that land in another language."""
    asked = [*world.charter.audience, *(effect.tag for effect in client.effects.values())]
    marked = [
        each
        for request in dict.fromkeys(asked)
        if (each := landed(world, client, request)).is_wrong
    ]
    told = {
        request
        for problem in _problems(world, client, "chain.landing")
        for request in (problem.subject.request or problem.detail).split(" ")
    }
    assert {each.request for each in marked if not each.absent} == told
    absent = {problem.subject.locale for problem in _problems(world, client, "roster.absent")}
    assert {each.wanted for each in marked if each.absent} <= absent
    drawn = landings.view(world, [client], list(dict.fromkeys(asked)), explain=False)
    assert {row[1] for row in drawn.table.rows} == set(asked)
    return {each.request for each in marked}


def _chains(world: World, client: Client) -> set[str]:
    """`chain` marks the locales that the rule names."""
    marked = {each.locale for each in chains(world, client) if each.diverges}
    found = _problems(world, client, "chain.diverges")
    assert marked == {tag for problem in found for tag in problem.detail.split()}
    shown = chain_view.view(world, [client], ()).table.rows
    supported = {row[1]: row[2] for row in shown if row[2] is not None}
    assert supported.keys() == client.effects.keys()
    return set(marked)


_ROSTER = ("absent", "surplus", "pseudo", "split", "unoffered", "hollow", "orphan")


def _claims(world: World, client: Client) -> set[str]:
    """`grid --claims` marks what the rules report of what claims name."""
    places = stated(world, client)
    marked = {tag for each in places for tag in (*each.lacks, *each.adds)}
    found = _problems(world, client, *(f"roster.{name}" for name in _ROSTER), "chain.default")
    named = {problem.subject.locale for problem in found if problem.subject.locale}
    assert named <= marked
    assert bool(marked) == bool(found)
    return set(marked)


def _texts(world: World, client: Client) -> set[str]:
    """`peek` and `grid` count the same, and what is not complete is reported."""
    wrong = set()
    for locale, effect in client.effects.items():
        seen = Counter(
            sight.origin
            for part, source in client.sources.items()
            for sight in sights(client, locale, part, source.keys)
        )
        assert {name: count for name, count in effect.answer._asdict().items() if count} == seen
        assert grid.share(effect.answer)
        ships = locale in world.charter.roster.shipping and locale in client.needs
        if ships and locale != world.charter.source and not effect.answer.is_complete:
            wrong.add(str(locale))
            found = _problems(world, client, "message.missing", "message.empty")
            leans = {locale, *(client.roster(tag) for tag in effect.consulted)}
            assert {problem.subject.locale for problem in found} & leans
    return wrong
