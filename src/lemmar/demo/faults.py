"""The mistakes that practitioners really make, planted in a sound Tarnhut one by one.

`PLANTED` says for each which finding must come of it, and nothing else may: the tests hold the audit to it.
"""

from __future__ import annotations

import json
from collections.abc import Callable
from typing import NamedTuple

Files = dict[str, str]


class Fault(NamedTuple):
    """A planted mistake: what was done, what does it, and the findings it must give as (rule, client, locale, key)."""

    story: str
    plant: Callable[[Files], None]
    findings: tuple[tuple[str, str | None, str | None, str | None], ...]


_SITE = "clients/booking-site"
_DESK = "clients/warden-desk/Desk"
_POCKET = "clients/ridge-pocket/Pocket"
_RES = "clients/trail-pocket/app/src/main/res"
_SUMMIT = "clients/summit-trail"

_WAIVER = """
[[waiver]]
rule   = "message.missing"
client = "booking-site"
locale = "ar"
key    = "help.stay"
until  = 2026-09-30
reason = "the rescue service words the Arabic text in September"
"""


def _change(files: Files, name: str, old: str, new: str) -> None:
    assert old in files[name], (name, old)
    files[name] = files[name].replace(old, new, 1)


def _picker_offers_more(files: Files) -> None:
    _change(files, f"{_SITE}/src/shell/LanguageMenu.tsx", '  { tag: "it"', '  { tag: "es", words: "Español" },\n  { tag: "it"')


def _layout_not_mirrored(files: Files) -> None:
    _change(files, "clients/hut-cards/data/table.yaml", "mirrored: true", "mirrored: false")


def _default_that_nothing_states(files: Files) -> None:
    claim = '  [[client.claim]]\n  states = "default"\n  file   = "lib/tongues.dart"\n  symbol = "homeTongue"\n\n'
    _change(files, "lemmar.toml", claim, "")
    _change(files, "clients/weather-eye/lib/tongues.dart", "const homeTongue = 'en';\n\n", "")


def _country_for_language(files: Files) -> None:
    _change(files, f"{_SITE}/public/routes.json", '"tag": "zh-Hans"', '"tag": "cn"')


def _listed_in_four_places_of_five(files: Files) -> None:
    _change(files, f"{_DESK}/Tongues.cs", '        "it",\n', "")


def _column_left_empty(files: Files) -> None:
    _blank_column(files, "sr-Latn")


def _blank_column(files: Files, locale: str) -> None:
    name = f"{_SUMMIT}/Content/words.tsv"
    rows = [row.split("\t") for row in files[name].split("\n")]
    column = rows[0].index(locale)
    for row in rows[1:]:
        if len(row) > column:
            row[column] = ""
    files[name] = "\n".join("\t".join(row) for row in rows)


def _key_forgotten_in_two_copies(files: Files) -> None:
    for locale in ("fr", "it"):
        _drop(files, f"{_SITE}/src/locales/{locale}/hut.json", "trail", "lift")


def _drop(files: Files, name: str, branch: str, leaf: str) -> None:
    tree = json.loads(files[name])
    del tree[branch][leaf]
    files[name] = json.dumps(tree, ensure_ascii=False, indent=2) + "\n"


def _lost_semicolon(files: Files) -> None:
    _change(files, f"{_POCKET}/pt-BR.lproj/Hut.strings", '"Água potável";', '"Água potável"')


def _key_twice(files: Files) -> None:
    _change(files, f"{_POCKET}/fr.lproj/Booking.strings", '"stay.to" =', '"stay.from" = "Date d’arrivée";\n"stay.to" =')


def _placeholder_lost(files: Files) -> None:
    _change(files, f"{_RES}/values-ar/strings.xml", "عربون قدره %1$s يحفظ السرير", "العربون يحفظ السرير")


def _placeholder_translated(files: Files) -> None:
    _change(files, f"{_SITE}/src/locales/de/booking.json", "Geleitet von {{name}}", "Geleitet von {{Name}}")


