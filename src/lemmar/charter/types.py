"""The charter's types: what may stand in ``lemmar.toml``, and what each key means.

The only list of the charter's keys. The reader, the JSON Schema and the reference page are all made from it, descriptions
included. Keys in the file are written with hyphens. Annotations are real types here, not texts, which would be compiled at
every start.
"""

import datetime
from collections.abc import Mapping
from pathlib import PurePosixPath
from typing import TYPE_CHECKING, Annotated, Any, Literal

from msgspec import Meta, Struct, defstruct, field

from lemmar import lookups, selectors
from lemmar.formats import NOTHING
from lemmar.selectors import Pick, Selector
from lemmar.tags import Tag

Text = Annotated[str, Meta(min_length=1)]
Locale = Annotated[Tag, Meta(min_length=1)]
Share = Annotated[float, Meta(ge=0, le=1)]
Factor = Annotated[float, Meta(ge=1)]
Level = Literal["error", "warning", "note", "off"]
Kind = Literal["web", "mobile", "desktop", "game", "service"]
Platform = Literal["browser", "android", "lproj", "java", "dotnet", "posix"]
Spelling = Literal["bcp47", "posix", "java", "android", "lproj", "dotnet", "name", "auto"]
Layout = Literal["by-file", "locale-rooted", "locale-leaved", "columns", "records"]
States = Literal["supported", "offered", "routed", "default", "chain", "source", "mirrored"]


if TYPE_CHECKING:
    Lookup = str
else:
    Lookup = Literal[lookups.names()]


class _Table(Struct, frozen=True, kw_only=True, forbid_unknown_fields=True, rename="kebab"):
    """A table of the charter."""


class Head(_Table, frozen=True, kw_only=True):
    """The charter itself."""

    version: Annotated[Literal[1], Meta(description="The charter's form; 1.")]
    source: Annotated[Locale, Meta(description="The locale that messages are written in.")]
    ignore: Annotated[tuple[Text, ...], Meta(description="Folders in which clients outside the charter are not looked for.")] = ()
    include: Annotated[
        tuple[Text, ...], Meta(description="Patterns of files with `[[client]]` tables, each for what is below its own folder.")
    ] = ()


class Roster(_Table, frozen=True, kw_only=True):
    """The locales of the product."""

    shipping: Annotated[tuple[Locale, ...], Meta(description="Locales that must be complete in every client.")]
    trial: Annotated[dict[Locale, Share], Meta(description="Locales on trial, each with the share of messages it must reach.")] = {}
    pseudo: Annotated[
        tuple[Locale, ...], Meta(description="Test locales: they may have catalogs, but must not be supported or offered.")
    ] = ()


class Gate(_Table, frozen=True, kw_only=True):
    """What holds a release."""

    fail_on: Annotated[Literal["error", "warning", "note", "never"], Meta(description="The lowest severity that holds up the release.")] = (
        "error"
    )
    severity: Annotated[dict[Text, Level], Meta(description="Rules with another severity, or turned off.")] = {}


class NamedGate(_Table, frozen=True, kw_only=True):
    """A gate of the team's own, for one occasion; what it leaves out is as in `[gate]`."""

    fail_on: Annotated[
        Literal["error", "warning", "note", "never"] | None, Meta(description="The lowest severity that holds up the release here.")
    ] = None
    severity: Annotated[dict[Text, Level], Meta(description="Rules with another severity here, or turned off.")] = {}


class Messages(_Table, frozen=True, kw_only=True):
    """What is known of the product's texts."""

    may_equal_source: Annotated[tuple[Text, ...], Meta(description="Texts that are the same in every language.")] = ()
    may_equal_source_keys: Annotated[tuple[Text, ...], Meta(description="Keys whose texts may equal the source's; * matches.")] = ()
    source_only_keys: Annotated[tuple[Text, ...], Meta(description="Keys that are not to be translated; * matches.")] = ()


class OwnSyntax(_Table, frozen=True, kw_only=True):
    """A message syntax of the team's own."""

    placeholder: Annotated[Text, Meta(description="A regular expression with a group `name`.")]


class OwnLocale(_Table, frozen=True, kw_only=True):
    """What is to be known of a language that CLDR knows too little of."""

    name: Annotated[Text, Meta(description="The language's own name.")]
    script: Annotated[Text, Meta(description="Its script, as ISO 15924 has it.")]
    plural: Annotated[tuple[Text, ...], Meta(description="Its plural categories.")] = ("other",)


