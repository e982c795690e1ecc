"""Markup, and templates with embedded code: attributes and elements that name a key, patterns of resources, calls in braces."""

from __future__ import annotations

import re
from collections.abc import Iterator
from functools import cache
from itertools import islice

from msgspec.structs import replace

from lemmar import languages
from lemmar.basics.expressions import expression
from lemmar.documents.grammars import Patience
from lemmar.languages import asked as texts_of
from lemmar.usages import code
from lemmar.usages._text import Lines, blanked, blocks, closing, masked
from lemmar.usages._types import Use, Way, Ways

_MOST = 2_000
_COMMENTS = {
    "<!--": "-->", "{{!--": "--}}", "{{--": "--}}", "{{!": "}}", "{#": "#}", "<%#": "%>", "<%--": "--%>", "@*": "*@", "/*": "*/",
}  # fmt: skip
_NO_COMMENT = expression(r"\{#(?:if|each|await|key|snippet)\b")
_LINES = expression(r"^[ \t]*+//[^\n]*+", re.MULTILINE)
#: The language of what is embedded in a template, by the last suffixes of its name; else it is read as script.
_EMBEDDED = (
    (".erb", ".rb"),
    (".haml", ".rb"),
    (".slim", ".rb"),
    (".cshtml", ".cs"),
    (".razor", ".cs"),
    (".blade.php", ".php"),
    (".phtml", ".php"),
)
#: The suffixes of markup without code in it, and of templates.
PLAIN = (".xml", ".xaml", ".axaml", ".svg", ".plist", ".storyboard", ".xib", ".fxml", ".qml", ".ui", ".tscn")
TEMPLATES = (
    *(
        ".html",
        ".htm",
        ".xhtml",
        ".vue",
        ".svelte",
        ".astro",
        ".erb",
        ".ejs",
        ".hbs",
        ".handlebars",
        ".mustache",
        ".twig",
        ".liquid",
        ".njk",
    ),
    *(
        ".jinja",
        ".jinja2",
        ".j2",
        ".cshtml",
        ".razor",
        ".blade.php",
        ".phtml",
        ".pug",
        ".haml",
        ".slim",
        ".tmpl",
        ".gohtml",
        ".marko",
        ".latte",
    ),
    *(".ftl", ".ftlh", ".jsp", ".tag", ".mdx", ".txt", ".eml", ".mjml"),
)


def without_comments(text: str) -> str:
    """*text* with blanks for its comments."""
    text = masked(text, _COMMENTS, blanked, lambda whole, at: _NO_COMMENT.match(whole, at) is not None)
    return _LINES.sub(lambda match: blanked(match[0]), text)


def uses(text: str, name: str, ways: Ways, with_code: bool) -> Iterator[tuple[int, Use]]:
    """What markup asks for, each with its offset; *with_code* what stands in code between its signs as well."""
    lines, patience = Lines(text), Patience(len(text))
    embedded = next((suffix for ending, suffix in _EMBEDDED if name.endswith(ending)), ".ts")
    for number, way in enumerate(ways):
        for attribute in way.attributes:
            yield from attributes(lines, number, way, attribute, patience)
        for element in way.elements if not way.attributes else ():
            for match in islice(_element(element).finditer(text), _MOST):
                yield match.start(1), Use(number, match[1].strip(), *lines.place(match.start(1)), part=way.part)
        for pattern in way.resources:
            for match in islice(_resource(pattern).finditer(text), _MOST):
                yield match.start("key"), Use(number, match["key"], *lines.place(match.start("key")), part=way.part)
        for block in way.blocks:
            for found in islice(blocks(text, block), _MOST):
                yield found.at, Use(number, block_key(found.text, "trimmed" in found.head), *lines.place(found.at), part=way.part)
        for pattern in way.members:
            source = text.encode("utf-8", "replace")
            for member in islice(code.member_expression(pattern).finditer(source), _MOST):
                at = len(source[: member.start("key")].decode("utf-8", "replace"))
                yield at, Use(number, member["key"].decode(), *lines.place(at), part=way.part)
        if with_code:
            yield from _calls(lines, number, way, embedded, patience)


def attributes(lines: Lines, number: int, way: Way, attribute: str, patience: Patience) -> Iterator[tuple[int, Use]]:
    """What the values of an *attribute* name: as a text, or as script in braces, all of which a file's one *patience* is for."""
    text = lines.text
    for match in islice(_attribute(attribute).finditer(text), _MOST):
        if way.elements and tag_around(text, match.start()) not in way.elements:
            continue
        at = match.end()
        if match[1] == "{":
            end = closing(text, at - 1)
            yield from _of_script(lines, number, way, at, text[at : end - 1], patience) if end > at - 1 else ()
            continue
        end = text.find(match[1], at, at + 2_000)
        value = text[at:end] if end >= 0 else ""
        if value and "{{" not in value and "<%" not in value and "${" not in value:
            part, key = way.part, value
            if way.separator and way.separator in value:
                part, _, key = value.partition(way.separator)
            yield at, Use(number, key, *lines.place(at), part=part)


