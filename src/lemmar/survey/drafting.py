"""From what is found to a charter: clients with their catalogs and claims, the roster, the chains; and what is to be asked."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterable, Mapping, Sequence
from typing import Any

from lemmar import formats
from lemmar.charter.presets import file_based, suits
from lemmar.survey.catalogs import CatalogFinder
from lemmar.survey.claims import ClaimFinder
from lemmar.survey.draft import Draft, DraftCatalog, DraftClaim, DraftClient, Question
from lemmar.survey.projects import Project, name_of, project_of, projects
from lemmar.tags import LanguageTag, Tag
from lemmar.trees import File, Tree

_PSEUDO = {"en-XA", "ar-XB", "en-XB", "qps-ploc", "qps-PLOC", "zz", "xx"}


def draft(tree: Tree, files: Sequence[File]) -> Draft:
    """The draft of a charter for the *files* of a monorepo."""
    finder = CatalogFinder(tree, files)
    catalogs = finder.found()
    around = projects(files)
    by_root: dict[str, list[DraftCatalog]] = {}
    evidence: dict[str, Project] = {}
    for catalog in catalogs:
        project = project_of(catalog.files[0], around) or Project(_top(catalog), "", catalog.files[0])
        by_root.setdefault(project.root, []).append(catalog)
        evidence[project.root] = project
    source = _source(catalogs)
    taken = frozenset(file for catalog in catalogs for file in catalog.files)
    questions = list(finder.questions)
    unfinished = dict(finder.unfinished)
    clients: list[DraftClient] = []
    for root in sorted(by_root):
        own = by_root[root]
        inner = [other for other in by_root if other != root and (other.startswith(f"{root}/") or not root)]
        below = [file for file in files if _under(file, root) and not any(_under(file, other) for other in inner)]
        client, late = _client(tree, evidence[root], own, below, taken, source, [client.name for client in clients])
        unfinished |= dict.fromkeys(late)
        questions += _questions(client)
        clients.append(client)
    return _agreed(tuple(clients), source, questions)._replace(unfinished=tuple(unfinished))


def _under(file: str, root: str) -> bool:
    return not root or file.startswith(f"{root}/")


def _top(catalog: DraftCatalog) -> str:
    """The folder that a catalog outside of any project belongs to: the first of its path, or the monorepo itself."""
    parts = catalog.base.split("/") if catalog.base else []
    return parts[0] if len(parts) > 1 else ""


def _source(catalogs: Sequence[DraftCatalog]) -> Tag:
    """The locale that has most messages, English where it has nearly as many; where files name none, English is what they are in."""
    counts: Counter[Tag] = Counter()
    for catalog in catalogs:
        counts.update(dict.fromkeys(catalog.locales, catalog.messages))
    unmarked = [
        catalog for catalog in catalogs if "[" in str(catalog.settings["files"]) or formats.load(catalog.settings["format"]).carries_source
    ]
    english = max(("en", "en-US", "en-GB"), key=lambda tag: counts.get(Tag(tag), 0) * (1.25 if tag == "en" else 1))
    counts[Tag(english)] += sum(catalog.messages for catalog in unmarked if english not in catalog.locales)
    best = max(counts.values(), default=0)
    if counts[Tag(english)] >= 0.5 * best:
        return Tag(english)
    return min(tag for tag, count in counts.items() if count == best)


def _client(
    tree: Tree, project: Project, own: list[DraftCatalog], below: list[File], taken: frozenset[str], source: Tag, names: Sequence[str]
) -> tuple[DraftClient, list[str]]:
    root = project.root
    main = max(own, key=lambda catalog: catalog.messages * max(len(catalog.locales), 1))
    form = formats.load(main.settings["format"])
    beats = project.kind == "web" and form.platform in ("android", "lproj")  # a program for phones that web tools build
    kind = form.kind if not project.kind or beats else project.kind
    fits = form.platform is not None and form.platform_sign in str(main.settings["files"]) and suits(form.platform, kind)
    platform = form.platform if fits else None
    locales = tuple(dict.fromkeys([*(tag for catalog in own for tag in catalog.locales), source]))
    finder = ClaimFinder(tree, root, below, locales, taken, platform)
    claims = finder.found()
    claims += _by_header(root, own)
    settled = _settled(claims, own, root, platform)
    catalogs = tuple(catalog._replace(settings=_from_root(catalog, root)) for catalog in own)
    cuts = tuple(finder.cuts_requests()[:1])
    client = DraftClient(name_of(root, names), kind, root or ".", platform, project.evidence, catalogs, tuple(settled), cuts)
    return client, finder.unfinished


def _from_root(catalog: DraftCatalog, root: str) -> dict[str, Any]:
    """The catalog's settings with its pattern from the client's root."""
    folder = catalog.base[len(root) :].strip("/") if root else catalog.base
    pattern = "/".join(part for part in (folder, str(catalog.settings["files"])) if part)
    return {**catalog.settings, "files": pattern}


def _by_header(root: str, own: Iterable[DraftCatalog]) -> list[DraftClaim]:
    """A sheet's header says what is supported as much as any list."""
    found = []
    for catalog in own:
        if "columns" in formats.load(catalog.settings["format"]).layouts:
            file = catalog.files[0]
            below = file[len(root) + 1 :] if root else file
            found.append(DraftClaim({"states": "supported", "file": below, "header": True}, catalog.locales, f"{file}:1", 1.0))
    return found


