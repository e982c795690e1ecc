"""``posix``: language, territory and modifier; without the territory; without the modifier; the language alone (POSIX.1, locale names).

``sr_RS@latin`` → ``sr@latin`` → ``sr_RS`` → ``sr``: a trap for readers of Latin letters.
"""

from __future__ import annotations

from lemmar.lookups._lookup import Lookup, by_forms, parsed
from lemmar.tags import LanguageTag


def forms(request: str) -> list[str]:
    """The names that are tried, as tags."""
    tag = parsed(request)
    if tag is None or not tag.language:
        return [request]
    modifier = LanguageTag(tag.language, script=tag.script, variants=tag.variants)
    tried_tags = [
        modifier._replace(region=tag.region),
        modifier,
        LanguageTag(tag.language, region=tag.region),
        LanguageTag(tag.language),
    ]
    return list(dict.fromkeys(map(str, tried_tags)))


LOOKUP = Lookup(
    "posix", "without the territory, then without the modifier", forms, by_forms(forms, "the request without its territory or modifier")
)
