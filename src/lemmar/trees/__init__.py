"""Where files come from. A folder today; a git revision and an archive have the same methods."""

from lemmar.trees.tree import Digest, File, Match, Tree, digest_of

__all__ = ["Digest", "File", "Match", "Tree", "digest_of"]
