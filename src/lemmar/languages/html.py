"""HTML with script: what its scripts declare and call, and what the handlers in its attributes call."""

from __future__ import annotations

from typing import TYPE_CHECKING

from lemmar.languages._literals import source_of, walk
from lemmar.languages._parsing import ProgrammingLanguage
from lemmar.languages._sourcefile import SourceFile
from lemmar.languages.javascript import script_file

if TYPE_CHECKING:
    from tree_sitter import Node as Syntax


_BLANK = bytes(byte if byte in b"\r\n" else 0x20 for byte in range(256))


def _file(root: Syntax, page: bytes) -> SourceFile:
    """The page's script, where it stands: all else is made blank, so that every offset stays true."""
    script = bytearray(page.translate(_BLANK))
    for node in walk(root):
        if node.type == "script_element":
            inner = next((part for part in node.named_children if part.type == "raw_text"), None)
            if inner is not None:
                _keep(script, page, inner)
        elif node.type == "attribute" and source_of(node.named_children[0]).lower().startswith("on"):
            values = [part for part in walk(node) if part.type == "attribute_value"]
            if values:
                _keep(script, page, values[0])
    return script_file(bytes(script))


def _keep(script: bytearray, page: bytes, node: Syntax) -> None:
    first, last = node.start_byte, node.end_byte
    script[first:last] = page[first:last]
    if last < len(script) and page[last : last + 1] not in (b"\r", b"\n"):
        script[last] = ord(";")


LANGUAGES = (ProgrammingLanguage((".html", ".htm", ".xhtml"), "tree_sitter_html", _file),)
