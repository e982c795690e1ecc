"""What clients state about their locales, in every language and document, mutated: values and defects, inside the file; nothing else."""

from __future__ import annotations

import random

from fuzzing.catalogs import mutated, pumped
from lemmar import languages, selectors
from lemmar.basics.errors import IncompleteError
from lemmar.basics.text import Lines, decode
from lemmar.selectors import Pick

_CODE = {
    ".ts": 'export const tags = ["en", "de"];\nenum T { en = "en", de = "de" }\nfunction f(x: string) { switch (x) { case "de": return 1; } }\n',
    ".php": "<?php\n$tags = ['en', 'de'];\nenum T: string { case EN = 'en'; case DE = 'de'; }\nsetup(['en', 'de']);\n",
    ".py": "tags = ['en', 'de']\nnames = {'en': 'English', 'de': f'{x}'}\nsetup(locales=('en', 'de'))\n",
    ".dart": "const tags = ['en', 'de'];\nenum T { en, de }\nfinal names = {'en': 'English', 'de': 'Deutsch'};\n",
    ".swift": 'let tags = ["en", "de"]\nenum T: String { case en, de = "de-AT" }\nfunc f(x: String) { switch x { case "de": return } }\n',
    ".kt": 'val tags = listOf("en", "de")\nenum class T(val tag: String) { EN("en"), DE("de") }\nfun f(x: String) = when (x) { "de" -> 1 else -> 2 }\n',
    ".java": 'class L { static final String[] tags = {"en", "de"}; enum T { EN("en"), DE("de") } }\n',
    ".cs": 'class L { string[] tags = new[] {"en", "de"}; enum T { En, De } }\n',
    ".go": 'package l\nvar tags = []string{"en", "de"}\nvar names = map[string]string{"en": "English"}\n',
    ".rb": "TAGS = %w[en de].freeze\nsetup locales: ['en', 'de']\n",
    ".lua": 'tags = {"en", "de"}\nsetup({locales = {"en", "de"}})\n',
    ".gd": 'const tags = ["en", "de"]\nenum T { EN, DE }\n',
    ".cpp": 'const char* tags[] = {"en", "de"};\nenum class T { en, de };\nstd::map<int, int> names = {{1, 2}};\n',
    ".m": '@implementation L\n- (NSArray *)tags { return @[@"en", @"de"]; }\n@end\n',
    ".html": '<html lang="en"><select><option value="en">English</option><option value="de">Deutsch</option></select></html>\n',
}
_DOCUMENTS = (
    ("pointer", "/a/b", ".json", b'{"a": {"b": ["en", "de"], "c": {"en": "x"}}}'),
    ("pointer", "/a/*", ".yaml", b"a: &x\n  b: [en, de]\n  c: *x\n"),
    ("pointer", "/a/b", ".toml", b"[a]\nb = ['en', 'de']\n"),
    (
        "pointer",
        "/CFBundleLocalizations",
        ".plist",
        b"<plist><dict><key>CFBundleLocalizations</key><array><string>en</string></array></dict></plist>",
    ),
    ("xpath", "//option/@value", ".html", _CODE[".html"].encode()),
    ("xpath", "//l[@name]/@name", ".xml", b'<r xmlns:a="u"><l name="en"/><l name="de"/></r>'),
    ("match", r"(?m)^\s*(?P<locale>\w\w)\s*$", ".txt", b"en\nde\n fr \n"),
    ("header", "", ".csv", b"Key,en,de\na,b,c\n"),
)
_NAMES = ("tags", "T", "names", "f", "setup", "*", "L.tags")


class Claims:
    """The target: one claim after the other, the languages and documents in turn."""

    def __init__(self, chance: random.Random) -> None:
        self._chance, self._count = chance, 0
        self._suffixes = [suffix for suffix in _CODE if languages.load(suffix) is not None]

    def next(self) -> tuple[str, bytes, str | None]:
        """What was tried, its bytes, and what is wrong with what came of it."""
        self._count += 1
        chance = self._chance
        if self._count % 3:
            suffix = self._suffixes[self._count % len(self._suffixes)]
            selector, text, seed = chance.choice(("symbol", "symbol", "call")), chance.choice(_NAMES), _CODE[suffix].encode()
        else:
            selector, text, suffix, seed = chance.choice(_DOCUMENTS)
        data = pumped(seed, chance) if self._count % 25 == 0 else mutated(seed, chance)
        what = f"{selector} {text} in {suffix}"
        pick = Pick(
            text, suffix=suffix, take=chance.choice((None, None, "keys", "values", "members", "cases", "chain", "field:a", "item:0"))
        )
        try:
            found = selectors.load(selector).select(data, pick)
        except IncompleteError:
            return what, data, None
        last = Lines(decode(data).text).place(len(decode(data).text))[0] + 1
        places = [(value.line, value.column) for value in found.values] + [(defect.line, defect.column) for defect in found.defects]
        outside = [place for place in places if not (1 <= place[0] <= last and place[1] >= 1)]
        return what, data, f"a place outside of the file: {outside[0]}" if outside else None
