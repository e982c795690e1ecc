"""From what is found to a charter's clients: each with its catalogs and claims, its source, and what is to be asked of it."""

from __future__ import annotations

from collections import Counter
from collections.abc import Callable, Iterable, Mapping, Sequence
from typing import Any

from lemmar import formats
from lemmar.basics.phrasing import counted
from lemmar.charter.presets import file_based, suits
from lemmar.inventory.readings import Readings
from lemmar.resolve.pairing import same_language
from lemmar.survey.catalogs import SURE, CatalogFinder
from lemmar.survey.claims import ClaimFinder
from lemmar.survey.contents import Contents, is_pseudo, record_names, texts_of
from lemmar.survey.draft import Draft, DraftCatalog, DraftClaim, DraftClient, DraftSyntax, Question
from lemmar.survey.exceptions import by_folder, excepting
from lemmar.survey.joining import across_folders, common_folder
from lemmar.survey.mirroring import mirrored_claims
from lemmar.survey.projects import Project, kind_of, name_of, project_of, projects
from lemmar.survey.sources import Source, source_of
from lemmar.survey.syntaxes import unknown_form
from lemmar.survey.twins import without_exports
from lemmar.tags import LanguageTag, Tag
from lemmar.trees import File, Tree


def draft(tree: Tree, files: Sequence[File], readings: Readings | None = None, tell: Callable[[str], None] = lambda _words: None) -> Draft:
    """The draft of a charter for the *files* of a monorepo; what is read of them is kept in *readings*, how far it is goes to *tell*."""
    tell(f"looking for catalogs in {counted(len(files), 'file')}")
    finder = CatalogFinder(tree, files, readings=readings)
    found = finder.found()
    around = projects(files)
    found = _of_sure_clients(found, around, finder)
    by_root, evidence = _by_root(found, around)
    taken = frozenset(file for catalog in found for file in catalog.files)
    unfinished = dict(finder.unfinished)
    clients: list[DraftClient] = []
    syntaxes: dict[str, DraftSyntax] = {}
    pseudo: set[Tag] = set()
    inside = _below([file for file in files if finder.setting_aside.of(file) is None], by_root)
    beside, aside = by_folder(finder.beside()), finder.set_aside()
    for number, root in enumerate(sorted(by_root), start=1):
        tell(f"looking for claims in {root or '.'} ({number} of {len(by_root)})")
        below = inside[root]
        own, weak = _sure(across_folders(by_root[root]))
        finder.taken.difference_update(file for catalog in weak for file in catalog.files)
        own, exports, asked = without_exports(own, finder.contents)
        finder.aside += exports
        source = source_of(own, finder.contents, below)
        mocks = _pseudo(own, source.tag, finder.contents)
        pseudo |= mocks
        own = [_with_names(catalog, root, finder.contents, below) for catalog in own]
        own = [_with_syntax(catalog, source.tag, finder.contents, syntaxes) for catalog in own]
        own = excepting(own, beside, aside, finder.contents)
        client, late = _client(finder.contents, evidence[root], own, below, taken, source, [client.name for client in clients], mocks)
        unfinished |= dict.fromkeys(late)
        clients.append(client._replace(doubts=(*client.doubts, *asked)))
    source_tag = _source(clients)
    clients = [client._replace(stated=_needs_word(client, source_tag)) for client in clients]
    drawn = _agreed(tuple(clients), source_tag, pseudo)
    left = tuple(_left_over(finder))
    return drawn._replace(
        questions=(*drawn.questions, *left), aside=tuple(finder.aside), syntaxes=tuple(syntaxes.values()), unfinished=tuple(unfinished)
    )


def _of_sure_clients(found: Sequence[DraftCatalog], around: dict[str, Project], finder: CatalogFinder) -> list[DraftCatalog]:
    """The catalogs, without those of folders in which none is sure, where others are: these are asked."""
    sure = {_root(catalog, around) for catalog in found if catalog.confidence >= SURE}
    kept = [catalog for catalog in found if not sure or _root(catalog, around) in sure]
    finder.taken.difference_update(file for catalog in found if catalog not in kept for file in catalog.files)
    return kept


def _root(catalog: DraftCatalog, around: dict[str, Project]) -> str:
    project = project_of(catalog.files[0], around)
    return project.root if project is not None else _top(catalog)


