"""Drafts a charter from what a monorepo holds: clients, catalogs and claims, each with its evidence; what is unsure becomes a question."""