class Runtime(_Table, frozen=True, kw_only=True):
    """How a client behaves when it runs; what is left out comes from its platform."""

    lookup: Annotated[Lookup | None, Meta(description="How a request finds a supported locale.")] = None
    grain: Annotated[
        Literal["message", "catalog"] | None,
        Meta(description="Whether each message falls back along the chain, or one catalog is used for all."),
    ] = None
    default: Annotated[
        Literal["none"] | None,
        Meta(description="Set to none where users of an unsupported language get no locale at all: the program falls back to none."),
    ] = None
    on_miss: Annotated[Literal["key", "blank", "source", "error"] | None, Meta(description="What users see for a missing message.")] = None
    on_empty: Annotated[
        Literal["next", "blank"] | None,
        Meta(description="Whether an empty message falls back to the next catalog or is shown as it is."),
    ] = None
    supported: Annotated[
        Literal["claims", "files"] | None, Meta(description="Whether claims or the files themselves say what is supported.")
    ] = None
    chain: Annotated[
        Literal["first", "last"] | None, Meta(description="Whether the chain claim's entry comes before or after the lookup's steps.")
    ] = None


class Columns(_Table, frozen=True, kw_only=True):
    """The headers of a sheet that are not locales; every other header must be one."""

    key: Annotated[Text | None, Meta(description="The header of the keys; default: the first column.")] = None
    description: Annotated[Text | None, Meta(description="The header of the descriptions.")] = None
    limit: Annotated[Text | None, Meta(description="The header of the length limits.")] = None
    ignore: Annotated[tuple[Text, ...], Meta(description="Headers of columns without texts.")] = ()


class Names(_Table, frozen=True, kw_only=True):
    """A file that maps names to the numbers of messages."""

    file: Annotated[Text, Meta(description="The file, from the client's root.")]
    list: Annotated[Text | None, Meta(description="Where the list is in it, an RFC 6901 pointer.")] = None
    key: Annotated[Text | None, Meta(description="The field of the number.")] = None
    name: Annotated[Text | None, Meta(description="The field of the name.")] = None


class Fields(_Table, frozen=True, kw_only=True):
    """The fields of a record."""

    key: Annotated[Text, Meta(description="The field of the key.")]
    text: Annotated[Text, Meta(description="The field of the text.")]
    list: Annotated[str | None, Meta(description="Where the list is, an RFC 6901 pointer.")] = None
    locale: Annotated[Text | None, Meta(description="The field of the locale.")] = None


class _Spelled(_Table, frozen=True, kw_only=True):
    spelling: Annotated[Spelling | None, Meta(description="How locales are written here.")] = None
    spelled: Annotated[dict[Text, Locale], Meta(description="Spellings of your own: as written, and the locale meant.")] = {}


_Sure = Annotated[
    Annotated[float, Meta(ge=0, le=1)] | None,
    Meta(description="How sure the survey that drafted this table is of it; delete the line to confirm it (`lemmar charter --confirm`)."),
]


class CatalogEntry(_Spelled, frozen=True, kw_only=True):
    """Files that hold messages."""

    sure: _Sure = None

    files: Annotated[Text, Meta(description="The pattern of the files, from the client's root.")]
    exceptions: Annotated[
        tuple[Text, ...], Meta(description="Patterns of files that are no catalogs, though `files` matches them; from the client's root.")
    ] = field(default=(), name="except")
    name: Annotated[Text | None, Meta(description="The name by which clients use a shared catalog, and by which another lies over it.")] = (
        None
    )
    over: Annotated[
        Text | bool,
        Meta(
            description="The name of the catalog that it lies over, true for all before it: the same keys are looked up in it first, then in those."
        ),
    ] = False
    format: Annotated[Text | None, Meta(description="The files' format; default: by their name.")] = None
    layout: Annotated[Layout | None, Meta(description="How locales are laid out in the files; default: a file is one locale.")] = None
    syntax: Annotated[Text | None, Meta(description="The syntax of the messages' placeholders.")] = None
    columns: Annotated[Columns | None, Meta(description="The headers of a sheet that are not locales.")] = None
    fields: Annotated[Fields | None, Meta(description="The fields of records.")] = None
    names: Annotated[Text | Names | None, Meta(description="Where messages are numbered, the file that names the numbers.")] = None
    encoding: Annotated[Text | None, Meta(description="The files' encoding.")] = None
    plural: Annotated[Literal["suffix", "nested", "pipe", "none"] | None, Meta(description="How plural forms are written.")] = None
    markup: Annotated[Literal["html", "none"] | None, Meta(description="Whether texts contain markup.")] = None
    apostrophe: Annotated[Literal["doubled"] | None, Meta(description="Set if every apostrophe in an ICU text quotes.")] = None
    source_text: Annotated[Literal["key"] | None, Meta(description="Set if the key is the source text.")] = None
    unmarked: Annotated[Locale | None, Meta(description="The locale of files whose name has none; default: the source.")] = None
    built: Annotated[bool, Meta(description="Whether the files are made by the build.")] = False
    without: Annotated[dict[Locale, Text], Meta(description="Locales that this catalog is exempt from, each with the reason.")] = {}
    limits: Annotated[dict[Text, int], Meta(description="Keys, where * matches, each with how many characters fit.")] = {}
    requires_own: Annotated[tuple[Text, ...], Meta(description="Keys that every locale must have itself; * matches.")] = ()


