"""Keys that are branches of a tree, in formats that write them one inside the other."""

from __future__ import annotations

from lemmar.inventory.contents import Catalog


def nests(catalogs: tuple[Catalog, ...]) -> bool:
    """Whether the catalogs' format writes keys as branches."""
    return all(catalog.form.habits.nests for catalog in catalogs)


def heads(key: str) -> list[str]:
    """The branches that *key* lies in; a dot after a backslash is part of a name, and so is one that ends a sentence."""
    return [
        key[:index]
        for index, sign in enumerate(key)
        if sign == "." and key[index - 1] != "\\" and key[index + 1 : index + 2] not in ("", " ")
    ]
