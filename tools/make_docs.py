"""Makes the pages that are generated: the rules reference from the rules, the charter reference from its types, and so on.

``python tools/make_docs.py`` writes them; with ``--check`` it only says whether they are current.
"""

from __future__ import annotations

import ast
import json
import sys
import tomllib
from importlib import import_module
from pathlib import Path

from lemmar import formats, lookups
from lemmar.charter.reading import key_table
from lemmar.report.json import make_schema
from lemmar.rules import all_rules
from lemmar.rules._examples import EXAMPLES
from lemmar.tags import SPELLINGS, LanguageTag, write_spelling

ROOT = Path(__file__).resolve().parent.parent


def rules_page() -> str:
    """The rules reference."""
    parts = ["# Rules\n\nMade from the rules' own texts; `lemmar rules NAME` shows the same. Severities are the defaults: a charter's"]
    parts[0] += " `[gate]` may change them.\n"
    family = ""
    for rule in all_rules().values():
        if rule.name.partition(".")[0] != family:
            family = rule.name.partition(".")[0]
            parts.append(f"## {family}\n")
        hidden = dict.fromkeys(other for hides in rule.hides for other in hides.rules)
        names = ", ".join(f"`{name}`" for name in hidden)
        hides = f"\nNot reported as well, for the same cause: {names}.\n" if hidden else ""
        examples = zip(("Fails", "Passes"), EXAMPLES.get(rule.name, ()), strict=False)
        shown = "".join(f"\n- {word}: {example.words()}" for word, example in examples)
        left = "" if rule.is_mended else "\n`lemmar mend` leaves this to a person.\n"
        parts.append(f"### `{rule.name}` ({rule.severity})\n\n{rule.summary}\n\n{rule.manual}\n{shown and shown + chr(10)}{left}{hides}")
    return "\n".join(parts)


def charter_page() -> str:
    """The charter reference: the hand-written beginning, then a table for each table of keys."""
    page = ROOT / "docs" / "charter.md"
    head = page.read_text("utf-8").partition(_MARK)[0]
    parts = [head + _MARK + "\n"]
    table = ""
    for name, key, kind, meaning in key_table():
        if name != table:
            table = name
            parts.append(f"\n### {_TITLES.get(name, name)}\n\n| key | type | meaning |\n| --- | --- | --- |")
        parts.append(f"| `{key}` | {kind} | {meaning} |")
    return "\n".join(parts) + "\n"


_MARK = "## Every key\n"
_TITLES = {
    "Charter": "The tables of the charter",
    "Head": "`[charter]`",
    "Roster": "`[roster]`",
    "Gate": "`[gate]`",
    "NamedGate": "`[gate.NAME]`",
    "Messages": "`[messages]`",
    "OwnSyntax": "`[syntax.NAME]`",
    "OwnLocale": "`[locale.TAG]`",
    "Runtime": "`[client.runtime]`",
    "Columns": "`columns` of a catalog",
    "Names": "`names` of a catalog",
    "Fields": "`fields` of a catalog",
    "CatalogEntry": "`[[catalog]]` and `[[client.catalog]]`",
    "ClaimEntry": "`[[client.claim]]`",
    "ClientEntry": "`[[client]]`",
    "ComposedEntry": "`[[client.composed]]`",
    "KeyListEntry": "`[[client.key-list]]`",
    "TermEntry": "`[[term]]`",
    "WaiverEntry": "`[[waiver]]`",
}


_EXAMPLES = ("de-AT", "zh-Hans", "zh-Hant-HK", "sr-Latn", "pt-BR", "es-419", "he", "ca-ES-valencia")
_SPELT = "## How each platform writes a locale\n"


def tags_page() -> str:
    """The page on tags: the hand-written beginning, then the table of spellings."""
    head = (ROOT / "docs" / "tags.md").read_text("utf-8").partition(_SPELT)[0]
    rows = [f"| tag | {' | '.join(f'`{spelling}`' for spelling in SPELLINGS)} |", "| --- " * (len(SPELLINGS) + 1) + "|"]
    for text in _EXAMPLES:
        tag = LanguageTag.parse(text)
        rows.append(f"| `{text}` | {' | '.join(f'`{write_spelling(tag, spelling)}`' for spelling in SPELLINGS)} |")
    return head + _SPELT + "\n" + "\n".join(rows) + "\n"


