"""Which language texts are in, and which characters Chinese ones."""

from __future__ import annotations

import pytest

from lemmar.prose import characters, guess

SENTENCES = {
    "de": "Wenn niemand an der Tür ist, gehen Sie hinein und schreiben Sie sich in das Buch ein, das auf dem Tisch liegt",
    "fr": "S'il n'y a personne à la porte, entrez et écrivez votre nom dans le livre qui est sur la table",
    "es": "Si no hay nadie en la puerta, entre y escriba su nombre en el libro que está sobre la mesa",
    "it": "Se non c'è nessuno alla porta, entrate e scrivete il vostro nome nel libro che è sul tavolo",
    "nl": "Als er niemand bij de deur is, ga dan naar binnen en schrijf uw naam in het boek dat op de tafel ligt",
    "pl": "Jeśli przy drzwiach nikogo nie ma, proszę wejść i wpisać się do książki, która leży na stole",
    "ru": "Если у двери никого нет, войдите и напишите своё имя в книге, которая лежит на столе",
    "uk": "Якщо біля дверей нікого немає, увійдіть і запишіть своє ім'я в книзі, яка лежить на столі",
}


@pytest.mark.parametrize("language", sorted(SENTENCES))
def test_sentences_are_surely_in_no_other_language(language: str) -> None:
    found = guess([SENTENCES[language]] * 5, language)
    assert found is not None and not found.is_sure


@pytest.mark.parametrize(
    ("language", "wanted", "sure"),
    [
        ("de", "fr", True),
        ("fr", "de", True),
        ("nl", "it", True),
        ("pl", "es", True),
        ("ru", "uk", True),  # of kin, and letters tell them apart
        ("es", "pt", False),  # of kin, and letters do not
    ],
)
def test_sentences_under_another_language(language: str, wanted: str, sure: bool) -> None:
    found = guess([SENTENCES[language]] * 5, wanted)
    assert found is not None and found.language == language and found.is_sure is sure


SHORT = {
    "de": ["Öffnen Sie die Tür", "Der Schnee liegt höher", "Wählen Sie eine Hütte für die Nacht"],
    "fr": ["Ouvrez la porte à côté", "La neige a été fondue", "Choisissez un refuge où être"],
    "sv": ["Öppna dörren på vägen", "Är snön för hög", "Välj en stuga för natten"],
}


@pytest.mark.parametrize(("language", "wanted"), [("de", "fr"), ("fr", "de"), ("sv", "fr")])
def test_letters_tell_more_than_words(language: str, wanted: str) -> None:
    found = guess(SHORT[language], wanted)
    assert found is not None and found.is_sure and found.language == language
    sound = guess(SHORT[wanted], wanted)
    assert sound is not None and not sound.is_sure


def test_few_words_tell_nothing() -> None:
    found = guess(["Der Schnee ist auf dem Berg"], "fr")
    assert found is not None and not found.is_sure
    assert guess(["123", "…"], "fr") is None
    assert guess(["Der Schnee"], "tlh") is None


def test_characters_of_both_kinds_count_for_none() -> None:
    assert characters(["台后面干著里", "snow", "山"]) == (0, 0)
    assert characters(["关闭", "關閉"]) == (2, 2)
