"""How each fact of a client is known: stated by a claim, written in the charter, from its platform's preset, or assumed.

Rules, commands and outputs ask here, so that an assumption that one of them reports is one that all of them show.
"""

from __future__ import annotations

from collections.abc import Iterator

from lemmar.charter.presets import Trait, mirrors_itself
from lemmar.charter.types import ClientEntry
from lemmar.findings import Basis, Known
from lemmar.inventory.contents import Claim
from lemmar.resolve.claims import claims_of, default_claim, mirrors, ships_right_to_left
from lemmar.resolve.world import Client, World

_LISTS = ("supported", "offered", "routed")
_TRAITS = ("lookup", "grain", "on-empty")


def bases(world: World, client: Client) -> tuple[Basis, ...]:
    """Each fact of *client* with how it is known, in a fixed order; lists that no claim states are no facts, but for what is supported."""
    entry = next(entry for entry in world.charter.client if entry.name == client.name)
    found = [*_source(world, client), *_lists(client), *_default(world, client), *_chain(client)]
    found += [_of_trait(name, client.traits[name]) for name in _TRAITS]
    found += _on_miss(client)
    found += _mirrored(client)
    if client.usage is not None:
        found.append(Basis("keys", "charter", f"{len(client.usage.ways)} ways", "usage"))
    found = [each._replace(known="drafted") if each.known == "stated" and _is_drafted(entry, client, each) else each for each in found]
    return tuple(
        each._replace(known="charter", why=entry.assumes[each.fact]) if each.known == "assumed" and each.fact in entry.assumes else each
        for each in found
    )


def _is_drafted(entry: ClientEntry, client: Client, basis: Basis) -> bool:
    """Whether a claim that states it is not confirmed yet."""
    drafted = {_place(claim) for claim, said in zip(client.claims, entry.claim, strict=False) if said.sure is not None}
    return any(place in drafted for place in basis.origin.split(", "))


def _on_miss(client: Client) -> Iterator[Basis]:
    """What a missing text shows: by the chain's other catalogs if they are asked text by text, then by on-miss. Where nothing says it, it is a fact only if
    a text is missing in a shipping locale and shows just that.
    """
    answers = [effect.answer for tag, effect in client.effects.items() if client.ships(tag)]
    grain, on_miss = client.traits["grain"], client.traits["on-miss"]
    by_chain, by_itself = any(answer.foreign for answer in answers), any(answer.key for answer in answers)
    if by_chain and grain.origin == on_miss.origin == "default":
        yield Basis("on-miss", "assumed", "the next text of its chain")
    elif by_itself or on_miss.origin != "default":
        yield _of_trait("on-miss", on_miss)


def _place(claim: Claim) -> str:
    return f"{claim.file}:{claim.entries[0].value.line if claim.entries else 1}"


def _source(world: World, client: Client) -> Iterator[Basis]:
    claims = [claim for claim in claims_of(client, "source") if claim.entries]
    yield Basis("source", "stated", client.source, _place(claims[0])) if claims else Basis("source", "charter", client.source)


def _lists(client: Client) -> Iterator[Basis]:
    for states in _LISTS:
        claims = [claim for claim in claims_of(client, states) if claim.entries]
        if claims:
            named = dict.fromkeys(entry.tag for claim in claims for entry in claim.entries if entry.tag)
            tags = client.supported if states == "supported" else tuple(named)  # files may add to the claims
            yield Basis(states, "stated", " ".join(tags), ", ".join(map(_place, claims)))
        elif states == "supported":
            known: Known = "assumed" if client.declared_by == "nothing" else "stated" if client.declared_by == "claims" else "preset"
            origin = {"files": client.traits["supported"].origin, "claims": "offered or routed"}.get(client.declared_by, "")
            yield Basis(states, known, " ".join(client.supported), origin.removeprefix("preset "))


def _default(world: World, client: Client) -> Iterator[Basis]:
    claim = default_claim(client)
    if not client.runtime.falls_back:
        yield Basis("default", "charter", "none")
    elif claim is not None:
        yield Basis("default", "stated", client.default, _place(claim))
    elif client.runtime.rest is not None:
        yield Basis("default", "stated", client.default, ", ".join(map(_place, claims_of(client, "chain"))))
    elif (supported := client.traits["supported"]).value == "files" and supported.origin.startswith("preset "):
        yield Basis("default", "preset", client.default, supported.origin.removeprefix("preset "))
    else:
        claims = (*claims_of(client, "default"), *(claim for claim in claims_of(client, "chain") if not claim.entries))
        yield Basis("default", "assumed", client.default, ", ".join(map(_place, claims)))


def _chain(client: Client) -> Iterator[Basis]:
    claims = claims_of(client, "chain")
    if claims:
        yield Basis("chain", "stated", f"{len(client.runtime.chain)} entries", ", ".join(map(_place, claims)))
    else:
        lookup = _of_trait("chain", client.traits["lookup"])
        yield lookup._replace(value=f"by its lookup {client.traits['lookup'].value}")


def _of_trait(name: str, trait: Trait) -> Basis:
    if trait.origin == "default":
        return Basis(name, "assumed", trait.value)
    return (
        Basis(name, "preset", trait.value, trait.origin.removeprefix("preset "))
        if trait.origin != "charter"
        else Basis(name, "charter", trait.value)
    )


def _mirrored(client: Client) -> Iterator[Basis]:
    if not ships_right_to_left(client):
        return
    said, claims = mirrors(client), ", ".join(map(_place, claims_of(client, "mirrored")))
    if said is not None:
        yield Basis("mirrored", "stated", "yes" if said else "no", claims)
    elif mirrors_itself(client.traits):
        yield Basis("mirrored", "preset", "yes", client.traits["lookup"].origin.removeprefix("preset "))
    else:
        yield Basis("mirrored", "assumed", "yes", claims)