def formats_page() -> str:
    """The page on formats, from the modules' own texts."""
    parts = [
        "# Formats\n\nMade from the readers' own texts. `lemmar read FILE` shows what is read of any file, `lemmar read --formats` the list.\n"
    ]
    for name in formats.names():
        found = formats.load(name)
        text = found.manual.replace("``", "`")
        suffixes = ", ".join(f"`{suffix}`" for suffix in found.suffixes)
        layouts = ", ".join(f"`{layout}`" for layout in found.layouts)
        parts.append(f"## `{name}`\n\n{text}\n\nFiles: {suffixes}. Layouts: {layouts}.\n")
    return "\n".join(parts)


_LOOKUPS = "| lookup | what it answers with | forms of `zh-HK` | forms of `de-CH` |\n"


def fallback_page() -> str:
    """The page on fallback: its table of lookups is made from theirs."""
    head, _, rest = (ROOT / "docs" / "fallback.md").read_text("utf-8").partition(_LOOKUPS)
    rows = []
    for name in lookups.names():
        found = lookups.load(name)
        forms = [", ".join(f"`{form}`" for form in dict.fromkeys(found.forms(request))) for request in ("zh-HK", "de-CH")]
        rows.append(f"| `{name}` | {found.about} | {forms[0]} | {forms[1]} |\n")
    return f"{head}{_LOOKUPS}| --- | --- | --- | --- |\n{''.join(rows)}\n{rest.partition(chr(10) * 2)[2]}"


_ROOMS = "| room | what is in it |\n"


def architecture_page() -> str:
    """The page on the architecture: its table of rooms is made from the contract's layers and from what each room says of itself."""
    head, _, rest = (ROOT / "docs" / "architecture.md").read_text("utf-8").partition(_ROOMS)
    with (ROOT / "pyproject.toml").open("rb") as file:
        contract = tomllib.load(file)["tool"]["importlinter"]["contracts"][0]
    rooms = [room for layer in contract["layers"] for room in layer.split(" | ")]
    rows = [
        f"| `{room}` | {(import_module(f'lemmar.{room}').__doc__ or '').partition(chr(10))[0].replace('``', '`')} |\n" for room in rooms
    ]
    return f"{head}{_ROOMS}| --- | --- |\n{''.join(rows)}\n{rest.partition(chr(10) * 2)[2]}"


_CACHES = "| cache | keyed by | at most |\n"


def caches_page() -> str:
    """The page on caches: its list of those within a process is made from the code."""
    head = (ROOT / "docs" / "caches.md").read_text("utf-8").partition(_CACHES)[0]
    rows = []
    for path in sorted((ROOT / "src" / "lemmar").rglob("*.py")):
        module = ".".join(path.relative_to(ROOT / "src").with_suffix("").parts).removesuffix(".__init__")
        for node in ast.walk(ast.parse(path.read_text("utf-8"))):
            if isinstance(node, ast.FunctionDef) and any(
                ast.unparse(word).startswith(("cache", "lru_cache(")) for word in node.decorator_list
            ):
                if "cached_property" in map(ast.unparse, node.decorator_list):
                    continue
                size = getattr(import_module(module), node.name).cache_parameters()["maxsize"]
                keys = ", ".join(f"`{argument.arg}`" for argument in node.args.args) or "nothing: a table of the package's own data"
                rows.append(f"| `{module}.{node.name}` | {keys} | {f'{size:,}' if size else 'each once'} |\n")
    return f"{head}{_CACHES}| --- | --- | --- |\n{''.join(rows)}"


def pages() -> dict[Path, str]:
    """Every generated file and what it must hold."""
    return {
        ROOT / "docs" / "rules.md": rules_page(),
        ROOT / "docs" / "charter.md": charter_page(),
        ROOT / "docs" / "tags.md": tags_page(),
        ROOT / "docs" / "formats.md": formats_page(),
        ROOT / "docs" / "fallback.md": fallback_page(),
        ROOT / "docs" / "architecture.md": architecture_page(),
        ROOT / "docs" / "caches.md": caches_page(),
        ROOT / "src" / "lemmar" / "report" / "audit.schema.json": json.dumps(make_schema(), indent=2) + "\n",
    }


def main() -> None:
    """Writes the pages, or with ``--check`` fails where one is not current."""
    stale = [path for path, text in pages().items() if not path.exists() or path.read_text("utf-8") != text]
    if "--check" in sys.argv:
        if stale:
            sys.exit(f"not current: {', '.join(str(path.relative_to(ROOT)) for path in stale)}; run 'make docs'")
        return
    for path in stale:
        path.write_text(pages()[path], encoding="utf-8")
        print(f"wrote {path.relative_to(ROOT)}")


if __name__ == "__main__":
    main()
