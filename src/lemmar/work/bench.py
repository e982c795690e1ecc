"""What repairs work with: a finding's catalog as it would be by now, and its texts."""

from __future__ import annotations

from collections.abc import Iterator, Mapping

from lemmar.documents.splicing import EditError
from lemmar.findings import Finding
from lemmar.formats import Column, Where
from lemmar.inventory.contents import Catalog
from lemmar.resolve.spots import text_of
from lemmar.resolve.world import Client, World
from lemmar.trees import File
from lemmar.work.changes import Changes
from lemmar.work.places import Monorepo


class Bench:
    """The monorepo that is mended. *catalogs* are looked up by what findings are about."""

    def __init__(self, monorepo: Monorepo) -> None:
        self.monorepo = monorepo
        self.world: World = monorepo.world
        self.changes: Changes = monorepo.changes
        self._clients = {client.name: client for client in self.world.clients}
        self._composed = {made.file for client in self.world.clients for made in client.composed}
        self._read: dict[File, tuple[bytes, tuple[Column, ...]]] = {}

    def start_again(self) -> None:
        """Forgets all changes."""
        self.changes = self.monorepo.changes = Changes(self.monorepo.tree)

    def clients(self, finding: Finding) -> list[Client]:
        """The clients that a finding is about."""
        return [self._clients[name] for name in finding.subject.clients if name in self._clients]

    def catalogs(self, finding: Finding) -> Iterator[tuple[Client, Catalog]]:
        """The catalogs that a finding is about, once a file: of its client, and of the part, locale and key that it names; the one that it points at first."""
        subject, seen = finding.subject, set()
        place = finding.place.file if finding.place is not None else None
        for client in self.clients(finding)[:1]:
            fitting = [
                catalog
                for catalog in client.catalogs
                if subject.part in (None, catalog.part)
                and subject.locale in (None, client.roster(catalog.tag))
                and (subject.key is None or subject.key in catalog.column.key_set)
            ]
            for catalog in sorted(fitting, key=lambda each: each.file != place):
                name = (catalog.file, catalog.column.label)
                if name not in seen:
                    seen.add(name)
                    yield client, catalog

    def catalog(self, finding: Finding) -> tuple[Client, Catalog]:
        """The catalog that a finding points at. Raises `EditError` where there is none."""
        place = finding.place.file if finding.place is not None else None
        found = next(((client, catalog) for client, catalog in self.catalogs(finding) if catalog.file == place), None)
        if found is None:
            raise EditError("its catalog is not known")
        return found

    def where(self, client: Client, catalog: Catalog) -> Where:
        """Which column of its file a catalog is, and the source's keys in their order."""
        source = client.sources.get(client.space(catalog))
        order = [key for each in source.catalogs for key in each.column.keys] if source is not None else []
        return Where(catalog.options, catalog.column.label, order)

    def column(self, catalog: Catalog) -> Column:
        """The catalog's column as its file has it by now: keys that spell plural forms are apart. Raises `EditError`."""
        data = self.changes.read(catalog.file)
        known = self._read.get(catalog.file)
        if known is None or known[0] != data:
            known = self._read[catalog.file] = data, catalog.form.read(data, catalog.options).columns
        found = [column for column in known[1] if column.label == catalog.column.label and column.part == catalog.column.part]
        if not found:
            raise EditError("its column is gone")
        return found[0]

    def text(self, catalog: Catalog, key: str) -> str:
        """The text of *key* by now. Raises `EditError` where it has none, or several forms."""
        column = self.column(catalog)
        index = column.keys.places.get(key)
        text = column.texts[index] if index is not None else None
        if text is None or index in column.rare.forms:
            raise EditError("it has no text of its own")
        return text

    def source_text(self, client: Client, catalog: Catalog, key: str) -> str:
        """The source's text of *key*. Raises `EditError` where there is none."""
        source = client.sources.get(client.space(catalog))
        text = text_of(source.catalogs, key) if source is not None else None
        if text is None:
            raise EditError("the source has no such text")
        return text

    def set_texts(self, client: Client, catalog: Catalog, texts: Mapping[str, str]) -> None:
        """Puts other texts into a catalog, and sees to it that nothing else is changed. Raises `EditError`."""
        before = self.column(catalog)
        data = self.changes.read(catalog.file)
        made = catalog.form.with_texts(data, self.where(client, catalog), texts)
        self.put(catalog, made)
        after = self.column(catalog)
        wanted = {**dict(zip(before.keys, before.texts, strict=True)), **texts}
        if dict(zip(after.keys, after.texts, strict=True)) != wanted:
            self.changes.put(catalog.file, data)
            raise EditError("the edit would change more than that text")

    def put(self, catalog: Catalog, data: bytes) -> None:
        """Lets a catalog's file hold *data*. Raises `EditError` where a script makes that of fragments: what is to be mended stands there."""
        if catalog.file in self._composed:
            raise EditError("a script makes the file; mend its fragments")
        if data != self.changes.read(catalog.file):
            self.changes.put(catalog.file, data)
            self.changes.places += 1
