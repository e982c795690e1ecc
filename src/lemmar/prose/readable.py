"""What is written for people to read, and what only for programs."""

from __future__ import annotations

from lemmar.basics.expressions import expression

#: A word of two letters at least.
WORD = expression(r"[^\W\d_]{2,}")
_CODE = expression(
    r"[\w.+-]++@[\w-]++\.|\w++://|^(?:[./#]|www\.)|[<>{}\\|=]|\w\(|^[\w-]++(?:[./:][\w-]++)++$|^\w+_\w+$|^[a-z\d]++(?:-[a-z\d]++)++$|^[a-z]++[A-Z]\w*+$"
    r"|^[A-Z][a-z]++[A-Z]\w*+$|^[A-Z\d_ .:/-]{1,5}$|^--?\w"
)
#: So much of a text says what it is.
_SAMPLE = 400


def is_for_people(text: str) -> bool:
    """Whether *text* is words that people read, and no name, code, address, number or sign: two words, or one that is written as a sentence begins."""
    bare = " ".join(text.replace("\x1a", " ").split())[:_SAMPLE]
    if len(bare) < 3 or _CODE.search(bare):
        return False
    words = [found[0] for piece in bare.split() if (found := WORD.search(piece)) is not None]
    if sum(map(len, words)) * 2 < len(bare.replace(" ", "")):
        return False
    if len(words) == 1 and "\x1a" in text and not bare.rstrip("\x1a ").endswith(":"):
        return False  # a name before what a program puts in
    if len(words) >= 2:
        return any(len(word) > 2 for word in words) and not all(word.isupper() and len(word) < 4 for word in words)
    return len(words) == 1 and words[0] == bare.strip(".!?…:*") and len(words[0]) > 2 and not words[0].islower() and not words[0].isupper()
