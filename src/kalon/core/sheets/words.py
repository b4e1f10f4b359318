"""Words of lists in six languages: sports, widths, uppers, how much there is, prices that are none.

What is known here is read; what isn't is asked about once (`Asked`), with the answer somebody would most likely give.
What was answered before goes before both. All of it common practice, from memory.
"""

from __future__ import annotations

import re
import unicodedata
from collections.abc import Mapping
from functools import lru_cache

from ..fit.stretch import UPPERS
from ..rules.words import SPORTS, Sport
from ..shoes.inner import FAMILIES_MM, LETTERS
from ..shoes.meant import PURPOSES
from ..systems import UK_LETTERS, System
from . import cells
from .asked import LEFT_OUT, Asked, AskedField, LeftOut
from .plain import plain, short

MOST_LETTERS, MOST_DIGITS = 60, 4
Answers = Mapping[str, str]
"""What was said of words, by `key_of` each."""

SPORT_WORDS: dict[Sport, tuple[str, ...]] = {
    "ice": ("ice hockey", "eishockey", "ijshockey", "hockey sur glace", "hockey su ghiaccio", "hockey sobre hielo",
            "hockey hielo", "figure skating", "figure skate", "skate", "skates", "ice skates", "skating",
            "schlittschuh", "schlittschuhe", "eiskunstlauf", "eislauf", "patinage", "patin", "patins", "patinaje",
            "pattinaggio", "pattini", "schaats", "schaatsen", "kunstschaatsen"),
    "football": ("football", "soccer", "fussball", "fusball", "hallenfussball", "calcio", "calcetto", "futbol",
                 "futsal", "voetbal", "zaalvoetbal", "nocken"),
    "climbing": ("climbing", "climb", "rock climbing", "bouldering", "boulder", "bouldern", "klettern",
                 "kletterschuhe", "escalade", "escalada", "arrampicata", "klimmen", "klimschoenen"),
    "cycling": ("cycling", "cycle", "bike", "biking", "bicycle", "road bike", "radsport", "rennrad",
                "radschuhe", "fahrrad", "mountainbike", "mtb", "vtt", "velo", "cyclisme", "gravel", "ciclismo",
                "bici", "fiets", "fietsen", "wielrennen"),
    "court": ("tennis", "padel", "badminton", "squash", "volleyball", "volley", "basketball", "basket",
              "handball", "netball", "tischtennis", "table tennis", "indoor court", "hallenschuh", "hallenschuhe",
              "pallavolo", "pallacanestro", "pallamano", "voleibol", "baloncesto", "balonmano", "volleybal",
              "basketbal", "handbal"),
    "lifting": ("lifting", "weightlifting", "powerlifting", "gewichtheben", "kraftsport", "kraftdreikampf",
                "halterophilie", "halterofilia", "levantamiento de pesas", "sollevamento pesi", "gewichtheffen",
                "haltero"),
    "field": ("cricket", "field hockey", "feldhockey", "hockey sur gazon", "hockey su prato",
              "veldhockey", "rugby", "lacrosse"),
}  # fmt: skip
"""What lists call each sport, alone or among other words."""
ALONE: dict[str, Sport] = {
    "foot": "football",
    "rad": "cycling",
    "kletter": "climbing",
    "klim": "climbing",
    "gym": "lifting",
}
"""What names a sport only where nothing else is said."""
OTHERS = ("american football", "football americain", "football americano", "futbol americano", "gridiron",
          "running", "run", "laufen", "lauf", "laufschuhe", "course a pied", "corsa", "hardlopen", "trail",
          "walking", "wandern", "hiking", "randonnee", "trekking", "outdoor", "golf", "ski", "snowboard",
          "swimming", "casual", "lifestyle", "freizeit", "street", "sneaker", "sneakers", "fashion", "inline",
          "rollerblade", "dance", "yoga", "track", "athletics", "leichtathletik", "athletisme", "atletica",
          "atletismo", "atletiek")  # fmt: skip
"""Other sports, other wear: left out as a group, and asked about where a sport that is fitted is named beside."""
GOODS = ("badeschuhe", "sandals", "sandalen", "sandales", "slippers", "apparel", "textile", "textil",
         "textilien", "bekleidung", "clothing", "vetements", "ropa", "abbigliamento", "kleding", "sock",
         "socks", "socken", "chaussettes", "calcetines", "calze", "sokken", "balls", "ball", "baelle", "balle",
         "ballon", "ballons", "bags", "bag", "taschen", "tasche", "equipment", "accessories", "accessoires",
         "zubehor", "accessori", "accesorios", "jersey", "jerseys", "trikot", "trikots", "shirt", "shirts",
         "shorts", "gloves", "handschuhe", "helmet", "helmets", "helme", "rope", "ropes", "seile", "rackets",
         "schlager", "insoles", "laces")  # fmt: skip
