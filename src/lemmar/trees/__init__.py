"""Where files come from: a folder, or a git revision, which has the same methods."""

from lemmar.trees.tree import Digest, File, KnownTree, Match, Tree, digest_of

__all__ = ["Digest", "File", "KnownTree", "Match", "Tree", "digest_of"]