def _wrong_suffix(files: Files) -> None:
    files[f"{_SITE}/src/locales/pt-BR/hut.jsn"] = files.pop(f"{_SITE}/src/locales/pt-BR/hut.json")


def _row_broken_by_separator(files: Files) -> None:
    _change(files, f"{_SUMMIT}/Content/words.tsv", "Fog in the valley\t", "Fog in\tthe valley\t")


def _waiver_has_ended(files: Files) -> None:
    files["lemmar.toml"] += _WAIVER
    _drop(files, f"{_SITE}/src/locales/ar/hut.json", "help", "stay")


def _blank_text(files: Files) -> None:
    _change(files, f"{_DESK}/Texts.sl.resx", "<value>Odhod</value>", "<value></value>")


def _file_copied_with_its_mark(files: Files) -> None:
    _change(files, "clients/weather-eye/lib/words/app_sl.arb", '"@@locale": "sl"', '"@@locale": "sr_Latn"')


def _root_key_of_another_language(files: Files) -> None:
    _change(files, "clients/notice-board/locales/it.yml", "it:", "fr:")


def _tab_in_indentation(files: Files) -> None:
    _change(files, "clients/notice-board/locales/fr.yml", "    stove:", "\tstove:")


def _comma_lost_in_array(files: Files) -> None:
    _change(files, "clients/warden-ledger/lang/ar/booking.php", "',\n        'lower'", "'\n        'lower'")


def _text_not_translated(files: Files) -> None:
    name = "services/letter-service/locale/pt_BR/LC_MESSAGES/letters.po"
    files[name] = files[name].replace('msgstr "Água potável"', 'msgstr ""')


def _unit_twice_after_a_merge(files: Files) -> None:
    _change(
        files,
        "clients/map-portal/src/words/messages.de.xlf",
        '      <trans-unit id="hut.near">',
        '      <trans-unit id="hut.list">\n        <source>All huts</source>\n        <target state="final">Hütten</target>\n      </trans-unit>\n      <trans-unit id="hut.near">',
    )


def _ampersand_not_escaped(files: Files) -> None:
    _change(files, "clients/door-panel/Panel/Words/Words.fr.xaml", '<sys:String x:Key="MealSoup">', '<sys:String x:Key="MealSoup">Soupe & ')


def _number_forgotten(files: Files) -> None:
    name = "clients/hut-cards/data/words_zh-Hans.json"
    whole = json.loads(files[name])
    whole["messages"] = [row for row in whole["messages"] if row["number"] != 1030]
    files[name] = json.dumps(whole, ensure_ascii=False, indent=1) + "\n"


def _locale_left_out_of_a_message(files: Files) -> None:
    name = "clients/wrist-glance/Glance/Words.xcstrings"
    whole = json.loads(files[name])
    del whole["strings"]["trail.snow"]["localizations"]["ar"]
    files[name] = json.dumps(whole, ensure_ascii=False, indent=2) + "\n"


def _picker_shows_another_name(files: Files) -> None:
    _change(files, f"{_SITE}/src/shell/LanguageMenu.tsx", 'words: "Slovenščina"', 'words: "Slovenčina"')


def _picker_leaves_one_out(files: Files) -> None:
    _change(files, f"{_SITE}/src/shell/LanguageMenu.tsx", '  { tag: "uk", words: "Українська" },\n', "")


def _catalog_that_no_list_names(files: Files) -> None:
    files["clients/warden-ledger/lang/es/booking.php"] = (
        "<?php\n\nreturn [\n    'bunk' => [\n        'upper' => 'Litera de arriba',\n    ],\n];\n"
    )


def _client_that_nobody_chartered(files: Files) -> None:
    for locale, text in (("en", "Log the rope"), ("de", "Seil eintragen")):
        files[f"tools/rope-log/locales/{locale}.json"] = json.dumps({"rope": {"log": text}}, ensure_ascii=False) + "\n"


def _constant_was_renamed(files: Files) -> None:
    _change(files, "clients/summit-trail/Scripts/Tongue.cs", "public const Tongue Home", "public const Tongue Start")