_PUT_IN = expression(r"\{\{-?\s{0,9}([\w.]+)[^{}]{0,200}\}\}")


def block_key(text: str, is_trimmed: bool) -> str:
    """The key of a block's text: what is put in is written as `%(name)s`."""
    text = _PUT_IN.sub(r"%(\1)s", text)
    return " ".join(line.strip() for line in text.strip().splitlines()) if is_trimmed else text


def _of_script(lines: Lines, number: int, way: Way, at: int, script: str, patience: Patience) -> Iterator[tuple[int, Use]]:
    """What an expression between braces may be."""
    tree = _parsed(f"({script})", ".ts", patience)
    for call in tree.root.named_children[:1] if tree is not None else ():
        node = call.named_children[0] if call.named_child_count else None
        for each in texts_of(tree, node) if tree is not None and node is not None else ():
            yield at, Use(number, each.text, *lines.place(at), not each.whole, each.end, way.part)


def tag_around(text: str, at: int) -> str:
    """The name of the tag that an attribute at *at* stands in."""
    start = text.rfind("<", max(0, at - 4_000), at)
    found = _TAG.match(text, start) if start >= 0 else None
    return found[1] if found is not None else ""


_TAG = expression(r"<([A-Za-z][\w.:-]*+)")


@cache
def _attribute(name: str) -> re.Pattern[str]:
    return expression(rf"(?<=[\s\"'}}]){re.escape(name)}\s{{0,9}}=\s{{0,9}}([\"'{{])")


@cache
def _element(name: str) -> re.Pattern[str]:
    return expression(rf"<{re.escape(name)}(?:\s[^<>]{{0,2000}})?>([^<>{{}}]{{1,300}})</")


@cache
def _resource(pattern: str) -> re.Pattern[str]:
    before, _, after = pattern.partition("{key}")
    return expression(rf"(?<![\w]){re.escape(before)}(?P<key>[A-Za-z_][\w.]{{0,200}}){re.escape(after)}")


# -------------------------------------------------------------------------------------------------------------- embedded code


def _calls(lines: Lines, number: int, way: Way, embedded: str, patience: Patience) -> Iterator[tuple[int, Use]]:
    text = lines.text
    for name in way.calls:
        bare = name.removesuffix("[]")
        for match in islice(_called(bare).finditer(text), _MOST):
            at = match.start()
            if (match[1] == "[") != name.endswith("[]") and match[1] is not None:
                continue
            if match[1] in ("(", "["):
                end = closing(text, match.end() - 1)
                found = list(_of_call(number, way, name, text[at:end], embedded, patience)) if end > match.end() - 1 else []
            else:
                literal = _LITERAL.match(text, match.end() - 1)
                found = [Use(number, literal[2], 0, 0, part=way.part)] if literal is not None and not name.endswith("[]") else []
            for use in found:
                line, column = lines.place(at)
                yield at, replace(use, line=line, column=column)
    for name in way.filters:
        for match in islice(_piped(name).finditer(text), _MOST):
            yield match.start(2), Use(number, match[2], *lines.place(match.start(2)), part=way.part)


def _of_call(number: int, way: Way, name: str, snippet: str, embedded: str, patience: Patience) -> Iterator[Use]:
    """What one call asks for, which is parsed by itself."""
    if name.endswith("[]"):
        literal = _LITERAL.match(snippet, snippet.find("[") + 1)
        if literal is not None:
            yield Use(number, literal[2], 0, 0, part=way.part)
        return
    alone = replace(way, scope="", under="")
    file = _parsed(snippet, embedded, patience)
    call = next(code.calls(file, name), None) if file is not None else None
    if file is not None and call is not None:
        yield from (use for _, use in code.asked_by(file, number, alone, call, {}))
        return
    literal = _LITERAL.match(snippet, snippet.find("(") + 1)
    if literal is not None:
        yield Use(number, literal[2], 0, 0, part=way.part)


def _parsed(snippet: str, suffix: str, patience: Patience) -> languages.SourceFile | None:
    text = f"<?php {snippet};" if suffix == ".php" else f"{snippet};" if suffix == ".cs" else snippet
    source = text.encode("utf-8", "replace")
    return languages.parse(source, suffix, patience, is_sparse=True)


_LITERAL = expression(r"\s{0,9}([\"'`])([^\"'`\n{}$#]{1,300})\1")


@cache
def _called(name: str) -> re.Pattern[str]:
    return expression(r"(?<![\w$])" + code.expression_of(name).decode() + r"(?:\s{0,9}([(\[])|\s{1,9}([\"'`]))")


@cache
def _piped(name: str) -> re.Pattern[str]:
    return expression(rf"([\"'])([^\"'\n]{{1,300}})\1\s{{0,9}}\|\s{{0,9}}{re.escape(name)}(?![\w-])")
