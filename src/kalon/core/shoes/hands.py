"""What a hand finds in a shoe: the one table of hand tests whose findings lie on a scale, read by the shoe bench, by
the brief for the shoe worn now, and by the sentences a spec is said in.

A finding stands for a range of its property, and so is a reading with its spread. Where a sport's shoes are another
thing under the same hand (a race cycling shoe, a skate), it has ranges of its own. Common practice, no source; the
numbers are house defaults.
"""

from __future__ import annotations

from dataclasses import dataclass

from ..sports.every import EVERY


@dataclass(frozen=True)
class Feel:
    """A finding: its slug in a brief and at the bench, what it is called, the range it stands for in the property's
    unit, how a shoe with it is said, and what it means."""

    slug: str
    at_bench: str
    text: str
    low: float
    high: float
    said: str
    means: str = ""

    @property
    def value(self) -> float:
        """The middle of its range."""
        return (self.low + self.high) / 2

    @property
    def give_or_take(self) -> float:
        """Half its range."""
        return (self.high - self.low) / 2


@dataclass(frozen=True)
class Hand:
    """A hand test: its slug in a brief (none where only the bench does it) and at the bench, what it is called, how it
    is done, the property it tells of, and its findings from the low end of the scale up."""

    brief: str
    bench: str
    name: str
    how: str
    tells: str
    feels: tuple[Feel, ...]


HANDS: tuple[Hand, ...] = (
    Hand("fold", "fold", "Fold it", "Both hands, toe and heel: bend it where the ball bends.", "bend_n_mm_per_deg", (
        Feel("in_half", "soft", "bends in half", 20, 120, "a sole that folds in half",
             "Gives no support under load: not for lifting."),
        Feel("at_ball", "middle", "bends at the ball with a push", 120, 320,
             "a sole that folds at the ball with a push", "Bends where the foot bends."),
        Feel("hardly", "firm", "hardly bends", 320, 720, "a sole you can hardly fold",
             "Carries the foot on small steps and under load."))),
    Hand("wring", "wring", "Wring it", "One hand at the heel, one at the ball: wring it like a cloth.",
         "twist_n_mm_per_deg", (
        Feel("easily", "soft", "wrings easily", 20, 130, "a middle that wrings easily",
             "The middle gives no support sideways."),
        Feel("resists", "middle", "wrings with a push", 130, 300, "a middle that wrings with a push",
             "Some support for the middle."),
        Feel("stiff", "firm", "doesn't wring", 300, 560, "a middle that hardly wrings",
             "Holds the foot level in a cut."))),
    Hand("heel_foam", "press_heel", "Press the heel's foam", "A thumb into the foam under the heel, hard.", "cushion", (
        Feel("hard", "soft", "hard as wood", 0, 3, "hardly any foam", "Low and stable; little for the floor's knocks."),
        Feel("middle", "middle", "gives a little", 3, 6.5, "cushioned", "Some cushion, some feel."),
        Feel("soft", "firm", "sinks in", 6.5, 10, "soft, deep foam", "Soft landings; sways under a bar."))),
    Hand("heel_cup", "pinch_cup", "Pinch the heel cup",
         "Finger and thumb at both sides of the heel: press it together.", "heel_counter", (
        Feel("gives", "soft", "folds flat", 0, 4, "a soft heel you can press in", "The heel wanders."),
        Feel("firm", "middle", "gives, comes back", 4, 7.2, "a heel that holds", "Holds a quiet heel."),
        Feel("rigid", "firm", "stands", 7.2, 10, "a firm heel you cannot press in",
             "Holds the heel in stops and turns."))),
    Hand("collar", "", "Look where the collar ends", "The foot in it, from the side, against the ankle bone.",
         "collar_mm", (
        Feel("flops", "", "below the ankle", 40, 78, "a low collar"),
        Feel("stands", "", "at the ankle", 78, 100, "a collar at the ankle"),
        Feel("high", "", "above it", 100, 150, "a high collar"))),
    Hand("", "nail", "Thumbnail into the rubber", "Press a thumbnail into the sole's edge and look.",
         "rubber_shore_a", (
        Feel("", "soft", "leaves a deep mark", 55, 69, "soft rubber that sticks", "Soft: grips and wears."),
        Feel("", "middle", "a mark that goes", 69, 79, "middling rubber", "In the middle."),
        Feel("", "firm", "no mark", 79, 93, "hard rubber that lasts", "Hard: lasts, stands on edges."))),
)  # fmt: skip
OF_SPORT: dict[tuple[str, str], tuple[tuple[float, float, str], ...]] = {
    (sport, name): ranges for sport, facts in EVERY.items() for name, ranges in facts.in_hand.items()
}
"""By sport and property: the ranges of the findings there, and how a shoe with each is said."""


def feels_of(hand: Hand, sport: str | None) -> tuple[Feel, ...]:
    """The findings of a test in a sport's shoes; of any shoe where no sport is named."""
    own = OF_SPORT.get((sport or "", hand.tells))
    if not own:
        return hand.feels
    return tuple(
        Feel(f.slug, f.at_bench, f.text, low, high, said, f.means)
        for f, (low, high, said) in zip(hand.feels, own, strict=True)
    )


def words_of(hand: Hand, sport: str | None) -> tuple[tuple[float, str], ...]:
    """Up to which value of the property which words hold; the last without an end."""
    feels = feels_of(hand, sport)
    return (*((f.high, f.said) for f in feels[:-1]), (9999, feels[-1].said))