def _default_was_changed(files: Files) -> None:
    _change(files, "clients/warden-ledger/config/Tongues.php", "HOME = 'en'", "HOME = 'de'")


def _austrians_get_english(files: Files) -> None:
    _change(files, f"{_SUMMIT}/Content/fallback.json", '"de-AT": [\n    "de",\n    "en"\n  ]', '"de-AT": [\n    "en"\n  ]')


def _simplified_for_traditional(files: Files) -> None:
    _change(files, f"{_SUMMIT}/Content/fallback.json", "{\n", '{\n  "zh": [\n    "zh-Hans"\n  ],\n')


def _links_in_a_circle(files: Files) -> None:
    _change(files, "clients/hut-cards/data/fallbacks.yaml", "de: en", "de: de-AT")


def _region_cut_off(files: Files) -> None:
    _change(files, "lemmar.toml", '  lookup  = "truncate"\n  on-miss = "error"', '  lookup  = "primary"\n  on-miss = "error"')


_EYE = "clients/weather-eye/lib/words"
_KIOSK = "clients/valley-kiosk"
_LETTERS = "services/letter-service/locale"


def _kept_though_dropped(files: Files) -> None:
    name = f"{_SITE}/src/locales/it/hut.json"
    tree = json.loads(files[name])
    tree["trail"]["cable"] = "Cabinovia"
    files[name] = json.dumps(tree, ensure_ascii=False, indent=2) + "\n"


def _key_renamed(files: Files) -> None:
    _change(files, "clients/weather-eye/lib/words/app_en.arb", '"hut_near"', '"hut_nearby"')


def _merge_left_unfinished(files: Files) -> None:
    name = "clients/valley-kiosk/sentences/pt-BR.json"
    line = next(line for line in files[name].splitlines() if "Água potável" in line)
    _change(files, name, line, f"<<<<<<< HEAD\n{line}\n=======\n{line.replace('Água', 'Agua')}\n>>>>>>> wording")


def _copied_from_a_neighbour(files: Files) -> None:
    words = "clients/map-portal/src/words"
    texts = files[f"{words}/messages.sr-Latn.xlf"]
    files[f"{words}/messages.sl.xlf"] = texts.replace('target-language="sr-Latn"', 'target-language="sl"', 1)


def _files_changed_places(files: Files) -> None:
    first, second = (f"clients/hut-cards/data/words_{locale}.json" for locale in ("fr", "it"))
    files[first], files[second] = files[second], files[first]


def _placeholder_that_nobody_fills(files: Files) -> None:
    _change(files, f"{_DESK}/Texts.it.resx", "<value>Partenza</value>", "<value>Partenza {0}</value>")


def _text_for_a_number(files: Files) -> None:
    _change(files, f"{_RES}/values-fr/strings.xml", "%1$d couchage libre", "%1$s couchage libre")
    _change(files, f"{_RES}/values-fr/strings.xml", "%1$d couchages libres", "%1$s couchages libres")


def _form_left_out(files: Files) -> None:
    _change(files, f"{_SITE}/src/locales/sr-Latn/booking.json", '    "bunks_few": "{{count}} slobodna ležaja",\n', "")


def _form_too_many(files: Files) -> None:
    _change(files, f"{_EYE}/app_zh_Hans.arb", "plural, other {空铺位：#}", "plural, one {空铺位：#} other {空铺位：#}")


def _branch_translated(files: Files) -> None:
    _change(files, f"{_EYE}/app_it.arb", "select, female {Gestisce", "select, femmina {Gestisce")


def _other_translated(files: Files) -> None:
    _change(files, f"{_EYE}/app_fr.arb", "other {# nuits au refuge}", "autre {# nuits au refuge}")


def _brace_lost(files: Files) -> None:
    _change(files, f"{_KIOSK}/sentences/it.json", "Silenzio dopo le {$time}", "Silenzio dopo le {$time")


def _tag_never_closed(files: Files) -> None:
    _change(files, f"{_POCKET}/fr.lproj/Booking.strings", "Payer <b>%@</b> à", "Payer <b>%@ à")


