"""Where files come from. A folder today; a git revision and an archive have the same two methods."""
