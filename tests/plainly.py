"""httpx as it is, but that no client reads all certificates first (fifty milliseconds each): nothing is asked over TLS."""

from __future__ import annotations

import ssl
from functools import partial

import httpx

_NONE = ssl.SSLContext(ssl.PROTOCOL_TLS_CLIENT)
Client = partial(httpx.Client, verify=_NONE)
get, post, put = (partial(ask, verify=_NONE) for ask in (httpx.get, httpx.post, httpx.put))
patch, delete = (partial(ask, verify=_NONE) for ask in (httpx.patch, httpx.delete))