"""Things of a sport that are no shoes; left out as a group, whatever the sport."""
LIKELY: dict[str, Sport] = {
    "hockey": "field", "boots": "football", "ice": "ice", "court": "court", "field": "field", "basket": "court",
    "fitness": "lifting", "training": "lifting", "cross": "lifting", "studio": "lifting", "indoor": "court",
    "halle": "court", "racket": "court", "racquet": "court", "turf": "football", "cleats": "football",
    "spikes": "field", "wall": "climbing", "road": "cycling", "spinning": "cycling",
}  # fmt: skip
"""Words that may mean a sport: only a guess."""

WIDTHS: dict[str, str] = {
    "": "regular", "n": "narrow", "slim": "narrow", "schmal": "narrow", "eng": "narrow", "etroit": "narrow",
    "etroite": "narrow", "estrecho": "narrow", "stretto": "narrow", "stretta": "narrow", "smal": "narrow",
    "std": "regular", "standard": "regular", "medium": "regular", "normal": "regular", "normale": "regular",
    "normaal": "regular", "mittel": "regular", "moyen": "regular", "medio": "regular", "r": "regular", "m": "regular",
    "reg": "regular", "w": "wide", "broad": "wide", "xw": "extra wide", "xxw": "extra wide", "x wide": "extra wide",
    "extra wide": "extra wide", "extra weit": "extra wide", "extra breit": "extra wide", "extra large": "extra wide",
    "xn": "extra narrow", "x narrow": "extra narrow", "extra narrow": "extra narrow", "narrow": "narrow",
    "breit": "wide", "weit": "wide", "large": "wide", "ancho": "wide", "ancha": "wide", "largo": "wide",
    "largo ancho": "wide", "breed": "wide", "larga": "wide",
}  # fmt: skip
WIDTH_GUESSES = {"f": "regular", "g": "wide", "h": "wide", "k": "wide", "l": "wide", "s": "narrow", "xl": "wide"}
"""Letters that makers mean differently: only a guess."""

UPPER_WORDS: dict[str, str] = {
    "full grain": "leather_lined", "suede": "suede", "velours": "suede", "daim": "suede", "ante": "suede",
    "wildleder": "suede", "velourleder": "suede", "camoscio": "suede", "microfiber": "microfibre",
    "mikrofaser": "microfibre", "microfibra": "microfibre", "microvezel": "microfibre", "synthetik": "synthetic",
    "synthetisch": "synthetic", "synthetique": "synthetic", "sintetico": "synthetic", "sintetica": "synthetic",
    "kunstleder": "synthetic", "strick": "knit", "gestrickt": "knit", "tricot": "knit", "knitted": "knit",
    "netz": "mesh", "filet": "mesh", "malla": "mesh", "rete": "mesh",
}  # fmt: skip
UPPER_GUESSES = {"leather": "leather_lined", "leder": "leather_lined", "cuir": "leather_lined", "piel": "leather_lined",
                 "cuero": "leather_lined", "pelle": "leather_lined", "leer": "leather_lined", "textile": "mesh",
                 "textil": "mesh", "textiel": "mesh"}  # fmt: skip
"""Words that name a material and not how it is lined: only a guess."""

NONE_THERE = {"-", "–", "—", "no", "none", "nil", "nein", "non", "ausverkauft", "sold out", "out of stock", "oos",
              "nicht lieferbar", "rupture", "epuise", "agotado", "esaurito", "uitverkocht", "0"}  # fmt: skip
MORE_THAN = re.compile(
    r"(?:>|>=|ab|over|uber|more than|mehr als|plus de|mas de|piu di|meer dan)\s*(\d{1,4})|(\d{1,4})\s*\+"
)
LATER = re.compile(r"\d.*(?:week|wk|woche|kw|semaine|semana|settiman|day|tag|jour|dia|giorn|dag)|^(?:kw|wk|week)\s*\d")
NO_PRICE = {"-", "–", "—", "on request", "por", "poa", "p o a", "auf anfrage", "a a", "sur demande", "a richiesta",
            "su richiesta", "op aanvraag", "consultar", "a consultar", "tbd", "tba", "tbc", "n a", "na", "call"
}  # fmt: skip


