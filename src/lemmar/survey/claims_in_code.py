"""Claims in source code: declarations, options of calls, repeated calls, functions that test for each locale, single locales beside a list."""

from __future__ import annotations

import re
from collections import defaultdict
from collections.abc import Iterator
from typing import Any

from lemmar import languages
from lemmar.basics.expressions import expression
from lemmar.basics.text import Characters, Lines
from lemmar.documents.nodes import UNNAMED, Node
from lemmar.inventory.aside import is_packed
from lemmar.languages import Call, Declaration, SourceFile
from lemmar.survey.draft import DraftClaim
from lemmar.survey.listing import CHAIN, NO_LIST, FoundList, Lists, state_of, tuple_of
from lemmar.survey.paths import locale_of

_FUNCTION = expression(r"function|method|body|arrow|lambda|class|getter")
_DOUBT = "is this the locale that users get of whom nothing else is known? It is the only one beside the list"


def claims_in_code(lists: Lists, file: str, data: bytes, suffix: str) -> list[DraftClaim]:
    """The claims in a file of source code. Raises `IncompleteError`."""
    parsed = languages.parse(data, suffix) if not is_packed(data) else None
    return _Code(lists, file, parsed, data).found() if parsed is not None else []


class _Code:
    def __init__(self, lists: Lists, file: str, parsed: SourceFile, data: bytes) -> None:
        self.lists = lists
        self.file = file
        self.parsed = parsed
        self.declared = list(parsed.declarations())
        self.types = [each for each in self.declared if is_type(each)]
        self._lines, self._at = Lines(data.decode("utf-8", "replace")), Characters(data)
        self.base = file.rpartition("/")[2].rpartition(".")[0]

    def line(self, offset: int) -> int:
        return self._lines.place(self._at.offset(offset))[0]

    def found(self) -> list[DraftClaim]:
        if NO_LIST.search(self.base):
            return []
        claims = list(self._declarations())
        claims += self._calls()
        if not any(claim.states == "supported" for claim in claims):
            claims += self._tested()
        if claims:
            claims += self._singles(claims)
        return claims

    # --------------------------------------------------------------------------------------------------------- declarations

    def _declarations(self) -> Iterator[DraftClaim]:
        seen: set[tuple[int, int]] = set()
        for syntax in self.parsed.exported():
            one = next(self.lists.lists(self.parsed.value(syntax)), None)
            if one is not None:
                seen.add((syntax.start_byte, syntax.end_byte))
                yield self.lists.claim(self.file, {"symbol": "*"}, one, self.line(one.offset), "")
        for found in self.declared:
            span = (found.value.start_byte, found.value.end_byte)
            if span in seen or NO_LIST.search(found.name) or any(start <= span[0] and span[1] <= end for start, end in seen):
                continue
            if found.value.end_byte - found.value.start_byte < 5:
                continue
            node = self.parsed.value(found.value)
            if self.lists.is_beta(found.name, node):
                seen.add(span)
                continue
            if node.kind in ("map", "list") and self.lists.is_chain(node, found.name) and (node.kind == "map" or CHAIN.search(found.name)):
                seen.add(span)
                yield from self._chain({"symbol": f"{holder(self.types, found)}{found.name}"}, node, self.line(node.start))
                continue
            one = next(self.lists.lists(node), None)
            if one is not None:
                seen.add(span)
                selector = {"symbol": f"{holder(self.types, found)}{found.name}"}
                yield self.lists.claim(self.file, selector, one, self.line(one.offset), found.name)

    def _chain(self, selector: dict[str, Any], node: Node, line: int) -> Iterator[DraftClaim]:
        """What the program falls back to: a list, or a map from locale to list or text."""
        links = node.items if node.kind == "list" else [link for each in node.members for link in (each.node.items or [each.node])]
        tags = [tag for link in links if (tag := locale_of(link.text)) is not None]
        settings = {"states": "chain", "file": self.lists.below(self.file), **selector}
        yield DraftClaim(settings, tuple_of(tags), f"{self.file}:{line}", 0.8)

    # ---------------------------------------------------------------------------------------------------------------- calls

    def _calls(self) -> Iterator[DraftClaim]:
        """The options of a call that starts the program: lists of locales inside of a map, and lists as arguments; calls that are repeated."""
        by_name: dict[str, list[Call]] = defaultdict(list)
        for call in self.parsed.calls():
            if call.name and "(" not in call.name:
                by_name[call.name].append(call)
            yield from self._options(call)
        for name, calls in by_name.items():
            if 2 <= len(calls) <= 400 and not NO_LIST.search(name):
                yield from self._repeated(name, calls)

    def _options(self, call: Call) -> Iterator[DraftClaim]:
        for index, (label, argument) in enumerate(call.arguments):
            node = self.parsed.value(argument)
            step = label or str(index)
            listed = False
            nested = [(f"/{step}", node)] + [(f"/{step}/{member.key}", member.node) for member in node.members if member.key != UNNAMED]
            for pointer, inner in nested:
                if (
                    not call.name
                    or "(" in call.name
                    or (pointer.count("/") == 1 and inner.kind in ("map", "text"))
                    or NO_LIST.search(pointer)
                ):
                    continue
                if inner.kind in ("map", "list") and CHAIN.search(pointer):
                    if self.lists.is_chain(inner, pointer):
                        yield from self._chain({"call": call.name, "pointer": pointer}, inner, self.line(inner.start))
                    continue
                one = next(self.lists.lists(inner), None) if not listed else None
                if one is not None and one.take in (None, "keys"):
                    listed = True
                    yield self.lists.claim(self.file, {"call": call.name, "pointer": pointer}, one, self.line(one.offset), pointer)
                    yield from self._call_singles(call.name, step, node)

    def _call_singles(self, name: str, step: str, node: Node) -> Iterator[DraftClaim]:
        states: set[str] = set()
        for member in node.members:
            state = state_of(member.key) if member.node.kind == "text" else None
            if state is not None and state not in states:
                selector = {"call": name, "pointer": f"/{step}/{member.key}"}
                claim = self.lists.one(self.file, state, selector, member.node.text, self.line(member.start))
                if claim is not None:
                    states.add(state)
                    yield claim

    def _repeated(self, name: str, calls: list[Call]) -> Iterator[DraftClaim]:
        """One call a locale: ``addTongue("pt", "BR")``, ``register("de", "Deutsch")``."""
        rows = [[self.parsed.value(argument) for _, argument in call.arguments] for call in calls]
        if any(not row or row[0].kind != "text" for row in rows):
            return
        joined = tuple("-".join(node.text for node in row) if all(node.kind == "text" for node in row) else "" for row in rows)
        first = tuple(row[0].text for row in rows)
        for texts, selector in ((joined, {"call": name}), (first, {"call": name, "pointer": "/0"})):
            if self.lists.tags(texts) is not None:
                one = FoundList(None, texts, None, rows[0][0].start, None)
                yield self.lists.claim(self.file, selector, one, self.line(one.offset), name)
                return

    # ---------------------------------------------------------------------------------------------------------------- tests

    def _tested(self) -> Iterator[DraftClaim]:
        """A function that compares with a locale for each that it knows: the innermost that tests them all."""
        best: tuple[int, DraftClaim] | None = None
        for found in self.declared:
            node = found.value
            if node.type in self.parsed.texts or node.child_count == 0 or not _FUNCTION.search(node.type) or NO_LIST.search(found.name):
                continue
            texts = self.parsed.tested([found.name]) or []
            plain = tuple(dict.fromkeys(text.text for text in texts))
            if len(plain) < 3 or self.lists.tags(plain) is None:
                continue
            one = FoundList("cases", plain, None, texts[0].start, None)
            symbol = f"{holder(self.types, found)}{found.name}"
            claim = self.lists.claim(self.file, {"symbol": symbol}, one, self.line(one.offset), found.name)
            if best is None or node.end_byte - node.start_byte < best[0]:
                best = (node.end_byte - node.start_byte, claim)
        if best is not None:
            yield best[1]

    # -------------------------------------------------------------------------------------------------------------- singles

    def _singles(self, claims: list[DraftClaim]) -> Iterator[DraftClaim]:
        """The default and the source that constants beside a list state by their names; else the only locale beside it, which is asked."""
        stated = {claim.states for claim in claims}
        others: list[tuple[Declaration, Node]] = []
        for found in self.declared:
            node = self.parsed.value(found.value) if found.value.end_byte - found.value.start_byte < 200 else None
            if node is None or node.kind != "text" or NO_LIST.search(found.name) or self.lists.single(node.text) is None:
                continue
            state = state_of(found.name)
            if state is None:
                others.append((found, node))
            elif state not in stated:
                claim = self._single(found, node, state)
                if claim is not None:
                    stated.add(state)
                    yield claim
        listed = any(claim.states in ("supported", "offered") for claim in claims)
        if listed and "default" not in stated and len(others) == 1 and _TONGUE.search(others[0][0].name):
            claim = self._single(*others[0], "default", _DOUBT)
            if claim is not None:
                yield claim

    def _single(self, found: Declaration, node: Node, state: str, doubt: str | None = None) -> DraftClaim | None:
        selector = {"symbol": f"{holder(self.types, found)}{found.name}"}
        return self.lists.one(self.file, state, selector, node.text, self.line(found.at.start_byte), doubt)


_TONGUE = expression(r"lang|locale|tongue|culture|i18n|l10n", re.I)


def is_type(found: Declaration) -> bool:
    """Whether a declaration is of a type, whose members are reached by its name."""
    return any(word in found.value.type for word in ("class", "struct", "object_declaration", "interface", "module", "enum"))


def holder(types: list[Declaration], found: Declaration) -> str:
    """``Class.`` for a member of one of the *types*, so that the name reaches inside."""
    best, size, offset = "", 1 << 60, found.at.start_byte
    for each in types:
        inside = each.value.start_byte < offset < each.value.end_byte
        if inside and each.name != found.name and each.value.end_byte - each.value.start_byte < size:
            best, size = f"{each.name}.", each.value.end_byte - each.value.start_byte
    return best
