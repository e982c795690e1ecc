"""Which characters the texts of a locale need signs for, which of them its fonts lack, and how wide its texts get."""

from __future__ import annotations

import unicodedata
from collections.abc import Collection, Iterator, Mapping
from fnmatch import fnmatchcase
from typing import NamedTuple

from lemmar.charter.types import Charter
from lemmar.fonts import SHAPED, Wanted, normal, upper
from lemmar.fonts.needs import is_drawn
from lemmar.inventory.contents import Catalog
from lemmar.inventory.fonts import FontFile, Fonts
from lemmar.prose.letters import has_letters
from lemmar.resolve.effective import held
from lemmar.resolve.syntaxes import syntax_of
from lemmar.resolve.world import Client, Effect, Space, World
from lemmar.syntax import Syntax, pieces
from lemmar.tags import Tag


class Text(NamedTuple):
    """A text that users of a locale see: its catalog and key, and its words, without what a program puts in."""

    catalog: Catalog
    key: str
    words: str


def texts(charter: Charter, client: Client, effect: Effect, keys: tuple[str, ...] = ()) -> Iterator[Text]:
    """What users of a locale see, form by form; of *keys* only, where any are named (``*`` matches)."""
    for space, source in client.sources.items():
        wanted = source.key_set if not keys else {key for key in source.keys if any(fnmatchcase(key, pattern) for pattern in keys)}
        remaining = set(wanted)
        for link in effect.consulted:
            catalogs = client.by_space.get(space, {}).get(link, ())
            got = remaining & held(catalogs).full if catalogs and remaining else set()
            remaining -= got
            for catalog in reversed(catalogs) if got else ():
                syntax = syntax_of(charter, client, catalog)
                own = got & catalog.column.key_set
                got -= own
                for key in sorted(own, key=catalog.column.keys.places.__getitem__):
                    index = catalog.column.keys.places[key]
                    forms = catalog.column.rare.forms.get(index)
                    for text in dict.fromkeys(forms.values()) if forms else (catalog.column.texts[index],):
                        if text:
                            yield Text(catalog, key, words_of(syntax, text))


def words_of(syntax: Syntax, text: str) -> str:
    """What people see of a *text*: all its branches without placeholders. Addresses and references, which are no words to translate, are among it."""
    if not any(sign in text for sign in syntax.special) and not (syntax.first and text.startswith(syntax.first)):
        return text
    if syntax.words is not None:
        return "\n".join("".join(text[start:end] for start, end in spans) for spans in syntax.words(text))
    found = pieces(syntax, text)
    return "".join("" if each.name else each.text for each in found) if found is not None else text


class Needs(NamedTuple):
    """The characters that texts of a locale need, each with how many texts do and the first of them; and the texts."""

    characters: Mapping[str, Wanted]
    texts: tuple[Text, ...]


def needs(charter: Charter, client: Client, effect: Effect, keys: tuple[str, ...] = (), uppercase: bool = False) -> Needs:
    """What the texts of a locale need."""
    found: dict[str, Wanted] = {}
    every: list[Text] = []
    for text in texts(charter, client, effect, keys):
        words = normal(text.words)
        for character in set(upper(words, effect.tag) if uppercase else words):
            known = found.get(character)
            if known is not None:
                found[character] = Wanted(known.texts + 1, known.first)
            elif is_drawn(character):
                found[character] = Wanted(1, len(every))
        every.append(text)
    return Needs(found, tuple(every))


class Lacks(NamedTuple):
    """What the fonts of a locale lack: *glyphs* no font of them has, *cut* those that a whole font has and the part cut out of it has not, *marks* that no
    font can put onto letters, *scripts* that none can shape, *letters* of the language's alphabet that no text uses yet.
    """

    needs: Needs
    glyphs: tuple[str, ...]
    cut: tuple[str, ...]
    marks: tuple[str, ...]
    scripts: tuple[str, ...]
    letters: tuple[str, ...]


def concerns(fonts: Fonts, locale: Tag) -> bool:
    """Whether a locale's texts are shown in these fonts."""
    return not fonts.entry.locales or locale in fonts.entry.locales


def lacks(charter: Charter, client: Client, fonts: Fonts, effect: Effect, alphabet: Collection[str]) -> Lacks:
    """What *fonts* lack for a locale whose language has the letters of *alphabet*."""
    need = needs(charter, client, effect, fonts.entry.keys, fonts.entry.uppercase)
    asked = [each for each in fonts.asked if not each.font.fault]
    missing = [character for character in sorted(need.characters) if not _can_draw(asked, character)]
    cut = tuple(character for character in missing if any(each.font.has(character) for each in fonts.wholes))
    marks = [
        character
        for character in sorted(need.characters)
        if unicodedata.combining(character) >= _PLACED
        and character not in missing
        and not any(ord(character) in each.font.marks for each in asked if each.font.has(character))
    ]
    scripts = [
        script
        for script, tags in SHAPED.items()
        if script in _KNOWN_LETTERS
        and (drawing := [each for each in asked if _covers(each, script, need)])
        and not any(each.font.scripts.intersection(tags) for each in drawing)
    ]
    letters = [
        letter
        for letter in sorted(set(alphabet))
        if not unicodedata.combining(letter) and letter not in need.characters and not _can_draw(asked, letter)
    ]
    bitmap = all(each.file.lower().endswith((".bdf", ".fnt")) for each in asked)
    return Lacks(
        need,
        tuple(character for character in missing if character not in cut),
        cut,
        () if bitmap else tuple(marks),
        () if bitmap else tuple(scripts),
        tuple(letters),
    )


#: Marks of a lower combining class are put on by tables that shape, not by anchors.
_PLACED = 10


def _can_draw(asked: list[FontFile], character: str) -> bool:
    """Whether one of the fonts has a sign for a character, or for what it is put together of."""
    if any(each.font.has(character) for each in asked):
        return True
    apart = unicodedata.normalize("NFD", character)
    return len(apart) > 1 and any(all(each.font.has(one) for one in apart) for each in asked)


def _is_of(script: str, character: str) -> bool:
    return script in _KNOWN_LETTERS and has_letters((script,))(character) is not None


_KNOWN_LETTERS = frozenset({"Arab", "Deva", "Beng", "Guru", "Gujr", "Orya", "Taml", "Telu", "Knda", "Mlym", "Sinh", "Khmr", "Mymr", "Tibt"})


def _covers(each: FontFile, script: str, need: Needs) -> bool:
    """Whether a font draws letters of a script that texts use."""
    return any(each.font.has(character) for character in need.characters if _is_of(script, character))


def columns(text: str) -> int:
    """How many columns a text takes (Unicode Standard Annex 11): two for a wide sign, none for a mark."""
    return sum(
        0
        if unicodedata.combining(sign) or unicodedata.category(sign) in ("Cf", "Mn", "Me")
        else 2
        if unicodedata.east_asian_width(sign) in "WF"
        else 1
        for sign in text
    )


def source_words(world: World, client: Client, space: Space, key: str) -> str:
    """The words of the source's text of *key*."""
    for catalog in reversed(client.sources[space].catalogs):
        index = catalog.column.keys.places.get(key)
        if index is not None:
            forms = catalog.column.rare.forms.get(index)
            found = [text for text in (forms.values() if forms else (catalog.column.texts[index],)) if text]
            return max((words_of(syntax_of(world.charter, client, catalog), text) for text in found), key=columns, default="")
    return ""
