"""Makes the tables of `lemmar.tags` from Unicode's and IANA's data, as public npm packages carry them, at pinned versions.

``python tools/make_tables.py`` fetches the packages by npm, writes the tables, and checks that a second run gives the same bytes;
``--from FOLDER`` takes packages that are there already (each in ``FOLDER/NAME-VERSION/package``).
"""

from __future__ import annotations

import argparse
import json
import re
import subprocess
import sys
import tarfile
import tempfile
from pathlib import Path
from typing import Any

PACKAGES = {
    "cldr-core": "48.2.0",
    "cldr-bcp47": "48.2.0",
    "cldr-localenames-full": "48.2.0",
    "language-subtag-registry": "0.4.2",
}
DATA = Path(__file__).resolve().parent.parent / "src" / "lemmar" / "tags" / "data"
LICENCE = """\
The tables in this folder are made by tools/make_tables.py from:

{sources}

CLDR data: Copyright 1991-2025 Unicode, Inc., under the Unicode License v3 (https://www.unicode.org/license.txt):
permission is granted, free of charge, to use, copy, modify, merge, publish, distribute and sell copies of the data files,
provided that this copyright and permission notice appear with all copies of them. THE DATA FILES ARE PROVIDED "AS IS",
WITHOUT WARRANTY OF ANY KIND.

IANA Language Subtag Registry of {registry}: public domain, as RFC 5646 section 3.1 describes it; the package is MIT licensed.
"""


class Packages:
    """Reads JSON files of the packages."""

    def __init__(self, folder: Path) -> None:
        self.folder = folder

    def json(self, package: str, path: str) -> Any:
        """The value of one file."""
        return json.loads((self.folder / f"{package}-{PACKAGES[package]}" / "package" / path).read_text("utf-8"))

    def names(self, package: str, path: str) -> list[str]:
        """The sorted names in one folder."""
        return sorted(found.name for found in (self.folder / f"{package}-{PACKAGES[package]}" / "package" / path).iterdir())

    def supplemental(self, name: str) -> Any:
        """One file of CLDR's supplemental data."""
        return self.json("cldr-core", f"supplemental/{name}.json")["supplemental"]


def registry(packages: Packages) -> dict[str, Any]:
    """The IANA registry: subtags by type, what is deprecated, prefixes, suppressed scripts, preferred values."""
    found: dict[str, Any] = {kind: [] for kind in ("language", "script", "region", "private")}
    found |= {kind: {} for kind in ("extlang", "variant", "deprecated", "suppress", "whole")}
    for record in packages.json("language-subtag-registry", "data/json/registry.json"):
        kind, name = record["Type"], record.get("Subtag", record.get("Tag"))
        if ".." in name:
            found["private"].append(f"{kind} {name}")
            continue
        if kind in ("language", "script", "region"):
            found[kind].append(name)
            if "Suppress-Script" in record:
                found["suppress"][name] = record["Suppress-Script"]
        elif kind == "extlang":
            found["extlang"][name] = record["Prefix"][0]
        elif kind == "variant":
            found["variant"][name] = record.get("Prefix", [])
        elif "Preferred-Value" in record or kind == "grandfathered":
            found["whole"][name] = record.get("Preferred-Value", "")
        if "Deprecated" in record and kind not in ("grandfathered", "redundant", "extlang"):
            found["deprecated"][f"{kind} {name}"] = record.get("Preferred-Value", "")
    found["language"], found["script"], found["region"] = (" ".join(found[kind]) for kind in ("language", "script", "region"))
    found["date"] = packages.json("language-subtag-registry", "data/json/meta.json")["File-Date"]
    return found


