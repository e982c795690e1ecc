"""Writes waivers: the narrowest that accept certain findings, into a charter whose every other byte stays."""

from __future__ import annotations

import codecs
import glob
import re
import tomllib
from collections.abc import Sequence
from datetime import date
from typing import Any

from lemmar.basics.errors import UsageError
from lemmar.basics.phrasing import counted, listed
from lemmar.findings import Finding, Verdict


def named(verdict: Verdict, prefixes: Sequence[str]) -> list[Finding]:
    """The findings whose fingerprints begin as *prefixes* say, one for each. Raises `UsageError` where one names none, several, or what is waived."""
    found: dict[str, Finding] = {}
    for prefix in prefixes:
        fitting = {each.fingerprint: each for each in verdict.findings if prefix and each.fingerprint.startswith(prefix.lower())}
        if not fitting:
            raise UsageError(f"no finding has a fingerprint that begins with {prefix!r}; 'lemmar audit -v' shows them")
        if len(fitting) > 1:
            raise UsageError(
                f"{prefix!r} begins the fingerprints of {counted(len(fitting), 'finding')}: {listed(fitting, 3)}; write more of one"
            )
        (finding,) = fitting.values()
        if finding.waiver is not None:
            raise UsageError(f"the finding {finding.fingerprint} is waived already: {finding.waiver}")
        found[finding.fingerprint] = finding
    return list(found.values())


def narrowest(finding: Finding, until: date, reason: str) -> dict[str, Any]:
    """The waiver that accepts *finding* and as little else as a waiver can."""
    subject = finding.subject
    facts = {
        "client": subject.clients[0] if len(subject.clients) == 1 else None,
        "locale": subject.locale,
        "part": subject.part,
        "key": subject.key,
        "request": subject.request,
        "file": finding.place.file if finding.place is not None and subject.key is None else None,
    }
    own = {name: glob.escape(fact) for name, fact in facts.items() if fact is not None}
    return {"rule": finding.rule, **own, "until": until, "reason": reason}


def with_waivers(charter: bytes, waivers: Sequence[dict[str, Any]]) -> tuple[bytes, str]:
    """The *charter* with the *waivers* behind its own, and the text that is new in it.

    Raises:
        UsageError: a waiver cannot be written: a name in it is no Unicode.
    """
    import tomlkit

    mark = codecs.BOM_UTF8 if charter.startswith(codecs.BOM_UTF8) else b""
    text = charter.removeprefix(mark).decode("utf-8")
    line_end = "\r\n" if "\r\n" in text else "\n"
    try:
        if "waiver" in tomllib.loads(text) and not re.search(r"^[ \t]*\[\[[ \t]*['\"]?waiver", text, re.MULTILINE):
            document = tomlkit.parse(text)
            document["waiver"].extend(waivers)
            written = tomlkit.dumps(document)
            return mark + written.encode("utf-8"), "".join(
                f"{line}{line_end}" for line in written.splitlines() if line not in text.splitlines()
            )
        added = line_end.join(_table(waiver, line_end) for waiver in waivers)
        before = text if not text or text.endswith("\n") else text + line_end
        return mark + (before + line_end + added).encode("utf-8"), line_end + added
    except UnicodeEncodeError as error:
        raise UsageError(
            "the name of a key or file is no Unicode, and cannot be written into a charter; write a pattern by hand"
        ) from error


def _table(waiver: dict[str, Any], line_end: str) -> str:
    import tomlkit

    table = tomlkit.table()
    for name, fact in waiver.items():
        table.add(name, fact)
    tables = tomlkit.aot()
    tables.append(table)
    document = tomlkit.document()
    document.add("waiver", tables)
    return tomlkit.dumps(document).replace("\r\n", "\n").replace("\n", line_end)
