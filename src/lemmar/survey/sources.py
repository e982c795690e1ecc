"""Which locale the messages of a client are written in: what its files state, its unmarked file, else what is there most."""

from __future__ import annotations

import re
from collections import Counter
from collections.abc import Sequence
from typing import NamedTuple

from lemmar import formats
from lemmar.basics.expressions import expression
from lemmar.survey.contents import Contents
from lemmar.survey.draft import DraftCatalog
from lemmar.tags import LanguageTag, Tag, read_spelling

# What projects say of the language that they are written in.
_NEUTRAL = expression(
    rb"<NeutralLanguage>\s*([A-Za-z-]{2,12})\s*<|NeutralResourcesLanguage(?:Attribute)?\s*\(\s*\"([A-Za-z-]{2,12})\""
    rb"|\bdevelopmentRegion\s*=\s*\"?([A-Za-z_-]{2,12})\"?;|<key>CFBundleDevelopmentRegion</key>\s*<string>([A-Za-z_-]{2,12})</string>"
)
_TEMPLATE = expression(rb"^\s*template-[a-z-]*file\s*:\s*[\"']?([\w./-]+)", re.MULTILINE)
_SETTINGS = expression(
    r"(?:^|/)(?:[^/]+\.(?:csproj|vbproj|fsproj|props)|AssemblyInfo\.(?:cs|vb)|project\.pbxproj|Info\.plist|l10n\.ya?ml)$"
)


class Source(NamedTuple):
    """A client's source: the locale, how that is known, and what is to be decided of it."""

    tag: Tag
    seen: str
    doubt: str | None = None


def source_of(catalogs: Sequence[DraftCatalog], contents: Contents, below: Sequence[str]) -> Source:
    """The source of a client with *catalogs*; *below* are its files."""
    stated = _by_files(catalogs, contents)
    if stated is not None:
        return stated
    counts = _counts(catalogs)
    project = _by_project(below, contents)
    template = _by_template(catalogs, below, contents)
    found = template or project
    if found is not None and (_is_held(found.tag, counts) or any(catalog.unmarked for catalog in catalogs)):
        return found
    unmarked = max((catalog for catalog in catalogs if catalog.unmarked), key=lambda catalog: catalog.messages, default=None)
    if unmarked is not None:
        return _by_unmarked(unmarked, contents)
    carried = [
        catalog
        for catalog in catalogs
        if formats.load(str(catalog.settings["format"])).habits.carries_source or catalog.settings.get("source-text") == "key"
    ]
    if carried:
        whole = next((tag for tag in (Tag("en"), Tag("en-US")) if tag in counts), Tag("en"))
        return Source(whole, f"{carried[0].files[0]} carries the source's texts")
    return _by_counts(counts, contents, catalogs)


def _by_files(catalogs: Sequence[DraftCatalog], contents: Contents) -> Source | None:
    votes: Counter[Tag] = Counter()
    first: dict[Tag, str] = {}
    for catalog in catalogs:
        for file in catalog.files[:3]:
            tag = contents.stated_source(file)
            if tag is not None:
                name = Tag(str(tag.canonical()))
                votes[name] += 1
                first.setdefault(name, file)
    if not votes:
        return None
    best, _ = votes.most_common(1)[0]
    return Source(best, f"{first[best]} says so")


def _by_project(below: Sequence[str], contents: Contents) -> Source | None:
    for file in below:
        if not _SETTINGS.search(file):
            continue
        data = contents.data(file) or b""
        match = _NEUTRAL.search(data)
        tag = read_spelling(next(filter(None, match.groups())).decode(), "auto") if match else None
        if tag is not None and tag.valid:
            return Source(Tag(str(tag.canonical())), f"{file} says so")
    return None


def _by_template(catalogs: Sequence[DraftCatalog], below: Sequence[str], contents: Contents) -> Source | None:
    """The locale of the file that a build setting names as the template."""
    for file in below:
        match = _TEMPLATE.search(contents.data(file) or b"") if file.rpartition("/")[2] in ("l10n.yaml", "l10n.yml") else None
        named = match[1].decode().rpartition("/")[2] if match else None
        for catalog in catalogs if named else ():
            for tag, path in catalog.held.items():
                if path.rpartition("/")[2] == named:
                    return Source(tag, f"{file} names {named} as the template")
    return None


def _by_unmarked(catalog: DraftCatalog, contents: Contents) -> Source:
    """The unmarked file is the source, whatever regional file of the same language lies beside it; of which language, its neighbours tell."""
    assert catalog.unmarked is not None
    english = [tag for tag in catalog.locales if tag.partition("-")[0] == "en"]
    seen = f"{catalog.unmarked} has no locale in its name"
    if "en" not in english:
        return Source(Tag("en"), seen)
    form = formats.load(str(catalog.settings["format"]))
    layout = str(catalog.settings.get("layout", "by-file"))
    named = catalog.held.get(Tag("en"))
    own = contents.column(catalog.unmarked, form, layout)
    other = contents.column(named, form, layout) if named else None
    if own is None or other is None:
        return Source(Tag("en"), seen)
    pairs = [
        (text, other.texts[place])
        for key, text in zip(own.keys, own.texts, strict=True)
        if (place := other.keys.places.get(key)) is not None
    ]
    if len(pairs) > 4 and 2 * sum(mine == theirs for mine, theirs in pairs) < len(pairs) and 2 * len(pairs) > len(own.keys):
        return Source(
            Tag("en"),
            seen,
            f"{catalog.unmarked} has other texts than {named}: in which language is it? If not in English, set 'source' to that",
        )
    return Source(Tag("en"), seen)


def _counts(catalogs: Sequence[DraftCatalog]) -> Counter[Tag]:
    counts: Counter[Tag] = Counter()
    for catalog in catalogs:
        counts.update(dict.fromkeys(catalog.locales, max(catalog.messages, 1)))
    return counts


def _is_held(tag: Tag, counts: Counter[Tag]) -> bool:
    return tag in counts or any(LanguageTag.parse(tag).maximized() == LanguageTag.parse(other).maximized() for other in counts)


def _by_counts(counts: Counter[Tag], contents: Contents, catalogs: Sequence[DraftCatalog]) -> Source:
    """English where it has nearly as many messages as any, of its variants the plain one or the fullest; else what has most."""
    best = max(counts.values(), default=0)
    english = [tag for tag in counts if LanguageTag.parse(tag).language == "en" and 2 * counts[tag] >= best]
    if english:
        order = ("en", "en-US", "en-GB")
        first = min(english, key=lambda tag: (order.index(tag) if tag in order else len(order), -counts[tag], tag))
        return Source(first, f"{first} has as many messages as any")
    full = sorted(tag for tag, count in counts.items() if count == best)
    if not full:
        return Source(Tag("en"), "no file names a locale", "in which language are its messages written?")
    doubt = (
        f"is {full[0]} what its messages are written in? There is no English; {', '.join(full[:4])} have as many" if len(full) > 1 else None
    )
    return Source(full[0], f"{full[0]} has most messages", doubt)
