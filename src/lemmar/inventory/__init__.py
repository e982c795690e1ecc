"""What is there: a client's catalogs and claims, found and read."""

from lemmar.inventory.gathering import ClientFiles, Gatherer, Inventory, gather

__all__ = ["ClientFiles", "Gatherer", "Inventory", "gather"]
