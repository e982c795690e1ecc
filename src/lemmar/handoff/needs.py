"""Which texts of a locale are work, and why: as the rules of the audit see them, and by how long ago source and translation were changed."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from typing import NamedTuple

from lemmar.handoff.texts import Name, Text, Use, forms_of
from lemmar.inventory.contents import Catalog
from lemmar.resolve.effective import lacking_too, unasked
from lemmar.resolve.renaming import renames_of
from lemmar.resolve.spots import text_of
from lemmar.resolve.world import Client, Space, World
from lemmar.tags import Tag

#: Why a text is work, by the rule that reports it; and how that is called where it is counted.
REASONS = {"message.missing": "missing", "message.empty": "blank", "message.stale": "stale", "message.unreviewed": "unreviewed"}
_STRONGEST = tuple(REASONS)


class Need(NamedTuple):
    """A text that is work in a locale: the rule that says so, the uses that lack it, and what stands there *so_far* (by form; empty where nothing does)."""

    text: Text
    reason: str
    uses: tuple[Use, ...]
    so_far: Mapping[str, str]


def needs(world: World, texts: Iterable[Text], locale: Tag, changed: frozenset[Name] = frozenset()) -> list[Need]:
    """The texts that are work in the roster's *locale*, in their order; *changed* are those whose source was changed after their translation."""
    seen: dict[str, Lacks] = {}
    found = []
    for text in texts:
        lacking: list[tuple[Use, str]] = []
        for use in text.uses:
            client = use.client
            if client.name not in seen:
                seen[client.name] = Lacks(world, client, locale)
            reason = seen[client.name].reason(use, changed)
            if reason is not None:
                lacking.append((use, reason))
        if lacking:
            reason = min((reason for _, reason in lacking), key=_STRONGEST.index)
            uses = tuple(use for use, _ in lacking)
            found.append(Need(text, reason, uses, next((held for use in uses if (held := translation(use, locale))), {})))
    return found


def translation(use: Use, locale: Tag) -> Mapping[str, str]:
    """What the locale's own catalog has for a message, in the catalog's syntax; nothing where it has none."""
    holder = own_catalog(use, locale)
    if holder is None:
        return {}
    forms = forms_of(holder, use.key)
    return forms if any(forms.values()) else {}


def own_catalog(use: Use, locale: Tag) -> Catalog | None:
    """The locale's catalog that has an entry for a message; None where none has."""
    tag = own_tag(use.client, locale)
    catalogs = use.client.by_space.get(use.space, {}).get(tag, ()) if tag is not None else ()
    return next((each for each in reversed(catalogs) if each.order == use.holder.order and use.key in each.column.key_set), None)


def own_tag(client: Client, locale: Tag) -> Tag | None:
    """The client's own tag for a locale of the roster that it supports, or has catalogs of; None where it has neither."""
    effect = client.effects.get(locale)
    if effect is not None:
        return effect.tag
    return next((catalog.tag for catalog in client.catalogs if client.roster(catalog.tag) == locale), None)


class Lacks:
    """What a client lacks in one locale, and why."""

    def __init__(self, world: World, client: Client, locale: Tag) -> None:
        self._locale = locale
        effect = client.effects.get(locale)
        self._absent: dict[tuple[Space, str], bool] = {}
        #: How many texts are there under the key that they had before, and how many in a catalog that the client should ask and does not.
        self.under_old_keys = self.not_consulted = 0
        self._wanted = effect is not None and locale in client.needs and locale != client.written_in
        if effect is not None and self._wanted:
            leaned_on = lacking_too(client, effect, [each for each in client.needs if each != client.written_in])
            passed_by = unasked(world, client, effect)
            renamed = renames_of(world, client)
            for each in effect.absences:
                rename = renamed.get((each.space, each.key))
                if rename is not None and effect.tag in rename.tags:
                    self.under_old_keys += 1
                    continue
                there = any(text_of(catalogs.get(each.space, ()), each.key) for catalogs in passed_by.values())  # its chain is to be mended
                self.not_consulted += there
                if not there and (each.empty or (each.space, each.key) not in leaned_on):
                    self._absent[each.space, each.key] = each.empty

    def reason(self, use: Use, changed: frozenset[Name]) -> str | None:
        """Why a message is work; None where it is none."""
        if not self._wanted:
            return None
        holder = own_catalog(use, self._locale)
        if holder is not None:
            index = holder.column.keys.places[use.key]
            state, text = holder.column.rare.state.get(index), holder.column.texts[index]
            if state is not None and state != "computed" and (text or state == "fuzzy"):
                return "message.unreviewed"
            if text and self._is_stale(use, holder, index):
                return "message.stale"
            if text and use.name in changed:
                return "message.stale"
        empty = self._absent.get((use.space, use.key))
        return None if empty is None else "message.empty" if empty else "message.missing"

    def _is_stale(self, use: Use, holder: Catalog, index: int) -> bool:
        """Whether the file's own copy of the source is not what the source says today."""
        copy = holder.column.rare.source.get(index)
        if not copy or holder.form.habits.keys_are_texts or holder.file == use.holder.file:
            return False
        place = use.holder.column.keys.places[use.key]
        today = use.holder.column.rare.source.get(place) or use.holder.column.texts[place] or ""
        return copy.split() != today.split()
