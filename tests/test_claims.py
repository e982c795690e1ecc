"""How practitioners' code states its locales: for each language the ways that are usual in it, and what is read of each."""

from __future__ import annotations

import re
from importlib import import_module
from pathlib import Path
from typing import Any

import pytest

import lemmar.languages
from lemmar.languages import _sourcefile, parse
from lemmar.selectors import Pick, load


def found(selector: str, text: str, suffix: str, source: str, **more: Any) -> list[str]:
    """The values, each with its label if it has one; then each defect as ``line:column !words``."""
    selection = load(selector).select(source.encode(), Pick(text, suffix=suffix, **more))
    values = [
        value.text + (f" ({value.label})" if value.label is not None else "")
        for value in selection.values
    ]
    return values + [
        f"{defect.line}:{defect.column} !{defect.detail}" for defect in selection.defects
    ]


JAVA = """class L {
  static final String[] TAGS = {"en", "de"}; static final List<String> ALL = List.of("en", "pt-BR");
  static final Set<String> COPY = Collections.unmodifiableSet(new HashSet<>(Arrays.asList("en", "de")));
  static final Map<String, String> NAMES = Map.of("en", "English", "de", "Deutsch");
  static final Locale[] LOCALES = {new Locale("de", "AT"), Locale.forLanguageTag("sr-Latn"), Locale.of("fr"), Locale.GERMANY, Tongue.DE};
  static final String JOINED = "en" + ",de"; static final String OTHER = other();
  enum Tongue { EN("en"), DE("de", "x"); }
  String file(String t) { switch (t) { case "en": return "x"; case "de": case "fr": break; default: } return t.equals("it") ? "a" : "b"; }
  String rule(String t) { return switch (t) { case "ar", "he" -> "y"; default -> "z"; }; }
  void start() { app.setup("en", new String[]{"de", "fr"}); app.setup("it"); }
}"""
KOTLIN = """val tags = listOf("en", "de")
const val HOME = "en"
val names = mapOf("en" to "English", "de" to "Deutsch")
val locales = setOf(Locale("de", "AT"), Locale.forLanguageTag("sr"), Locale.GERMAN)
val split = "a,b".split(",")
val made = "x$HOME"
enum class Tongue(val tag: String) { EN("en"), DE("de") }
fun file(t: String) = when (t) { "en" -> 1; "de", "fr" -> 2; else -> 3 }
fun start() { app.setup(home = "en", all = arrayOf("de", "fr")) }
"""
SWIFT = """let tags = ["en", "de"]
enum Tongue: String { case en, german = "de"
  case fr }
struct L { static let all: [String] = ["en"]; static let names = ["en": "English", "de": "Deutsch"]
  static let home = Locale(identifier: "de_AT"); static let some = [Tongue.german, .fr]
  var first: String { return "en" } }
func file(_ t: String) -> Int {
  switch t {
  case "en": return 1
  case "de", "fr": return 2
  default: return 3
  }
}
func start() { app.setup(supported: ["de", "fr"], home: "en") }
"""
OBJC = """static NSString *const kHome = @"en";
static NSArray *tags(void) { return @[@"en", @"de", kHome]; }
NSDictionary *names = @{ @"en": @"English", @"de": @"Deutsch" };
@implementation L
- (NSArray *)all { return [NSArray arrayWithObjects:@"en", @"de", nil]; }
- (void)start:(NSString *)t { if ([t isEqualToString:@"it"]) {} [app setup:@[@"de"] home:@"en"]; }
@end
"""
CPP = """constexpr const char* kTags[] = {"en", "de", nullptr};
const std::vector<std::string> all{"en", "pt-BR"};
static const std::map<std::string, std::string> names{{"en", "English"}, {"de", "Deutsch"}};
enum class Tongue { English, German = 3, French };
class L { static inline const std::array<const char*, 2> two{"en", "de"}; QLocale home = QLocale("de_AT"); };
int file(const std::string& t) { if (t == "it") return 1; return t == std::string("uk"); }
void start() { app::setup("en", {"de", "fr"}); }
"""
RUBY = """TAGS = %w[en de].freeze
module L
  ALL = ["en", :de, :"pt-BR"].freeze
  NAMES = { "en" => "English", de: "Deutsch" }
end
config.available_locales = [:en, :fr]
def file(t)
  case t
  when "en", :de then 1
  else t == "it"
  end
end
setup("en", all: ["de", "fr"])
"""
GO = """package l
var Tags = []string{"en", "de"}
const Home = "en"
var Names = map[string]string{"en": "English"}
var Known = []language.Tag{language.English, language.MustParse("pt-BR")}
type row struct{ Tag, Name string }
var Rows = []row{{Tag: "en", Name: "English"}, {Tag: "de", Name: "Deutsch"}}
func file(t string) int {
	switch t {
	case "en":
		return 1
	case "de", "fr":
		return 2
	}
	if t == "it" {
	}
	return 0
}
func start() { app.Setup("en", []string{"de"}) }
"""
GD = """extends Node
const TAGS = ["en", "de"]
var home := "en"
enum Tongue { EN, DE = 4 }
const NAMES = {"en": "English", de = "Deutsch"}
func file(t):
	match t:
		"en", "de":
			return 1
	if t == "it":
		setup("fr")
"""
LUA = """local tags = { "en", "de" }
M.home = "en"
local names = { en = "English", ["pt-BR"] = "x" }
function file(t) if t == "it" then return 1 end end
app.setup("en", { all = { "de", "fr" } })
return { supported = tags }
"""
DART = """const tags = <String>['en', "de"];
final locales = [Locale('en'), const Locale('pt', 'BR'), Locale.fromSubtags(languageCode: 'zh', scriptCode: 'Hans')];
const names = {'en': 'English', 'de': 'Deutsch'};
enum Tongue { en, de('German'), fr }
class L { static const all = ['en']; static String get home => 'en'; }
int file(String t) { switch (t) { case 'en': return 1; case 'de': return 2; } return t == 'it' ? 1 : 2; }
void start() { app.setup('en', all: ['de', 'fr']); }
"""
PYTHON = """TAGS = ("en", "de")
PAIRS = [("en", "English"), ("de", _("Deutsch"))]
NAMES = {"en": "English"}
class Tongue(Enum):
    EN = "en"
    DE = "de"
def file(t):
    match t:
        case "en" | "de":
            return 1
    if t == "it":
        return 2
app.setup("en", all=["de", "fr"])
KNOWN = TAGS + ("fr",)
BAD = ["en", home()]
"""
PHP = """<?php
const TAGS = ['en', 'de'];
class L { public const ALL = ['en']; public static $names = ['en' => 'English', 'de' => 'Deutsch']; }
enum Tongue: string { case En = 'en'; case De = 'de'; }
function file($t) { switch ($t) { case 'en': return 1; case 'de': return 2; } return match ($t) { 'fr', 'it' => 1, default => $t === 'uk' }; }
$app->setup('en', all: ['de']);
$list = explode(',', 'en,de');
"""
CS = """class L {
  static readonly string[] Tags = { "en", "de" };
  static readonly Dictionary<string, string> Names = new() { ["en"] = "English", ["de"] = "Deutsch" };
  static readonly CultureInfo[] All = { new CultureInfo("de-AT"), CultureInfo.GetCultureInfo("fr") };
  enum Tongue { English, German }
  int File(string t) { switch (t) { case "en": return 1; case "de": case "fr": return 2; } return t == "it" ? 1 : 2; }
  string Pick(string t) => t switch { "ar" => "x", "he" or "fa" => "y", _ => "z" };
  void Start() { app.Setup("en", new[] { "de", "fr" }); }
}"""
TS = """export const tags = ["en", "de"] as const;
export const more = [...tags, "fr"] as const;
const rows = [{ tag: "en", words: "English" }, { tag: "de", words: "Deutsch" }];
const bad = [...others, "fr", `x${y}`];
export enum Tongue { English = "en", German = "de" }
export function file(t: string) { switch (t) { case "en": return 1; case "de": case "fr": return 2; default: return t === "it" ? 1 : 2; } }
startUp({ fallback: { "de-AT": ["de", "en"] }, supported: ["en", "de"], home: "en" });
const listed = "en,de".split(",");
"""
TSX = """export const Menu = () => <ul>
  <li onClick={() => pick("de")}>Deutsch</li>
  <li onClick={() => pick("fr")}>Français</li>
</ul>;
"""
HTML = """<html><body>
<select><option value="de">Deutsch</option><option value="fr">Français</option></select>
<button onclick="pick('it')">Italiano</button>
<script>
const tags = ["en", "de"];
pick("uk");
</script></body></html>
"""

