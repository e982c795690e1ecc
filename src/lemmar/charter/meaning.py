"""Checks what a charter says once its types are right: names that must be there, tags, selectors, and what is not supported yet."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterable, Iterator, Mapping

from lemmar import formats, selectors, syntax
from lemmar.basics.bounded_expressions import wrong_expression
from lemmar.basics.phrasing import nearest
from lemmar.basics.text import text_encoding
from lemmar.charter.lines import Path
from lemmar.charter.sizes import in_bytes
from lemmar.charter.types import AssetEntry, CatalogEntry, Charter, ClaimEntry, ClientEntry, FontEntry, UsageEntry, UsagePart
from lemmar.fonts.reading import is_font
from lemmar.syntax import own
from lemmar.tags import CATEGORIES, LanguageTag, TagError, meant
from lemmar.trees.patterns import PatternError, compile_pattern, from_root

Mistakes = Iterator[tuple[Path, str]]


def mistakes(charter: Charter, rules: Iterable[str]) -> Mistakes:
    """Each mistake of meaning in *charter*, with its key path. *rules* are the names of all rules."""
    yield from _tags(charter)
    yield from _names(charter)
    known = tuple(rules)
    for index, waiver in enumerate(charter.waiver):
        if known and waiver.rule not in known:
            yield ("waiver", index, "rule"), f"there is no rule {waiver.rule!r}{nearest(waiver.rule, known)}"
    for rule in charter.gate.severity:
        if known and rule not in known:
            yield ("gate", "severity", rule), f"there is no rule {rule!r}{nearest(rule, known)}"
    for name, gate in charter.gates.items():
        for rule in gate.severity:
            if known and rule not in known:
                yield ("gate", name, "severity", rule), f"there is no rule {rule!r}{nearest(rule, known)}"
    for path, root, catalog in _catalogs(charter):
        yield from _catalog(path, catalog, root, tuple(charter.syntax))
    for number, client in enumerate(charter.client):
        yield from _client(("client", number), client)
    yield from _later(charter)


def _catalogs(charter: Charter) -> Iterator[tuple[Path, str, CatalogEntry]]:
    """Every catalog with its key path and the folder that its pattern starts from."""
    for index, catalog in enumerate(charter.catalog):
        yield ("catalog", index), "", catalog
    for number, client in enumerate(charter.client):
        for index, catalog in enumerate(client.catalog):
            yield ("client", number, "catalog", index), client.root, catalog


def _tags(charter: Charter) -> Mistakes:
    """Tags of the charter itself must be in order: everything else is compared with them."""
    yield from _tag(("charter", "source"), charter.source)
    for index, tag in enumerate(charter.roster.shipping):
        yield from _tag(("roster", "shipping", index), tag)
    for tag in charter.roster.trial:
        yield from _tag(("roster", "trial", tag), tag)
    for index, tag in enumerate(charter.roster.pseudo):
        yield from _tag(("roster", "pseudo", index), tag)
    for locale, chain in charter.chains.items():
        if locale != "default":
            yield from _tag(("chains", locale), locale)
        for index, tag in enumerate(chain):
            yield from _tag(("chains", locale, index), tag)
    if charter.default_chain == ():
        yield ("chains", "default"), "the default chain is empty; its last link is the default locale"
    counts = Counter(str(tag) for tag in charter.locales)
    for twice, count in counts.items():
        if count > 1:
            yield ("roster",), f"{twice!r} stands twice on the roster"
    if not charter.roster.shipping:
        yield ("roster", "shipping"), "no locale ships; name at least the source"
    elif charter.source not in charter.locales:
        yield ("charter", "source"), f"the source locale {charter.source!r} is not on the roster; add it to 'shipping'"


def _tag(path: Path, text: str) -> Mistakes:
    try:
        tag = LanguageTag.parse(text)
    except TagError as error:
        yield path, str(error)
        return
    if not tag.valid:
        likely = next(iter(meant(text)), None)
        wrong = next(problem.advice for problem in tag.problems() if problem.invalid)
        yield path, f"{text!r}: {likely.reason if likely else wrong}" + (f"; write {str(likely.tag)!r}" if likely else "")
    elif str(tag.canonical()) != text:
        yield path, f"the charter writes tags in canonical form: {str(tag.canonical())!r}, not {text!r}"


def _names(charter: Charter) -> Mistakes:
    shared = {catalog.name for catalog in charter.catalog}
    for index, catalog in enumerate(charter.catalog):
        if catalog.name is None:
            yield ("catalog", index), "a shared catalog needs a name, by which clients use it"
    for kind, names in (
        ("client", [client.name for client in charter.client]),
        ("catalog", [catalog.name for catalog in charter.catalog]),
    ):
        seen: set[str | None] = set()
        for index, name in enumerate(names):
            if name in seen and name is not None:
                yield (kind, index, "name"), f"there are two {kind}s named {name!r}"
            seen.add(name)
    if not charter.client:
        yield (), "the charter names no client; add a [[client]] table"
    yield from _overlays(charter)
    roster = charter.locales
    for number, client in enumerate(charter.client):
        for index, name in enumerate(client.uses):
            if name not in shared:
                yield ("client", number, "uses", index), f"there is no shared catalog {name!r}{nearest(name, [n for n in shared if n])}"
        for name, tags in (("without", client.without), ("trial", client.trial)):
            for tag in tags:
                if tag not in roster:
                    yield ("client", number, name, tag), f"{tag!r} is not on the roster{nearest(tag, roster)}"
        for tag in client.trial.keys() & client.without:
            yield (
                ("client", number, "trial", tag),
                f"{tag!r} is exempt by 'without' here, so that it cannot be on trial; remove one of the two",
            )


def _overlays(charter: Charter) -> Mistakes:
    """Whether each catalog that lies over another names one that its client has."""
    tables = [("catalog",), *(("client", number, "catalog") for number in range(len(charter.client)))]
    for table, entries in zip(tables, (charter.catalog, *(client.catalog for client in charter.client)), strict=True):
        shared = (
            charter.catalog
            if table == ("catalog",)
            else [each for each in charter.catalog if each.name in charter.client[int(table[1])].uses]
        )
        for place, entry in enumerate(entries):
            known = [each.name for each in (*shared, *entries) if each is not entry and each.name is not None]
            if isinstance(entry.over, str) and entry.over not in known:
                yield (*table, place, "over"), f"the client has no other catalog {entry.over!r}{nearest(entry.over, known)}"


def _catalog(path: Path, catalog: CatalogEntry, root: str, own_syntaxes: tuple[str, ...]) -> Mistakes:
    yield from _pattern((*path, "files"), catalog.files, root)
    for index, pattern in enumerate(catalog.exceptions):
        yield from _pattern((*path, "except", index), pattern, root)
    if catalog.format is not None and catalog.format not in formats.names():
        yield (*path, "format"), f"there is no format {catalog.format!r}{nearest(catalog.format, formats.names())}"
    elif catalog.format is not None and catalog.layout and catalog.layout not in formats.load(catalog.format).layouts:
        known = ", ".join(formats.load(catalog.format).layouts)
        yield (*path, "layout"), f"the layout {catalog.layout!r} is not supported yet for {catalog.format}; it can be {known}"
    known_syntaxes = (*syntax.names(), *own_syntaxes)
    if catalog.syntax is not None and catalog.syntax not in known_syntaxes:
        yield (*path, "syntax"), f"there is no syntax {catalog.syntax!r}{nearest(catalog.syntax, known_syntaxes)}"
    if catalog.apostrophe is not None and (catalog.syntax not in syntax.names() or syntax.load(catalog.syntax).quoted is None):
        able = " or ".join(f'"{name}"' for name in syntax.names() if syntax.load(name).quoted is not None)
        yield (*path, "apostrophe"), f"'apostrophe' belongs to catalogs with syntax = {able}"
    if catalog.encoding is not None and text_encoding(catalog.encoding) is None:
        yield (*path, "encoding"), f"{catalog.encoding!r} is no encoding of texts that is known; most files are in UTF-8"
    if catalog.layout == "records" and catalog.fields is None:
        yield (*path, "layout"), "the layout 'records' needs the table 'fields', with 'key' and 'text'"
    if catalog.fields is not None and catalog.layout not in (None, "records"):
        yield (*path, "fields"), f"'fields' belongs to the layout 'records', not to {catalog.layout!r}"
    if ("{key}" in catalog.files) != (catalog.format == "document"):
        yield (*path, "files"), 'a pattern has {key} where a file is one message: with format = "document", and only there'
    for key, limit in catalog.limits.items():
        if limit < 1:
            yield (*path, "limits", key), f"{limit} characters are no limit; leave {key!r} out, or say how many fit"
    if catalog.names is not None and catalog.fields is None:
        yield (*path, "names"), "'names' belongs to the layout 'records', which needs the table 'fields'"
    yield from _spelled(path, catalog.spelled)


def _spelled(path: Path, spelled: Mapping[str, str]) -> Mistakes:
    for text, tag in spelled.items():
        yield from _tag((*path, "spelled", text), tag)


def _pattern(path: Path, pattern: str, root: str) -> Mistakes:
    try:
        from_root("" if root == "." else root, compile_pattern(pattern))
    except PatternError as error:
        yield path, str(error)


def _client(path: Path, client: ClientEntry) -> Mistakes:
    parts = client.root.split("/")
    if client.root.startswith("/") or ".." in parts or "\\" in client.root:
        yield (*path, "root"), "a client's root is a folder inside the monorepo, with '/' between its segments"
    yield from _spelled(path, client.spelled)
    if client.source is not None:
        yield from _tag((*path, "source"), client.source)
    for index, claim in enumerate(client.claim):
        yield from _claim((*path, "claim", index), claim, client.root)
    for index, composed in enumerate(client.composed):
        where: Path = (*path, "composed", index)
        yield from _pattern((*where, "into"), composed.into, client.root)
        for place, pattern in enumerate(composed.sources):
            yield from _pattern((*where, "from", place), pattern, client.root)
            if ("{locale}" in pattern) != ("{locale}" in composed.into):
                yield (*where, "from", place), "fragments and what is made of them both have {locale} in their pattern, or neither"
        for key in ("format", "fragments"):
            name = getattr(composed, key)
            if name is not None and name not in formats.names():
                yield (*where, key), f"there is no format {name!r}{nearest(name, formats.names())}"
    if client.budget is not None:
        try:
            in_bytes(client.budget)
        except ValueError as error:
            yield (*path, "budget"), str(error)
    for index, asset in enumerate(client.asset):
        yield from _asset((*path, "asset", index), asset, client.root)
    for index, font in enumerate(client.font):
        yield from _font((*path, "font", index), font, client.root)
    for index, box in enumerate(client.box):
        if not is_font(box.font):
            yield (*path, "box", index, "font"), f"{box.font!r} is no font that is read; they are .ttf, .otf, .woff, .woff2, .bdf and .fnt"
    for index, usage in enumerate(client.usage):
        yield from _usage((*path, "usage", index), usage, client.root)
    for index, listed in enumerate(client.key_list):
        given = listed.given()
        if len(given) != 1:
            found = f"found {' and '.join(each.name for each in given)}" if given else "found none"
            yield (*path, "key-list", index), f"a key list has one selector, such as symbol or pointer, {found}"
        else:
            wrong = given[0].check(listed.pick())
            if wrong:
                yield (*path, "key-list", index, wrong[0]), wrong[1]


def _asset(path: Path, asset: AssetEntry, root: str) -> Mistakes:
    if (asset.files is None) == (asset.table is None):
        yield path, "an asset has either 'files', a pattern, or 'table', a file that maps locales to paths"
    if asset.files is not None:
        yield from _pattern((*path, "files"), asset.files.replace("{name", "{part") if "{part" not in asset.files else asset.files, root)
        if "{locale}" not in asset.files or "{part" in asset.files or "{key}" in asset.files:
            yield (*path, "files"), "a pattern of assets has {locale}, and {name} where a locale has several"
        for key in ("pointer", "symbol", "paths"):
            if getattr(asset, key) is not None:
                yield (*path, key), f"{key!r} belongs to a 'table'"
    elif asset.pointer is not None and asset.symbol is not None:
        yield path, "a table of assets is found by 'pointer' or by 'symbol', not by both"
    elif asset.pointer and not asset.pointer.startswith("/"):
        yield (*path, "pointer"), "a pointer is empty or begins with '/'"
    yield from _spelled(path, asset.spelled)


def _font(path: Path, font: FontEntry, root: str) -> Mistakes:
    for key, patterns in (("files", font.files), ("fallback", font.fallback), ("cut-from", font.cut_from)):
        for index, pattern in enumerate(patterns):
            yield from _pattern((*path, key, index), pattern, root)
    for tag in font.locales:
        yield from _tag((*path, "locales"), tag)


def _usage(path: Path, usage: UsageEntry, root: str) -> Mistakes:
    for key, patterns in (("files", usage.files), ("except", usage.exceptions)):
        for index, pattern in enumerate(patterns):
            yield from _pattern((*path, key, index), pattern, root)
    ways = ("call", "filter", "attribute", "element", "block", "member", "resource", "shows")
    if not any(getattr(usage, way) for way in ways):
        *most, last = ways
        yield path, f"a usage says how code asks for a message: by {', '.join(most)} or {last}"
    for key in ("member", "resource"):
        given = getattr(usage, key)
        for pattern in (given,) if isinstance(given, str) else given:
            if pattern.count("{key}") != 1 or pattern == "{key}":
                yield (*path, key), f"{pattern!r} wants {{key}} once, and what stands beside it"
    if usage.pointer is not None and not usage.pointer.startswith("/"):
        yield (*path, "pointer"), "a pointer begins with '/'"
    if isinstance(usage.part, UsagePart) and not (usage.part.argument is not None or usage.part.separator or usage.part.scope):
        yield (*path, "part"), "'part' wants 'argument', 'separator' or 'scope', or is the part's name itself"
    for key in ("pointer", "context", "values", "under"):
        if getattr(usage, key) is not None and not usage.call:
            yield (*path, key), f"{key!r} belongs to a 'call'"


def _claim(path: Path, claim: ClaimEntry, root: str) -> Mistakes:
    given = claim.given()
    if len(given) != 1:
        *most, last = selectors.names()
        found = f"found {' and '.join(selector.name for selector in given)}" if given else "found none"
        yield path, f"a claim has one selector ({', '.join(most)} or {last}), {found}"
        return
    selector = given[0]
    if (selector.of_files is not None) == (claim.file is not None):
        yield path, f"a claim of {selector.name} has no 'file'" if claim.file else f"the key 'file' is missing beside {selector.name!r}"
    else:
        wrong = selector.check(claim.pick())
        if wrong:
            yield (*path, wrong[0]), wrong[1]
        elif selector.of_files is not None:
            yield from _pattern((*path, selector.name), claim.pick().text, root)
    if claim.states == "chain" and (claim.take is not None or not selector.whole):
        *most, last = (each.name for each in selectors.every() if each.whole)
        yield path, f"a claim of a chain takes its map or list whole, by {', '.join(most)} or {last}"
    if claim.labels is not None and claim.states != "offered":
        yield (*path, "labels"), "'labels' are the words of a picker: they belong to a claim with states = \"offered\""
    if claim.transitive and claim.states != "chain":
        yield (*path, "transitive"), "'transitive' belongs to a claim with states = \"chain\""
    yield from _spelled(path, claim.spelled)


def _terms(charter: Charter) -> Mistakes:
    """Terms say something, and their expressions can be read."""
    for index, term in enumerate(charter.term):
        path: Path = ("term", index)
        if not (term.keeps or term.agreed or term.avoid):
            yield path, f"the term {term.word!r} says nothing; it wants 'keeps', 'agreed' or 'avoid'"
        if term.keeps and term.agreed:
            yield (*path, "keeps"), f"the term {term.word!r} keeps its form in every language; leave 'keeps' or 'agreed' out"
        for name in ("agreed", "inflected", "avoid"):
            for tag in getattr(term, name):  # one off the roster waits for it, or was retired
                yield from _tag((*path, name, tag), tag)
        for where, pattern in ((("forms",), term.forms), *((("inflected", tag), each) for tag, each in term.inflected.items())):
            wrong = wrong_expression(pattern) if pattern is not None else ""
            if wrong:
                yield (*path, *where), wrong


def _later(charter: Charter) -> Mistakes:
    """What the charter's form has and the audit cannot do yet."""
    for request, wanted in charter.audience.items():
        if wanted != "agree" and wanted not in charter.locales:
            yield ("audience", request), f"{wanted!r} is not on the roster; name the landing that is wanted, or 'agree'"
    for name, found in charter.syntax.items():
        if name in syntax.names():
            yield ("syntax", name), f"{name!r} is a syntax that is there already; give yours another name"
        try:
            own(name, found.placeholder)
        except ValueError as error:
            yield ("syntax", name, "placeholder"), str(error)
    yield from _terms(charter)
    for tag, facts in charter.locale.items():
        for index, category in enumerate(facts.plural):
            if category not in CATEGORIES:
                yield ("locale", tag, "plural", index), f"{category!r} is no plural category{nearest(category, CATEGORIES)}"
        if "other" not in facts.plural:
            yield ("locale", tag, "plural"), "every language has the plural category 'other'"
