"""Where a client says that it mirrors its layout for locales that run from right to left."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Sequence
from typing import NamedTuple

from lemmar import languages
from lemmar.basics.errors import IncompleteError
from lemmar.basics.expressions import expression
from lemmar.basics.text import Lines, decode
from lemmar.documents import structured
from lemmar.documents.nodes import Node
from lemmar.documents.structured import suffix_of
from lemmar.inventory.aside import is_packed
from lemmar.languages import SourceFile
from lemmar.survey.claims_in_code import holder, is_type
from lemmar.survey.claims_in_documents import DOCUMENTS
from lemmar.survey.contents import Contents
from lemmar.survey.draft import DraftClaim
from lemmar.tags import LanguageTag, Tag, direction
from lemmar.trees import File

_NAME = expression(r"(?i)mirror(?:s|ed|ing)?(?:_?layouts?)?$|(?:supports?|has|is)_?rtl$|rtl_?(?:support|enabled|layout)")
_SIGNS = (b"mirror", b"rtl")
_IN_MANIFEST = expression(rb'<application\b[^>]*\sandroid:supportsRtl\s*=\s*"(?:true|false)"')
_XPATH = "/manifest/application/@android:supportsRtl"
_MOST_BYTES = 256 * 1024


class _Found(NamedTuple):
    selector: dict[str, str]
    says_yes: bool
    line: int


def mirrored_claims(contents: Contents, root: str, files: Iterable[File], locales: Sequence[Tag]) -> Iterator[DraftClaim]:
    """The claim that says so, for a client under *root* with a catalog of such a locale; none where no place does. Of several the first that says yes."""
    if all(direction(LanguageTag.parse(tag)) == "ltr" for tag in locales):
        return
    every: list[tuple[File, _Found]] = []
    for file in files:
        data = contents.data(file)
        if data is None or len(data) > _MOST_BYTES or not any(sign in data.lower() for sign in _SIGNS):
            continue
        every += [(file, found) for found in _in_file(file, data)]
    for file, found in sorted(every, key=lambda each: not each[1].says_yes)[:1]:
        below = file.removeprefix(f"{root}/") if root else file
        yield DraftClaim({"states": "mirrored", "file": below, **found.selector}, (), f"{file}:{found.line}", 0.7)


def _in_file(file: File, data: bytes) -> Iterator[_Found]:
    suffix = suffix_of(file)
    manifest = _IN_MANIFEST.search(data) if suffix == ".xml" else None
    if manifest is not None:
        yield _Found({"xpath": _XPATH}, b'="true"' in manifest[0][-8:], data.count(b"\n", 0, manifest.end()) + 1)
    elif suffix in DOCUMENTS:
        yield from _in_document(data, suffix)
    elif languages.load(suffix) is not None and not is_packed(data):
        try:
            parsed = languages.parse(data, suffix)
        except IncompleteError:
            return
        if parsed is not None:
            yield from _in_code(parsed, data)


def _in_document(data: bytes, suffix: str) -> Iterator[_Found]:
    root, _, text = structured.scan(data, suffix)
    lines = Lines(text)
    stack: list[tuple[str, Node]] = [("", root)] if root is not None else []
    while stack:
        pointer, node = stack.pop()
        for member in node.members:
            step = member.key.replace("~", "~0").replace("/", "~1")
            if member.node.kind == "bool" and _NAME.search(member.key):
                says_yes = member.node.text.lower() in ("true", "yes", "on")
                yield _Found({"pointer": f"{pointer}/{step}"}, says_yes, lines.place(member.start)[0])
            stack.append((f"{pointer}/{step}", member.node))


def _in_code(parsed: SourceFile, data: bytes) -> Iterator[_Found]:
    declared = list(parsed.declarations())
    types = [each for each in declared if is_type(each)]
    for each in declared:
        if _NAME.search(each.name):
            node = parsed.value(each.value)
            if node.kind == "bool":
                line = decode(data[: node.start]).text.count("\n") + 1
                yield _Found({"symbol": f"{holder(types, each)}{each.name}"}, node.text.lower() == "true", line)
