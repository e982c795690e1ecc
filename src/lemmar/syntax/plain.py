"""Plain texts: nothing in them is a placeholder."""

from lemmar.syntax._shape import Shape, Syntax

SYNTAX = Syntax(name="plain", shape=lambda _text: Shape())