def _copied_and_not_translated(files: Files) -> None:
    _change(files, f"{_KIOSK}/sentences/sr-Latn.json", "Psi spavaju na tremu", "Dogs sleep in the porch")


def _typed_on_another_keyboard(files: Files) -> None:
    _change(files, "clients/notice-board/locales/uk.yml", '"Гірський чай"', '"Гіpський чай"')


def _pasted_into_the_wrong_column(files: Files) -> None:
    _change(files, "clients/door-panel/Panel/Words/Words.fr.xaml", "Thé des montagnes", "Гірський чай")


def _guess_of_a_tool(files: Files) -> None:
    _change(files, f"{_LETTERS}/it/LC_MESSAGES/letters.po", 'msgid "Mountain tea"', '#, fuzzy\nmsgid "Mountain tea"')


def _to_be_looked_at(files: Files) -> None:
    _change(
        files,
        "clients/map-portal/src/words/messages.it.xlf",
        '<target state="final">Scala per le cuccette',
        '<target state="needs-review-translation">Scala per le cuccette',
    )


def _source_reworded(files: Files) -> None:
    _change(files, "clients/map-portal/src/words/messages.ar.xlf", "<source>Drying room</source>", "<source>Boot room</source>")


def _no_room_for_it(files: Files) -> None:
    _change(files, f"{_SUMMIT}/Content/words.tsv", "hut.stairs\t\t60", "hut.stairs\t\t24")


def _blank_at_the_end(files: Files) -> None:
    _change(files, f"{_KIOSK}/signs/fr.json", "paient ${price}", "paient ${price} ")


def _character_from_a_document(files: Files) -> None:
    _change(files, f"{_LETTERS}/ar/LC_MESSAGES/letters.po", 'msgstr "شاي', 'msgstr "\u202bشاي')


def _one_thing_two_names(files: Files) -> None:
    _change(files, f"{_DESK}/Texts.fr.resx", "<value>Thé des montagnes</value>", "<value>Infusion d’alpage</value>")


_PAGES = f"{_SITE}/src/pages"
_CARDS = "clients/hut-cards"


def _key_mistyped_in_code(files: Files) -> None:
    _change(files, f"{_PAGES}/HutPage.tsx", 'say("hut.drying")', 'say("hut.dryng")')


def _asked_for_in_the_wrong_part(files: Files) -> None:
    _change(files, f"{_PAGES}/BookingPage.tsx", "    </main>", '      <p>{say("trail.snow")}</p>\n    </main>')


def _value_by_another_name(files: Files) -> None:
    _change(files, f"{_PAGES}/BookingPage.tsx", 'say("group.leader", { name: props.name })', 'say("group.leader", { nane: props.name })')


def _nobody_asks_any_more(files: Files) -> None:
    _change(files, f"{_PAGES}/HutPage.tsx", '      <p>{say("weather.clear")}</p>\n', "")


def _key_put_together(files: Files) -> None:
    _change(files, f"{_PAGES}/HutPage.tsx", 'say("meal.tea")', "say(`meal.${props.kind}`)")


def _page_moved_without_its_text(files: Files) -> None:
    _change(files, f"{_PAGES}/BookingPage.tsx", '      <p>{say("stay.late")}</p>\n', "")
    name = "clients/trail-pocket/app/src/main/res/layout/way.xml"
    _change(files, name, "@string/stay_late", "@string/stay.late")
    _drop_lines(files, "clients/trail-pocket/app/src/main/res/", 'name="stay_late"')


def _drop_lines(files: Files, folder: str, words: str) -> None:
    for name in [name for name in files if name.startswith(folder) and words in files[name]]:
        files[name] = "".join(line for line in files[name].splitlines(keepends=True) if words not in line)


def _text_typed_into_the_page(files: Files) -> None:
    _change(files, f"{_PAGES}/HutPage.tsx", "    </main>", "      <button>Ask the warden</button>\n    </main>")


def _picture_forgotten(files: Files) -> None:
    del files[f"{_CARDS}/art/pt-BR/snow.svg"]