def _settled(claims: list[DraftClaim], own: list[DraftCatalog], root: str, platform: str | None) -> list[DraftClaim]:
    """The claims, with one of what is supported: where a platform does not go by its files, something must say so."""
    if file_based(platform) or any(claim.settings["states"] == "supported" for claim in claims):
        return claims
    offered = [claim for claim in claims if claim.settings["states"] == "offered"]
    if offered:
        best = max(offered, key=lambda claim: claim.confidence)
        settings = {name: value for name, value in best.settings.items() if name != "labels"} | {"states": "supported"}
        if best.settings.get("labels") == "value":
            settings.setdefault("take", "keys")
        return [best._replace(settings=settings), *(claim for claim in claims if claim is not best)]
    main = max(own, key=lambda catalog: len(catalog.locales))
    pattern = str(_from_root(main, root)["files"])
    if "{locale}" not in pattern or "[" in pattern:
        return claims
    settings = {"states": "supported", "files": pattern}
    if main.spelling:
        settings["spelling"] = main.spelling
    return [DraftClaim(settings, main.locales, main.files[0], 0.5), *claims]


def _questions(client: DraftClient) -> Iterable[Question]:
    for place, code in client.cuts:
        other = "its platform's" if client.platform else "'truncate'"
        yield Question(
            place, f"does {client.name} use only the language of a request ({code!r})? If so, set lookup = 'primary'; if not, it is {other}"
        )
    supported = [claim for claim in client.claims if claim.settings["states"] == "supported"]
    if not supported and not file_based(client.platform):
        yield Question(
            client.root,
            f"where does {client.name} list what it supports? No list of locales was found, and its files are not named by locale",
        )
    for claim in supported:
        if "files" in claim.settings:
            yield Question(
                client.root, f"does {client.name} support every locale that it has files for? No list of locales was found in its code"
            )
    for catalog in client.catalogs:
        if catalog.confidence < 0.7:
            which = ", ".join(catalog.locales) or "no locale"
            yield Question(catalog.files[0], f"is this a catalog still to be translated, or not a catalog? It exists only in {which}")
        if catalog.settings.get("layout") == "records":
            yield Question(catalog.files[0], "are the keys of its records names, or numbers whose names are in another file ('names')?")


def _agreed(clients: tuple[DraftClient, ...], source: Tag, questions: list[Question]) -> Draft:
    """The roster: what most clients share ships; the rest is on trial."""
    sets = [_supported(client) for client in clients]
    alone = _side_by_side(sets)
    named: dict[object, Counter[Tag]] = {}
    shared: Counter[object] = Counter()
    for tags in sets:
        for tag in tags:
            named.setdefault(_kind(tag, alone), Counter())[tag] += 1
        shared.update({_kind(tag, alone) for tag in tags})
    chosen = {full: _best(names) for full, names in named.items()}
    pseudo = tuple(sorted(tag for tag in chosen.values() if tag in _PSEUDO))
    order = sorted(chosen.values(), key=lambda tag: (tag != source, tag))
    usual = [tag for tag in order if tag not in pseudo and 2 * shared[_kind(tag, alone)] > len(clients)]
    if source not in usual:
        usual.insert(0, source)
    rest = {tag: 0.0 for tag in order if tag not in usual and tag not in pseudo}
    defaults = Counter(
        tag for client in clients for claim in client.claims if claim.settings["states"] == "default" for tag in claim.locales[:1]
    )
    default = defaults.most_common(1)[0][0] if defaults else source
    return Draft(clients, source, tuple(usual), rest, pseudo, default if default in usual else source, tuple(questions))


def _side_by_side(sets: Sequence[set[Tag]]) -> set[Tag]:
    """The tags that some client lists beside another of the same maximized form: there ``pt`` and ``pt-BR`` are two locales."""
    found: set[Tag] = set()
    for tags in sets:
        forms = Counter(LanguageTag.parse(tag).maximized() for tag in tags)
        found |= {tag for tag in tags if forms[LanguageTag.parse(tag).maximized()] > 1}
    return found


def _kind(tag: Tag, alone: set[Tag]) -> object:
    """What tags of one locale have in common: their maximized form, but for those that stand side by side."""
    return tag if tag in alone else LanguageTag.parse(tag).maximized()


def _supported(client: DraftClient) -> set[Tag]:
    claims = [claim for claim in client.claims if claim.settings["states"] in ("supported", "source")]
    found = {tag for claim in claims for tag in claim.locales}
    return found or {tag for catalog in client.catalogs for tag in catalog.locales}


def _best(names: Mapping[Tag, int]) -> Tag:
    """Of several ways to name a locale the most usual; the one by script where they are as usual."""
    return max(names, key=lambda tag: (names[tag], len(tag.split("-")[-1]) == 4, -len(tag), tag))
