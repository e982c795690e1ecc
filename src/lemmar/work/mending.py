"""Repairs that need no judgement: for each rule the function that mends what it reports, one finding after the other.

A repair that is not sure leaves the finding as it is. What a rule's repair does is in the rule's own words (`lemmar.rules.Rule.mended`).
"""

from __future__ import annotations

import re
from collections import Counter
from collections.abc import Callable, Mapping, Sequence
from contextlib import suppress
from typing import NamedTuple, TypeVar

from lemmar.basics.errors import LemmarError, UsageError
from lemmar.basics.expressions import expression
from lemmar.basics.phrasing import nearest
from lemmar.basics.text import decode, wide
from lemmar.documents.splicing import EditError
from lemmar.findings import Finding, Verdict
from lemmar.formats import Settled, marked
from lemmar.inventory.contents import Catalog
from lemmar.resolve.differences import plural_of, renamed
from lemmar.resolve.renaming import renames
from lemmar.resolve.spots import union_of
from lemmar.resolve.syntaxes import syntax_of
from lemmar.resolve.world import Client
from lemmar.rules import all_rules
from lemmar.tags import CATEGORIES, LanguageTag, Tag
from lemmar.trees import File
from lemmar.work import claims
from lemmar.work.bench import Bench
from lemmar.work.catalogs import path_of, relabelled
from lemmar.work.enrolling import CARRYING, state
from lemmar.work.likeness import Example, written_like
from lemmar.work.mentions import Mentions
from lemmar.work.places import Monorepo

_Repair = Callable[[Bench, Finding], None]
_R = TypeVar("_R", bound=_Repair)
#: The repair of each rule that has one, in the order in which they are made: what would keep a file from being read comes first.
REPAIRS: dict[str, _Repair] = {}


def _mends(*rules: str) -> Callable[[_R], _R]:
    def register(repair: _R) -> _R:
        REPAIRS.update(dict.fromkeys(rules, repair))
        return repair

    return register


class Mended(NamedTuple):
    """What mending comes to: the findings of each rule that was mended, before and after; the verdict then; the findings that are new (which would be a
    fault of the repair).
    """

    counts: Mapping[str, tuple[int, int]]
    verdict: Verdict
    new: tuple[Finding, ...]


def mend(monorepo: Monorepo, rules: Sequence[str] = ()) -> Mended:
    """Mends what *rules* report (without any: all that have a repair), and audits what comes of it.

    Raises:
        UsageError: there is no such rule, or it has no repair.
        LemmarError: the audit could not be made.
    """
    wanted = _wanted(rules)
    before = monorepo.before.verdict
    bench = Bench(monorepo)
    found = [finding for finding in before.findings if finding.waiver is None]
    for rule in (name for name in REPAIRS if name in wanted):
        for finding in found:
            if finding.rule == rule:
                attempt(bench, finding)
    after = monorepo.now().verdict
    known = {finding.fingerprint for finding in found}
    old = Counter(finding.rule for finding in found)
    now = Counter(finding.rule for finding in after.findings if finding.waiver is None)
    counts = {rule: (old[rule], now[rule]) for rule in REPAIRS if rule in wanted and (old[rule] or now[rule])}
    new = tuple(finding for finding in after.findings if finding.fingerprint not in known and finding.waiver is None)
    return Mended(counts, after, new)


def _wanted(rules: Sequence[str]) -> set[str]:
    known = all_rules()
    for name in rules:
        if name not in known:
            raise UsageError(f"there is no rule {name!r}{nearest(name, known)}")
        if name not in REPAIRS:
            raise UsageError(f"{name} needs judgement and is not mended by lemmar; 'lemmar rules {name}' says how to mend it by hand")
    return set(rules or REPAIRS)


def attempt(bench: Bench, finding: Finding) -> None:
    """Mends a finding; one that cannot be mended for sure stays."""
    with suppress(EditError, LemmarError):
        REPAIRS[finding.rule](bench, finding)


# ------------------------------------------------------------------------------------------------------------------- the bytes