def _pictures_left_behind(files: Files) -> None:
    files[f"{_CARDS}/art/es/hut.svg"] = '<svg xmlns="http://www.w3.org/2000/svg"><text y="20">Todos los refugios</text></svg>\n'


def _picture_copied(files: Files) -> None:
    files[f"{_CARDS}/art/sr-Latn/storm.svg"] = files[f"{_CARDS}/art/en/storm.svg"]


def _path_mistyped_in_table(files: Files) -> None:
    _change(files, f"{_CARDS}/data/rules.json", "rules/zh-Hans.txt", "rules/zh_Hans.txt")


def _more_than_the_budget(files: Files) -> None:
    _change(files, "lemmar.toml", '"16 KB"', '"7.7 KB"')


def _drop_glyph(files: Files, name: str, sign: str) -> None:
    head, _, rest = files[name].partition(f"STARTCHAR u{ord(sign):04X}\n")
    files[name] = head + rest.partition("ENDCHAR\n")[2]


def _font_without_a_letter(files: Files) -> None:
    for name in ("cards", "whole"):
        _drop_glyph(files, f"{_CARDS}/fonts/{name}.bdf", "ї")


def _font_cut_too_early(files: Files) -> None:
    _drop_glyph(files, f"{_CARDS}/fonts/cards.bdf", "ã")


def _font_without_letters_of_names(files: Files) -> None:
    _drop_glyph(files, f"{_CARDS}/fonts/cards.bdf", "ÿ")


def _too_wide_for_the_corner(files: Files) -> None:
    _change(files, f"{_CARDS}/data/words_sl.json", "Jasno do večera", "Jasno in brez oblakov čisto do poznega večera v dolini")


