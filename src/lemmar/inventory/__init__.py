"""What a client has: its catalogs, claims, keys in code, assets and fonts, found by the charter's patterns and read."""

from lemmar.inventory.gathering import ClientFiles, Gatherer, Inventory, gather

__all__ = ["ClientFiles", "Gatherer", "Inventory", "gather"]