@_mends("catalog.encoding")
def _encoding(bench: Bench, finding: Finding) -> None:
    """A mark goes, UTF-16 becomes UTF-8; bytes of an older encoding become UTF-8 where they are then letters of the language."""
    if finding.place is None:
        return
    file = finding.place.file
    data = bench.changes.read(file)
    if data.startswith(b"\xef\xbb\xbf"):
        bench.changes.put(file, data[3:])
    elif (large := wide(data)) is not None and "wants UTF-8" in finding.message:
        bench.changes.put(file, decode(data, large).text.encode("utf-8"))
    elif decode(data).fault is not None and " is no UTF-8" in finding.message:
        locale = finding.subject.locale or ""
        text = data.decode("cp1252")  # raises for bytes that it has not
        odd = {character for character in text if not character.isascii()}
        if not locale or LanguageTag.parse(locale).maximized().script != "Latn" or not odd or any(0x80 <= ord(each) < 0xA0 for each in odd):
            return
        from lemmar.prose.guessing import has_letters

        if has_letters(LanguageTag.parse(locale).language, odd):
            bench.changes.put(file, text.encode("utf-8"))


# ------------------------------------------------------------------------------------------------------------ claims and tags


@_mends("roster.absent", "roster.unoffered", "roster.split")
def _claims(bench: Bench, finding: Finding) -> None:
    """Every claim of the client gets the locales of the roster that it lacks and has texts of, as `lemmar enroll` would write them."""
    for client in bench.clients(finding):
        locales = [Tag(finding.subject.locale)] if finding.subject.locale else list(client.needs)
        held = {client.roster(catalog.tag) for catalog in client.catalogs if catalog.column.keys}
        for locale in locales:
            if locale in client.needs and locale in held:
                state(bench.monorepo, client, locale)


@_mends("tag.noncanonical", "tag.deprecated")
def _tags(bench: Bench, finding: Finding) -> None:
    """A tag is written as its place's spelling has it: in a claim, a column's header, or the name of a file."""
    place = finding.place
    for client in bench.clients(finding):
        for claim in bench.monorepo.claims(client, *CARRYING, "default", "source"):
            if place is not None and claim.file == place.file:
                claims.respell(bench.changes, claim)
        for file, named in client.names if finding.subject.locale else ():  # where many are written so, it is how the team writes them
            if place is not None and file == place.file and named.fault in ("noncanonical", "deprecated") and named.wanted and named.tag:
                _renamed(bench, client, file, named.value.text, named.wanted)


def _renamed(bench: Bench, client: Client, file: File, old: str, new: str) -> None:
    """A file or a column by another name."""
    for catalog_place in bench.monorepo.catalogs(client):
        those = [catalog for catalog in catalog_place.catalogs if catalog.file == file]
        if not those:
            continue
        if catalog_place.by_file and those[0].column.label is None:
            to = path_of(catalog_place, file, those[0].tag, new)
            if Mentions(bench.changes, {catalog.file for catalog in catalog_place.catalogs}).of(file):
                raise EditError("code names the file, and would have to name it otherwise")
            if to != file and not bench.changes.is_file(to):
                bench.changes.move(file, to)
        elif any(catalog.column.label == old for catalog in those):
            relabelled(bench.changes, file, those[0], old, new)
        return


@_mends("catalog.mark-differs")
def _mark(bench: Bench, finding: Finding) -> None:
    """The mark inside of a file says what its name says, written as the other files write theirs."""
    client, catalog = bench.catalog(finding)
    others = [
        Example(LanguageTag.parse(each.tag), each.column.mark)
        for each in client.catalogs
        if each.order == catalog.order and each.column.mark
    ]
    wanted = written_like(LanguageTag.parse(catalog.tag), "auto", [each for each in others if each.text != catalog.column.mark])
    if catalog.column.label is not None and catalog.column.label == catalog.column.mark:
        relabelled(bench.changes, catalog.file, catalog, catalog.column.label, wanted)
        return
    data = bench.changes.read(catalog.file)
    decoded = decode(data, catalog.options.encoding or catalog.form.reads.encoding(data))
    bench.changes.edit(catalog.file, marked(decoded.text, catalog.form.writes.marks, lambda _mark: wanted), decoded)