def _by_root(found: Sequence[DraftCatalog], around: dict[str, Project]) -> tuple[dict[str, list[DraftCatalog]], dict[str, Project]]:
    """The catalogs by their clients' folders, and what shows each client. A client around another one is drawn in to what is its own."""
    by_root: dict[str, list[DraftCatalog]] = {}
    evidence: dict[str, Project] = {}
    at_root = any(project_of(catalog.files[0], around) is None and not _top(catalog) for catalog in found)
    for catalog in found:
        project = project_of(catalog.files[0], around) or Project("" if at_root else _top(catalog), "", catalog.files[0])
        by_root.setdefault(project.root, []).append(catalog)
        evidence.setdefault(project.root, project)
    for root in sorted(by_root, key=lambda root: -root.count("/") - bool(root)):
        inner = [other for other in by_root if other != root and _under(other, root)]
        if not inner:
            continue
        narrow = common_folder([catalog.base for catalog in by_root[root]])
        if narrow != root and not any(_under(other, narrow) or _under(narrow, other) for other in by_root if other != root):
            by_root[narrow] = by_root.pop(root)
            evidence[narrow] = evidence.pop(root)._replace(root=narrow)
    return by_root, evidence


def _sure(catalogs: list[DraftCatalog]) -> tuple[list[DraftCatalog], list[DraftCatalog]]:
    """The catalogs, without those of one locale where others have several: whether they are any is asked."""
    sure = [catalog for catalog in catalogs if catalog.confidence >= SURE]
    return (sure, [catalog for catalog in catalogs if catalog not in sure]) if sure else (catalogs, [])


def _below(files: Sequence[File], roots: Iterable[str]) -> dict[str, list[File]]:
    """The files of each client: each belongs to the nearest root around it."""
    found: dict[str, list[File]] = {root: [] for root in roots}
    owners: dict[str, list[File] | None] = {**found}
    for file in files:
        owner = _owner(file.rpartition("/")[0], owners)
        if owner is not None:
            owner.append(file)
    return found


def _owner(folder: str, owners: dict[str, list[File] | None]) -> list[File] | None:
    """The list of the nearest root around *folder*, or its own."""
    if folder not in owners:
        owners[folder] = _owner(folder.rpartition("/")[0], owners) if folder else None
    return owners[folder]


def _under(file: str, root: str) -> bool:
    return not root or file == root or file.startswith(f"{root}/")


def _top(catalog: DraftCatalog) -> str:
    """The folder that a catalog outside of any project belongs to: the first of its path, or the monorepo itself."""
    parts = catalog.base.split("/") if catalog.base else []
    return parts[0] if len(parts) > 1 else ""


# ------------------------------------------------------------------------------------------------------------------ one client


def _client(
    contents: Contents,
    project: Project,
    own: list[DraftCatalog],
    below: list[File],
    taken: frozenset[str],
    source: Source,
    names: Sequence[str],
    pseudo: set[Tag],
) -> tuple[DraftClient, list[str]]:
    root = project.root
    main = max(own, key=lambda catalog: catalog.messages * max(len(catalog.locales), 1))
    kind, platform = _kind(project, main)
    locales = tuple(tag for tag in dict.fromkeys([*(tag for catalog in own for tag in catalog.locales), source.tag]) if tag not in pseudo)
    finder = ClaimFinder(contents, root, below, locales, taken, platform)
    claims = finder.found()
    claims += _by_header(root, own)
    settled = _settled(claims, own, root, platform)
    catalogs = tuple(
        _exempt(catalog, locales, source.tag)._replace(settings=_from_root(catalog, root, locales, source.tag)) for catalog in own
    )
    client = DraftClient(
        name_of(root, names), kind, root or ".", platform, project.evidence, catalogs, tuple(settled), source.tag, source.seen
    )
    mirrored = mirrored_claims(contents, root, finder.files, locales) if platform != "lproj" else ()
    client = client._replace(claims=(*client.claims, *mirrored))
    declares = any(claim.states in ("supported", "offered") for claim in settled) or file_based(platform)
    client = client._replace(
        beta=frozenset(finder.lists.beta), by_files=not declares and _by_contents(max(own, key=lambda catalog: len(catalog.locales)))
    )
    cuts = finder.cuts[:1]
    sure = _DOUBTED if source.doubt else 1.0
    return client._replace(doubts=tuple(_doubts(client, source, cuts)), sure=sure), finder.unfinished


#: How sure it is of a client whose source is a question.
_DOUBTED = 0.8


