"""Fonts: which characters a font can draw, which marks it can place, how wide a text is in it. None of a font's own programs is run."""

from __future__ import annotations

from lemmar.fonts.needs import SHAPED, Wanted, normal, ranges, upper
from lemmar.fonts.reading import Font, Metrics, is_font, metrics_of, read

__all__ = ["SHAPED", "Font", "Metrics", "Wanted", "is_font", "metrics_of", "normal", "ranges", "read", "upper"]
