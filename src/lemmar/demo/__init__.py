"""The demo: the monorepo of Tarnhut, which rents out bunks in a chain of mountain huts. All of it is made up."""

from lemmar.demo.history import RELEASES, write_history
from lemmar.demo.monorepo import monorepo_files, write_monorepo

__all__ = ["RELEASES", "monorepo_files", "write_history", "write_monorepo"]
