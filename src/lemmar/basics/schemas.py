"""JSON Schemas that are made from types: the same by whichever release of the library that makes them."""

from __future__ import annotations

from typing import Any


def tidied(schema: Any) -> Any:
    """The *schema* with each description in one line: releases of the library differ in how they indent what a docstring says."""
    if isinstance(schema, dict):
        return {
            key: " ".join(item.split()) if key == "description" and isinstance(item, str) else tidied(item) for key, item in schema.items()
        }
    return [tidied(item) for item in schema] if isinstance(schema, list) else schema
