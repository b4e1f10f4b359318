"""One family of errors: a machine code, a field path, and a sentence a fitter can act on."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any, TypeVar

from pydantic import BaseModel, ValidationError


@dataclass(frozen=True)
class FieldProblem:
    """What is wrong with one field: its dotted path, a code and a sentence."""

    field: str
    code: str
    text: str


class KalonError(Exception):
    """Something a fitter can be told in a sentence. `code` is stable, `text` is for reading."""

    code = "error"
    status = 400

    def __init__(self, text: str, *, code: str | None = None, fields: list[FieldProblem] | None = None) -> None:
        super().__init__(text)
        self.text = text
        self.fields = fields or []
        if code:
            self.code = code

    def as_problem(self) -> dict[str, Any]:
        """The RFC 9457 problem document, without the transport's own members."""
        return {
            "type": f"urn:kalon:{self.code}",
            "title": self.text,
            "status": self.status,
            "code": self.code,
            "fields": [{"field": f.field, "code": f.code, "text": f.text} for f in self.fields],
        }


class BadInput(KalonError):
    """Values that cannot be computed with; `fields` says which and why."""

    code = "bad-input"
    status = 422


class NotFound(KalonError):
    """The thing asked for is not there, or is another shop's."""

    code = "not-found"
    status = 404


class Conflict(KalonError):
    """The state of things forbids it: changed by somebody else, sold, already done."""

    code = "conflict"
    status = 409


class Forbidden(KalonError):
    """The person signed in may not do this."""

    code = "forbidden"
    status = 403


class AtField(ValueError):
    """What a model's own check finds wrong, with the field it is about (a dotted path)."""

    def __init__(self, field: str, text: str) -> None:
        super().__init__(text)
        self.field = field


def bad_field(field: str, code: str, text: str) -> BadInput:
    """A `BadInput` about a single field."""
    return BadInput(text, fields=[FieldProblem(field, code, text)])


UNITS = {
    "_mm": "mm", "_deg": "°", "_kg": "kg", "_n": "N", "_n_m": "N·m", "_min": "min", "_h": "h", "_w": "W",
    "_kpa": "kPa", "_cm": "cm", "_years": "years", "_g": "g", "_km": "km", "_pct": "%", "_rpm": "rpm",
    "_n_mm_per_deg": "N·mm/°", "_minor": "",
}  # fmt: skip


BARE = {"long": "mm", "wide": "mm"}
"""Names that have a unit and don't end in it."""


def _ending(name: str) -> str:
    """The longest of the units' endings a name has; empty when it has none."""
    return max((end for end in UNITS if name.endswith(end)), key=len, default="")


def unit_of(field: str) -> str:
    """The unit a field name ends in, for sentences: `ball_width_mm` → `mm`; empty when it has none."""
    last = field.rsplit(".", 1)[-1]
    return BARE.get(last) or UNITS.get(_ending(last), "")


def words_of(field: str) -> str:
    """The name a dotted path ends in, in words and without its unit: `said.spots.0.height_mm` → "Height"."""
    last = next((p for p in reversed(field.split(".")) if not p.isdigit()), "")
    return last.removesuffix(_ending(last)).replace("_", " ").capitalize()


def sentence(field: str, kind: str, context: dict[str, Any], message: str) -> str:
    """A validation finding in a fitter's words."""
    unit = unit_of(field)
    unit = f" {unit}" if unit else ""

    def limit(name: str) -> str:
        value = context[name]
        return f"{value:g}{unit}" if isinstance(value, int | float) else str(value)

    match kind:
        case "missing":
            return "This is needed."
        case "greater_than_equal":
            return f"Must be at least {limit('ge')}."
        case "greater_than":
            return f"Must be more than {limit('gt')}."
        case "less_than_equal":
            return f"Must be at most {limit('le')}."
        case "less_than":
            return f"Must be less than {limit('lt')}."
        case "literal_error" | "enum":
            return f"Must be one of: {context['expected']}."
        case "float_parsing" | "float_type" | "int_parsing" | "int_type" | "finite_number" | "int_from_float":
            return f"Must be a number{' in' + unit if unit else ''}."
        case "extra_forbidden":
            return "There is no such field."
        case "string_pattern_mismatch":
            return "Is not written as expected."
        case _:
            return message.removeprefix("Value error, ").rstrip(".") + "."


def from_validation(error: ValidationError, prefix: str = "") -> BadInput:
    """Pydantic's findings as one `BadInput`, each beside its field's dotted path."""
    return from_findings([dict(f) for f in error.errors(include_url=False)], prefix)


def from_findings(findings: list[dict[str, Any]], prefix: str = "") -> BadInput:
    """Raw findings (`loc`, `type`, `ctx`, `msg`) as one `BadInput`."""
    fields = []
    for found in findings:
        about = found.get("ctx", {}).get("error")
        inner = [about.field] if isinstance(about, AtField) else []
        path = ".".join([prefix] * bool(prefix) + [str(p) for p in found["loc"]] + inner)
        fields.append(
            FieldProblem(path, found["type"], sentence(path, found["type"], found.get("ctx", {}), found["msg"]))
        )
    first = fields[0]
    return BadInput(f"{words_of(first.field) or 'Input'}: {first.text}", fields=fields)


M = TypeVar("M", bound=BaseModel)


def read(model: type[M], value: Any, prefix: str = "") -> M:
    """Validate `value` as `model`; raises `BadInput` naming every field that is wrong."""
    try:
        return model.model_validate(value)
    except ValidationError as error:
        raise from_validation(error, prefix) from None
