"""Where files come from: a folder, a git revision, or either with changes overlaid; file patterns, and what a repository ignores."""

from lemmar.trees.tree import Digest, File, Match, Tree, digest_of

__all__ = ["Digest", "File", "Match", "Tree", "digest_of"]