def _kind(project: Project, main: DraftCatalog) -> tuple[str, str | None]:
    """What kind of client it is, and its platform: by its manifest, its folder's name, its catalogs."""
    form = formats.load(str(main.settings["format"]))
    signed = form.hints.platform is not None and form.hints.platform_sign in str(main.settings["files"])
    own = kind_of(project)
    for_phones = signed and form.hints.platform in ("android", "lproj") and own in ("", "web", "service")  # which web tools may build
    kind = form.hints.kind if for_phones else own or form.hints.kind
    platform = form.hints.platform if signed and form.hints.platform is not None and suits(form.hints.platform, kind) else None
    if platform == "browser" and main.settings.get("layout") == "locale-rooted" and form.name == "yaml":
        platform = None
    return kind, platform


def _from_root(catalog: DraftCatalog, root: str, locales: Sequence[Tag], source: Tag) -> dict[str, Any]:
    """The catalog's settings with its patterns from the client's root, and the locales of the client that it has nothing of."""
    folder = catalog.base[len(root) :].strip("/") if root else catalog.base
    settings: dict[str, Any] = {**catalog.settings, "files": "/".join(part for part in (folder, str(catalog.settings["files"])) if part)}
    if "except" in settings:
        settings["except"] = [pattern[len(root) + 1 :] if root else pattern for pattern in settings["except"]]
    lacking = _lacking(catalog, locales, source)
    if lacking:
        settings["without"] = dict.fromkeys(lacking, "not in this catalog when surveyed")
    return settings


def _lacking(catalog: DraftCatalog, locales: Sequence[Tag], source: Tag) -> list[Tag]:
    """The locales that other catalogs of the client have and this one has nothing of."""
    held = {LanguageTag.parse(tag).maximized() for tag in (*catalog.locales, source)}
    return [tag for tag in locales if LanguageTag.parse(tag).maximized() not in held] if catalog.locales else []


def _exempt(catalog: DraftCatalog, locales: Sequence[Tag], source: Tag) -> DraftCatalog:
    """The catalog, with a doubt where it has fewer locales than others of its client."""
    lacking = _lacking(catalog, locales, source)
    if not lacking:
        return catalog
    doubt = f"will it be translated into {', '.join(lacking[:6])}{', …' if len(lacking) > 6 else ''}? Then take these out of 'without'"
    return catalog._replace(doubts=(*catalog.doubts, doubt))


def _by_header(root: str, own: Iterable[DraftCatalog]) -> list[DraftClaim]:
    """A sheet's header says what is supported as much as any list."""
    found = []
    for catalog in own:
        if "columns" in formats.load(str(catalog.settings["format"])).layouts:
            file = catalog.files[0]
            below = file[len(root) + 1 :] if root else file
            settings: dict[str, Any] = {"states": "supported", "file": below, "header": True}
            if catalog.spelling:
                settings["spelling"] = catalog.spelling
            found.append(DraftClaim(settings, catalog.locales, f"{file}:1", 1.0))
    return found


def _settled(claims: list[DraftClaim], own: list[DraftCatalog], root: str, platform: str | None) -> list[DraftClaim]:
    """The claims, with one of what is supported: where a platform does not go by its files, something must say so."""
    if file_based(platform) or any(claim.states == "supported" for claim in claims):
        return claims
    offered = [claim for claim in claims if claim.states == "offered"]
    if offered:
        best = max(offered, key=lambda claim: claim.confidence)
        settings = {name: value for name, value in best.settings.items() if name != "labels"} | {"states": "supported"}
        if best.settings.get("labels") == "value":
            settings.setdefault("take", "keys")
        return [best._replace(settings=settings), *(claim for claim in claims if claim is not best)]
    main = max(own, key=lambda catalog: len(catalog.locales))
    if _by_contents(main):
        return claims
    pattern = str(_from_root(main, root, (), Tag("und"))["files"])
    if "{locale}" not in pattern or "[" in pattern:
        return claims
    settings = {"states": "supported", "files": pattern}
    if main.spelling:
        settings["spelling"] = main.spelling
    if "spelled" in main.settings:
        settings["spelled"] = main.settings["spelled"]
    doubt = "does it support every locale that it has files for? No list of locales was found in its code"
    return [DraftClaim(settings, main.locales, main.files[0], 0.5, (doubt,)), *claims]


def _by_contents(catalog: DraftCatalog) -> bool:
    """Whether files hold other locales than their names say, so that what they hold is what is supported: all in one, or the source's too, or in a file
    whose name has none.
    """
    form, pattern = formats.load(str(catalog.settings["format"])), str(catalog.settings["files"])
    in_one = catalog.settings.get("layout") in ("locale-leaved", "records") or "{locale}" not in pattern or "[" in pattern
    return in_one or form.habits.carries_source or catalog.settings.get("source-text") == "key"


