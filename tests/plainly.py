"""httpx as it is, but that no client reads all certificates first (fifty milliseconds each): nothing is asked over TLS.
And none gives up after five seconds: how fast a machine answers is measured in bench/, not here."""

from __future__ import annotations

import ssl
from functools import partial

import httpx

_NONE = ssl.SSLContext(ssl.PROTOCOL_TLS_CLIENT)
_PATIENCE_S = 60
Client = partial(httpx.Client, verify=_NONE, timeout=_PATIENCE_S)
get, post, put = (partial(ask, verify=_NONE, timeout=_PATIENCE_S) for ask in (httpx.get, httpx.post, httpx.put))
patch, delete = (partial(ask, verify=_NONE, timeout=_PATIENCE_S) for ask in (httpx.patch, httpx.delete))
