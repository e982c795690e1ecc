"""``primary``: only the language subtag of the request is used, even where the whole request is supported."""

from lemmar.lookups._lookup import Lookup, by_forms, parsed


def forms(request: str) -> list[str]:
    """The request's language."""
    tag = parsed(request)
    return [tag.language if tag is not None and tag.language else request]


LOOKUP = Lookup("primary", "the request's language alone", forms, by_forms(forms, "the request's language"), exact_first=False)