CASES: list[tuple[str, str, str, str, dict[str, Any], list[str]]] = [
    ("symbol", "TAGS", ".java", JAVA, {}, ["en", "de"]),
    ("symbol", "L.ALL", ".java", JAVA, {}, ["en", "pt-BR"]),
    ("symbol", "COPY", ".java", JAVA, {}, ["en", "de"]),
    (
        "symbol",
        "NAMES",
        ".java",
        JAVA,
        {"take": "keys", "labels": "value"},
        ["en (English)", "de (Deutsch)"],
    ),
    ("symbol", "LOCALES", ".java", JAVA, {}, ["de-AT", "sr-Latn", "fr", "de_DE", "de"]),
    ("symbol", "JOINED", ".java", JAVA, {}, ["en,de"]),
    (
        "symbol",
        "OTHER",
        ".java",
        JAVA,
        {},
        ["6:74 !'other()' is computed, which is only known when the program runs"],
    ),
    ("symbol", "Tongue", ".java", JAVA, {"take": "members"}, ["EN", "DE"]),
    ("symbol", "Tongue", ".java", JAVA, {"take": "values"}, ["en", "de"]),
    ("symbol", "file", ".java", JAVA, {"take": "cases"}, ["en", "de", "fr", "it"]),
    ("symbol", "L.rule", ".java", JAVA, {"take": "cases"}, ["ar", "he"]),
    ("call", "setup", ".java", JAVA, {"pointer": "/1"}, ["de", "fr"]),
    ("call", "app.setup", ".java", JAVA, {"pointer": "/0"}, ["en", "it"]),
    ("symbol", "tags", ".kt", KOTLIN, {}, ["en", "de"]),
    ("symbol", "HOME", ".kt", KOTLIN, {}, ["en"]),
    ("symbol", "names", ".kt", KOTLIN, {"take": "keys"}, ["en", "de"]),
    ("symbol", "locales", ".kt", KOTLIN, {}, ["de-AT", "sr", "de"]),
    ("symbol", "split", ".kt", KOTLIN, {}, ["a", "b"]),
    (
        "symbol",
        "made",
        ".kt",
        KOTLIN,
        {},
        ["6:12 !'\"x$HOME\"' is computed, which is only known when the program runs"],
    ),
    ("symbol", "Tongue", ".kt", KOTLIN, {"take": "values"}, ["en", "de"]),
    ("symbol", "file", ".kt", KOTLIN, {"take": "cases"}, ["en", "de", "fr"]),
    ("call", "setup", ".kt", KOTLIN, {"pointer": "/all"}, ["de", "fr"]),
    ("symbol", "tags", ".swift", SWIFT, {}, ["en", "de"]),
    ("symbol", "Tongue", ".swift", SWIFT, {"take": "values"}, ["en", "de", "fr"]),
    ("symbol", "Tongue", ".swift", SWIFT, {"take": "members"}, ["en", "german", "fr"]),
    ("symbol", "L.all", ".swift", SWIFT, {}, ["en"]),
    (
        "symbol",
        "names",
        ".swift",
        SWIFT,
        {"take": "keys", "labels": "value"},
        ["en (English)", "de (Deutsch)"],
    ),
    ("symbol", "L.home", ".swift", SWIFT, {}, ["de_AT"]),
    ("symbol", "some", ".swift", SWIFT, {}, ["de", "fr"]),
    ("symbol", "first", ".swift", SWIFT, {}, ["en"]),
    ("symbol", "file", ".swift", SWIFT, {"take": "cases"}, ["en", "de", "fr"]),
    ("call", "setup", ".swift", SWIFT, {"pointer": "/supported"}, ["de", "fr"]),
    ("symbol", "kHome", ".m", OBJC, {}, ["en"]),
    ("symbol", "tags", ".m", OBJC, {}, ["en", "de", "en"]),
    ("symbol", "names", ".m", OBJC, {"take": "keys"}, ["en", "de"]),
    ("symbol", "all", ".m", OBJC, {}, ["en", "de"]),
    ("symbol", "start", ".m", OBJC, {"take": "cases"}, ["it"]),
    ("call", "setup", ".m", OBJC, {"pointer": "/setup"}, ["de"]),
    ("symbol", "kTags", ".cpp", CPP, {}, ["en", "de"]),
    ("symbol", "all", ".cpp", CPP, {}, ["en", "pt-BR"]),
    (
        "symbol",
        "names",
        ".cpp",
        CPP,
        {"take": "keys", "labels": "value"},
        ["en (English)", "de (Deutsch)"],
    ),
    ("symbol", "Tongue", ".cpp", CPP, {"take": "members"}, ["English", "German", "French"]),
    ("symbol", "L.two", ".cpp", CPP, {}, ["en", "de"]),
    ("symbol", "L.home", ".cpp", CPP, {}, ["de_AT"]),
    ("symbol", "file", ".cpp", CPP, {"take": "cases"}, ["it"]),
    ("call", "setup", ".cpp", CPP, {"pointer": "/1"}, ["de", "fr"]),
    ("symbol", "TAGS", ".rb", RUBY, {}, ["en", "de"]),
    ("symbol", "L.ALL", ".rb", RUBY, {}, ["en", "de", "pt-BR"]),
    ("symbol", "L.NAMES", ".rb", RUBY, {"take": "keys"}, ["en", "de"]),
    ("symbol", "available_locales", ".rb", RUBY, {}, ["en", "fr"]),
    ("symbol", "file", ".rb", RUBY, {"take": "cases"}, ["en", "de", "it"]),
    ("call", "setup", ".rb", RUBY, {"pointer": "/all"}, ["de", "fr"]),
    ("symbol", "Tags", ".go", GO, {}, ["en", "de"]),
    ("symbol", "Home", ".go", GO, {}, ["en"]),
    ("symbol", "Names", ".go", GO, {"take": "keys"}, ["en"]),
    ("symbol", "Known", ".go", GO, {}, ["English", "pt-BR"]),
    (
        "symbol",
        "Rows",
        ".go",
        GO,
        {"take": "field:Tag", "labels": "field:Name"},
        ["en (English)", "de (Deutsch)"],
    ),
    ("symbol", "file", ".go", GO, {"take": "cases"}, ["en", "de", "fr", "it"]),
    ("call", "app.Setup", ".go", GO, {"pointer": "/1"}, ["de"]),
    ("symbol", "TAGS", ".gd", GD, {}, ["en", "de"]),
    ("symbol", "home", ".gd", GD, {}, ["en"]),
    ("symbol", "Tongue", ".gd", GD, {"take": "members"}, ["EN", "DE"]),
    ("symbol", "NAMES", ".gd", GD, {"take": "keys"}, ["en", "de"]),
    ("symbol", "file", ".gd", GD, {"take": "cases"}, ["en", "de", "it"]),
    ("call", "setup", ".gd", GD, {}, ["fr"]),
    ("symbol", "tags", ".lua", LUA, {}, ["en", "de"]),
    ("symbol", "home", ".lua", LUA, {}, ["en"]),
    ("symbol", "names", ".lua", LUA, {"take": "keys"}, ["en", "pt-BR"]),
    ("symbol", "file", ".lua", LUA, {"take": "cases"}, ["it"]),
    ("symbol", "*.supported", ".lua", LUA, {}, ["en", "de"]),
    ("call", "setup", ".lua", LUA, {"pointer": "/1/all"}, ["de", "fr"]),
    ("symbol", "tags", ".dart", DART, {}, ["en", "de"]),
    ("symbol", "locales", ".dart", DART, {}, ["en", "pt-BR", "zh-Hans"]),
    ("symbol", "names", ".dart", DART, {"take": "keys"}, ["en", "de"]),
    ("symbol", "Tongue", ".dart", DART, {"take": "members"}, ["en", "de", "fr"]),
    ("symbol", "L.all", ".dart", DART, {}, ["en"]),
    ("symbol", "home", ".dart", DART, {}, ["en"]),
    ("symbol", "file", ".dart", DART, {"take": "cases"}, ["en", "de", "it"]),
    ("call", "setup", ".dart", DART, {"pointer": "/all"}, ["de", "fr"]),
    ("symbol", "TAGS", ".py", PYTHON, {}, ["en", "de"]),
    (
        "symbol",
        "PAIRS",
        ".py",
        PYTHON,
        {"take": "item:0", "labels": "item:1"},
        ["en (English)", "de (Deutsch)"],
    ),
    ("symbol", "Tongue", ".py", PYTHON, {"take": "values"}, ["en", "de"]),
    ("symbol", "file", ".py", PYTHON, {"take": "cases"}, ["en", "de", "it"]),
    ("symbol", "KNOWN", ".py", PYTHON, {}, ["en", "de", "fr"]),
    (
        "symbol",
        "BAD",
        ".py",
        PYTHON,
        {},
        ["en", "15:14 !'home()' is computed, which is only known when the program runs"],
    ),
    ("call", "setup", ".py", PYTHON, {"pointer": "/all"}, ["de", "fr"]),
    ("symbol", "TAGS", ".php", PHP, {}, ["en", "de"]),
    ("symbol", "L.names", ".php", PHP, {"take": "keys"}, ["en", "de"]),
    ("symbol", "Tongue", ".php", PHP, {"take": "values"}, ["en", "de"]),
    ("symbol", "file", ".php", PHP, {"take": "cases"}, ["en", "de", "fr", "it", "uk"]),
    ("symbol", "list", ".php", PHP, {}, ["en", "de"]),
    ("call", "setup", ".php", PHP, {"pointer": "/all"}, ["de"]),
    ("symbol", "Tags", ".cs", CS, {}, ["en", "de"]),
    ("symbol", "L.Names", ".cs", CS, {"take": "keys"}, ["en", "de"]),
    ("symbol", "All", ".cs", CS, {}, ["de-AT", "fr"]),
    ("symbol", "Tongue", ".cs", CS, {"take": "members"}, ["English", "German"]),
    ("symbol", "File", ".cs", CS, {"take": "cases"}, ["en", "de", "fr", "it"]),
    ("symbol", "Pick", ".cs", CS, {"take": "cases"}, ["ar", "he", "fa"]),
    ("call", "app.Setup", ".cs", CS, {"pointer": "/1"}, ["de", "fr"]),
    ("symbol", "more", ".ts", TS, {}, ["en", "de", "fr"]),
    (
        "symbol",
        "rows",
        ".ts",
        TS,
        {"take": "field:tag", "labels": "field:words"},
        ["en (English)", "de (Deutsch)"],
    ),
    (
        "symbol",
        "bad",
        ".ts",
        TS,
        {},
        [
            "fr",
            "4:17 !'others' comes from another file or is computed",
            "4:31 !'`x${y}`' is computed, which is only known when the program runs",
        ],
    ),
    ("symbol", "Tongue", ".ts", TS, {"take": "values"}, ["en", "de"]),
    ("symbol", "file", ".ts", TS, {"take": "cases"}, ["en", "de", "fr", "it"]),
    ("symbol", "listed", ".ts", TS, {}, ["en", "de"]),
    ("call", "startUp", ".ts", TS, {"pointer": "/0/supported"}, ["en", "de"]),
    ("call", "startUp", ".ts", TS, {"pointer": "/0/home"}, ["en"]),
    ("call", "startUp", ".ts", TS, {"pointer": "/0/gone"}, ["7:9 !there is no 'gone' at /0"]),
    ("call", "nothing", ".ts", TS, {}, ["1:1 !nothing in the file calls 'nothing'"]),
    ("call", "pick", ".tsx", TSX, {}, ["de", "fr"]),
    ("call", "pick", ".html", HTML, {}, ["it", "uk"]),
    ("symbol", "tags", ".html", HTML, {}, ["en", "de"]),
    (
        "xpath",
        "//option/@value",
        ".html",
        HTML,
        {"labels": "text"},
        ["de (Deutsch)", "fr (Français)"],
    ),
]


