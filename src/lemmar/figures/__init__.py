"""Figures: tables whose cells are coloured, as pictures. What is drawn is decided here; a plotting library draws it."""

from lemmar.figures.drawing import Cell, Squares, is_figure, picture
from lemmar.figures.grid import of_grid
from lemmar.figures.landings import of_landings

__all__ = ["Cell", "Squares", "is_figure", "of_grid", "of_landings", "picture"]
