"""What each sport is asked, in the athlete's words, from general to particular: the sports' own vocabularies."""

from __future__ import annotations

from ..sports.every import SPORTS, every_school, house_side
from ..sports.words import Ask, Option, School, Sport, Vocabulary

__all__ = ["SPORTS", "Ask", "Option", "School", "Sport", "Vocabulary", "every_school", "house_side"]