@pytest.mark.parametrize(
    ("selector", "text", "suffix", "source", "more", "expected"),
    [pytest.param(*case, id=f"{case[2]} {case[0]} {case[1]} {case[4]}") for case in CASES],
)
def test_claims(
    selector: str, text: str, suffix: str, source: str, more: dict[str, Any], expected: list[str]
) -> None:
    assert found(selector, text, suffix, source, **more) == expected


@pytest.mark.parametrize(
    ("suffix", "source"), sorted({(suffix, source) for _, _, suffix, source, *_ in CASES})
)
def test_names_are_found_alike_one_by_one_and_all_at_once(
    suffix: str, source: str, monkeypatch: pytest.MonkeyPatch
) -> None:
    """The short way to a name, by the places where it is written, against going over the whole file."""
    names = sorted(set(re.findall(r"[$]?\w+", source)))

    def declared(few: int) -> dict[str, list[str]]:
        monkeypatch.setattr(_sourcefile, "_FEW", few)
        file = parse(source.encode(), suffix)
        if file is None:
            return {}
        return {
            name: [repr(file.value(each.value)) for each in file.declarations_of(name)]
            for name in names
        }

    assert declared(10**9) == declared(0)


@pytest.mark.parametrize(
    "suffix",
    [
        ".java",
        ".kt",
        ".swift",
        ".m",
        ".cpp",
        ".rb",
        ".go",
        ".gd",
        ".lua",
        ".dart",
        ".py",
        ".php",
        ".cs",
        ".ts",
    ],
)
def test_broken_code_and_other_files_are_told(suffix: str) -> None:
    for source in ("", "tags = [", "\x00\xff{{{", "class { class {", "é" * 50):
        assert all(
            defect.line >= 1
            for defect in load("symbol")
            .select(source.encode(), Pick("tags", suffix=suffix))
            .defects
        )
        assert found("symbol", "gone", suffix, source)[-1].startswith(
            "1:1 !there is no 'gone' in the file"
        )


def test_every_language_has_a_row() -> None:
    tried = {suffix for _, _, suffix, *_ in CASES}
    folder = Path(lemmar.languages.__file__).parent
    names = [path.stem for path in folder.glob("[a-z]*.py")]
    suffixes = {
        name: {
            suffix
            for language in import_module(f"lemmar.languages.{name}").LANGUAGES
            for suffix in language.suffixes
        }
        for name in names
    }
    assert [name for name in names if tried.isdisjoint(suffixes[name])] == []
