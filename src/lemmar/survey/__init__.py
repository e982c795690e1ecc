"""Draws up a charter from what a monorepo holds: clients, catalogs and claims, each with its evidence; what is unsure is a question."""

from lemmar.survey.draft import Draft, DraftCatalog, DraftClaim, DraftClient
from lemmar.survey.settling import draw_up
from lemmar.survey.unknown import News, news, uncharted
from lemmar.survey.writing import charter_text

__all__ = ["Draft", "DraftCatalog", "DraftClaim", "DraftClient", "News", "charter_text", "draw_up", "news", "uncharted"]
