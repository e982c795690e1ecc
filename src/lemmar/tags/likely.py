"""Likely subtags, and parent locales: UTS 35 part 1, sections "Likely Subtags" and "Parent Locales"."""

from __future__ import annotations

from lemmar.tags.canonical import canonical
from lemmar.tags.grammar import Subtags, parse
from lemmar.tags.tables import likely_subtags, table


def maximized(tag: Subtags) -> Subtags:
    """*tag* in canonical form with its likely script and region; as it is where nothing is known of its language."""
    tag = canonical(tag)
    if not tag.language or "-" in tag.language:
        return tag
    script = None if tag.script == "Zzzz" else tag.script
    region = None if tag.region == "ZZ" else tag.region
    if tag.language != "und" and script and region:
        return tag
    found = likely_subtags(tag.language, script, region)
    if found is None:
        return tag
    return tag._replace(language=found[0] if tag.language == "und" else tag.language, script=script or found[1], region=region or found[2])


def minimized(tag: Subtags) -> Subtags:
    """The shortest tag with the same maximized form; where a region or a script would do, the region stays."""
    whole = maximized(tag)
    if not whole.language or "-" in whole.language:
        return whole
    bare = Subtags(whole.language)
    wanted = (whole.language, whole.script, whole.region)
    for trial in (bare, bare._replace(region=whole.region), bare._replace(script=whole.script)):
        found = maximized(trial)
        if (found.language, found.script, found.region) == wanted:
            return whole._replace(script=trial.script, region=trial.region)
    return whole


def parents(tag: Subtags) -> tuple[Subtags, ...]:
    """The chain of parents up to, and without, root.

    An explicit parent first; else the tag cut at its end; a script that is not the language's likely one has no parent.
    Aliases are not resolved first: a client's ``iw-IL`` has the parent ``iw``.
    """
    found: list[Subtags] = []
    current = _parent(tag)
    while current is not None and len(found) < 16:
        found.append(current)
        current = _parent(current)
    return tuple(found)


def _parent(tag: Subtags) -> Subtags | None:
    if not tag.language or "-" in tag.language:
        return None
    if tag.private_use or tag.extensions or tag.variants:
        return tag._replace(
            private_use=(), extensions=(), variants=tag.variants[:-1] if not (tag.private_use or tag.extensions) else tag.variants
        )
    explicit = table("parents").get(str(tag))
    if explicit:
        return None if explicit in ("root", "und") else parse(explicit)
    if tag.region:
        return tag._replace(region=None)
    if tag.script:
        likely = likely_subtags(tag.language, None, None)
        return Subtags(tag.language, tag.extlangs) if likely is None or likely[1] == tag.script else None
    return Subtags(tag.language) if tag.extlangs else None
