"""Where files come from: a folder, or a git revision, which has the same methods."""

from lemmar.trees.tree import Digest, File, Match, Tree, digest_of

__all__ = ["Digest", "File", "Match", "Tree", "digest_of"]