PLANTED = (
    Fault("a picker offers a language that no catalog has", _picker_offers_more, (("roster.split", "booking-site", "es", None),)),
    Fault(
        "an address names a country where a language is wanted",
        _country_for_language,
        (("tag.region-as-language", "booking-site", "zh-Hans", None),),
    ),
    Fault("a language is listed in every place but one", _listed_in_four_places_of_five, (("roster.split", "warden-desk", "it", None),)),
    Fault("a column was added and left empty", _column_left_empty, (("message.missing", "summit-trail", "sr-Latn", None),)),
    Fault(
        "a key was forgotten in two copies",
        _key_forgotten_in_two_copies,
        (("message.missing", "booking-site", "fr", "trail.lift"), ("message.missing", "booking-site", "it", "trail.lift")),
    ),
    Fault("a semicolon is lost, and with it a file", _lost_semicolon, (("catalog.damaged", "ridge-pocket", "pt-BR", None),)),
    Fault("no line of a program says what its default is", _default_that_nothing_states, (("chain.unstated", "weather-eye", None, None),)),
    Fault("a picker shows another language's name", _picker_shows_another_name, (("roster.mislabelled", "booking-site", "sl", None),)),
    Fault("a picker leaves a language out", _picker_leaves_one_out, (("roster.unoffered", "booking-site", "uk", None),)),
    Fault("a catalog of a language that no list names", _catalog_that_no_list_names, (("roster.orphan", "warden-ledger", "es", None),)),
    Fault("a client that nobody has chartered", _client_that_nobody_chartered, (("roster.uncharted", None, None, None),)),
    Fault(
        "a constant that the charter points at was renamed",
        _constant_was_renamed,
        (("roster.unreadable-claim", "summit-trail", None, None),),
    ),
    Fault("a default was changed", _default_was_changed, (("chain.default", "warden-ledger", "de", None),)),
    Fault("Austrians get English in one client", _austrians_get_english, (("chain.diverges", "summit-trail", "de-AT", None),)),
    Fault(
        "readers of traditional characters get simplified ones",
        _simplified_for_traditional,
        (("chain.landing", "summit-trail", "en", None),),
    ),
    Fault("links of a chain run in a circle", _links_in_a_circle, (("chain.cycle", "hut-cards", None, None),)),
    Fault("a client cuts the region off at the hyphen", _region_cut_off, (("chain.landing", "weather-eye", None, None),)),
    Fault("a key was copied and not renamed", _key_twice, (("catalog.duplicate-key", "ridge-pocket", "fr", "stay.from"),)),
    Fault("a placeholder is lost in one language", _placeholder_lost, (("message.argument-lost", "trail-pocket", "ar", "pay_deposit"),)),
    Fault("a placeholder was translated", _placeholder_translated, (("message.argument-lost", "booking-site", "de", "group.leader"),)),
    Fault("a file has a wrong suffix", _wrong_suffix, (("catalog.absent", "booking-site", "pt-BR", None),)),
    Fault(
        "a row of the sheet is broken by a separator",
        _row_broken_by_separator,
        (("catalog.ragged-row", "summit-trail", None, "weather.fog"),),
    ),
    Fault("a text is blank", _blank_text, (("message.empty", "warden-desk", "sl", "StayTo"),)),
    Fault("a file was copied with its mark", _file_copied_with_its_mark, (("catalog.mark-differs", "weather-eye", "sl", None),)),
    Fault(
        "a file's texts stand under another language",
        _root_key_of_another_language,
        (("catalog.mark-differs", "notice-board", "it", None),),
    ),
    Fault("a tab slipped into the indentation", _tab_in_indentation, (("catalog.damaged", "notice-board", "fr", None),)),
    Fault("a comma is lost in an array", _comma_lost_in_array, (("catalog.damaged", "warden-ledger", "ar", None),)),
    Fault("a text is still to be translated", _text_not_translated, (("message.missing", "letter-service", "pt-BR", "Drinking water"),)),
    Fault("a unit is there twice after a merge", _unit_twice_after_a_merge, (("catalog.duplicate-key", "map-portal", "de", "hut.list"),)),
    Fault("an ampersand is not escaped", _ampersand_not_escaped, (("catalog.damaged", "door-panel", "fr", None),)),
    Fault("a numbered message was forgotten", _number_forgotten, (("message.missing", "hut-cards", "zh-Hans", "hut.water"),)),
    Fault("a message lacks a language", _locale_left_out_of_a_message, (("message.missing", "wrist-glance", "ar", "trail.snow"),)),
    Fault("a key was renamed in the source only", _key_renamed, (("message.renamed", "weather-eye", None, "hut_nearby"),)),
    Fault("a merge was left unfinished", _merge_left_unfinished, (("catalog.conflict", "valley-kiosk", "pt-BR", None),)),
    Fault("a file was copied and never translated", _copied_from_a_neighbour, (("catalog.twin", "map-portal", "sl", None),)),
    Fault(
        "two files have changed places",
        _files_changed_places,
        (("catalog.other-language", "hut-cards", "fr", None), ("catalog.other-language", "hut-cards", "it", None)),
    ),
    Fault("the layout stays as it is for Arabic", _layout_not_mirrored, (("roster.unmirrored", "hut-cards", "ar", None),)),
    Fault("a key that the source has dropped", _kept_though_dropped, (("message.surplus", "booking-site", "it", "trail.cable"),)),
    Fault("a placeholder that nobody fills", _placeholder_that_nobody_fills, (("message.argument-added", "warden-desk", "it", "StayTo"),)),
    Fault("a text where a number is wanted", _text_for_a_number, (("message.argument-type", "trail-pocket", "fr", "free_bunks"),)),
    Fault("a plural lacks a form", _form_left_out, (("message.plural-missing", "booking-site", "sr-Latn", "free.bunks"),)),
    Fault("a plural has a form too many", _form_too_many, (("message.plural-surplus", "weather-eye", "zh-Hans", "free_bunks"),)),
    Fault("a branch's key was translated", _branch_translated, (("message.select-differs", "weather-eye", "it", "hut_keeper"),)),
    Fault("'other' was translated", _other_translated, (("message.syntax", "weather-eye", "fr", "stay_length"),)),
    Fault("a brace is lost", _brace_lost, (("message.syntax", "valley-kiosk", "it", "hut.quiet"),)),
    Fault("a tag is never closed", _tag_never_closed, (("message.markup", "ridge-pocket", "fr", "pay.due"),)),
    Fault(
        "a text was copied and not translated",
        _copied_and_not_translated,
        (("message.same-as-source", "valley-kiosk", "sr-Latn", "hut.dogs"),),
    ),
    Fault(
        "a letter was typed on another keyboard", _typed_on_another_keyboard, (("message.wrong-script", "notice-board", "uk", "meal.tea"),)
    ),
    Fault(
        "a text was pasted into the wrong language",
        _pasted_into_the_wrong_column,
        (("message.wrong-script", "door-panel", "fr", "MealTea"),),
    ),
    Fault("a text is a tool's guess", _guess_of_a_tool, (("message.unreviewed", "letter-service", "it", "Mountain tea"),)),
    Fault("a text is to be looked at again", _to_be_looked_at, (("message.unreviewed", "map-portal", "it", "hut.stairs"),)),
    Fault("the source was reworded", _source_reworded, (("message.stale", "map-portal", "ar", "hut.drying"),)),
    Fault("there is no room for a text", _no_room_for_it, (("message.too-long", "summit-trail", "fr", "hut.stairs"),)),
    Fault("a blank stands at the end", _blank_at_the_end, (("message.edge-space", "valley-kiosk", "fr", "pay.member"),)),
    Fault(
        "a character came along from a document",
        _character_from_a_document,
        (("message.control-character", "letter-service", "ar", "Mountain tea"),),
    ),
    Fault("one thing has two names", _one_thing_two_names, (("message.inconsistent", "warden-desk", "fr", "MealTea"),)),
    Fault(
        "a key was mistyped in the code",
        _key_mistyped_in_code,
        (("key.undefined", "booking-site", None, "hut.dryng"),),
    ),
    Fault("a text is asked for in the wrong part", _asked_for_in_the_wrong_part, (("key.wrong-part", "booking-site", None, "trail.snow"),)),
    Fault("the code gives a value by another name", _value_by_another_name, (("key.arguments", "booking-site", None, "group.leader"),)),
    Fault("nobody asks for a text any more", _nobody_asks_any_more, (("key.unused", "booking-site", None, None),)),
    Fault("the code puts a key together", _key_put_together, (("key.computed", "booking-site", None, None),)),
    Fault(
        "a page moved, and its text did not",
        _page_moved_without_its_text,
        (("key.only-there", "booking-site", None, None), ("key.undefined", "trail-pocket", None, "stay.late")),
    ),
    Fault("a text was typed into the page", _text_typed_into_the_page, (("text.outside", "booking-site", None, None),)),
    Fault("a picture was forgotten", _picture_forgotten, (("asset.absent", "hut-cards", "pt-BR", None),)),
    Fault("a picture of a language that was dropped", _pictures_left_behind, (("asset.orphan", "hut-cards", "es", None),)),
    Fault("a picture was copied and not drawn", _picture_copied, (("asset.copied", "hut-cards", "sr-Latn", None),)),
    Fault("a path is mistyped in a table", _path_mistyped_in_table, (("asset.unlisted", "hut-cards", "zh-Hans", None),)),
    Fault("players load more than was agreed", _more_than_the_budget, (("catalog.too-big", "hut-cards", None, None),)),
    Fault("a font lacks a letter", _font_without_a_letter, (("font.glyph", "hut-cards", "uk", None),)),
    Fault("a font was cut before the texts were there", _font_cut_too_early, (("font.subset", "hut-cards", "pt-BR", None),)),
    Fault("a font lacks a letter of names", _font_without_letters_of_names, (("font.alphabet", "hut-cards", "fr", None),)),
    Fault(
        "a text is too wide for its corner",
        _too_wide_for_the_corner,
        (("message.overflows", "hut-cards", "sl", "weather.clear"), ("message.inconsistent", "hut-cards", "sl", "weather.clear")),
    ),
    Fault(
        "a waiver's date has passed",
        _waiver_has_ended,
        (("waiver.expired", None, None, None), ("message.missing", "booking-site", "ar", "help.stay")),
    ),
)
