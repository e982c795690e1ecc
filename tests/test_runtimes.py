"""Lookups held against the open runtimes that define them, where these are on the machine: Java's resource bundles, Python's locale names."""

from __future__ import annotations

import locale
import shutil
import subprocess
from pathlib import Path
from typing import Any

import pytest

from lemmar.lookups import java, tries
from lemmar.tags import LanguageTag, distance, nearest, read_spelling, write_spelling

_PROGRAM = """
import java.util.*;

public class Candidates {
    public static void main(String[] tags) {
        ResourceBundle.Control control = ResourceBundle.Control.getControl(ResourceBundle.Control.FORMAT_DEFAULT);
        for (String tag : tags) {
            List<String> shown = new ArrayList<>();
            for (Locale each : control.getCandidateLocales("words", Locale.forLanguageTag(tag))) {
                StringJoiner pieces = new StringJoiner("-");
                for (String piece : new String[] {each.getLanguage(), each.getScript(), each.getCountry(), each.getVariant().toLowerCase()})
                    if (!piece.isEmpty()) pieces.add(piece);
                if (pieces.length() > 0) shown.add(pieces.toString());
            }
            System.out.println(String.join(" ", shown));
        }
    }
}
"""
_LANGUAGES = ("de", "zh", "no", "nb", "nn", "sr", "en", "he", "id", "yi", "pt", "az", "fil", "uk")
_RESTS = (
    "",
    "-AT",
    "-TW",
    "-HK",
    "-MO",
    "-CN",
    "-SG",
    "-NO",
    "-Latn",
    "-Hant",
    "-Hans",
    "-Latn-RS",
    "-Hant-HK",
    "-Hans-SG",
    "-Cyrl-ME",
    "-MY",
)
_TAGS = [f"{language}{rest}" for language in _LANGUAGES for rest in _RESTS] + [
    "ca-ES-valencia",
    "sl-rozaj",
    "de-DE-1996",
    "sr-Latn-RS-ekavsk",
]


def tried(lookup: str, request: str, among: list[Any]) -> list[Any]:
    return [each.tag for each in tries(lookup, request, among)]


@pytest.mark.skipif(shutil.which("java") is None, reason="there is no Java on this machine")
def test_java_s_candidates_are_those_of_its_resource_bundles(tmp_path: Path) -> None:
    (tmp_path / "Candidates.java").write_text(_PROGRAM, encoding="utf-8")
    done = subprocess.run(
        ["java", "Candidates.java", *_TAGS],
        cwd=tmp_path,
        capture_output=True,
        text=True,
        timeout=120,
    )
    assert done.returncode == 0, done.stderr
    wanted = [line.split() for line in done.stdout.splitlines()]
    old = {"iw", "in", "ji"}
    found = [
        [candidate for candidate in java.forms(tag) if candidate.partition("-")[0] not in old]
        for tag in _TAGS
    ]
    different = [
        (tag, ours, theirs)
        for tag, ours, theirs in zip(_TAGS, found, wanted, strict=True)
        if [each.lower() for each in ours] != [each.lower() for each in theirs]
    ]
    assert different == []


def test_posix_names_are_tried_as_python_expands_them() -> None:
    expand = getattr(locale, "_expand_lang", None)
    if expand is None:
        import gettext

        expand = getattr(gettext, "_expand_lang", None)
    if expand is None:
        pytest.skip("this Python has no expansion of locale names")
    for tag in ("de", "de-AT", "sr-Latn", "sr-Latn-RS", "ca-valencia", "uk-UA"):
        parsed = LanguageTag.parse(tag)
        name = write_spelling(parsed, "posix")
        territory = parsed.region is not None
        wanted = [
            read
            for each in expand(name)
            if "." not in each
            and (territory or "_" not in each)
            and (read := read_spelling(each, "posix")) is not None
        ]
        among = [str(each) for each in reversed(wanted)] + ["en"]
        assert tried("posix", tag, among) == [str(each) for each in dict.fromkeys(wanted)], tag


_WISHES = [
    f"{language}{rest}"
    for language in [
        "de",
        "zh",
        "en",
        "es",
        "pt",
        "fr",
        "sr",
        "nn",
        "no",
        "he",
        "uk",
        "gsw",
        "yue",
        "az",
        "hr",
        "bs",
        "fil",
        "da",
        "ms",
        "id",
    ]
    for rest in [
        "",
        "-Latn",
        "-001",
        "-US",
        "-GB",
        "-AT",
        "-CH",
        "-MX",
        "-419",
        "-AO",
        "-TW",
        "-HK",
        "-MO",
        "-SG",
        "-ME",
        "-Hant",
        "-Hans",
        "-Cyrl",
    ]
]
_SUPPORTED = (
    "en de fr es pt",
    "en en-GB en-001 en-AU es es-419 es-MX pt-BR pt-PT",
    "en zh-Hans zh-Hant zh-HK sr sr-Latn",
    "fr zh-TW zh-CN de-CH de-AT nb da",
    "ja no hr id ms az he ru",
    "en-GB en-US fr-CA fr-CH de-LI",
)
_NOTHING = "tlh"


@pytest.mark.parametrize("supported", _SUPPORTED)
def test_nearest_is_what_icu_s_matcher_finds(supported: str) -> None:
    icu = pytest.importorskip("icu", reason="there is no binding to ICU on this machine")
    builder = icu.LocaleMatcher.Builder()
    for tag in supported.split():
        builder.addSupportedLocale(icu.Locale.forLanguageTag(tag))
    matcher = builder.setDefaultLocale(icu.Locale.forLanguageTag(_NOTHING)).build()

    def best(wish: str) -> str:
        tag: str = matcher.getBestMatch(icu.Locale.forLanguageTag(wish)).toLanguageTag()
        return tag

    apart = {
        wish: (ours, theirs)
        for wish in _WISHES
        if (ours := nearest([wish], supported.split()) or _NOTHING) != (theirs := best(wish))
    }
    ties = {
        wish
        for wish, both in apart.items()
        if len({distance(LanguageTag.parse(wish), LanguageTag.parse(tag)) for tag in both}) == 1
    }
    # Of two that are equally near, ICU takes the likelier of the language, Lemmar the client's first.
    assert set(apart) == ties and len(ties) <= 2
