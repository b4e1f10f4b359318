"""What can't be learned from, set aside with its reason until the code is another; it keeps nothing else waiting."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any, Literal
from uuid import UUID

import structlog

from ..core.errors import KalonError
from ..core.formats import newest
from ..core.rules.spec import VERSION
from .database import Cx

log = structlog.get_logger()
CODE = f"{VERSION} {newest('evidence')}"
"""What was parked under another is tried again."""


@dataclass(frozen=True)
class Parked:
    """What is parked: a fitting, a maker's zone, or how much uppers give."""

    kind: Literal["fitting", "maker", "gives", "lives"]
    maker: str = ""
    zone: str = ""
    fitting: UUID | None = None
    chain: UUID | None = None

    def named(self) -> dict[str, Any]:
        """As the statements below take it."""
        return {"kind": self.kind, "maker": self.maker, "zone": self.zone, "fitting": self.fitting, "chain": self.chain}


OF_CHAIN = (
    "coalesce(%(chain)s::uuid, (SELECT h.chain_id FROM fitting f JOIN shop h ON h.id = f.shop_id "
    "WHERE f.id = %(fitting)s))"
)
SAME = (
    f"chain_id = {OF_CHAIN} AND kind = %(kind)s AND maker = %(maker)s AND zone = %(zone)s "
    "AND coalesce(fitting_id, chain_id) = coalesce(%(fitting)s::uuid, chain_id)"
)


def park(cx: Cx, what: Parked, error: Exception) -> None:
    """Set something aside that can't be learned from, with its reason, until the code is another."""
    reason = error.text if isinstance(error, KalonError) else type(error).__name__
    log.error("not learned from", what=what.kind, maker=what.maker, zone=what.zone, fitting=str(what.fitting or ""),
              kind=type(error).__name__)  # fmt: skip
    cx.execute(f"DELETE FROM learn_parked WHERE {SAME}", what.named())
    cx.execute(
        "INSERT INTO learn_parked (chain_id, kind, maker, zone, fitting_id, reason, code) "
        f"VALUES ({OF_CHAIN}, %(kind)s, %(maker)s, %(zone)s, %(fitting)s, %(reason)s, %(code)s)",
        what.named() | {"reason": reason, "code": CODE},
    )


def unpark(cx: Cx, what: Parked) -> None:
    """It can be learned from now."""
    cx.execute(f"DELETE FROM learn_parked WHERE {SAME}", what.named())
