"""What holds the project together: imports go down only, every registry lists its folder, the generated pages are current."""

from __future__ import annotations

import ast
import re
import subprocess
import sys
from collections import Counter
from collections.abc import Iterator
from importlib import import_module
from pathlib import Path

import click
import pytest
import yaml

from lemmar import formats, lookups, selectors, syntax
from lemmar.cli import program
from lemmar.rules import all_rules

ROOT = Path(__file__).resolve().parent.parent
SOURCE = ROOT / "src" / "lemmar"


def test_imports_go_down_only() -> None:
    done = subprocess.run(
        [Path(sys.executable).with_name("lint-imports")], cwd=ROOT, capture_output=True, text=True
    )
    assert done.returncode == 0, done.stdout


def test_the_generated_pages_are_current() -> None:
    done = subprocess.run(
        [sys.executable, "tools/make_docs.py", "--check"], cwd=ROOT, capture_output=True, text=True
    )
    assert done.returncode == 0, done.stderr


def test_registries_list_their_folders() -> None:
    assert all(formats.load(name).name == name for name in formats.names())
    assert all(syntax.load(name).name == name for name in syntax.names())
    assert all(selectors.load(name).name == name for name in selectors.names() if name != "files")
    assert all(lookups.load(name).name == name for name in lookups.names())


def test_every_picture_is_linked_from_the_readme() -> None:
    readme = (ROOT / "README.md").read_text("utf-8")
    pictures = sorted((ROOT / "docs" / "screenshots").glob("*.png"))
    assert 0 < len(pictures) < 20 and all(picture.name in readme for picture in pictures)


#: What other programs call, or a library.
OUTSIDE = {"FORM", "get_command", "get_metavar", "shell_complete", "version", "lookup", "like"}
REGISTERED = {"FORMAT", "SELECTOR", "SYNTAX", "LOOKUP", "LANGUAGES", "OUTPUT"}


def definitions(tree: ast.Module) -> Iterator[str]:
    """The functions, methods, classes, constants and fields that a module defines, but for what a registry finds."""
    for node in ast.walk(tree):
        if isinstance(node, (ast.FunctionDef, ast.ClassDef)):
            registered = any(
                word in ast.unparse(each)
                for each in node.decorator_list
                for word in ("rule(", "command", "_mends(")
            )
            if not registered and not node.name.startswith(("read_", "handle_", "__")):
                yield node.name
        if isinstance(node, ast.ClassDef):
            yield from (
                each.target.id
                for each in node.body
                if isinstance(each, ast.AnnAssign) and isinstance(each.target, ast.Name)
            )
        if isinstance(node, ast.Assign) and node.col_offset == 0:
            yield from (
                each.id
                for each in node.targets
                if isinstance(each, ast.Name) and each.id not in REGISTERED
            )


def test_nothing_is_dead() -> None:
    defined: dict[str, str] = {}
    used: Counter[str] = Counter()
    for path in [*SOURCE.rglob("*.py"), *(ROOT / "tools").rglob("*.py")]:
        tree = ast.parse(path.read_text("utf-8"))
        if path.is_relative_to(SOURCE):
            defined |= {
                name: f"{path.relative_to(SOURCE)}: {name}"
                for name in definitions(tree)
                if not name.startswith("__")
            }
        for node in ast.walk(tree):
            if isinstance(node, ast.Name) and isinstance(node.ctx, ast.Load):
                used[node.id] += 1
            elif isinstance(node, ast.Attribute):
                used[node.attr] += 1
    # A field of what is written as JSON is read by its name alone.
    written = {name for name, where in defined.items() if where.startswith("report/json.py")}
    assert [
        where
        for name, where in sorted(defined.items())
        if not used[name] and name not in OUTSIDE | written
    ] == []


def test_every_constant_of_a_module_is_read() -> None:
    """A constant of a module's own is read in that module, an entry that a registry finds aside."""
    unread = []
    for path in SOURCE.rglob("*.py"):
        tree = ast.parse(path.read_text("utf-8"))
        names = [each for each in ast.walk(tree) if isinstance(each, ast.Name)]
        read = {each.id for each in names if isinstance(each.ctx, ast.Load)}
        own = {
            each.id
            for node in tree.body
            if isinstance(node, (ast.Assign, ast.AnnAssign))
            for each in (node.targets if isinstance(node, ast.Assign) else [node.target])
            if isinstance(each, ast.Name)
        }
        unread += [
            f"{path.relative_to(SOURCE)}: {name}" for name in own - read if re.match("_[^_]", name)
        ]
    assert sorted(unread) == []


def test_functions_are_short() -> None:
    """Nothing but tables is longer than 45 lines, without its docstring."""
    long = []
    for path in SOURCE.rglob("*.py"):
        for node in ast.walk(ast.parse(path.read_text("utf-8"))):
            if isinstance(node, ast.FunctionDef):
                first = node.body[1 if ast.get_docstring(node) and len(node.body) > 1 else 0]
                lines = (node.end_lineno or 0) - first.lineno + 1
                long += [f"{path.name}: {node.name} ({lines})"] if lines > 45 else []
    assert long == []


def test_the_top_of_the_package_is_rooms() -> None:
    files = {path.name for path in SOURCE.iterdir() if path.is_file()}
    assert files == {"__init__.py", "__main__.py", "api.py", "findings.py", "py.typed"}


#: The attributes of a source file that hold types of nodes.
HOLDERS = (
    *("wrappers", "numbers", "booleans", "nulls", "comments", "texts"),
    *("cases", "comparisons", "bodies"),
)


def strings(node: ast.AST) -> set[str]:
    return {
        each.value
        for each in ast.walk(node)
        if isinstance(each, ast.Constant) and isinstance(each.value, str)
    }