@lru_cache(maxsize=50_000)
def key_of(text: str) -> str:
    """A word as answers to it are kept: without capitals, accents and signs; as it is where nothing else is left of
    it, as of other alphabets and of a mere dash."""
    bare = plain(text).replace("ß", "ss").replace("≥", ">=")
    folded = unicodedata.normalize("NFKD", bare).encode("ascii", "ignore").decode().lower()
    known = " ".join(re.sub(r"[^a-z0-9<>=+]+", " ", folded).split())
    return (known or bare.lower())[:MOST_LETTERS]


def has(words: str, phrase: str) -> bool:
    """Whether a phrase stands among words, whole."""
    return f" {phrase} " in f" {words} "


def sport(text: str, said: Answers) -> Sport:
    """The sport a word means. Raises `LeftOut` for what isn't fitted here, `Asked` where nobody knows."""
    words = key_of(text)
    answer = said.get(words)
    if answer in SPORTS:
        return answer
    if words in SPORTS:
        return words
    found = {s for s, phrases in SPORT_WORDS.items() if any(has(words, p) for p in phrases)}
    found |= {ALONE[words]} if words in ALONE else set()
    other = any(has(words, o) for o in OTHERS)
    never = any(has(words, w) for w in (*GOODS, *(o for o in OTHERS if " " in o)))  # American football is no football
    if answer == LEFT_OUT or never or (other and not found):
        raise LeftOut(f"“{short(text)}” isn't fitted here")
    if len(found) == 1 and not other:
        return found.pop()
    guess = found.pop() if len(found) == 1 else next((s for w, s in LIKELY.items() if has(words, w)), "")
    raise Asked("sport", words, f"“{short(text)}”: which sport is that", guess)


def width(text: str, system: System, said: Answers) -> str:
    """A width by its word, else by its letter. Raises `Asked`."""
    words = key_of(text)
    answer = said.get(words)
    if answer:
        return "regular" if answer == LEFT_OUT else answer
    if words in WIDTHS:
        return WIDTHS[words]
    try:
        return cells.width(text, system)
    except ValueError:
        guess = WIDTH_GUESSES.get(words, "")
        raise Asked("width", words, f"“{short(text)}”: which width is that", guess) from None


def upper(text: str, said: Answers) -> str | None:
    """An upper by its word; none where it was said to be left out. Raises `Asked`."""
    words = key_of(text)
    answer = said.get(words)
    if answer:
        return None if answer == LEFT_OUT else answer
    slug = words.replace(" ", "_")
    if slug in UPPERS:
        return slug
    known = next((u for w, u in UPPER_WORDS.items() if has(words, w)), None) or next(
        (u for u in UPPERS if has(words, u)), None
    )
    if known:
        return known
    guess = next((u for w, u in UPPER_GUESSES.items() if has(words, w)), "")
    raise Asked("upper", words, f"“{short(text)}”: which upper is that", guess)


def stock(text: str, said: Answers) -> int | None:
    """So many pairs by a word; none where it is a number to be read, or was said to be left out. Raises `Asked`."""
    words = key_of(text)
    answer = said.get(words)
    if answer is not None:
        return int(answer) if answer.isdigit() else None
    if words in NONE_THERE:
        return 0
    if words.isdigit():
        return None
    said_so = f"“{short(text)}”: how many pairs is that"
    if more := MORE_THAN.fullmatch(words):
        raise Asked("pairs", words, said_so, more[1] or more[2])
    if LATER.search(words):
        raise Asked("pairs", words, said_so, "0")
    if re.search(r"[^\W\d_]", words):  # letters: "10 pcs", "auf Lager", "x"
        number = re.match(r"\d{1,4}\b", words)
        raise Asked("pairs", words, said_so, number[0] if number else "")
    return None


def is_no_price(text: str) -> bool:
    """Whether a cell says that there is no price to be told."""
    return key_of(text) in NO_PRICE


def is_answer(field: AskedField, answer: str) -> bool:
    """Whether this can be said of a word; children's letters are said for the whole list."""
    if answer == LEFT_OUT:
        return field != "child"
    if field == "colour":
        return plain(answer) == answer != ""
    if field == "width":
        return answer in {*WIDTHS.values(), *FAMILIES_MM} or answer in (*LETTERS, *UK_LETTERS)
    known = {"sport": SPORTS, "upper": UPPERS, "meant_for": PURPOSES}.get(field, ())
    return answer in known if field != "pairs" else answer.isdigit() and len(answer) <= MOST_DIGITS
