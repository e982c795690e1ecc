"""The survey as a whole: draws a draft up, and settles its roster by what the catalogs really hold."""

from __future__ import annotations

from collections.abc import Sequence

from lemmar.charter.reading import parse
from lemmar.inventory import gather
from lemmar.resolve import resolve
from lemmar.resolve.world import Client
from lemmar.survey.draft import Draft
from lemmar.survey.drafting import draft
from lemmar.survey.writing import charter_text
from lemmar.tags import Tag
from lemmar.trees import Tree

#: A locale that a client has less of than this is on trial.
_COMPLETE = 0.98


def draw_up(tree: Tree) -> Draft:
    """The draft for the monorepo that *tree* is, its roster settled by what its clients' catalogs hold."""
    found = draft(tree, [match.file for match in tree.files("**", "")])
    return _settled(found, tree) if found.clients else found


def _settled(found: Draft, tree: Tree) -> Draft:
    """Locales of which some client lacks texts are on trial, with the least share that a client has."""
    everything = found._replace(shipping=(*found.shipping, *found.trial), trial={})
    charter, _ = parse(charter_text(everything).encode(), "the draft")
    inventory = gather(charter, tree)
    clients = resolve(charter, inventory)
    shares = {tag: _least_share(clients, tag) for tag in everything.shipping}
    shipping = tuple(tag for tag in found.shipping if tag == found.source or (shares[tag] is None or (shares[tag] or 0) >= _COMPLETE))
    trial = {tag: int(100 * (shares[tag] or 0)) / 100 for tag in everything.shipping if tag not in shipping}
    unfinished = tuple(dict.fromkeys((*found.unfinished, *inventory.unfinished)))
    return found._replace(shipping=shipping, trial=trial, unfinished=unfinished)


def _least_share(clients: Sequence[Client], tag: Tag) -> float | None:
    """The least share of messages that a client which supports *tag* has of it; None where none does."""
    effects = [client.effects[tag] for client in clients if tag in client.effects]
    shares = [effect.answer.complete / effect.answer.messages for effect in effects if effect.answer.messages]
    return min(shares, default=None)
