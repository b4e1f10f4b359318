"""Questions and schools that several sports share."""

from __future__ import annotations

from .words import Ask, Option, School

BODY = Ask(
    "body_kg",
    "number",
    "Body mass",
    unit="kg",
    needed=True,
    why="Stiffness and cushion go with it.",
    short="Body mass",
    screen="athlete",
)
LEVEL = Ask("level", "choice", "How far along?", (
    Option("new", "New to it"), Option("club", "Club, regular"), Option("competitive", "Competes")),
        short="Level", screen="athlete")  # fmt: skip
OFTEN = Ask("sessions_per_week", "number", "Sessions a week", unit="a week", short="How often", screen="athlete")
GROWING = Ask(
    "growing",
    "yes",
    "Still growing?",
    why="Room to grow where slack does no harm, and a date to measure.",
    short="Growing",
    screen="athlete",
)
EVENT = Ask("event_on", "date", "First match or event in the new pair", short="First event", screen="pair")
LOOKS = Ask("looks", "text", "Any wish about looks?", why="Last, for it decides nothing.", short="Looks", screen="pair")
PRICE = Ask(
    "budget",
    "number",
    "Most they want to spend",
    why="Pairs above it are marked, not hidden.",
    short="To spend",
    screen="pair",
)
HISTORY = Ask("history", "many", "Anything that hurts, was hurt, or that the shoe should know?", (
    Option("knee", "Knee"), Option("ankle", "Ankle"), Option("heel_pain", "Heel pain"), Option("back", "Back"),
    Option("hip", "Hip"), Option("achilles", "Achilles tendon"), Option("forefoot", "Ball of the foot"),
    Option("numbness", "Numb or tingling toes"), Option("diabetes", "Diabetes, poor circulation"),
    Option("surgery", "Recent operation"), Option("orthosis", "Wears a prescribed insole"),
    Option("older", "Older: feels it the day after")), short="Hurts", screen="athlete")  # fmt: skip
SAID = Ask(
    "note", "text", "Anything else they said?", why="What hurts or doesn't feel is heard here too.", short="Said",
    screen="pair",
)  # fmt: skip
END = (EVENT, LOOKS, PRICE, SAID)

SOFTENING = School("softening", "Softening leather", (
    Option("wear_only", "Wear only"), Option("steam_leather", "Gentle steam for leather")),
    spec=False)  # fmt: skip
PRICE_SCHOOL = School("price", "What counts as cheap", (
    Option("cost_per_hour", "Cost an hour worn"), Option("cheapest_that_fits", "The cheapest that fits")),
    spec=False)  # fmt: skip
LEATHER = School("leather_give", "How much leather gives", (
    Option("by_construction", "By how it is built"), Option("quarter_size", "A quarter size, always"),
    Option("full_size", "A full size, always")))  # fmt: skip
ANKLE = School("ankle", "Collar at the ankle", (
    Option("low", "Low, free to move"), Option("high", "High collar")))  # fmt: skip