class _Claim(_Spelled, frozen=True, kw_only=True):
    sure: _Sure = None
    states: Annotated[States, Meta(description="What the place states.")]
    file: Annotated[Text | None, Meta(description="The file, from the client's root.")] = None
    take: Annotated[Text | None, Meta(description="What to take of a list or map: keys, values, members, cases, field:NAME, item:N.")] = (
        None
    )
    split: Annotated[Text | None, Meta(description="What separates locales within one text.")] = None
    labels: Annotated[Text | None, Meta(description="The label of each locale: field:NAME, value, text.")] = None
    ordered: Annotated[bool, Meta(description="Whether lists must agree in order as well.")] = False
    transitive: Annotated[bool, Meta(description="Whether a chain's links are followed from link to link.")] = False

    def given(self) -> tuple[Selector, ...]:
        """The selectors that the claim has; a pointer that goes on into what another gives is none of its own."""
        found = [selector for selector in selectors.every() if getattr(self, selector.name) not in (None, False)]
        if len(found) > 1 and any(selector.goes_on for selector in found):
            found = [selector for selector in found if selector.name != "pointer"]
        return tuple(found)

    @property
    def selector(self) -> Selector:
        """The claim's selector, of which it has one."""
        return self.given()[0]

    def pick(self, columns: Mapping[str, Any] = NOTHING) -> Pick:
        """What the selector is asked for; *columns* are the headers of its sheet that are known to be no locales."""
        selector = self.selector
        value = getattr(self, selector.name)
        take = {"chain": "chain", "mirrored": "truth"}.get(self.states, self.take)
        further = getattr(self, "pointer", None) if selector.goes_on else None
        suffix = PurePosixPath(self.file or "").suffix.lower()
        return Pick(value if isinstance(value, str) else "", take, suffix, columns, further, self.labels)


def _key_of(selector: Selector) -> tuple[str, Any, Any]:
    """The charter's key of a selector, its type and default."""
    about = Meta(description=f"Selector: {selector.about}")
    if selector.flag:
        return selector.name, Annotated[bool, about], False
    return selector.name, Annotated[(str if selector.may_be_empty else Text) | None, about], None


if TYPE_CHECKING:

    class ClaimEntry(_Claim, frozen=True, kw_only=True):
        """One place where a client states something about locales."""
else:
    ClaimEntry = defstruct(
        "ClaimEntry",
        [_key_of(selector) for selector in selectors.every()],
        bases=(_Claim,),
        namespace={"__doc__": "One place where a client states something about locales."},
        module=__name__,
        frozen=True,
        kw_only=True,
        forbid_unknown_fields=True,
        rename="kebab",
    )


class ComposedEntry(_Spelled, frozen=True, kw_only=True):
    """Catalogs that a script puts together of others, beside the code that they belong to."""

    into: Annotated[Text, Meta(description="The pattern of the catalogs that are made, from the client's root.")]
    sources: Annotated[
        tuple[Text, ...], Meta(description="Patterns of the fragments, in the order in which they are put together.", min_length=1)
    ] = field(name="from")
    under: Annotated[
        str, Meta(description="The key below which a fragment's texts come; {part} is its part, with dots for slashes. Default: none.")
    ] = ""
    clash: Annotated[
        Literal["refuse", "first", "last"], Meta(description="Which text counts where two fragments have one key with two texts.")
    ] = "refuse"
    format: Annotated[Text | None, Meta(description="The format of the catalogs that are made; default: by their name.")] = None
    fragments: Annotated[Text | None, Meta(description="The format of the fragments; default: by their name.")] = None


