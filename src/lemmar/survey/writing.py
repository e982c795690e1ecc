"""A draft as a charter: TOML as a careful person would have written it; every doubt is a comment beside its line that begins with ``# ?``."""

from __future__ import annotations

import json
from collections.abc import Iterable, Iterator, Mapping, Sequence
from typing import Any

from lemmar.basics.expressions import expression
from lemmar.basics.text import BIDI_CONTROLS, visible
from lemmar.survey.draft import Draft, DraftClient, asked

_BARE = expression(r"[A-Za-z0-9_-]+")
_WIDTH = 120
#: What may not stand in TOML as it is, or would make a reader see something else.
_UNSEEN = expression("[\x7f-\x9f\u2028\u2029\ufeff" + BIDI_CONTROLS + "]")


#: The file of a client's own tables, in its folder.
CLIENT_FILE = "lemmar-client.toml"
_SCHEMA = "lemmar.schema.json"


def charter_text(draft: Draft) -> str:
    """The whole of a ``lemmar.toml`` for *draft*."""
    return "\n".join([*_head(draft, ()), *_clients(draft.clients)]) + "\n"


def charter_texts(draft: Draft, charter: str) -> dict[str, str]:
    """The same in several files: the *charter* itself, under that name, and in the folder of each client one that it includes."""
    by_root: dict[str, list[DraftClient]] = {}
    for client in draft.clients:
        by_root.setdefault(client.root, []).append(client)
    own = by_root.pop(".", [])
    texts = {charter: "\n".join([*_head(draft, _includes(by_root)), *_clients(own)]) + "\n"}
    for root, clients in by_root.items():
        lines = [
            f"# What {', '.join(client.name for client in clients)} has; the roster, the chains and the gate are in {charter}, which includes this."
        ]
        texts[f"{root}/{CLIENT_FILE}"] = "\n".join([*lines, *_clients(client._replace(root=".") for client in clients)]) + "\n"
    return texts


def _includes(roots: Iterable[str]) -> list[str]:
    """The patterns of the clients' files: one for all that lie side by side."""
    beside: dict[str, list[str]] = {}
    for root in roots:
        beside.setdefault(root.rpartition("/")[0], []).append(root)
    return [
        f"{above}/*/{CLIENT_FILE}" if above and len(those) > 1 else f"{root}/{CLIENT_FILE}"
        for above, those in beside.items()
        for root in (those[:1] if above and len(those) > 1 else those)
    ]


def _head(draft: Draft, includes: Sequence[str]) -> Iterator[str]:
    yield f"#:schema ./{_SCHEMA}"
    yield f"# For editors that check and complete by the line above: lemmar charter --schema -o {_SCHEMA}"
    yield "# Drafted by `lemmar survey` from what the clients contain. Change it to what the team has agreed."
    if any(True for _ in draft.every_question()):
        yield "# Lines that begin with '# ?' are questions: decide, then delete them."
    for words in draft.unfinished:
        yield f"# not checked, so that something may be missing here: {visible(words)}"
    yield ""
    yield from _doubts(question.text if question.place == "." else f"{question.place}: {question.text}" for question in draft.questions)
    yield "[charter]"
    yield "version = 1"
    yield f"source  = {_value(draft.source)}"
    if includes:
        yield from _listed("include", includes)
    if draft.aside:
        yield "ignore  = ["
        yield from (f"  {_value(aside.pattern)},  # {visible(aside.reason)}" for aside in draft.aside)
        yield "]"
    for table in (_roster, _chains, _audience, _gate, _messages):
        yield from table(draft)


def _roster(draft: Draft) -> Iterator[str]:
    yield ""
    yield "[roster]"
    yield from _listed("shipping", draft.shipping)
    if draft.trial:
        yield "# claimed by few clients, or held less than half: each with the share of messages that clients have today"
        yield f"trial    = {_table(draft.trial)}"
    if draft.pseudo:
        yield from _listed("pseudo  ", draft.pseudo)


def _chains(draft: Draft) -> Iterator[str]:
    yield ""
    yield "[chains]"
    yield f"default = [{_value(draft.default)}]"
    for tag, chain in draft.chains.items():
        yield f"{_key(tag)} = {_value(chain)}"


def _audience(draft: Draft) -> Iterator[str]:
    if draft.audience:
        yield ""
        yield "[audience]"
        for request in draft.audience:
            if request.landing is None:
                yield from _doubts([asked(request)])
                yield f'# {_key(request.request)} = "agree"'
            else:
                yield f"{_key(request.request)} = {_value(request.landing)}"


