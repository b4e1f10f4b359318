"""Which column of a list holds what: by its heading first, by what is in it where the heading says nothing."""

from __future__ import annotations

import re
import unicodedata
from collections.abc import Callable, Sequence
from dataclasses import dataclass

from ..rules.scales import CHOICES, PROPERTIES
from ..rules.words import SPORTS
from ..shoes.anatomy import FEATURES
from ..systems import KEPT, SIZE_SYSTEMS, System
from . import cells, labels
from .plain import plain

PLAIN: dict[str, tuple[str, ...]] = {
    "maker": ("maker", "brand", "make", "manufacturer", "supplier", "label name", "marke", "hersteller",
              "lieferant", "marque", "fabricant", "fournisseur", "marca", "fabricante", "merk", "fabrikant"),
    "model": ("model", "model name", "name", "style", "style name", "product", "product name", "article",
              "article name", "item", "item name", "shoe", "modell", "modellname", "artikel", "bezeichnung",
              "artikelbezeichnung", "modele", "designation", "libelle", "nom", "modello", "denominazione",
              "descrizione", "modelo", "descripcion", "nombre", "omschrijving", "naam", "description", "desc"),
    "sport": ("sport", "category", "activity", "department", "group", "sportart", "kategorie", "warengruppe",
              "categorie", "rayon", "activite", "categoria", "attivita", "deporte", "actividad", "groep"),
    "system": ("system", "size system", "size type", "size scale", "sizing", "scale"),
    "runs_ahead": ("runs ahead", "sizes run ahead", "us women ahead"),
    "size": ("size", "sizes", "label", "size label", "shoe size", "grosse", "groesse", "schuhgrosse", "gr",
             "taille", "pointure", "taglia", "numero", "misura", "talla", "numeracion", "maat", "schoenmaat", "sz"),
    "width": ("width", "wdth", "wid", "fitting", "fit", "width letter", "breite", "weite", "largeur", "larghezza",
              "ancho", "horma", "breedte", "wijdte"),
    "colour": ("colour", "color", "colourway", "colorway", "col", "clr", "colour name", "color name", "farbe",
               "farbname", "couleur", "coloris", "colore", "kleur"),
    "gtin": ("gtin", "ean", "ean13", "ean 13", "ean code", "upc", "barcode", "bar code", "gtin13", "gtin 13"),
    "code": ("code", "sku", "article no", "article number", "item no", "item number", "style no", "style number",
             "reference", "ref", "own code", "artikelnummer", "artikel nr", "art nr", "art no", "product code",
             "style code", "model code", "model no", "codice", "codigo", "artikelcode", "article code"),
    "price": ("price", "rrp", "retail", "retail price", "selling price", "srp", "msrp", "unit price", "preis",
              "uvp", "uvp eur", "vk", "vk preis", "ladenpreis", "prix", "prix public", "ppc", "pvc", "prezzo",
              "prezzo al pubblico", "precio", "pvp", "p v p", "prijs", "adviesprijs"),
    "cost": ("cost", "cost price", "unit cost", "buying price", "purchase price", "net price", "trade price",
             "wholesale", "wholesale price", "whs", "dealer price", "ek", "ek preis", "ek netto", "einkaufspreis",
             "hek", "handlerpreis", "prix d achat", "prix achat", "pa ht", "prix de gros", "prezzo acquisto",
             "prezzo di acquisto", "costo", "precio de compra", "precio compra", "coste", "inkoopprijs", "inkoop"),
    "currency": ("currency", "wahrung", "waehrung", "devise", "cur"),
    "pairs": ("pairs", "qty", "quantity", "stock", "on hand", "count", "units", "inventory", "in stock", "counted",
              "received", "delivered", "avail", "available", "availability", "qty avail", "menge", "bestand",
              "anzahl", "stuck", "lagerbestand", "verfugbar", "quantite", "qte", "stock dispo", "disponible",
              "quantita", "qta", "giacenza", "cantidad", "existencias", "aantal", "voorraad"),
    "upper": ("upper", "upper material", "material", "obermaterial", "tige", "matiere", "tomaia", "materiale",
              "corte", "bovenmateriaal"),
    "build": ("build", "construction", "lasting"),
    "reinforced": ("reinforced", "share reinforced"),
    "meant_for": ("meant for", "discipline", "use", "intended use", "usage", "surface", "ground", "ground type",
                  "terrain", "disziplin", "einsatz", "einsatzbereich", "einsatzzweck", "untergrund", "boden",
                  "pratique", "surface de jeu", "disciplina", "superficie", "terreno", "suelo", "uso",
                  "ondergrond", "gebruik", "discipline sportive"),
    "last": ("last", "last code", "last no", "last number", "built on", "leisten"),
}  # fmt: skip
"""Headings by field; common practice, from memory."""
INNER = ("length_mm", "ball_girth_mm", "instep_girth_mm", "heel_width_mm")
INNER_NAMES = {
    "length_mm": ("inner length", "inside length"), "ball_girth_mm": ("inner ball girth",),
    "instep_girth_mm": ("inner instep girth",), "heel_width_mm": ("inner heel width",),
}  # fmt: skip
KIND_FIELDS = tuple(c for c in CHOICES if c != "upper")
FIELDS: tuple[str, ...] = (*PLAIN, *INNER, *KIND_FIELDS, *PROPERTIES, *FEATURES)
"""Everything a column can hold, in the order columns are written out."""
FIELD_NAMES: dict[str, str] = {
    "maker": "Maker", "model": "Model", "sport": "Sport", "system": "Size system",
    "runs_ahead": "Sizes run ahead", "size": "Size", "width": "Width",
    "colour": "Colour", "gtin": "Bar code", "code": "Own code", "price": "Price", "cost": "Cost",
    "currency": "Currency", "pairs": "Pairs", "upper": "Upper", "build": "Build", "reinforced": "Share reinforced",
    "last": "Last", "meant_for": "Meant for",
    "length_mm": "Inner length, mm", "ball_girth_mm": "Inner ball girth, mm",
    "instep_girth_mm": "Inner instep girth, mm", "heel_width_mm": "Inner heel width, mm",
    **{n: n.capitalize() for n in KIND_FIELDS}, **{n: s.name for n, s in PROPERTIES.items()},
    **{n: f.name for n, f in FEATURES.items()},
}  # fmt: skip
SIZE_HEADINGS: dict[str, System] = {word: system for system, of in SIZE_SYSTEMS.items() for word in of.headings}