def descriptions(packages: Packages) -> dict[str, dict[str, str]]:
    """The registry's first description of each subtag that CLDR has no English name for."""
    english = {
        kind: _english(packages, file) for kind, file in (("language", "languages"), ("script", "scripts"), ("region", "territories"))
    }
    found: dict[str, dict[str, str]] = {"language": {}, "script": {}, "region": {}, "variant": {}}
    for record in packages.json("language-subtag-registry", "data/json/registry.json"):
        kind, name = record["Type"], record.get("Subtag", "")
        if kind in found and ".." not in name and name not in english.get(kind, {}):
            found[kind][name] = record["Description"][0]
    return found


def _english(packages: Packages, file: str) -> dict[str, str]:
    return _display(packages, "en", file)


def _display(packages: Packages, locale: str, file: str) -> dict[str, str]:
    found: dict[str, str] = packages.json("cldr-localenames-full", f"main/{locale}/{file}.json")["main"][locale]["localeDisplayNames"][file]
    return found


def names(packages: Packages) -> dict[str, Any]:
    """English names with their variants, of languages, scripts and regions, and each locale's own name for itself."""
    english: dict[str, dict[str, list[str]]] = {}
    for kind, file in (("language", "languages"), ("script", "scripts"), ("region", "territories")):
        table: dict[str, list[str]] = {}
        for key, name in _english(packages, file).items():
            tag = key.partition("-alt-")[0].partition("-menu-")[0]
            if "-menu-" not in key and name not in table.setdefault(tag, []):
                table[tag].append(name)
        english[kind] = table
    own: dict[str, str] = {}
    for locale in packages.names("cldr-localenames-full", "main"):
        if "languages.json" not in packages.names("cldr-localenames-full", f"main/{locale}"):
            continue
        names_here = _display(packages, locale, "languages")
        base, _, rest = locale.partition("-")
        itself = names_here.get(locale) or (names_here.get(base) if len(rest) == 4 else None)
        if itself and (locale == base or locale in english["language"] or itself != own.get(base)):
            own[locale] = itself
    return {"english": english, "own": own}


def aliases(packages: Packages) -> dict[str, Any]:
    """CLDR's aliases by type (UTS 35 Annex C)."""
    alias = packages.supplemental("aliases")["metadata"]["alias"]
    kinds = {
        "language": "languageAlias",
        "script": "scriptAlias",
        "region": "territoryAlias",
        "subdivision": "subdivisionAlias",
        "variant": "variantAlias",
    }
    return {kind: {name: facts["_replacement"] for name, facts in alias[key].items()} for kind, key in kinds.items()}


def extensions(packages: Packages) -> dict[str, Any]:
    """Keys and types of ``-u-`` and ``-t-`` whose canonical form is another."""
    found: dict[str, Any] = {"keys": {}, "types": {}}
    for file in packages.names("cldr-bcp47", "bcp47"):
        for letter, keys in packages.json("cldr-bcp47", f"bcp47/{file}").get("keyword", {}).items():
            for key, facts in keys.items():
                for alias in facts.get("_alias", "").split():
                    if len(alias) == 2:
                        found["keys"][f"{letter} {alias}"] = key
                for name, kind in facts.items():
                    if name.startswith("_") or not isinstance(kind, dict):
                        continue
                    preferred = kind.get("_preferred")
                    if preferred:
                        found["types"][f"{letter} {key} {name}"] = preferred
                    for alias in kind.get("_alias", "").lower().split():
                        if re.fullmatch(r"[a-z0-9-]+", alias) and alias not in (name, preferred):
                            found["types"].setdefault(f"{letter} {key} {alias}", name)
    return found


def likely(packages: Packages) -> dict[str, str]:
    """Likely subtags (UTS 35 part 1, Likely Subtags)."""
    found: dict[str, str] = packages.supplemental("likelySubtags")["likelySubtags"]
    return found


def parents(packages: Packages) -> dict[str, str]:
    """Explicit parent locales."""
    found: dict[str, str] = packages.supplemental("parentLocales")["parentLocales"]["parentLocale"]
    return found


