"""A draft as a charter: TOML as a person would have written it, with comments where something is to be looked at."""

from __future__ import annotations

import json
import re
from collections.abc import Iterator, Mapping, Sequence
from typing import Any

from lemmar.survey.draft import Draft, DraftClient
from lemmar.tags import LanguageTag
from lemmar.text import visible

_BARE = re.compile(r"[A-Za-z0-9_-]+")


def charter_text(draft: Draft) -> str:
    """The whole of a ``lemmar.toml`` for *draft*."""
    return "\n".join(_lines(draft)) + "\n"


def _lines(draft: Draft) -> Iterator[str]:
    yield "# Drafted by `lemmar survey` from what the clients contain. Change it to what the team has agreed."
    for words in draft.unfinished:
        yield f"# not checked, so that something may be missing here: {visible(words)}"
    yield ""
    yield "[charter]"
    yield "version = 1"
    yield f"source  = {_value(draft.source)}"
    yield ""
    yield "[roster]"
    yield f"shipping = {_value(draft.shipping)}"
    if draft.trial:
        yield "# not in every client, or not complete: each with the share of messages that it has today"
        yield f"trial    = {_table(draft.trial)}"
    if draft.pseudo:
        yield f"pseudo   = {_value(draft.pseudo)}"
    yield ""
    yield "[chains]"
    yield f"default = [{_value(draft.default)}]"
    yield ""
    yield "[gate]"
    yield 'fail-on = "error"'
    for client in draft.clients:
        yield ""
        yield from _client(client, draft)


def _client(client: DraftClient, draft: Draft) -> Iterator[str]:
    for question in draft.questions:
        if (
            question.place == client.root
            or question.place in [place for place, _ in client.cuts]
            or any(question.place in catalog.files for catalog in client.catalogs)
        ):
            yield f"# to decide: {question.text}"
    yield "[[client]]"
    settings: dict[str, Any] = {"name": client.name, "kind": client.kind, "root": client.root}
    if client.platform:
        settings["platform"] = client.platform
    yield from _settings(settings, "")
    without = dict.fromkeys(missing(client, draft), "not found here by the survey")
    if without:
        yield f"without  = {_table(without)}"
    for catalog in client.catalogs:
        yield ""
        yield "  [[client.catalog]]"
        yield from _settings(catalog.settings, "  ")
    for claim in client.claims:
        yield ""
        yield "  [[client.claim]]"
        yield from _settings(claim.settings, "  ")


def missing(client: DraftClient, draft: Draft) -> list[str]:
    """The roster's locales on trial that the client has nothing of."""
    held = {LanguageTag.parse(tag).maximized() for catalog in client.catalogs for tag in catalog.locales}
    held |= {LanguageTag.parse(tag).maximized() for claim in client.claims for tag in claim.locales}
    return [tag for tag in draft.trial if LanguageTag.parse(tag).maximized() not in held]


def _settings(settings: Mapping[str, Any], indent: str) -> Iterator[str]:
    width = max(map(len, settings), default=0)
    for name, value in settings.items():
        yield f"{indent}{name:<{width}} = {_table(value) if isinstance(value, Mapping) else _value(value)}"


def _value(value: Any) -> str:
    if isinstance(value, bool):
        return "true" if value else "false"
    if isinstance(value, (int, float)):
        return f"{value:.2f}" if isinstance(value, float) else str(value)
    if isinstance(value, Sequence) and not isinstance(value, str):
        return f"[{', '.join(map(_value, value))}]"
    return json.dumps(str(value), ensure_ascii=False).replace("\x7f", "\\u007f")


def _table(value: Mapping[Any, Any]) -> str:
    pairs = (f"{name if _BARE.fullmatch(name) else _value(name)} = {_value(item)}" for name, item in value.items())
    return f"{{ {', '.join(pairs)} }}"
