"""Reads what a client claims: finds the file, asks the selector, reads each locale in the place's spelling."""

from __future__ import annotations

import posixpath
import re
from collections.abc import Mapping
from typing import Any, NamedTuple

from lemmar.basics.errors import IncompleteError
from lemmar.charter.types import ClaimEntry
from lemmar.documents.merges import unfinished
from lemmar.documents.pointers import POINTS, is_pointer
from lemmar.formats import NOTHING, Defect
from lemmar.inventory.catalogs import gathers_catalogs, one_each
from lemmar.inventory.contents import Claim, Named
from lemmar.inventory.locales import Speller
from lemmar.selectors import Pick, Selection, Selector, Value
from lemmar.tags import Tag
from lemmar.trees import File, Tree
from lemmar.trees.patterns import matcher


class Known(NamedTuple):
    """What the rest of a charter says of claims: the headers of sheets, by file, that are something else than locales; for the pattern of a
    catalog what it excepts; the test locales, which files may have and which they do not claim.
    """

    columns: Mapping[File, Mapping[str, Any]] = NOTHING
    excepted: Mapping[str, tuple[str, ...]] = NOTHING
    pseudo: tuple[Tag, ...] = ()


def read_claim(tree: Tree, claim: ClaimEntry, root: str, speller: Speller, known: Known) -> Claim:
    """The claim as its file states it; what cannot be read of it is among its defects, and a claim that is empty has one."""
    selector, columns = claim.selector, known.columns
    if selector.of_files is not None:
        excepted = [matcher(pattern, root) for pattern in known.excepted.get(claim.pick().text, ())]
        matches = [
            match
            for match in one_each(tree.files(claim.pick().text, root), speller)
            if not gathers_catalogs(match)
            and not any(each(match.file) for each in excepted)
            and speller.tag(match.locale or "") not in known.pseudo
        ]
        return _files_claim(claim, *selector.of_files(matches), root, speller)
    file = File(posixpath.normpath(posixpath.join(root, claim.file or "")))
    asked = claim.pick(columns.get(file, NOTHING))
    named = f"{selector.name} {asked.text}{asked.pointer or ''}".strip()
    if not tree.is_file(file):
        moved = _moved(tree, selector, asked, file, root)
        return Claim(claim.states, file, named, (), (Defect("unreadable", 1, 1, "the file is not there"),), gone=True, moved=moved)
    try:
        digest, data = tree.read(file)
    except OSError as error:
        words = f"the file cannot be read: {error.strerror or error}"
        return Claim(claim.states, file, named, (), (Defect("unreadable", 1, 1, words),))
    if is_pointer(data):
        return Claim(claim.states, file, named, (), (Defect("unreadable", 1, 1, POINTS),))
    merge = unfinished(data)
    try:
        selection = selector.select(merge.ours if merge is not None else data, asked)
        if merge is not None:  # what either side states is stated
            held = {value.text for value in selection.values}
            more = (value for value in selector.select(merge.theirs, asked).values if value.text not in held)
            selection = selection._replace(values=(*selection.values, *more))
    except IncompleteError as error:
        return Claim(claim.states, file, named, (), unfinished=f"{file}: {error}")
    values = _split(selection.values, claim.split)
    if file.endswith(".pbxproj"):  # its list of regions names layouts as well
        values = [value for value in values if value.text not in ("Base", "mul")]
    if claim.states == "chain":  # the keys of the map are locales as well
        values = [value._replace(label=_key(value.label, speller)) for value in values]
    if selector.flag:  # a sheet may have test locales as well, as folders may
        values = [value for value in values if speller.tag(value.text) not in known.pseudo]
    is_said = claim.states == "mirrored"  # what such a claim says is yes or no
    entries = [Named(value, speller.spelling, None) if is_said else speller.read(value) for value in values]
    defects = _defects(selection) if merge is None else (Defect("conflict", merge.line, 1, "an unfinished merge begins here"),)
    return Claim(claim.states, file, named, tuple(entries), defects, digest, claim.ordered, claim.transitive)


#: Of so many files the contents are looked at for a claim that has moved.
_MOST_LOOKED_AT = 500


def _moved(tree: Tree, selector: Selector, asked: Pick, file: File, root: str) -> File | None:
    """The one file of the client in which stands what a claim names, where its own is gone: one of the same name, else one of the same kind
    that has the same name in it. None where there is none, or several.
    """
    name = file.rpartition("/")[2]
    _, dot, suffix = name.rpartition(".")
    every = [match.file for match in tree.files(f"**/*{dot}{suffix}", root) if match.file != file] if dot else []
    wanted = re.findall(r"\w{3,}", asked.text)
    found = {}
    for other in sorted(every, key=lambda other: (other.rpartition("/")[2] != name, other))[:_MOST_LOOKED_AT]:
        same_name = other.rpartition("/")[2] == name
        try:
            _, data = tree.read(other)
            if (wanted and wanted[-1].encode() in data) or (same_name and not wanted):
                found[other] = bool(selector.select(data, asked).values)
        except (OSError, IncompleteError):
            continue
    those = [other for other, holds in found.items() if holds]
    named = [other for other in those if other.rpartition("/")[2] == name]
    return (named or those)[0] if len(named or those) == 1 else None


def _key(label: str | None, speller: Speller) -> str | None:
    return label if label in (None, "default", "*") else str(speller.tag(label or "") or label)


def _split(values: tuple[Value, ...], separator: str | None) -> list[Value]:
    if separator is None:
        return list(values)
    found = []
    for value in values:
        offset = 0
        for piece in value.text.split(separator):
            if piece.strip():
                found.append(Value(piece.strip(), value.line, value.column + offset))
            offset += len(piece) + len(separator)
    return found


def _defects(selection: Selection) -> tuple[Defect, ...]:
    if not selection.values and not selection.defects:
        return (Defect("unreadable", 1, 1, "no locale stands there"),)
    return selection.defects


def _files_claim(claim: ClaimEntry, selection: Selection, files: tuple[File, ...], root: str, speller: Speller) -> Claim:
    """The claim that the files' own names are."""
    entries = tuple(speller.read(value) for value in selection.values)
    first = files[0] if files else File(root)
    return Claim(claim.states, first, f"{claim.selector.name} {claim.pick().text}", entries, _defects(selection))
