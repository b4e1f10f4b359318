"""What lists say a shoe is meant for, in six languages: in the sport's own cell, in a column of its own, or as letters
at the end of a football boot's name. Common practice, from memory."""

from __future__ import annotations

from functools import lru_cache

from ..rules.words import Sport
from ..shoes.meant import PURPOSES, of_sport
from .asked import LEFT_OUT, Asked
from .plain import short
from .words import Answers, has, key_of

MEANT_WORDS: dict[str, tuple[str, ...]] = {
    "soft_ground": ("soft ground", "sg", "sg pro", "weicher boden", "terrain gras", "terrain souple",
                    "terreno morbido", "terreno blando", "zachte ondergrond"),
    "firm_ground": ("firm ground", "fg", "mg", "hg", "multi ground", "hard ground", "fester boden", "naturrasen",
                    "terrain sec", "terrain ferme", "terreno firme", "terreno compatto", "terreno secco",
                    "terreno duro", "cesped natural", "natuurgras", "droge ondergrond"),
    "artificial_ground": ("artificial ground", "artificial grass", "ag", "mg", "multi ground", "3g", "4g",
                          "kunstrasen", "gazon synthetique", "terrain synthetique", "erba sintetica",
                          "cesped artificial", "kunstgras"),
    "carpet_turf": ("turf", "tf", "astro", "astro turf", "multinocken", "hartplatz", "moquette"),
    "hall_football": ("futsal", "indoor", "ic", "hall", "halle", "hallenfussball", "salle", "sala", "futbol sala",
                      "calcio a 5", "calcetto", "zaal", "zaalvoetbal"),
    "first_climbing": ("beginner", "beginners", "first shoe", "first shoes", "entry", "einsteiger", "anfanger",
                       "debutant", "debutants", "initiation", "principiante", "principianti", "principiantes",
                       "iniciacion", "beginner klimmen"),
    "bouldering": ("boulder", "bouldering", "bouldern", "boulderschuhe", "bloc", "blocco", "boulderen"),
    "sport_climbing": ("sport climbing", "sportklettern", "escalade sportive", "falesia", "monotiri",
                       "escalada deportiva", "sportklimmen"),
    "trad_climbing": ("trad", "multi pitch", "multipitch", "mehrseil", "mehrseillangen", "alpin", "alpine",
                      "grande voie", "grandes voies", "vie lunghe", "via larga", "vias largas", "all day"),
    "road": ("road", "rennrad", "strasse", "route", "velo de route", "strada", "carretera", "wielrennen",
             "racefiets", "weg"),
    "mountain": ("mtb", "mountain", "mountainbike", "mountain bike", "vtt", "cross country", "xc", "montagna",
                 "montana"),
    "downhill": ("downhill", "dh", "enduro", "freeride", "flat pedal", "flat pedals", "flats", "flatpedal", "descente",
                 "descenso"),
    "gravel": ("gravel",),
    "triathlon": ("triathlon", "tri", "triatlon"),
    "town": ("urban", "city", "commute", "commuter", "stadt", "ville", "citta", "ciudad", "stad"),
    "tennis": ("tennis", "tenis"),
    "padel": ("padel", "paddle"),
    "badminton": ("badminton", "badmington"),
    "squash": ("squash",),
    "volleyball": ("volleyball", "volley", "pallavolo", "voleibol", "volleybal"),
    "basketball": ("basketball", "basket", "basket ball", "pallacanestro", "baloncesto", "basketbal"),
    "handball": ("handball", "hand ball", "pallamano", "balonmano", "handbal"),
    "hall": ("indoor", "indoor court", "hall", "halle", "hallenschuh", "hallenschuhe", "salle", "sala", "zaal"),
    "fencing": ("fencing", "fechten", "escrime", "scherma", "esgrima", "schermen"),
    "dance": ("dance", "dance fitness", "tanz", "tanzfitness", "danse", "danza", "dans"),
    "weightlifting": ("weightlifting", "weight lifting", "olympic", "olympic lifting", "gewichtheben",
                      "halterophilie", "halterofilia", "sollevamento pesi", "pesistica", "gewichtheffen",
                      "levantamiento de pesas"),
    "powerlifting": ("powerlifting", "power lifting", "squat", "squats", "kraftdreikampf", "force athletique"),
    "deadlift": ("deadlift", "deadlifts", "kreuzheben", "souleve de terre", "stacco", "peso muerto"),
    "mixed_training": ("training", "cross training", "mixed training", "functional", "functional training",
                       "functional fitness", "gym", "fitness"),
    "cricket": ("cricket", "kricket"),
    "field_hockey": ("hockey", "field hockey", "feldhockey", "hockey sur gazon", "hockey su prato",
                     "hockey hierba", "veldhockey"),
    "rugby": ("rugby",),
    "lacrosse": ("lacrosse",),
    "ice_hockey": ("hockey", "ice hockey", "eishockey", "hockey sur glace", "hockey su ghiaccio",
                   "hockey sobre hielo", "hockey hielo", "ijshockey"),
    "figure_skating": ("figure", "figure skating", "figure skate", "figure skates", "eiskunstlauf", "kunstlauf",
                       "patinage artistique", "artistique", "pattinaggio artistico", "artistico",
                       "patinaje artistico", "kunstschaatsen", "kunstrijden"),
    "speed_skating": ("speed", "speed skating", "eisschnelllauf", "patinage de vitesse", "vitesse", "velocita",
                      "velocidad", "langebaan", "short track", "shorttrack"),
    "leisure_skating": ("leisure", "recreational", "recreation", "freizeit", "loisir", "loisirs", "tempo libero",
                        "recreo", "recreatie"),
}  # fmt: skip
"""What says so, by sport: the same word may mean another thing in another sport's shoe."""
IN_NAMES = ("sg", "fg", "mg", "hg", "ag", "tf", "ic")
"""Letters that close the name of a football boot, where they are written as capitals."""


@lru_cache(maxsize=20_000)
def said_in(text: str, sport: Sport) -> frozenset[str]:
    """What a text says a shoe of this sport is meant for."""
    words = key_of(text)
    if words.replace(" ", "_") in of_sport(sport):
        return frozenset({words.replace(" ", "_")})
    return frozenset(slug for slug in of_sport(sport) if any(has(words, phrase) for phrase in MEANT_WORDS[slug]))


def _of_column(text: str, sport: Sport, said: Answers) -> set[str]:
    """What the column of its own says; several parted by semicolons. Raises `Asked` for what nobody knows."""
    found: set[str] = set()
    for word in (w for w in text.split(";") if w.strip()):
        answer = said.get(key_of(word))
        known = frozenset({answer} & set(PURPOSES)) if answer else said_in(word, sport)
        if not known and answer != LEFT_OUT:
            raise Asked("meant_for", key_of(word), f"“{short(word)}”: what is that meant for")
        found |= known & set(of_sport(sport))
    return found


def meant_for(sport: Sport, sport_text: str, column: str, name: str, said: Answers) -> list[str]:
    """What a line says its shoe is meant for, in the vocabulary's order: its own column first, then the sport's cell,
    then its name. Raises `Asked` where its own column says what nobody knows."""
    found = frozenset(_of_column(column, sport, said)) if column else frozenset[str]()
    found = found or said_in(sport_text, sport)
    if not found and sport == "football":
        ends = [w for w in name.replace("-", " ").split()[1:] if w.isupper() and w.lower() in IN_NAMES]
        found = said_in(" ".join(ends), sport)
    return [slug for slug in PURPOSES if slug in found]
