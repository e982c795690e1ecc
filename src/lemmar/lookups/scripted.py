"""``scripted``: as `truncate`, the likely script added first (UTS 35, Likely Subtags) where the region speaks for another than usual."""

from lemmar.lookups._lookup import Lookup, by_forms, parsed, with_script
from lemmar.tags import truncations


def forms(request: str) -> list[str]:
    """The request with its likely script, then cut at its end."""
    tag = parsed(request)
    return list(truncations(request if tag is None else str(with_script(tag))))


LOOKUP = Lookup(
    "scripted",
    "as truncate, with the likely script of the region",
    forms,
    by_forms(forms, "the request with its likely script, cut at its end"),
)