class _KeyList(_Table, frozen=True, kw_only=True):
    file: Annotated[Text, Meta(description="The file, from the client's root.")]
    take: Annotated[Text | None, Meta(description="What to take of a list or map: keys, values, members, cases, field:NAME, item:N.")] = (
        None
    )
    part: Annotated[Text | None, Meta(description="The part whose keys it lists; default: every one.")] = None
    keys: Annotated[tuple[Text, ...], Meta(description="The keys that it lists; * matches. Default: all.")] = ()
    beside: Annotated[tuple[Text, ...], Meta(description="What stands in the list and is no key.")] = ()

    def given(self) -> tuple[Selector, ...]:
        """The selectors that the list has; a pointer that goes on into what another gives is none of its own."""
        found = [selector for selector in _listing() if getattr(self, selector.name) not in (None, False)]
        if len(found) > 1 and any(selector.goes_on for selector in found):
            found = [selector for selector in found if selector.name != "pointer"]
        return tuple(found)

    def pick(self) -> Pick:
        """What the selector is asked for."""
        (selector,) = self.given()
        further = getattr(self, "pointer", None) if selector.goes_on else None
        return Pick(getattr(self, selector.name) or "", self.take, PurePosixPath(self.file).suffix.lower(), NOTHING, further)


def _listing() -> tuple[Selector, ...]:
    """The selectors that point into a file."""
    return tuple(selector for selector in selectors.every() if selector.of_files is None and not selector.flag)


if TYPE_CHECKING:

    class KeyListEntry(_KeyList, frozen=True, kw_only=True):
        """A list of keys in source code or data that mirrors a catalog's."""
else:
    KeyListEntry = defstruct(
        "KeyListEntry",
        [_key_of(selector) for selector in _listing()],
        bases=(_KeyList,),
        namespace={"__doc__": "A list of keys in source code or data that mirrors a catalog's."},
        module=__name__,
        frozen=True,
        kw_only=True,
        forbid_unknown_fields=True,
        rename="kebab",
    )


Argument = Annotated[int, Meta(ge=0)] | Text


class UsagePart(_Table, frozen=True, kw_only=True):
    """Where code says of which part a message is."""

    argument: Annotated[
        Argument | None, Meta(description="The argument of the same call that names it: its place, from 0, or its name.")
    ] = None
    separator: Annotated[Text | None, Meta(description="What stands between the part and the key in one text.")] = None
    scope: Annotated[Text | None, Meta(description="A call before it in the same function, whose first argument is the part.")] = None


class UsageEntry(_Table, frozen=True, kw_only=True):
    """How the client's code asks for a message."""

    sure: _Sure = None

    files: Annotated[tuple[Text, ...], Meta(description="Patterns of the files with code and markup, from the client's root.")] = ("**",)
    exceptions: Annotated[tuple[Text, ...], Meta(description="Patterns of files that are not looked through.")] = field(
        default=(), name="except"
    )
    call: Annotated[
        Text | tuple[Text, ...],
        Meta(description="The function, or several; `words.say` or `say`. With `[]` behind it, what stands in brackets."),
    ] = ()
    argument: Annotated[Argument, Meta(description="The argument that is the key: its place, from 0, or its name.")] = 0
    pointer: Annotated[
        Text | None, Meta(description="Where the key is inside of the argument, an RFC 6901 pointer; `*` is every member.")
    ] = None
    context: Annotated[Argument | None, Meta(description="The argument that is a message's context.")] = None
    values: Annotated[
        Argument | None,
        Meta(description="The argument that holds the values for placeholders, by name; `*`: those after the key, in order."),
    ] = None
    filter: Annotated[Text | tuple[Text, ...], Meta(description="What a key is piped through in templates.")] = ()
    attribute: Annotated[Text | tuple[Text, ...], Meta(description="An attribute of markup whose value is a key.")] = ()
    element: Annotated[Text | tuple[Text, ...], Meta(description="The element that has it; without `attribute`, whose text is a key.")] = ()
    block: Annotated[
        Text | tuple[Text, ...], Meta(description="A tag of templates around a text that is the key, which `end` and its name ends.")
    ] = ()
    member: Annotated[
        Text | tuple[Text, ...], Meta(description="An accessor, such as `Words.{key}`: cases and signs of a key do not count.")
    ] = ()
    resource: Annotated[Text | tuple[Text, ...], Meta(description="A reference in markup, such as `@string/{key}`.")] = ()
    part: Annotated[Text | UsagePart | None, Meta(description="The part that messages are of, or where code says it.")] = None
    under: Annotated[
        Text | None, Meta(description="A call before it in the same function, whose first argument stands before each key, with a dot.")
    ] = None
    shows: Annotated[tuple[Text, ...], Meta(description="Functions that show people the texts that they are given.")] = ()


