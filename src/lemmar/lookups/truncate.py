"""``truncate``: RFC 4647 section 3.4."""

from lemmar.lookups._lookup import Lookup, by_forms
from lemmar.tags import truncations


def forms(request: str) -> list[str]:
    """The request, then cut at its end again and again."""
    return list(truncations(request))


LOOKUP = Lookup(
    "truncate", "the request is cut at its end until something is supported", forms, by_forms(forms, "the request cut at its end")
)
