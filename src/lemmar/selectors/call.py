"""``call``: the literal arguments of every call of a function; ``pointer`` goes on into them (``/0/fallback``).

Several texts as arguments are one locale, joined with hyphens (``Locale("de", "AT")``). The code is read by a real parser and never run.
"""

from __future__ import annotations

from lemmar import languages
from lemmar.documents.nodes import Fault, Member, Node, PointerError, point
from lemmar.languages import code_nest, in_characters
from lemmar.selectors._laying import held_of, parsed
from lemmar.selectors._selection import Laid, Pick, Selection, Selector
from lemmar.selectors._taking import broken_in, check_take, nothing, opened, select_from


def check(pick: Pick) -> tuple[str, str] | None:
    """Why the calls cannot be read, if so."""
    if languages.load(pick.suffix) is None:
        return "call", f"source code in {pick.suffix or 'files without a suffix'} files is not supported"
    if pick.pointer and not pick.pointer.startswith("/"):
        return "pointer", "a pointer is empty or begins with '/'"
    return check_take(pick)


def select(data: bytes, pick: Pick) -> Selection:
    """The locales in the arguments of the calls, in their order."""
    text, source, file = opened(data, pick)
    if file is None:
        return nothing(languages.unread(pick.suffix))
    calls = file.called(pick.text)
    if not calls:
        broken = broken_in(file)
        return nothing(f"nothing in the file calls {pick.text!r}{broken}")
    faults: list[Fault] = []
    found: list[Node] = []
    for arguments in calls:
        found += _pointed(arguments, pick.pointer, faults) if pick.pointer is not None else _taken(arguments)
    if found:
        faults = []  # a call without the option is no fault where another has it
    return select_from(text, in_characters(found, source), pick, faults)


def _taken(arguments: list[tuple[str, Node]]) -> list[Node]:
    nodes = [node for _, node in arguments if node.kind != "null"]
    if len(nodes) > 1 and all(node.kind == "text" for node in nodes):
        return [Node("text", nodes[0].start, nodes[-1].end, "-".join(node.text for node in nodes))]
    return nodes


def _pointed(arguments: list[tuple[str, Node]], pointer: str, faults: list[Fault]) -> list[Node]:
    """What stands at *pointer* in one call: its first step is an argument's number, or its name."""
    members = [Member(str(number), node.start, node.end, node) for number, (_, node) in enumerate(arguments)]
    members += [Member(label, node.start, node.end, node) for label, node in arguments if label]
    try:
        return list(point(Node("map", 0, members=members), pointer))
    except PointerError as error:
        faults.append(Fault(arguments[0][1].start if arguments else 0, str(error)))
        return []


def lay(data: bytes, pick: Pick) -> Laid:
    """The code, and the locales in the arguments."""
    decoded, source, file = parsed(data, pick.suffix)
    found: list[Node] = []
    for arguments in file.called(pick.text):
        found += _pointed(arguments, pick.pointer, []) if pick.pointer is not None else _taken(arguments)
    return Laid(decoded, code_nest(file, source), held_of(in_characters(found, source), pick))


SELECTOR = Selector("call", "the arguments of every call of this function.", select, check=check, whole=True, goes_on=True, lay=lay)
