"""One pair for several disciplines: their specs laid together by their shares of the time."""

from __future__ import annotations

from collections.abc import Sequence
from typing import cast

from ..shoes.anatomy import FEATURES
from .changes import ROOM_NAMES, value_word
from .engine import (
    LEAST_WISH,
    ChoiceWeight,
    Reason,
    Spec,
    SpecBand,
    SpecCaution,
    SpecChoice,
    SpecFeature,
    SpecRoom,
    SpecVeto,
    all_out,
    caution_order,
    wish_of,
)
from .possible import possible
from .scales import CHOICES, PROPERTIES, ROOMS, scale
from .words import SPORTS, Sport

Shared = Sequence[tuple[float, Spec]]
APART_MM = 3.0
"""Rooms further apart than this cannot be served by one pair. House default."""


def _joined(lists: Sequence[Sequence[Reason]]) -> list[Reason]:
    """Each rule once, in the words of the discipline named first."""
    found: dict[str, Reason] = {}
    for reason in (r for reasons in lists for r in reasons):
        found.setdefault(reason.rule, reason)
    return [found[rule] for rule in sorted(found)]


def _for_each(held: Sequence[tuple[Spec, Sequence[Reason]]], of: int) -> list[Reason]:
    """The same for a band that isn't any discipline's own: what not all of them say alike is said of the one that says
    it, for its numbers are of its own band."""
    said: dict[str, list[str]] = {}
    for _, reasons in held:
        for reason in reasons:
            said.setdefault(reason.rule, []).append(reason.text)
    found: dict[str, Reason] = {}
    for spec, reasons in held:
        for reason in reasons:
            if reason.rule not in found:
                alike = len(said[reason.rule]) == of and len(set(said[reason.rule])) == 1
                text = reason.text if alike else _of(spec, reason.text)
                found[reason.rule] = reason.model_copy(update={"text": text})
    return [found[rule] for rule in sorted(found)]


def _cautions(specs: Sequence[Spec]) -> dict[tuple[str, str], SpecCaution]:
    """Each caution once; one that not all disciplines share is said of the one that raised it."""
    said: dict[tuple[str, str], list[str]] = {}
    for spec in specs:
        for key, text in {(c.rule, c.about): c.text for c in spec.cautions}.items():
            said.setdefault(key, []).append(text)
    found: dict[tuple[str, str], SpecCaution] = {}
    for spec in specs:
        for caution in spec.cautions:
            key = (caution.rule, caution.about)
            alike = len(said[key]) == len(specs) and len(set(said[key])) == 1
            must = caution.must_acknowledge or (key in found and found[key].must_acknowledge)
            text = caution.text if alike else _of(spec, caution.text)
            found[key] = (found.get(key) or caution.model_copy(update={"text": text})).model_copy(
                update={"must_acknowledge": must}
            )
    return found


def _of(spec: Spec, text: str) -> str:
    """What is said of one discipline: "Deadlifts: flat, so the pull is short"."""
    words = next(d.text for d in SPORTS[cast(Sport, spec.sport)].disciplines if d.value == spec.discipline)
    if text.lower().startswith(words.lower()):
        return text
    first = text.split()[0]
    spelt = len(first) > 1 and first.isupper()
    return f"{words}: {text if spelt else text[:1].lower() + text[1:]}"


def _ends(parts: Sequence[tuple[float, float, float]], apart: float) -> tuple[float, float, bool]:
    """Blended low and high of (share, low, high), and whether they pull too far apart for one pair.

    Bands near each other are averaged by share; far ones keep the largest share's, for the middle serves nobody."""
    gap = max(low for _, low, _ in parts) - min(high for _, _, high in parts)
    if gap > apart:
        _, low, high = max(parts, key=lambda p: p[0])
        return low, high, True
    total = sum(share for share, _, _ in parts)
    low = sum(share * low for share, low, _ in parts) / total
    high = sum(share * high for share, _, high in parts) / total
    return low, high, False


UNDERNEATH = ("plate", "sole")
"""A shoe stands on the one or the other: what a discipline asks for says which. No discipline asks for both."""
SERVES = 0.4
"""Score from which a value serves a discipline that likes another better. House default."""


def _serves(spec: Spec, choice: str, value: str) -> float:
    return next((c.score for c in spec.choices.get(choice, []) if c.value == value), 0.0)


def _winner(shared: Shared, choice: str, left: dict[str, float]) -> str:
    """What leads a choice for all: the best of the disciplines' own firsts, if it serves the largest share too.

    A value nobody likes best never leads, though it be everybody's second, unless all firsts are ruled out; and the
    smaller share's first never leads where it doesn't serve the larger one."""
    by_share = sorted((p for p in shared if choice in p[1].choices), key=lambda p: -p[0])
    firsts = [v for _, s in by_share if (v := s.choices[choice][0].value) in left]
    largest = by_share[0][1]
    able = [v for v in firsts if _serves(largest, choice, v) >= SERVES]
    among = able or [c.value for c in largest.choices[choice] if c.value in left] or list(left)
    return max(among, key=lambda v: (left[v], -among.index(v)))


def _grained(value: float, grain: float) -> float:
    return round(round(value / grain) * grain, 2)


def _features(shared: Shared) -> dict[str, SpecFeature]:
    """Wishes laid together by share: what one needs all need, wants and avoids weigh against each other."""
    found: dict[str, SpecFeature] = {}
    for name in FEATURES:
        held = [(share, s.features[name]) for share, s in shared if name in s.features]
        come_to = sum(share * f.weight * (-1 if f.wish == "avoid" else 1) for share, f in held)
        needed = any(f.wish == "need" for _, f in held)
        if held and (needed or abs(come_to) >= LEAST_WISH):
            found[name] = wish_of(come_to, needed, _joined([f.reasons for _, f in held]))
    return dict(sorted(found.items(), key=lambda f: -f[1].weight))


