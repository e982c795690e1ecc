"""What is there: a client's catalogs and claims, found and read."""

from lemmar.inventory.gathering import ClientFiles, Inventory, gather

__all__ = ["ClientFiles", "Inventory", "gather"]
