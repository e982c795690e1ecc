"""``exact``: the request equals a supported tag; an extension makes it unequal."""

from lemmar.lookups._lookup import THE_REQUEST, Lookup, by_forms


def forms(request: str) -> list[str]:
    """The request itself."""
    return [request]


LOOKUP = Lookup("exact", "the request as it is", forms, by_forms(forms, THE_REQUEST))