# --------------------------------------------------------------------------------------------------------------------- entries


@_mends("catalog.duplicate-key")
def _repeats(bench: Bench, finding: Finding) -> None:
    """Of entries of one key with the same text the last stays."""
    if "with the same text" not in finding.message:
        return
    client, catalog = bench.catalog(finding)
    key = finding.subject.key
    data = bench.changes.read(catalog.file)
    if key is not None:
        bench.put(catalog, catalog.form.removed(data, bench.where(client, catalog), {key}, repeats=True))


@_mends("message.renamed")
def _rename(bench: Bench, finding: Finding) -> None:
    """The texts that stand under a key's old name get the new one, in every locale."""
    key, part = finding.subject.key, finding.subject.part
    for client in bench.clients(finding):
        found = [(space, each) for space in client.sources if space.part == part for each in renames(client, space) if each.new == key]
        for space, rename in found:
            for tag in rename.tags:
                for catalog in client.by_space[space].get(tag, ()):
                    if rename.old in bench.column(catalog).key_set:
                        with suppress(EditError):
                            _renamed_key(bench, client, catalog, rename.old, rename.new)


def _renamed_key(bench: Bench, client: Client, catalog: Catalog, old: str, new: str) -> None:
    from lemmar.formats import NewEntry

    text = bench.text(catalog, old)
    where, data = bench.where(client, catalog), bench.changes.read(catalog.file)
    data = catalog.form.removed(data, where, {old})
    bench.put(catalog, catalog.form.added(data, where, [NewEntry(new, text, source=bench.source_text(client, catalog, new))]))


@_mends("message.surplus")
def _surplus(bench: Bench, finding: Finding) -> None:
    """A key that the source has not is taken out of every locale; not in code, where what gives the source more keys may not be known."""
    key, part = finding.subject.key, finding.subject.part
    for client in bench.clients(finding)[:1] if key is not None else ():
        for catalog in client.catalogs:
            source = client.sources.get(client.space(catalog))
            if (
                catalog.form.name != "code"
                and catalog.part == part
                and key in catalog.column.key_set
                and (source is None or key not in union_of(source.catalogs))
            ):
                with suppress(EditError):
                    data = bench.changes.read(catalog.file)
                    bench.put(catalog, catalog.form.removed(data, bench.where(client, catalog), set(_spelled(bench, catalog, key or ""))))


def _spelled(bench: Bench, catalog: Catalog, key: str) -> list[str]:
    """The keys that a file has for a message: itself, or one for each of its forms."""
    there = bench.column(catalog).keys
    return [key] if key in there.all else [each for each in there if re.fullmatch(rf"{re.escape(key)}[._]({'|'.join(CATEGORIES)})", each)]


@_mends("message.plural-surplus")
def _forms(bench: Bench, finding: Finding) -> None:
    """A form that no number of the language takes is taken out, where forms are keys or elements of their own, or branches of a text."""
    client, catalog = bench.catalog(finding)
    key = finding.subject.key
    if key is None:
        return
    known = set(plural_of(str(client.roster(catalog.tag)), "plural").known)
    spelled = [each for each in _spelled(bench, catalog, key) if each != key]
    gone = [each for each in spelled if re.split(r"[._]", each)[-1] not in known]
    if gone and "other" in known:
        data = bench.changes.read(catalog.file)
        bench.put(catalog, catalog.form.removed(data, bench.where(client, catalog), set(gone)))
    elif not spelled:
        text = bench.text(catalog, key)
        mended = _without_branches(text, known)
        if mended != text:
            bench.set_texts(client, catalog, {key: mended})


def _without_branches(text: str, known: set[str]) -> str:
    """A text in ICU's syntax without the branches of plurals for categories that are not *known*."""
    for match in reversed(list(_BRANCH.finditer(text))):
        if match[1] in CATEGORIES and match[1] not in known:
            end = _closed(text, match.end() - 1)
            if end:
                text = text[: match.start()] + text[end:]
    return text


