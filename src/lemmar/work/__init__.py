"""Edits of a monorepo: locales added, removed, renamed; repairs; test catalogs; waivers; one way to write them all."""
