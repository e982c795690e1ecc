"""Two catalogs of a client that hold the same messages: one is the other's export, or its copy."""

from __future__ import annotations

import re
from collections.abc import Sequence
from typing import NamedTuple

from lemmar import formats
from lemmar.inventory.aside import Aside, made_from
from lemmar.survey.contents import Contents
from lemmar.survey.draft import DraftCatalog, Question
from lemmar.tags import Tag


class Parted(NamedTuple):
    """Catalogs, and those beside them that hold the same: what is set aside of these, and what is to be asked."""

    kept: list[DraftCatalog]
    aside: list[Aside]
    questions: list[Question]


def without_exports(catalogs: Sequence[DraftCatalog], contents: Contents) -> Parted:
    """*catalogs* without those that are an export or a copy of another one."""
    kept: list[DraftCatalog] = []
    aside: list[Aside] = []
    questions: list[Question] = []
    for catalog in sorted(catalogs, key=_rank):
        texts = _texts(catalog, contents)
        twin = next(
            (
                other
                for other in kept
                if set(catalog.locales) <= set(other.locales)
                and (_is_compiled(catalog, other) or (texts and _are_twins(texts, _texts(other, contents), _differ(catalog, other))))
            ),
            None,
        )
        if twin is None:
            kept.append(catalog)
        else:
            words = f"is it an export or a copy of {twin.files[0]}? Both hold the same texts; only that one is audited"
            questions.append(Question(catalog.files[0], words))
            pattern = re.sub(r"\[[^\]]*\]|\{[^}]*\}", "*", str(catalog.settings["files"]))
            aside.append(Aside(f"{catalog.base}/{pattern}" if catalog.base else pattern, f"holds the same texts as {twin.files[0]}"))
    return Parted(sorted(kept, key=catalogs.index), aside, questions)


def _differ(one: DraftCatalog, other: DraftCatalog) -> bool:
    """Whether they are in two formats, or in two versions of one side by side."""
    return one.settings["format"] != other.settings["format"] or (
        one.settings["format"] == "xliff" and set(one.locales) <= set(other.locales)
    )


def _rank(catalog: DraftCatalog) -> tuple[object, ...]:
    """What is kept first: what translators work on, what no build has made, what has most locales and is least deep."""
    is_source = "src" in catalog.base.split("/")
    return (
        -_carries(catalog),
        made_from(catalog.base) is not None,
        not is_source,
        -len(catalog.locales),
        catalog.base.count("/"),
        catalog.base,
    )


def _carries(catalog: DraftCatalog) -> bool:
    return formats.load(str(catalog.settings["format"])).habits.carries_source


def _is_compiled(catalog: DraftCatalog, other: DraftCatalog) -> bool:
    """Whether each file lies beside one of *other* that translators work on, with the same name and another suffix."""
    beside = {file.rpartition(".")[0] for file in other.files}
    return _carries(other) and not _carries(catalog) and all(file.rpartition(".")[0] in beside for file in catalog.files)


def _texts(catalog: DraftCatalog, contents: Contents) -> dict[Tag, frozenset[str]]:
    """The texts of up to three locales."""
    form = formats.load(str(catalog.settings["format"]))
    found = {}
    for tag, file in sorted(catalog.held.items())[:3] if len(catalog.held) < 200 else ():
        column = contents.column(file, form, str(catalog.settings.get("layout", form.layouts[0])))
        if column is not None:
            found[tag] = frozenset(text for text in column.texts if text)
    return found


def _are_twins(one: dict[Tag, frozenset[str]], other: dict[Tag, frozenset[str]], differ: bool) -> bool:
    """Whether two catalogs hold the same texts: most of them in two formats; nearly all, and several, where they are copies in one."""
    least, share = (2, 0.8) if differ else (7, 0.97)
    common = [tag for tag in one if tag in other and len(one[tag]) > least]
    return bool(common) and all(len(one[tag] & other[tag]) >= share * max(len(one[tag]), len(other[tag])) for tag in common)
