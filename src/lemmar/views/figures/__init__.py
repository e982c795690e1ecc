"""Figures: tables whose cells are coloured, as pictures. What is drawn is decided here; a plotting library draws it."""

from lemmar.views.figures.drawing import Cell, Squares, is_figure, picture
from lemmar.views.figures.grid import of_grid
from lemmar.views.figures.landings import of_landings

__all__ = ["Cell", "Squares", "is_figure", "of_grid", "of_landings", "picture"]