def _gate(draft: Draft) -> Iterator[str]:
    yield ""
    yield "[gate]"
    yield 'fail-on = "error"'
    levels: dict[str, str] = {}
    loose = [client for client in draft.clients if client.usage.is_loose]
    for client in loose:
        yield f"# ? how else does the code of {visible(client.name)} ask for messages? {client.usage.unused:,} were found nowhere in it"
    if loose:
        levels["key.unused"] = "off"
    if levels:
        yield f"severity = {_table(levels)}"


def _messages(draft: Draft) -> Iterator[str]:
    if draft.source_only:
        yield ""
        yield "[messages]"
        yield f"source-only-keys = {_value(draft.source_only)}  # only the source has them, beside each message: notes"
    for syntax in draft.syntaxes:
        yield ""
        yield from (f"# {visible(example)}" for example in syntax.examples)
        yield f"[syntax.{syntax.name}]"
        yield f"placeholder = {_expression(syntax.placeholder)}"


def _clients(clients: Iterable[DraftClient]) -> Iterator[str]:
    for client in clients:
        yield ""
        yield from _client(client)


def _client(client: DraftClient) -> Iterator[str]:
    yield from _doubts(
        question.text if question.place == client.root else f"{question.place}: {question.text}" for question in client.doubts
    )
    yield "[[client]]"
    settings: dict[str, Any] = {"name": client.name, "kind": client.kind, "root": client.root}
    if client.platform:
        settings["platform"] = client.platform
    if client.stated:
        settings["source"] = client.source
    without = dict.fromkeys(client.lacks, "not found here by the survey")
    if client.trial:
        settings["trial"] = client.trial
    if without:
        settings["without"] = without
    yield from _settings({**settings, **_unsure(client.sure)}, "")
    if client.by_files:
        yield ""
        yield "  [client.runtime]"
        yield '  supported = "files"'
    for catalog in client.catalogs:
        yield ""
        yield from _doubts(catalog.doubts, "  ")
        yield "  [[client.catalog]]"
        yield from _settings({**catalog.settings, **_unsure(catalog.confidence)}, "  ")
    for claim in client.claims:
        yield ""
        yield from _doubts(claim.doubts, "  ")
        yield "  [[client.claim]]"
        yield from _settings({**claim.settings, **_unsure(claim.confidence)}, "  ")
    yield from _doubts(client.usage.doubts, "  ")
    for table, evidence in client.usage.tables:
        yield ""
        yield f"  # {visible(evidence)}"
        yield "  [[client.usage]]"
        yield from _settings(table, "  ")


#: A table of which the survey is surer than this needs no confirmation.
_SURE = 0.95


def _unsure(sure: float) -> dict[str, float]:
    """How sure the survey is, where somebody is to confirm it."""
    return {"sure": sure} if sure < _SURE else {}


def _doubts(texts: Iterable[str], indent: str = "") -> Iterator[str]:
    for text in texts:
        yield f"{indent}# ? {visible(text)}"


def _settings(settings: Mapping[str, Any], indent: str) -> Iterator[str]:
    width = max(map(len, settings), default=0)
    for name, value in settings.items():
        yield f"{indent}{name:<{width}} = {_table(value) if isinstance(value, Mapping) else _value(value)}"


def _listed(name: str, values: Sequence[str]) -> Iterator[str]:
    """A list, in lines of some length."""
    line = f"{name} = {_value(values)}"
    if len(line) <= _WIDTH:
        yield line
        return
    yield f"{name} = ["
    row = " "
    for value in values:
        piece = f" {_value(value)},"
        if len(row) + len(piece) > _WIDTH:
            yield row
            row = " "
        row += piece
    yield row
    yield "]"


def _value(value: Any) -> str:
    if isinstance(value, bool):
        return "true" if value else "false"
    if isinstance(value, (int, float)):
        return f"{value:.2f}" if isinstance(value, float) else str(value)
    if isinstance(value, Sequence) and not isinstance(value, str):
        return f"[{', '.join(map(_value, value))}]"
    return _UNSEEN.sub(lambda match: f"\\u{ord(match[0]):04x}", json.dumps(str(value), ensure_ascii=False))


def _key(name: str) -> str:
    return name if _BARE.fullmatch(name) else _value(name)


def _expression(text: str) -> str:
    return f"'{text}'" if "'" not in text and text.isprintable() else _value(text)


def _table(value: Mapping[Any, Any]) -> str:
    return f"{{ {', '.join(f'{_key(name)} = {_table(item) if isinstance(item, Mapping) else _value(item)}' for name, item in value.items())} }}"