def node_types(tree: ast.Module) -> tuple[set[str], set[str]]:
    """The types of nodes, and the fields, that a language's module names."""
    constants = {
        each.targets[0].id: each.value
        for each in tree.body
        if isinstance(each, ast.Assign) and isinstance(each.targets[0], ast.Name)
    }
    types: set[str] = set()
    fields: set[str] = set()
    for node in ast.walk(tree):
        if isinstance(node, ast.FunctionDef) and node.name.startswith("read_"):
            types.add(node.name.removeprefix("read_"))
        elif isinstance(node, ast.Assign) and isinstance(node.targets[0], ast.Name):
            name = node.targets[0].id
            types |= strings(node.value) if name in HOLDERS else set()
            types |= {name.removeprefix("read_")} if name.startswith("read_") else set()
        elif isinstance(node, ast.Compare) and (
            ast.unparse(node.left) == "kind" or ast.unparse(node.left).endswith(".type")
        ):
            named = [
                constants[each.id]
                for other in node.comparators
                for each in ast.walk(other)
                if isinstance(each, ast.Name) and each.id in constants
            ]
            types |= {word for other in [*node.comparators, *named] for word in strings(other)}
        elif isinstance(node, ast.Call) and ast.unparse(node.func).endswith("by_field_name"):
            fields |= strings(node)
    return types, fields


@pytest.mark.parametrize(
    "module",
    [path.stem for path in sorted((SOURCE / "languages").glob("[a-z]*.py"))],
)
def test_a_grammar_has_each_type_of_node_that_the_code_names(module: str) -> None:
    types: set[str | None] = set()
    fields: set[str | None] = set()
    for language in import_module(f"lemmar.languages.{module}").LANGUAGES:
        grammar = language.parser().language
        assert grammar is not None
        types |= {grammar.node_kind_for_id(number) for number in range(grammar.node_kind_count)}
        fields |= {grammar.field_name_for_id(number) for number in range(grammar.field_count + 1)}
    named, asked = node_types(ast.parse((SOURCE / "languages" / f"{module}.py").read_text("utf-8")))
    assert named - types == set() and asked - fields == set()
    assert named or module == "html"


#: What a careful colleague would not write to users.
STILTED = (
    r"\bwhence\b|\btold\b|\bits say\b|\bhold(?:s|ing)? [^.|]{0,40} against\b|\bheld against\b|\bgoes? without\b|"
    r"\bdo without\b|\bstands? twice\b|\bthe source does not have\b|\bdraw(?:s|n)? up\b|\blooks? it over\b|"
    r"\bof which (?:it|there) |\bis written '|\bspeaks\b|\band stop\b|\bleaves? the script open\b|\bis none\b"
)


def spoken() -> Iterator[tuple[str, str]]:
    """What users read: the rules' texts and every f-string in them, the help, the pages."""
    for name, rule in all_rules().items():
        yield name, f"{rule.summary}\n{rule.manual}"
    for path in [*(SOURCE / "rules").glob("*.py"), *(SOURCE / "views").glob("*.py")]:
        for node in ast.walk(ast.parse(path.read_text("utf-8"))):
            if isinstance(node, ast.JoinedStr):
                yield f"{path.name}:{node.lineno}", ast.unparse(node)
    for name, command in get_command_tree().items():
        yield name, command
    for page in [*(ROOT / "docs").glob("*.md"), *ROOT.glob("*.md")]:
        yield page.name, page.read_text("utf-8")


def get_command_tree() -> dict[str, str]:
    """The help of the program and of each of its commands."""
    context = click.Context(program, info_name="lemmar")
    found = {"lemmar": program.get_help(context)}
    for name in program.list_commands(context):
        command = program.get_command(context, name)
        assert command is not None
        with click.Context(command, info_name=name, parent=context) as inner:
            found[name] = command.get_help(inner)
    return found


def test_the_english_is_plain() -> None:
    assert [
        (where, found.group())
        for where, text in spoken()
        for found in re.finditer(STILTED, " ".join(text.split()))
    ] == []


def test_every_expression_can_be_compiled() -> None:
    """They are compiled at their first use, so that importing shows no fault of theirs."""
    found = 0
    for file in SOURCE.rglob("*.py"):
        if file.name == "__main__.py":
            continue
        parts = file.relative_to(SOURCE).with_suffix("").parts
        module = import_module(
            ".".join(("lemmar", *(part for part in parts if part != "__init__")))
        )
        for value in vars(module).values():
            if type(value).__name__ == "_Uncompiled":
                assert value.groups >= 0
                found += 1
    assert found > 150


def test_every_command_has_a_manual_page(tmp_path: Path) -> None:
    done = subprocess.run(
        [sys.executable, "tools/make_man.py", str(tmp_path)],
        cwd=ROOT,
        capture_output=True,
        text=True,
    )
    assert done.returncode == 0, done.stderr
    context = click.Context(program, info_name="lemmar")
    assert {page.stem for page in tmp_path.iterdir()} == {
        "lemmar",
        *(f"lemmar-{name}" for name in program.list_commands(context)),
    }
    assert "\\-\\-since" in (tmp_path / "lemmar-audit.1").read_text("utf-8")


def test_the_hook_for_commits_calls_what_there_is() -> None:
    (hook,) = yaml.safe_load((ROOT / ".pre-commit-hooks.yaml").read_text("utf-8"))
    name, *arguments = hook["entry"].split()
    command = program.get_command(click.Context(program), arguments[0])
    assert name == "lemmar" and command is not None
    known = {option for parameter in command.params for option in parameter.opts}
    assert {word for word in arguments if word.startswith("-")} <= known
