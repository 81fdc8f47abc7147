"""How likely two ideas are the same work: rare words weigh more than common ones, and more in titles."""

from __future__ import annotations

import pytest

from tallyman.core.ideas import matching
from tallyman.core.ideas.matching import Text

IDEAS = 200


def rarities(**having: int) -> dict[str, float]:
    return {word: matching.rarity(count, IDEAS) for word, count in having.items()}


@pytest.mark.parametrize(("having", "least", "most"), [(1, 1, 1), (2, 0.8, 0.9), (20, 0.4, 0.5), (200, 0, 0)])
def test_a_word_is_the_rarer_the_fewer_use_it(having: int, least: float, most: float) -> None:
    assert least <= round(matching.rarity(having, IDEAS), 4) <= most


def test_among_few_ideas_a_word_is_not_common_at_once() -> None:
    assert matching.rarity(2, 3) == matching.rarity(2, matching.LEAST_IDEAS)


def test_one_common_word_asks_for_no_verdict() -> None:
    one = Text(1, "Find old files", "Look which files are old")
    (match,) = matching.closest(one, [Text(2, "Find open gates", "Look which gates are open")])
    assert not matching.is_plausible(match, rarities(find=60, look=90, open=50))


def test_rare_words_in_both_titles_ask_for_one() -> None:
    one = Text(1, "Reagent orders below the limit", "Order reagents")
    (match,) = matching.closest(one, [Text(2, "Limits for reagent orders", "Reagents fall short")])
    weights = rarities(reagent=2, order=12, limit=4)
    assert matching.is_plausible(match, weights)
    assert matching.by_rarity(match, weights).words[0] == "reagent", "the rarest is said first"


def test_a_word_counts_less_where_no_title_has_it() -> None:
    told = Text(2, "Gate checks", "Reagents are ordered when they fall short")
    (match,) = matching.closest(Text(1, "Gate checks", "Reagents fall short, order them"), [told])
    assert match.places["gate"] == 1 > match.places["reagent"] == matching.PLACES[0]