def plurals(packages: Packages) -> dict[str, Any]:
    """Plural rules by kind, then language, then category; with which categories whole numbers reach."""
    found: dict[str, Any] = {}
    for kind, file in (("cardinal", "plurals"), ("ordinal", "ordinals")):
        rules = packages.supplemental(file)[f"plurals-type-{kind}"]
        found[kind] = {
            tag: {key.rpartition("-")[2]: [text.partition("@")[0].strip(), int("@integer" in text)] for key, text in each.items()}
            for tag, each in rules.items()
        }
    return found


def matching(packages: Packages) -> dict[str, Any]:
    """Language matching (UTS 35 part 1, Language Matching), with regions expanded."""
    rules = packages.supplemental("languageMatching")["languageMatching"]["written-new"]
    contains = packages.supplemental("territoryContainment")["territoryContainment"]

    def expand(region: str) -> list[str]:
        inner = [part for key in (region, f"{region}-status-grouping") for part in contains.get(key, {}).get("_contains", [])]
        return sorted({leaf for part in inner for leaf in expand(part)}) if inner and region not in ("EU", "EZ", "UN") else [region]

    macro = {region: " ".join(expand(region)) for region in contains if region.isdigit()}
    variables = {name[1:]: facts["_value"].split("+") for name, facts in rules["matchVariables"].items()}
    sets = {name: " ".join(sorted({leaf for part in parts for leaf in expand(part)} | set(parts))) for name, parts in variables.items()}
    matches = [
        f"{rule['_desired']} {rule['_supported']} {rule['_distance']}{' 1' if rule.get('_oneway') else ''}"
        for rule in rules["languageMatch"]
    ]
    return {"matches": matches, "sets": sets, "paradigm": rules["paradigmLocales"]["_locales"], "macro": macro}


def scripts(packages: Packages) -> dict[str, Any]:
    """Which scripts run from right to left."""
    facts = packages.json("cldr-core", "scriptMetadata.json")["scriptMetadata"]
    return {"rtl": " ".join(sorted(script for script, each in facts.items() if each.get("rtl") == "YES"))}


TABLES = {
    "registry": registry, "descriptions": descriptions, "names": names, "aliases": aliases, "extensions": extensions, "likely": likely, "parents": parents,
    "plurals": plurals, "matching": matching, "scripts": scripts,
}  # fmt: skip


def made(packages: Packages) -> dict[str, bytes]:
    """Every file's bytes: an entry a line, so that a change of the data, or a match of a search, shows the entry and not the table."""
    found = {
        f"{name}.json": json.dumps(make(packages), ensure_ascii=False, separators=(",", ":"), indent=0).encode() + b"\n"
        for name, make in TABLES.items()
    }
    sources = "\n".join(f"  npm package {name} {version}" for name, version in PACKAGES.items())
    date = registry(packages)["date"]
    found["SOURCES.txt"] = LICENCE.format(sources=sources, registry=date).encode()
    return found


def fetch(folder: Path) -> None:
    """Fetches the packages by npm."""
    for name, version in PACKAGES.items():
        subprocess.run(["npm", "pack", "--silent", f"{name}@{version}"], cwd=folder, check=True, stdout=subprocess.DEVNULL)
        with tarfile.open(folder / f"{name}-{version}.tgz") as archive:
            archive.extractall(folder / f"{name}-{version}", filter="data")


def main() -> None:
    """Writes the tables."""
    parser = argparse.ArgumentParser(description=__doc__.splitlines()[0] if __doc__ else "")
    parser.add_argument("--from", dest="folder", type=Path, help="packages that are there already")
    folder = parser.parse_args().folder
    with tempfile.TemporaryDirectory() as work:
        if folder is None:
            folder = Path(work)
            fetch(folder)
        files = made(Packages(folder))
        if made(Packages(folder)) != files:
            sys.exit("two runs gave different bytes")
    DATA.mkdir(parents=True, exist_ok=True)
    for name, data in files.items():
        (DATA / name).write_bytes(data)
    print(f"{sum(map(len, files.values())):,} bytes in {len(files)} files")


if __name__ == "__main__":
    main()
