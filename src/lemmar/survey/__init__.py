"""Draws up a charter from what a monorepo holds: clients, catalogs and claims, each with its evidence; what is unsure is a question."""

from __future__ import annotations

from lemmar.survey.draft import Draft, DraftCatalog, DraftClaim, DraftClient
from lemmar.survey.drafting import survey

__all__ = ["Draft", "DraftCatalog", "DraftClaim", "DraftClient", "survey"]
