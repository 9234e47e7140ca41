"""One voice: the spelling of every text that a user may read, and one word for one thing.

Spelling is British, by the word list of pyspellchecker; ``words.txt`` holds the trade's words that it lacks.
"""

import re
import sys
from pathlib import Path

import pytest
from spellchecker import SpellChecker

sys.path.insert(0, str(Path(__file__).parents[1] / "tools"))
import list_texts

WORD = re.compile(r"[A-Za-z][a-z]+(?:’s|'s)?")
INSTEAD = {
    "color": "colour",
    "gray": "grey",
    "millimeter": "millimetre",
    "center": "middle",
    "unsuccessful": "say what went wrong",
    "invalid": "say what is wrong and what would be right",
    "please": "nothing",
    "sorry": "nothing",
    "oops": "nothing",
}
"""Words that are not ours, and what stands for them."""


@pytest.fixture(scope="module")
def texts():
    found = list(list_texts.texts())
    assert len(found) > 2500
    return found


def test_every_word_is_spelt_as_the_list_has_it(texts, root):
    own = set((root / "tests" / "words.txt").read_text("utf-8").split())
    words = {}
    for place, line, text in texts:
        for word in WORD.findall(
            re.sub(r"page:[a-z-]+|drawing:[a-z]+|\{[a-z_0-9]+\}|\S+\.(?:pdf|svg|png|csv|toml)", " ", text)
        ):
            words.setdefault(re.sub(r"[’']s$", "", word).lower(), f"{place}:{line}")
    unknown = SpellChecker(language="en").unknown(words) - own
    assert {word: words[word] for word in sorted(unknown)} == {}


def test_no_own_word_is_kept_that_nothing_uses(texts, root):
    own = (root / "tests" / "words.txt").read_text("utf-8").split()
    assert own == sorted(set(own))
    used = {re.sub(r"[’']s$", "", word).lower() for _, _, text in texts for word in WORD.findall(text)}
    assert [word for word in own if word not in used] == []


def test_one_word_stands_for_one_thing(texts):
    found = [
        f"{place}:{line}: {text} (say: {ours})"
        for place, line, text in texts
        for theirs, ours in INSTEAD.items()
        if re.search(rf"\b{theirs}s?\b", text, re.IGNORECASE)
    ]
    assert found == []


def test_nothing_shouts(texts):
    assert [f"{place}:{line}: {text}" for place, line, text in texts if re.search(r"\w!(\s|$)", text)] == []


def test_apostrophes_are_curved_as_quotes_are(texts):
    assert [found for found in texts if re.search(r"[a-z]'[a-z]|[a-z]s' [a-z]", found[2])] == []
