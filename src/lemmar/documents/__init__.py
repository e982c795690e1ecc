"""General documents, read so that every value keeps its place: JSON, YAML, TOML, property lists, XML, sheets; rows inserted and removed.

What formats and claim selectors share; knows neither catalogs nor locales.
"""
