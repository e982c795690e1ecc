"""What follows from what is there: landings, the catalogs consulted, and the text that a user sees for every key. Pure."""

from lemmar.resolve.clients import resolve, resolve_client

__all__ = ["resolve", "resolve_client"]