def _doubts(client: DraftClient, source: Source, cuts: Sequence[tuple[str, str]]) -> Iterable[Question]:
    if source.doubt:
        yield Question(client.root, source.doubt)
    for place, code in cuts:
        other = "its platform's" if client.platform else "'truncate'"
        yield Question(
            place, f"does it use only the language of a request ({code!r})? If so, set lookup = 'primary'; if not, it is {other}"
        )
    if client.by_files:
        yield Question(client.root, "does it support every locale that its files hold? No list of locales was found in its code")
    elif not any(claim.states == "supported" for claim in client.claims) and not file_based(client.platform):
        yield Question(
            client.root, "where does it list what it supports? No list of locales was found, and its files are not named by locale"
        )


# --------------------------------------------------------------------------------------------------------------- the catalogs


def _with_names(catalog: DraftCatalog, root: str, contents: Contents, below: Sequence[str]) -> DraftCatalog:
    """The catalog with the file that names its messages, where these are numbered."""
    fields = catalog.settings.get("fields")
    file = next(iter(catalog.held.values()), None)
    if not fields or file is None:
        return catalog
    column = contents.column(file, formats.load(str(catalog.settings["format"])), "records", fields)
    if column is None or not all(key.lstrip("-").isdigit() for key in column.keys):
        return catalog
    folder = file.rpartition("/")[0]
    near = sorted((other for other in below if other not in catalog.files), key=lambda other: other.rpartition("/")[0] != folder)
    names = record_names(contents, column.key_set, near)
    if names is None:
        doubt = "its messages are numbered: is there a file of their names ('names')?"
        return catalog._replace(doubts=(*catalog.doubts, doubt))
    found = names["file"] if isinstance(names, dict) else names
    from_root = found[len(root) + 1 :] if root else found
    return catalog._replace(settings={**catalog.settings, "names": {**names, "file": from_root} if isinstance(names, dict) else from_root})


def _with_syntax(catalog: DraftCatalog, source: Tag, contents: Contents, syntaxes: dict[str, DraftSyntax]) -> DraftCatalog:
    """The catalog with the syntax that its source's texts show, where it is none of the known; and what is to be decided of it."""
    doubts = list(catalog.doubts)
    if catalog.confidence < SURE:
        which = ", ".join(catalog.locales) or "the source"
        doubts.append(f"is this a catalog still to be translated, or not a catalog? It exists only in {which}")
    form = formats.load(str(catalog.settings["format"]))
    file = catalog.unmarked or catalog.held.get(source) or next(iter(catalog.held.values()), None)
    reading = (
        contents.read(file, form, str(catalog.settings.get("layout", form.layouts[0])), catalog.settings.get("fields")) if file else None
    )
    found = unknown_form(texts_of(reading.columns)) if reading is not None and form.habits.syntax is None else None
    settings = catalog.settings
    if found is not None:
        syntaxes.setdefault(found.name, found)
        settings = {**settings, "syntax": found.name}
    return catalog._replace(settings=settings, doubts=tuple(doubts))


def _pseudo(own: Sequence[DraftCatalog], source: Tag, contents: Contents) -> set[Tag]:
    """The locales that are there to test with: by private tags, and by texts that are the source's own in disguise."""
    found = {tag for catalog in own for tag in catalog.locales if _is_private(tag)}
    for catalog in own:
        form = formats.load(str(catalog.settings["format"]))
        layout = str(catalog.settings.get("layout", "by-file"))
        if layout not in ("by-file", "locale-rooted"):
            continue
        base = catalog.unmarked or catalog.held.get(source)
        theirs = contents.column(base, form, layout) if base else None
        for tag, file in catalog.held.items() if theirs is not None else ():
            column = contents.column(file, form, layout) if file != base and tag not in found else None
            if theirs is not None and column is not None and is_pseudo(column, theirs):
                found.add(tag)
    return found


def _is_private(tag: Tag) -> bool:
    """Whether a tag is for private use: ``qps-ploc``, ``en-XA``, ``ar-XB``, ``en-x-long``."""
    parsed = LanguageTag.parse(tag)
    return ("qaa" <= parsed.language <= "qtz" and len(parsed.language) == 3) or parsed.region in ("XA", "XB", "XC", "ZZ") or "-x-" in tag


# ------------------------------------------------------------------------------------------------------------------- the whole