@dataclass(frozen=True)
class Column:
    """One column: its heading, what it is taken to hold (`keep` where that isn't known), and the size system its
    heading names."""

    heading: str
    field: str
    system: System | None = None


def bare(heading: str) -> str:
    """A heading without accents, signs and capitals."""
    plain_letters = heading.replace("ß", "ss").replace("ø", "o").replace("æ", "ae")
    text = unicodedata.normalize("NFKD", plain_letters).encode("ascii", "ignore").decode().lower()
    return " ".join(re.sub(r"[^a-z0-9_]+", " ", text).split())


_BY_HEADING = {
    **{word: field for field, words in PLAIN.items() for word in words},
    **{word: field for field, words in INNER_NAMES.items() for word in words},
    **{bare(field): field for field in FIELDS},
    **{bare(name): field for field, name in FIELD_NAMES.items()},
}


def by_heading(heading: str) -> tuple[str, System | None] | None:
    """The field a heading names, and the size system where it names one; none where it names nothing known."""
    word = bare(heading)
    if word in SIZE_HEADINGS:
        return "size", SIZE_HEADINGS[word]
    field = _BY_HEADING.get(word) or _BY_HEADING.get(word.replace("_", " "))
    return (field, None) if field else None


def _all_read(reader: Callable[[str], object], values: Sequence[str], least: float = 0.9) -> bool:
    found = 0
    for value in values:
        try:
            reader(value)
        except ValueError:
            continue
        found += 1
    return bool(values) and found >= least * len(values)


