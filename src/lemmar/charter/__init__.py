"""The charter, ``lemmar.toml``: where it and its tree come from, its types, reading it, checking it, its schema.

Nothing is imported here: an audit of what has not changed needs the file's bytes alone.
"""