def _source(clients: Sequence[DraftClient]) -> Tag:
    """The charter's source: the language that most clients are written in, by the tag that is the most usual, the plain one first."""
    languages = Counter(LanguageTag.parse(client.source).maximized() for client in clients)
    if not languages:
        return Tag("en")
    most = max(languages.values())
    names = Counter(client.source for client in clients if languages[LanguageTag.parse(client.source).maximized()] == most)
    return min(names, key=lambda tag: (tag.count("-"), -names[tag], tag))


def _needs_word(client: DraftClient, source: Tag) -> bool:
    """Whether the charter must state the client's source, as it is not found by pairing."""
    return LanguageTag.parse(client.source).maximized() != LanguageTag.parse(source).maximized()


def _agreed(clients: tuple[DraftClient, ...], source: Tag, pseudo: set[Tag]) -> Draft:
    """The roster: what most clients claim ships; what only one or a few claim is on trial."""
    sets = [_as_source(_supported(client) - pseudo, client.source, source) for client in clients]
    alone = _side_by_side(sets)
    named: dict[object, Counter[Tag]] = {}
    shared: Counter[object] = Counter()
    for tags in sets:
        for tag in tags:
            named.setdefault(_same(tag, alone), Counter())[tag] += 1
        shared.update({_same(tag, alone) for tag in tags})
    chosen = {full: _best(names) for full, names in named.items()}
    if LanguageTag.parse(source).maximized() in chosen:
        chosen[LanguageTag.parse(source).maximized()] = source
    order = sorted(chosen.values(), key=lambda tag: (tag != source, tag))
    beta = {_same(tag, alone) for client in clients for tag in client.beta}
    usual = [tag for tag in order if 2 * shared[_same(tag, alone)] > len(clients) and _same(tag, alone) not in beta]
    if source not in usual:
        usual.insert(0, source)
    rest = {tag: 0.0 for tag in order if tag not in usual}
    defaults = Counter(tag for client in clients for claim in client.claims if claim.states == "default" for tag in claim.locales[:1])
    default = defaults.most_common(1)[0][0] if defaults else source
    default = next((tag for tag in usual if LanguageTag.parse(tag).maximized() == LanguageTag.parse(default).maximized()), source)
    return Draft(clients, source, tuple(usual), rest, tuple(sorted(pseudo)), default)


def _as_source(tags: set[Tag], own: Tag, source: Tag) -> set[Tag]:
    """*tags* with the client's *own* source as the roster's, where it is in the same language and the client has no other."""
    return (tags - {own}) | {source} if own in tags and source not in tags and same_language(own, source) else tags


def _side_by_side(sets: Sequence[set[Tag]]) -> set[Tag]:
    """The tags that some client lists beside another of the same maximized form: there ``pt`` and ``pt-BR`` are two locales."""
    found: set[Tag] = set()
    for tags in sets:
        forms = Counter(LanguageTag.parse(tag).maximized() for tag in tags)
        found |= {tag for tag in tags if forms[LanguageTag.parse(tag).maximized()] > 1}
    return found


def _same(tag: Tag, alone: set[Tag]) -> object:
    """What tags of one locale have in common: their maximized form, but for those that stand side by side."""
    return tag if tag in alone else LanguageTag.parse(tag).maximized()


def _supported(client: DraftClient) -> set[Tag]:
    claims = [claim for claim in client.claims if claim.states in ("supported", "source")]
    found = {tag for claim in claims for tag in claim.locales}
    return found or {tag for catalog in client.catalogs for tag in catalog.locales} | {client.source}


def _best(names: Mapping[Tag, int]) -> Tag:
    """Of several ways to name a locale the most usual; the one by script where they are as usual."""
    return max(names, key=lambda tag: (names[tag], len(tag.split("-")[-1]) == 4, -len(tag), tag))


def _left_over(finder: CatalogFinder) -> Iterable[Question]:
    """Files that hold texts and are in no catalog: their formats hold nothing else, or they lie where catalogs live."""
    if finder.odd:
        more = f" and {counted(len(finder.odd) - 1, 'more file')}" if len(finder.odd) > 1 else ""
        yield Question(
            finder.odd[0], f"is this{more} part of a catalog? Its name has signs of patterns; write it with a backslash before each"
        )
    for file, form, number in finder.left_over():
        more = f" and {number - 1} more in this folder" if number > 1 else ""
        yield Question(file, f"is this{more} a catalog? It holds texts ({form}), and no file of another locale was found beside it")