class AssetEntry(_Spelled, frozen=True, kw_only=True):
    """Sounds, pictures, data that the client has by locale."""

    files: Annotated[
        Text | None, Meta(description="The pattern of the files, from the client's root, with {locale} and {name} ({name+} over folders).")
    ] = None
    table: Annotated[Text | None, Meta(description="Instead: a file that maps locales to assets, from the client's root.")] = None
    pointer: Annotated[str | None, Meta(description="Where the map is in it, an RFC 6901 pointer.")] = None
    symbol: Annotated[Text | None, Meta(description="The declaration in source code that is the map.")] = None
    paths: Annotated[Text | None, Meta(description="The folder that its paths start from, from the client's root; default: its own.")] = (
        None
    )
    own: Annotated[bool, Meta(description="Whether each locale is to have its own, so that no other language stands in.")] = False
    same: Annotated[tuple[Text, ...], Meta(description="Names that may be the source's, byte for byte; * matches.")] = ()
    unmarked: Annotated[Locale | None, Meta(description="The locale of files whose name has none; default: the source.")] = None


class FontEntry(_Table, frozen=True, kw_only=True):
    """The fonts that texts are shown in."""

    files: Annotated[tuple[Text, ...], Meta(description="Patterns of the fonts, in the order in which they are asked.", min_length=1)]
    fallback: Annotated[tuple[Text, ...], Meta(description="Patterns of the fonts that are asked after them.")] = ()
    cut_from: Annotated[tuple[Text, ...], Meta(description="Patterns of the whole fonts that a build cuts these from.")] = ()
    locales: Annotated[tuple[Locale, ...], Meta(description="The locales whose texts are shown in them; default: all.")] = ()
    keys: Annotated[tuple[Text, ...], Meta(description="The keys whose texts are shown in them; * matches. Default: all.")] = ()
    uppercase: Annotated[bool, Meta(description="Whether texts are shown in capital letters.")] = False


class BoxEntry(_Table, frozen=True, kw_only=True):
    """Room on a screen that texts must fit into."""

    keys: Annotated[tuple[Text, ...], Meta(description="The keys whose texts stand there; * matches.", min_length=1)]
    width: Annotated[float, Meta(description="Its width, in the unit of `size`.", gt=0)]
    font: Annotated[Text, Meta(description="The font's file, from the client's root.")]
    size: Annotated[float, Meta(description="The font's size, such as 16 (pixels).", gt=0)]
    lines: Annotated[int, Meta(description="How many lines fit.", ge=1)] = 1


class ClientEntry(_Spelled, frozen=True, kw_only=True):
    """One program of the product."""

    sure: _Sure = None

    name: Annotated[Text, Meta(description="Its name in all output.")]
    kind: Annotated[Kind, Meta(description="What it is.")]
    root: Annotated[Text, Meta(description="Its folder, from the monorepo's root; in an included file from that one's folder.")]
    like: Annotated[
        Text | None,
        Meta(
            description="Another client, whose platform, spelling, source, catalogs, claims, usage and runtime count where none are stated."
        ),
    ] = None
    owner: Annotated[Text | None, Meta(description="Whose its findings are, where no file of owners says so.")] = None
    platform: Annotated[Platform | None, Meta(description="The preset that fills in spelling and runtime.")] = None
    source: Annotated[
        Locale | None,
        Meta(description="The locale that its messages are written in, where it is another than the charter's, or another tag."),
    ] = None
    trial: Annotated[
        dict[Locale, Share],
        Meta(description="Locales on trial in this client, each with the share of messages that it must not fall below."),
    ] = {}
    without: Annotated[dict[Locale, Text], Meta(description="Locales that this client is exempt from, each with the reason.")] = {}
    assumes: Annotated[
        dict[Literal["default", "chain", "on-miss", "mirrored"], Text],
        Meta(description="What nothing in the client states, each with the reason why that is right; it is then not reported."),
    ] = {}
    uses: Annotated[tuple[Text, ...], Meta(description="Shared catalogs that it uses.")] = ()
    runtime: Runtime = field(default_factory=Runtime)
    catalog: tuple[CatalogEntry, ...] = ()
    claim: tuple[ClaimEntry, ...] = ()
    composed: tuple[ComposedEntry, ...] = ()
    key_list: tuple[KeyListEntry, ...] = ()
    usage: tuple[UsageEntry, ...] = ()
    asset: tuple[AssetEntry, ...] = ()
    font: tuple[FontEntry, ...] = ()
    box: tuple[BoxEntry, ...] = ()
    expand: Annotated[
        Factor | None, Meta(description="How much wider than its source a translation may be, such as 1.4; five columns more are free.")
    ] = None
    budget: Annotated[Text | None, Meta(description="How much users of one locale may load of texts and assets, such as `200 KB`.")] = None


