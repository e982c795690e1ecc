"""Lookups held against the open runtimes that define them, where these are on the machine: Java's resource bundles, Python's locale names."""

from __future__ import annotations

import locale
import shutil
import subprocess
from pathlib import Path

import pytest

from lemmar.resolve.lookups import java_candidates, tried
from lemmar.tags import LanguageTag, read_spelling, write_spelling

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
        [candidate for candidate in java_candidates(tag) if candidate.partition("-")[0] not in old]
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
        assert tried("posix", tag, among) == [str(each) for each in dict.fromkeys(wanted)], tag  # type: ignore[arg-type]
