"""Tarnhut's clients: what each writes down of locales and texts, in the manner of its kind. All of it is sound."""

from __future__ import annotations

from collections.abc import Iterator


def files() -> Iterator[tuple[str, str]]:
    """The path and text of every file of every client."""
    from lemmar.demo.clients import desktop, game, mobile, service, shown, web

    for kind in (web, mobile, desktop, game, service, shown):
        yield from kind.files()