OPPOSED = 0.4
"""Weight from which one discipline's want and another's avoid pull a pair apart. House default."""


def _opposed(shared: Shared) -> list[str]:
    """Features that one discipline wants and another avoids."""
    wishes = [(n, f.wish == "avoid") for _, s in shared for n, f in s.features.items() if f.weight >= OPPOSED]
    return [FEATURES[n].name.lower() for n in FEATURES if (n, True) in wishes and (n, False) in wishes]


def blend(shared: Shared) -> Spec:
    """The spec of one pair for all; what pulls apart is cautioned, every veto of any of them holds."""
    main = shared[0][1]
    sport = main.sport
    pulls: list[str] = []
    properties: dict[str, SpecBand] = {}
    for name in PROPERTIES:
        held = [(share, s.properties[name]) for share, s in shared if name in s.properties]
        if not held:
            continue
        drawn = scale(name, sport)
        low, high, apart = _ends([(share, b.low, b.high) for share, b in held], drawn.falloff / 2)
        weight = sum(share * b.weight for share, b in held)
        if apart and weight > 0.3:
            pulls.append(drawn.name[:1].lower() + drawn.name[1:])
        properties[name] = SpecBand(
            low=_grained(low, drawn.grain),
            high=_grained(high, drawn.grain),
            weight=round(weight, 3),
            reasons=_for_each(
                [(s, s.properties[name].reasons) for _, s in shared if name in s.properties], len(shared)
            ),
        )
    fit: dict[str, SpecRoom] = {}
    for name in ROOMS:
        rooms = [(share, s.fit[name]) for share, s in shared if name in s.fit]
        if not rooms:
            continue
        low, high, apart = _ends([(share, r.low, r.high) for share, r in rooms], APART_MM)
        if apart:
            pulls.append(ROOM_NAMES[name][:1].lower() + ROOM_NAMES[name][1:])
        fit[name] = SpecRoom(
            low=_grained(low, 0.5),
            high=_grained(high, 0.5),
            reasons=_for_each([(s, s.fit[name].reasons) for _, s in shared if name in s.fit], len(shared)),
        )
    features = _features(shared)
    pulls += _opposed(shared)
    vetoes = {(v.name, v.value, v.rule): v for _, s in shared for v in s.vetoes}
    out = {(name, value) for name, value, _ in vetoes}
    choices: dict[str, list[SpecChoice]] = {}
    cautions = _cautions([s for _, s in shared])
    for choice in CHOICES:
        scores: dict[str, float] = {}
        reasons: dict[str, list[list[Reason]]] = {}
        for share, s in shared:
            for c in s.choices.get(choice, []):
                scores[c.value] = scores.get(c.value, 0.0) + share * c.score
                reasons.setdefault(c.value, []).append(c.reasons)
        left = {v: s for v, s in scores.items() if (choice, v) not in out}
        if left:
            winner = _winner(shared, choice, left)
            best = left[winner]
            ranked = [
                SpecChoice(value=v, score=round(min(s / best, 1.0), 3), reasons=_joined(reasons[v]))
                for v, s in left.items()
            ]
            choices[choice] = sorted(ranked, key=lambda c: (c.value != winner, -c.score, c.value))
            first = {s.choices[choice][0].value for _, s in shared if choice in s.choices}
            lost = sorted(v for v in first if (choice, v) in out)
            if lost:
                pulls.append(f"{choice} ({', '.join(value_word(v) for v in lost)} is ruled out by another of them)")
            elif any(_serves(s, choice, winner) < SERVES for _, s in shared if choice in s.choices):
                pulls.append(f"{choice} ({value_word(winner)} serves one of them and not the other)")
        elif scores:
            cautions[f"engine.no_{choice}_left", choice] = all_out(choice)
    if all(kind in choices for kind in UNDERNEATH):
        largest = max(shared, key=lambda p: p[0])[1]
        del choices[next(kind for kind in UNDERNEATH if kind not in largest.choices)]
        pulls.append("what is underneath")
    if pulls:
        cautions["engine.pulls_apart", "also"] = SpecCaution(
            rule="engine.pulls_apart", mark="HD", about="also", must_acknowledge=True,
            text=f"One pair can't serve all of this; it would have to differ in {', '.join(pulls)}. The larger share "
            "is followed; two pairs would serve better.",
        )  # fmt: skip
    ordered: list[SpecVeto] = sorted(vetoes.values(), key=lambda v: (v.name, v.value, v.rule))
    return main.model_copy(
        update={
            "asked_for": list(dict.fromkeys(a for _, s in shared for a in s.asked_for)),
            "properties": properties,
            "fit": fit,
            "choices": choices,
            "features": possible(features, choices),
            "vetoes": ordered,
            "cautions": sorted(cautions.values(), key=caution_order),
            "choice_weights": {
                c: ChoiceWeight(
                    weight=max(s.choice_weights[c].weight for _, s in shared if c in s.choice_weights),
                    held=any(s.choice_weights[c].held for _, s in shared if c in s.choice_weights),
                    reasons=_joined([s.choice_weights[c].reasons for _, s in shared if c in s.choice_weights]),
                )
                for c in choices
            },
            "held": sorted({n for _, s in shared for n in s.held}),
        }
    )