MAY_BE_ANYTHING = 100
"""A bare 250 may be a length, a price, pairs."""


def _size(value: str) -> None:
    found = labels.size(value, None)
    if found.label >= MAY_BE_ANYTHING and not re.search(r"[a-zA-Z]", value):
        raise ValueError(value)


def by_content(values: Sequence[str]) -> str | None:
    """What a column of these cells must hold, where that can't be mistaken: bar codes, prices with a currency,
    sports, sizes."""
    filled = [v for v in values if v.strip()]
    if len(filled) < 2:
        return None
    if _all_read(cells.gtin, filled):
        return "gtin"
    if all(any(sign in v for sign in ("€", "£", "$")) for v in filled) and _all_read(
        lambda v: cells.money(v, "EUR"), filled
    ):
        return "price"
    if all(plain(v).lower() in SPORTS for v in filled):
        return "sport"
    if _all_read(_size, filled) and len(set(filled)) > 1:
        return "size"
    return None


MODEL_FIRST = ("model", "model name", "modell", "modellname", "modele", "modello", "modelo", "style name", "style",
               "product name", "shoe")  # fmt: skip
"""Headings that say "model" more surely than others do."""
LIKE_A_CODE = re.compile(r"(?=.*\d)[A-Z0-9][A-Z0-9./_-]*")


def _column(rows: Sequence[Sequence[str]], i: int) -> list[str]:
    return [text for row in rows[:200] if i < len(row) and (text := plain(row[i]))]


def _are_codes(values: Sequence[str]) -> bool:
    """Whether these are numbers of articles and no names: one word each, of capitals, digits and signs."""
    return bool(values) and sum(bool(LIKE_A_CODE.fullmatch(v)) for v in values) >= LEAST_CODES * len(values)


LEAST_CODES = 0.8


def _model_column(
    headings: Sequence[str], named: Sequence[tuple[str, System | None] | None], rows: Sequence[Sequence[str]]
) -> int | None:
    """Of several columns that could hold the model, the one that surely does: names before codes, then its heading."""
    could = [i for i, n in enumerate(named) if n and n[0] == "model"]

    def rank(i: int) -> tuple[bool, int, int]:
        word = bare(headings[i])
        return _are_codes(_column(rows, i)), MODEL_FIRST.index(word) if word in MODEL_FIRST else len(MODEL_FIRST), i

    return min(could, key=rank, default=None)


def guess(headings: Sequence[str], rows: Sequence[Sequence[str]]) -> list[Column]:
    """What each column is taken to hold; of several that would hold one thing the first, the rest are kept.

    Of several size columns the EU one counts: no column of the others is lost, they are kept as written."""
    found: list[Column] = []
    named = [by_heading(h) for h in headings]
    eu = next((i for i, n in enumerate(named) if n and n[0] == "size" and n[1] == KEPT), None)
    taken: set[str] = set()
    model = _model_column(headings, named, rows)
    for i, heading in enumerate(headings):
        field, system = named[i] or (None, None)
        if field == "model" and i != model:
            field = "code" if "code" not in {n[0] for n in named if n} and _are_codes(_column(rows, i)) else "keep"
        if field is None:
            field = by_content([row[i] for row in rows if i < len(row)][:200])
            if field in {n[0] for n in named if n}:
                field = None
        if field is None or field in taken or (field == "size" and eu is not None and i != eu):
            found.append(Column(heading, "keep"))
            continue
        taken.add(field)
        found.append(Column(heading, field, system))
    return found


def heading_row(rows: Sequence[Sequence[str]], most: int = 20) -> int | None:
    """Which of the first rows holds the headings: the one that names most fields, at least two; none where no row
    does."""
    scored = [(sum(by_heading(c) is not None for c in row), -i) for i, row in enumerate(rows[:most])]
    best, place = max(scored, default=(0, 0))
    return -place if best >= 2 else None
