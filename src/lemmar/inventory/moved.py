"""Where files went that a pattern of the charter does not find: files of its shape elsewhere below the client's root."""

from __future__ import annotations

from collections import Counter
from collections.abc import Collection, Iterable

from lemmar.inventory.locales import Speller
from lemmar.tags import Tag
from lemmar.trees import File, Match, Tree
from lemmar.trees.patterns import PatternError


def moved(
    tree: Tree, pattern: str, base: str, speller: Speller, wanted: Collection[Tag], taken: Collection[File], others: Iterable[str]
) -> dict[Tag, File]:
    """For each *wanted* locale that has one the file that stands below *base* as *pattern* has it, but for its first folders; of several the one whose
    folder has most of them. *taken* are files that are known already, *others* the roots of other clients.
    """
    steps = pattern.split("/")
    fixed = next((index for index, step in enumerate(steps) if any(sign in step for sign in "{[*?")), len(steps) - 1)
    try:
        matches = tree.files("/".join(("**", *steps[fixed:])), base)
    except PatternError:  # it leads out of the client, or its first folders are in brackets
        return {}
    inside = [f"{root}/" for root in others if root not in ("", ".") and root.startswith(f"{base}/" if base else "")]
    found: dict[str, dict[Tag, File]] = {}
    for match in matches:
        tag = speller.tag(match.locale) if match.locale is not None else None
        if tag in wanted and tag is not None and match.file not in taken and not match.file.startswith(tuple(inside)):
            found.setdefault(_above(match), {}).setdefault(tag, match.file)
    counts = Counter({folder: len(those) for folder, those in found.items()})
    best: dict[Tag, File] = {}
    for folder in sorted(found, key=lambda folder: (-counts[folder], folder.count("/"), folder)):
        best = {**found[folder], **best}
    return best


def _above(match: Match) -> str:
    """The folder of a file, without the one that names its locale."""
    return "/".join(step for step in match.file.split("/")[:-1] if step != match.locale)
