"""How a fact is known, as one sign with a letter: never by colour alone."""

from __future__ import annotations

#: Each way in which a fact is known, as it is shown in a cell.
SIGNS = {"stated": "✓ s", "charter": "✓ c", "preset": "✓ p", "drafted": "~ d", "assumed": "? a"}
#: The signs in words, below a table of them.
LEGEND = (
    "✓ s: stated by a claim; ✓ c: written in the charter; ✓ p: from the platform's preset; ~ d: drafted, not confirmed;"
    " ? a: assumed, as nothing says it; –: no such fact"
)
