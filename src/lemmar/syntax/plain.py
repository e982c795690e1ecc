"""Plain texts: nothing in them is a placeholder."""

from lemmar.syntax._shape import Shape, Syntax

SYNTAX = Syntax("plain", 1, "", lambda _text: Shape())
