"""What follows from what is there: chains, landings, the text that users see for every key, which keys code asks for. Pure."""

from lemmar.resolve.clients import resolve, resolve_client

__all__ = ["resolve", "resolve_client"]
