r"""An example that fails and one that passes for each rule of the message family, as the reference shows them and the tests run them."""

from __future__ import annotations

from typing import NamedTuple


class Example(NamedTuple):
    """A source's text and its translation: *text* None where there is none. Of what stands beside them in a file: *limit* (characters),
    *copy* (of the source's text), *state*, and *other*, the translation of the same text in a second client; *term* is a word with what is agreed for it,
    *expand* how much wider a translation may be.
    """

    locale: str
    source: str | None
    text: str | None
    syntax: str = "icu"
    limit: int | None = None
    copy: str | None = None
    state: str | None = None
    other: str | None = None
    term: tuple[str, str] | None = None
    expand: float | None = None

    def words(self) -> str:
        """The example in one line."""
        source = "no source" if self.source is None else _shown(self.source)
        text = "no text" if self.text is None else _shown(self.text)
        more = [
            f"limit {self.limit}" if self.limit else "",
            f"copy of the source {_shown(self.copy)}" if self.copy else "",
            f"state {self.state}" if self.state else "",
            f"in another client {_shown(self.other)}" if self.other else "",
            f"the term {_shown(self.term[0])} is {_shown(self.term[1])}" if self.term else "",
            f"{self.expand:g} times as wide is allowed" if self.expand else "",
        ]
        return f"{source} → {self.locale} {text}" + "".join(f", {each}" for each in more if each)


def _shown(text: str) -> str:
    visible = "".join(sign if sign.isprintable() else f"\\u{ord(sign):04x}" for sign in text)
    return f"`{visible}`"


#: For each rule one that fails and one that passes.
EXAMPLES = {
    "message.missing": (Example("de", "Drinking water", None), Example("de", "Drinking water", "Trinkwasser")),
    "message.surplus": (Example("de", None, "Trinkwasser"), Example("de", "Drinking water", "Trinkwasser")),
    "message.empty": (Example("de", "Drinking water", ""), Example("de", "Drinking water", "Trinkwasser")),
    "message.syntax": (
        Example("ja", "{n, plural, one {# night} other {# nights}}", "{n, plural, その他 {#泊}}"),
        Example("ja", "{n, plural, one {# night} other {# nights}}", "{n, plural, other {#泊}}"),
    ),
    "message.argument-lost": (
        Example("de", "{name} stays until {date}", "{name} bleibt"),
        Example("de", "{name} stays until {date}", "Bis {date} bleibt {name}"),
    ),
    "message.argument-added": (Example("de", "The hut is full", "{hut} ist voll"), Example("de", "The hut is full", "Die Hütte ist voll")),
    "message.argument-type": (
        Example("de", "%1$s: %2$d", "%1$s: %2$s", "printf"),
        Example("de", "%1$s: %2$d", "%2$d: %1$s", "printf"),
    ),
    "message.plural-missing": (
        Example("pl", "{n, plural, one {# bunk} other {# bunks}}", "{n, plural, one {# łóżko} other {# łóżka}}"),
        Example(
            "pl", "{n, plural, one {# bunk} other {# bunks}}", "{n, plural, one {# łóżko} few {# łóżka} many {# łóżek} other {# łóżka}}"
        ),
    ),
    "message.plural-surplus": (
        Example("ja", "{n, plural, one {# night} other {# nights}}", "{n, plural, one {#泊} other {#泊}}"),
        Example("ja", "{n, plural, =0 {none} one {# night} other {# nights}}", "{n, plural, =0 {なし} other {#泊}}"),
    ),
    "message.select-differs": (
        Example("de", "{who, select, female {her bunk} other {their bunk}}", "{who, select, weiblich {ihr Lager} other {das Lager}}"),
        Example("de", "{who, select, female {her bunk} other {their bunk}}", "{who, select, female {ihr Lager} other {das Lager}}"),
    ),
    "message.markup": (
        Example("de", "Pay <b>at the desk</b>", "Zahlen Sie <b>am Empfang"),
        Example("de", "Pay <b>at the desk</b>", "<b>Am Empfang</b> zahlen"),
    ),
    "message.same-as-source": (Example("de", "Snow on the pass", "Snow on the pass"), Example("de", "{count} km GPS", "{count} km GPS")),
    "message.edge-space": (Example("de", "Quiet after ", "Ruhe ab"), Example("de", "Quiet after ", "Ruhe ab ")),
    "message.control-character": (Example("de", "Stove", "Ofen\x07"), Example("fa", "Stove", "اجاق\u200cها")),
    "message.wrong-script": (Example("de", "Snow on the pass", "Снег на перевале"), Example("uk", "Switch the GPS on", "Увімкніть GPS")),
    "message.too-long": (Example("de", "Bunk", "Schlafplatz", limit=8), Example("de", "Bunk", "Lager", limit=8)),
    "message.overflows": (
        Example("de", "Drying room", "Trockenraum für nasse Stiefel", expand=1.4),
        Example("de", "Drying room", "Raum zum Trocknen", expand=1.6),
    ),
    "message.unreviewed": (
        Example("de", "Drinking water", "Trinkwasser", state="needs-review-translation"),
        Example("de", "Drinking water", "Trinkwasser", state="final"),
    ),
    "message.stale": (
        Example("de", "Pay at the desk", "Jetzt zahlen", copy="Pay now"),
        Example("de", "Pay at the desk", "Am Empfang zahlen", copy="Pay at the desk"),
    ),
    "message.term": (
        Example("de", "Choose a bunk", "Bett wählen", term=("bunk", "Lager")),
        Example("de", "Choose a bunkhouse", "Hütte wählen", term=("bunk", "Lager")),
    ),
    "message.inconsistent": (
        Example("de", "Upper bunk", "Oberes Lager", other="Bett oben"),
        Example("de", "Upper bunk", "Oberes Lager", other="Oberes Lager"),
    ),
}
