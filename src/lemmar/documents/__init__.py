"""General documents, read so that every value keeps its place: JSON, property lists, XML, sheets, source code.

What formats and claim selectors share; knows neither catalogs nor locales.
"""