class WaiverEntry(_Table, frozen=True, kw_only=True):
    """A finding that the team accepts for a while."""

    rule: Annotated[Text, Meta(description="The rule.")]
    until: Annotated[datetime.date, Meta(description="The last day on which it counts, UTC.")]
    reason: Annotated[Text, Meta(description="Why the finding is accepted.")]
    client: Annotated[Text | None, Meta(description="Only this client; * matches.")] = None
    locale: Annotated[Text | None, Meta(description="Only this locale; * matches.")] = None
    part: Annotated[Text | None, Meta(description="Only this part; * matches.")] = None
    key: Annotated[Text | None, Meta(description="Only these keys; * matches.")] = None
    request: Annotated[Text | None, Meta(description="Only this request of a user; * matches.")] = None
    file: Annotated[Text | None, Meta(description="Only this file; * matches.")] = None


class TermEntry(_Table, frozen=True, kw_only=True):
    """A word of the product, and what it is in each language."""

    word: Annotated[Text, Meta(description="The word, in the source's language; small letters stand for capital ones as well.")]
    forms: Annotated[
        Text | None, Meta(description="A regular expression of the forms that it has in the source; default: the word alone.")
    ] = None
    keeps: Annotated[bool, Meta(description="Whether it stays as it is in every language, as a name does.")] = False
    agreed: Annotated[
        dict[Locale, tuple[Text, ...]], Meta(description="For each locale its translation, or several of which one will do.")
    ] = {}
    inflected: Annotated[
        dict[Locale, Text], Meta(description="For each locale a regular expression of the forms that the translation has there.")
    ] = {}
    avoid: Annotated[dict[Locale, tuple[Text, ...]], Meta(description="For each locale words that are not to stand for it.")] = {}
    note: Annotated[Text | None, Meta(description="What translators should know of it.")] = None


class Charter(_Table, frozen=True, kw_only=True):
    """All that a team has agreed; the whole of ``lemmar.toml``."""

    charter: Head
    roster: Roster
    client: tuple[ClientEntry, ...] = ()
    catalog: tuple[CatalogEntry, ...] = ()
    chains: Annotated[
        dict[Locale, tuple[Locale, ...]],
        Meta(description="For each locale, the locales to fall back to, in order; `default` is for the rest."),
    ] = {}
    audience: Annotated[dict[Text, Text], Meta(description="Requests to try, each with the locale that the team wants, or `agree`.")] = {}
    gate: Gate = field(default_factory=Gate)
    gates: Annotated[dict[Text, NamedGate], Meta(description="Gates of your own, each by its name.")] = field(
        default_factory=dict, name="[gate.NAME]"
    )
    messages: Messages = field(default_factory=Messages)
    syntax: Annotated[dict[Text, OwnSyntax], Meta(description="Message syntaxes of the team's own.")] = {}
    locale: Annotated[dict[Locale, OwnLocale], Meta(description="Languages that CLDR knows too little of.")] = {}
    term: tuple[TermEntry, ...] = ()
    waiver: tuple[WaiverEntry, ...] = ()

    @property
    def source(self) -> Tag:
        """The source locale."""
        return self.charter.source

    @property
    def locales(self) -> tuple[Tag, ...]:
        """The roster: shipping, then trial locales."""
        return (*self.roster.shipping, *self.roster.trial)

    @property
    def default(self) -> Tag:
        """The default locale: the last link of the default chain, else the source."""
        return self.default_chain[-1] if self.default_chain else self.source

    @property
    def default_chain(self) -> tuple[Tag, ...]:
        """What a locale without a chain of its own falls back to."""
        return self.chains.get(Tag("default"), (self.source,))

    def chain(self, locale: Tag) -> tuple[Tag, ...]:
        """The chain of *locale*: its own, else the default one."""
        return self.chains.get(locale, self.default_chain)