_BRANCH = expression(r"\s*(?<![\w=])(zero|one|two|few|many|other)\s*\{")


def _closed(text: str, at: int) -> int:
    """Where the brace that opens at *at* is closed; 0 where it is not."""
    depth = 0
    for index in range(at, len(text)):
        depth += (text[index] == "{") - (text[index] == "}")
        if not depth:
            return index + 1
    return 0


# ----------------------------------------------------------------------------------------------------------------------- texts


@_mends("message.argument-lost")
def _argument(bench: Bench, finding: Finding) -> None:
    """A placeholder's changed name is the source's again, where one name only is lost and one only is there instead."""
    client, catalog = bench.catalog(finding)
    key = finding.subject.key or ""
    text, source = bench.text(catalog, key), bench.source_text(client, catalog, key)
    shape = syntax_of(bench.world.charter, client, catalog).shape
    pair = renamed(shape(source), shape(text))
    if pair is None or pair[0].name.isdigit():
        return
    mended = re.sub(rf"(?<!\w){re.escape(pair[1].name)}(?!\w)", lambda _match: pair[0].name, text)
    if shape(mended).arguments == shape(source).arguments and text.count(pair[1].name) == 1:
        bench.set_texts(client, catalog, {key: mended})


@_mends("message.syntax")
def _quotes(bench: Bench, finding: Finding) -> None:
    """An apostrophe that its format's compiler refuses is written as it wants it."""
    if "apostrophe has no backslash" not in finding.message:
        return
    client, catalog = bench.catalog(finding)
    key = finding.subject.key or ""
    bench.set_texts(client, catalog, {key: bench.text(catalog, key)})


@_mends("message.control-character")
def _controls(bench: Bench, finding: Finding) -> None:
    """Control characters go; a bidirectional control that nothing closes is closed at the end, one that nothing opens goes."""
    client, catalog = bench.catalog(finding)
    key = finding.subject.key or ""
    text = bench.text(catalog, key)
    mended = _balanced(_CONTROL.sub("", text))
    if mended != text and mended.strip():
        bench.set_texts(client, catalog, {key: mended})


_CONTROL = expression("[\x00-\x08\x0b\x0c\x0e-\x1f\x7f-\x9f]")
_CLOSES = {**dict.fromkeys("\u202a\u202b\u202d\u202e", "\u202c"), **dict.fromkeys("\u2066\u2067\u2068", "\u2069")}


def _balanced(text: str) -> str:
    out: list[str] = []
    waiting: list[str] = []
    for sign in text:
        if sign in _CLOSES:
            waiting.append(_CLOSES[sign])
        elif sign in _CLOSES.values():
            if not waiting or waiting[-1] != sign:
                continue
            waiting.pop()
        out.append(sign)
    return "".join([*out, *reversed(waiting)])


@_mends("message.edge-space")
def _edges(bench: Bench, finding: Finding) -> None:
    """A text begins and ends with the blanks of the source."""
    client, catalog = bench.catalog(finding)
    key = finding.subject.key
    if key is None:
        return
    text, source = bench.text(catalog, key), bench.source_text(client, catalog, key)
    start = source[: len(source) - len(source.lstrip())]
    end = source[len(source.rstrip()) :]
    mended = f"{start}{text.strip()}{end}"
    if mended != text:
        bench.set_texts(client, catalog, {key: mended})


@_mends("message.stale")
def _stale(bench: Bench, finding: Finding) -> None:
    """The file's copy of the source says what the source says today, and the translation is marked as needing a look."""
    client, catalog = bench.catalog(finding)
    key = finding.subject.key or ""
    if catalog.form.name not in ("xliff", "ts-xml"):
        return
    today = bench.source_text(client, catalog, key)
    data = bench.changes.read(catalog.file)
    made = catalog.form.settled(data, bench.where(client, catalog), [Settled(key, today, done=False)])
    column = next((each for each in catalog.form.read(made, catalog.options).columns if each.label == catalog.column.label), None)
    if column is None or column.rare.source.get(column.keys.places.get(key, -1)) != today:
        raise EditError("the copy has markup of its own")
    bench.put(catalog, made)
