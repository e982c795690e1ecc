"""Tarnhut behind the scenes: the service that writes to guests."""

from __future__ import annotations

from lemmar.demo.clients.writing import NAMES, Files, texts
from lemmar.demo.counted import COUNTED, header, numbered
from lemmar.demo.phrases import LOCALES
from lemmar.tags import LanguageTag, write_spelling


def files() -> Files:
    """Every file of the services."""
    yield from _letter_service()


def _letter_service() -> Files:
    """A file a locale, in which the source's texts are the keys; the settings pair each locale with its name."""
    root = "services/letter-service"
    pairs = "\n".join(f'    ("{tag}", "{NAMES[tag]}"),' for tag in LOCALES)
    yield f"{root}/letters/settings.py", f'"""What the letters are written in."""\n\nHOME_TONGUE = "en"\n\nTONGUES = [\n{pairs}\n]\n'
    for locale in LOCALES:
        if locale == "en":
            continue
        posix = write_spelling(LanguageTag.parse(locale), "posix")
        known = {phrase.name: text for phrase, text in texts(locale, None, _named, overlay=False)}
        rows = [
            f'msgid ""\nmsgstr ""\n"Project-Id-Version: letters\\n"\n"Language: {posix}\\n"\n"MIME-Version: 1.0\\n"\n'
            '"Content-Type: text/plain; charset=UTF-8\\n"\n"Content-Transfer-Encoding: 8bit\\n"\n'
            f'"Plural-Forms: {header(locale)}\\n"\n'
        ]
        for phrase, source in texts("en", None, _named, overlay=False):
            flag = "#, python-format\n" if phrase.fields else ""
            rows.append(f"#: letters/write.py\n{flag}msgid {_quoted(source)}\nmsgstr {_quoted(known.get(phrase.name, ''))}\n")
        for name in COUNTED:
            english = COUNTED[name]["en"]
            one, several = (english[key].replace("#", "%(count)d") for key in ("one", "other"))
            translated = numbered(name, locale, "%(count)d")
            lines = "".join(f"msgstr[{number}] {_quoted(text)}\n" for number, text in enumerate(translated))
            rows.append(f"#: letters/write.py\n#, python-format\nmsgid {_quoted(one)}\nmsgid_plural {_quoted(several)}\n{lines}")
        yield f"{root}/locale/{posix}/LC_MESSAGES/letters.po", "\n".join(rows)


def _named(name: str, _number: int) -> str:
    return f"%({name})s"


def _quoted(text: str) -> str:
    escaped = text.replace("\\", "\\\\").replace('"', '\\"')
    return f'"{escaped}"'
