"""Brings catalogs together that are parts of one: files side by side, folders of several depths, one layout in many folders."""

from __future__ import annotations

import re
from collections import defaultdict
from collections.abc import Sequence
from typing import Any

from lemmar.documents.structured import suffix_of
from lemmar.survey.draft import DraftCatalog


def joined(catalogs: list[DraftCatalog]) -> list[DraftCatalog]:
    """Catalogs that differ only in one name are parts of one: ``{locale}/booking.json`` and ``{locale}/hut.json``."""
    groups: dict[tuple[Any, ...], list[DraftCatalog]] = defaultdict(list)
    for catalog in catalogs:
        pattern = str(catalog.settings["files"])
        facts = {name: str(value) for name, value in catalog.settings.items() if name not in ("files", "spelling", "spelled")}
        words = catalog.spelling == "name" or "spelled" in catalog.settings
        groups[catalog.base, _with_part(pattern), words, tuple(sorted(facts.items()))].append(catalog)
    found: list[DraftCatalog] = []
    for (_, pattern, _, _), members in groups.items():
        if len(members) == 1 or "{part}" not in pattern:
            found += members
        else:
            found.append(_merged(members, members[0].base, pattern))
    return _deepened(found)


def _merged(members: Sequence[DraftCatalog], base: str, pattern: str) -> DraftCatalog:
    spelling = next((member.spelling for member in members if member.spelling), None)
    settings = {**members[0].settings, "files": pattern, **({"spelling": spelling} if spelling else {})}
    spelled = {token: tag for member in members for token, tag in member.settings.get("spelled", {}).items()}
    if spelled:
        settings["spelled"] = spelled
    return members[0]._replace(
        base=base,
        settings=settings,
        locales=tuple(dict.fromkeys(tag for member in members for tag in member.locales)),
        files=tuple(file for member in members for file in member.files),
        messages=sum(member.messages for member in members),
        confidence=max(member.confidence for member in members),
        spelling=spelling,
        unmarked=next((member.unmarked for member in members if member.unmarked), None),
        held={tag: file for member in reversed(members) for tag, file in member.held.items()},
        doubts=tuple(dict.fromkeys(doubt for member in members for doubt in member.doubts)),
    )


def _deepened(catalogs: list[DraftCatalog]) -> list[DraftCatalog]:
    """Catalogs below one folder a locale, in folders of several depths, are one whose part spans folders."""
    groups: dict[tuple[Any, ...], list[DraftCatalog]] = defaultdict(list)
    for catalog in catalogs:
        pattern = str(catalog.settings["files"])
        if pattern.startswith("{locale}/") and pattern.count("{locale}") == 1 and not pattern.startswith("{locale}/LC_MESSAGES"):
            groups[catalog.base, suffix_of(pattern), catalog.settings.get("format"), catalog.settings.get("layout")].append(catalog)
    gone: set[int] = set()
    found = []
    for (base, suffix, _, _), members in groups.items():
        if len(members) > 1 and len({str(member.settings["files"]).count("/") for member in members}) + len(members) > 3:
            found.append(_merged(members, base, f"{{locale}}/{{part+}}{suffix}"))
            gone |= {id(member) for member in members}
    return [catalog for catalog in catalogs if id(catalog) not in gone] + found


def across_folders(catalogs: list[DraftCatalog]) -> list[DraftCatalog]:
    """Many catalogs of one client whose folders differ in one name only are one, of which that name is the part."""
    groups: dict[tuple[Any, ...], list[tuple[DraftCatalog, str, str]]] = defaultdict(list)
    for catalog in catalogs:
        parts = catalog.base.split("/") if catalog.base else []
        if "{part" in str(catalog.settings["files"]) or "{locale}" not in str(catalog.settings["files"]):
            continue
        for index in range(len(parts)):
            above, below = "/".join(parts[:index]), "/".join(parts[index + 1 :])
            groups[above, below, str(sorted(catalog.settings.items()))].append((catalog, above, below))
    gone: set[int] = set()
    joined = []
    for members in sorted(groups.values(), key=len, reverse=True):
        fresh = [member for member in members if id(member[0]) not in gone]
        if len(fresh) < 3:
            continue
        first, above, below = fresh[0]
        pattern = "/".join(part for part in ("{part}", below, str(first.settings["files"])) if part)
        joined.append(_merged([catalog for catalog, _, _ in fresh], above, pattern))
        gone |= {id(catalog) for catalog, _, _ in fresh}
    return _at_any_depth([catalog for catalog in catalogs if id(catalog) not in gone] + joined)


def _at_any_depth(catalogs: list[DraftCatalog]) -> list[DraftCatalog]:
    """Many catalogs of one client whose files have the same name, in folders of whatever depth, are one: the folder is the part."""
    groups: dict[str, list[tuple[DraftCatalog, str, str]]] = defaultdict(list)
    for catalog in catalogs:
        pattern = str(catalog.settings["files"])
        plain = pattern.removeprefix("{part}/")
        if "{part" in plain or not re.match(r"[\w.-]+\[?[-_.]\{locale\}", plain):
            continue
        facts = {name: str(value) for name, value in catalog.settings.items() if name not in ("files", "spelling")}
        folder = catalog.base if plain == pattern else f"{catalog.base}/*" if catalog.base else "*"
        groups[f"{plain} {sorted(facts.items())}"].append((catalog, folder, plain))
    gone: set[int] = set()
    joined = []
    for members in groups.values():
        if len(members) >= _MANY:
            above = common_folder([folder.rpartition("/")[0] for _, folder, _ in members])
            joined.append(_merged([catalog for catalog, _, _ in members], above, f"{{part+}}/{members[0][2]}"))
            gone |= {id(catalog) for catalog, _, _ in members}
    return [catalog for catalog in catalogs if id(catalog) not in gone] + joined


#: As many catalogs of one name are one in many folders.
_MANY = 4


def common_folder(folders: Sequence[str]) -> str:
    """The deepest folder that all *folders* lie in or are."""
    shared: list[str] = []
    for names in zip(*(folder.split("/") if folder else [] for folder in folders), strict=False):
        if len(set(names)) > 1:
            break
        shared.append(names[0])
    return "/".join(shared)


def _with_part(pattern: str) -> str:
    """*pattern* with its file's own name as the part, where the locale is named by a folder or behind a sign."""
    folder, _, name = pattern.rpartition("/")
    suffix = suffix_of(pattern)
    if name.startswith("]"):  # [{locale}/]words.json
        return f"{folder}/]{{part}}{suffix}"
    if "{locale}" in folder:
        return f"{folder}/{{part}}{suffix}" if "{" not in name else pattern
    match = re.fullmatch(r"(\[?)([\w-]+?)([-_.]?)(\[?[-_.]\{locale\}\]?)(\.\w+)", name)
    if match and match.group(2):
        return "/".join(part for part in (folder, f"{{part}}{match.group(3)}{match.group(4)}{match.group(5)}") if part)
    return pattern
