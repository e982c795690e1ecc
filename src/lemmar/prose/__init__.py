"""Which language a text is in: by function words and by letters; simplified and traditional Chinese by characters that only one of them has.

Source: lists of function words (stopwords-iso), the alphabets of CLDR (UTS 35 part 2, Character Elements), Unihan's variants (UAX 38).
"""

from lemmar.prose.chinese import Characters, characters
from lemmar.prose.guessing import Guess, guess, kindred

__all__ = ["Characters", "Guess", "characters", "guess", "kindred"]
