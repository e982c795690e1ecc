"""Lemmar proves before a release that every client of a monorepo speaks the same locales, whole and intact."""

__version__ = "0.1.0"
