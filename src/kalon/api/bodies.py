"""What a request's JSON may be, decided once at the door: size, depth, and characters and numbers that can be kept."""

from __future__ import annotations

import json
import re
from typing import Any, NoReturn

import numpy as np

from ..core.errors import BadInput, KalonError

BIGGEST_BODY = 1_000_000
DEEPEST = 40
LARGEST_NUMBER = 2**53
_STRINGS = re.compile(rb'"(?:[^"\\]|\\.)*"', re.DOTALL)


class TooBig(KalonError):
    """More than a request may hold."""

    code = "too-big"
    status = 413

    def __init__(self) -> None:
        super().__init__("That is more than a megabyte: too much for one request.")


def depth(body: bytes) -> int:
    """How deep brackets nest outside of strings."""
    if body.count(b"[") + body.count(b"{") <= DEEPEST:
        return 0
    bare = np.frombuffer(_STRINGS.sub(b"", body), dtype=np.uint8)
    steps = np.isin(bare, np.frombuffer(b"[{", dtype=np.uint8)).astype(np.int32)
    steps -= np.isin(bare, np.frombuffer(b"]}", dtype=np.uint8))
    return int(np.cumsum(steps).max(initial=0))


def _no_number(_: str) -> NoReturn:
    raise BadInput("A number is beyond what can be kept.", code="bad-number") from None


def _whole(text: str) -> int:
    if len(text) > 17 or abs(int(text)) > LARGEST_NUMBER:
        _no_number(text)
    return int(text)


def _broken(text: str) -> float:
    value = float(text)
    if abs(value) > 1e300:
        _no_number(text)
    return value


def check_json(body: bytes) -> None:
    """Raise `BadInput` for a body whose JSON is spoilt, too deep, or holds what no table and no answer can."""
    if depth(body) > DEEPEST:
        raise BadInput("This is nested deeper than anything here is.", code="too-deep")
    try:
        text = body.decode("utf-8")
        value: Any = json.loads(text, parse_int=_whole, parse_float=_broken, parse_constant=_no_number)
    except (ValueError, RecursionError):
        raise BadInput("This is not JSON.", code="not-json") from None
    if "\\u" in text:
        check_text(json.dumps(value, ensure_ascii=False))


def check_text(text: str) -> None:
    """Raise `BadInput` for a text with a character that no table keeps: a NUL, or half of a pair."""
    if "\x00" in text or "\\u0000" in text.replace("\\\\", ""):
        raise BadInput("There is a character in this that can't be kept.", code="bad-character")
    try:
        text.encode("utf-8")
    except UnicodeEncodeError:
        raise BadInput("There is a character in this that can't be kept.", code="bad-character") from None
