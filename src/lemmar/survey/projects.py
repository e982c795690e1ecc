"""Where clients live: the folders of a monorepo that have a project of their own, and of what kind it is."""

from __future__ import annotations

import re
from collections import Counter
from collections.abc import Iterable, Sequence
from typing import NamedTuple

from lemmar.basics.expressions import expression
from lemmar.survey.paths import locale_of

#: Files that make their folder a project, by the kind of client they speak of; of several in one folder the first here counts.
_NAMES = {
    name: (rank, kind)
    for rank, (name, kind) in enumerate(
        (
            ("project.godot", "game"),
            ("ProjectVersion.txt", "game"),
            ("pubspec.yaml", "mobile"),
            ("AndroidManifest.xml", "mobile"),
            ("project.pbxproj", "mobile"),
            ("Podfile", "mobile"),
            ("Package.swift", "mobile"),
            ("Info.plist", "mobile"),
            ("CMakeLists.txt", "desktop"),
            ("configure.ac", "desktop"),
            ("meson.build", "desktop"),
            ("package.json", "web"),
            ("composer.json", "web"),
            ("index.html", "web"),
            ("Gemfile", "web"),
            ("manage.py", "service"),
            ("pyproject.toml", "service"),
            ("setup.py", "service"),
            ("setup.cfg", "service"),
            ("requirements.txt", "service"),
            ("settings.gradle", ""),
            ("settings.gradle.kts", ""),
            ("build.gradle", ""),
            ("build.gradle.kts", ""),
            ("pom.xml", "service"),
            ("go.mod", "service"),
            ("Cargo.toml", "service"),
        )
    )
}
_SUFFIXES = {
    ".uproject": (0, "game"),
    **dict.fromkeys((".csproj", ".vbproj", ".fsproj", ".sln", ".pro"), (12, "desktop")),
}
#: Folders whose children are projects, though nothing in them says so.
_GATHERING = frozenset({"clients", "apps", "applications", "services", "games", "programs", "products", "frontends", "backends"})
# What such a file is found in is not the project's own folder: so many levels up it is.
_ABOVE = {"project.pbxproj": 1, "ProjectVersion.txt": 1}
#: Of these one lies in each module of a project.
_OF_MODULES = frozenset(
    {
        *("AndroidManifest.xml", "CMakeLists.txt", "build.gradle", "build.gradle.kts", "settings.gradle", "settings.gradle.kts", "pom.xml"),
        *("Cargo.toml", "meson.build"),
    }
)
#: Kinds that a folder's own name says, where its manifest may be any program's.
_WORDS = (
    ("game", expression(r"games?|player|engine")),
    ("mobile", expression(r"mobile|android|ios|phone|tablet|watch|wear")),
    ("desktop", expression(r"desktop|gui|kiosk|panel")),
    ("web", expression(r"web|site|website|www|portal|frontend|browser|page|pages")),
    ("service", expression(r"service|services|server|api|backend|worker|daemon|mailer")),
)
_SURE_KINDS = frozenset(
    {"project.godot", "ProjectVersion.txt", "pubspec.yaml", "AndroidManifest.xml", "project.pbxproj", "Podfile", "Info.plist"}
)
#: So many folders beside each other that are named by locales are no projects.
_LOCALES = 3
_NO_CLIENTS = frozenset({"test", "tests", "__tests__", "fixtures", "testdata", "spec", "examples", "example", "docs", "node_modules"})


class Project(NamedTuple):
    """A folder with a project: its kind, and the file that says so."""

    root: str
    kind: str
    evidence: str


def projects(files: Iterable[str]) -> dict[str, Project]:
    """The projects among *files* by their folders; of one inside another's source both are there."""
    found: dict[str, tuple[int, Project]] = {}
    seen: set[str] = set()
    for file in files:
        folder, _, name = file.rpartition("/")
        if folder not in seen:
            seen.add(folder)
            parts = folder.split("/")
            if len(parts) > 1 and parts[0] in _GATHERING:
                root = "/".join(parts[:2])
                found.setdefault(root, (len(_NAMES), Project(root, "", f"{parts[0]}/")))
        rank, kind = _NAMES.get(name) or _SUFFIXES.get(name[name.rfind(".") :], (-1, ""))
        if rank < 0:
            continue
        parts = folder.split("/") if folder else []
        if _NO_CLIENTS & set(parts):
            continue
        root = _root_of(name, parts)
        known = found.get(root)
        if known is None or rank < known[0]:
            found[root] = (rank, Project(root, kind, file))
    return _merged(_without_locales({root: project for root, (_, project) in found.items()}))


def _without_locales(found: dict[str, Project]) -> dict[str, Project]:
    """Without manifests that lie in the folder of each locale."""
    named = [root for root in found if locale_of(root.rpartition("/")[2]) is not None]
    beside = Counter(root.rpartition("/")[0] for root in named)
    return {root: project for root, project in found.items() if root not in named or beside[root.rpartition("/")[0]] < _LOCALES}


def _root_of(name: str, parts: list[str]) -> str:
    """The folder of the project that a manifest in the folder *parts* speaks of."""
    if name == "AndroidManifest.xml" and parts[-2:-1] == ["src"]:
        return "/".join(parts[:-3]) or "/".join(parts[:-2])
    up = _ABOVE.get(name, 1 if name == "Info.plist" and len(parts) > 1 else 0)
    return "/".join(parts[: len(parts) - up])


def _merged(found: dict[str, Project]) -> dict[str, Project]:
    """Without modules of a project that is built as one: an app folder below its settings, a bundle below its program."""
    kept = {}
    for root, project in found.items():
        above = _parent(root, found)
        gathered = above is not None and above.root.rpartition("/")[0] in _GATHERING and above.root.count("/") == 1
        module = above is not None and {_file(project), _file(above)} <= _OF_MODULES and root.rpartition("/")[0] not in _GATHERING
        inside = module or (
            above is not None
            and above.root
            and (gathered or (above.kind == project.kind and project.kind in ("mobile", "game", "desktop")))
        )
        if not inside:
            kept[root] = project
    for root, project in found.items():
        if root in kept or not project.kind:
            continue
        above = _parent(root, kept)
        if above is not None and not kept[above.root].kind:
            kept[above.root] = Project(above.root, project.kind, project.evidence)
    return kept


def _file(project: Project) -> str:
    return project.evidence.rpartition("/")[2]


def kind_of(project: Project) -> str:
    """The kind of client that a project is: what its manifest says, if that is one kind's alone, else its folder's name, else its manifest."""
    if _file(project) in _SURE_KINDS or project.evidence.endswith(".uproject"):
        return project.kind
    words = re.split(r"[-_. ]", project.root.rpartition("/")[2].lower())
    return next((kind for kind, form in _WORDS if any(form.fullmatch(word) for word in words)), project.kind)


def _parent(root: str, found: dict[str, Project]) -> Project | None:
    while root:
        root = root.rpartition("/")[0]
        if root in found:
            return found[root]
    return None


def project_of(file: str, found: dict[str, Project]) -> Project | None:
    """The nearest project around *file*."""
    return found.get(file.rpartition("/")[0]) or _parent(file.rpartition("/")[0], found)


def name_of(root: str, taken: Sequence[str]) -> str:
    """A client's name: its folder's, with the one above where that is taken."""
    parts = [part for part in root.split("/") if part] or ["main"]
    name = parts[-1]
    for part in reversed(parts[:-1]):
        if name not in taken:
            break
        name = f"{part}-{name}"
    number = 2
    whole = name
    while whole in taken:
        whole, number = f"{name}-{number}", number + 1
    return whole
