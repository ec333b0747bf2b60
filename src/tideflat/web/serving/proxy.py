"""Which proxy is believed: only a named one may say over which scheme and from which address a request came."""

from __future__ import annotations

import ipaddress
from collections.abc import Callable, Iterable
from typing import Any

Network = ipaddress.IPv4Network | ipaddress.IPv6Network
Wsgi = Callable[[dict[str, Any], Any], Iterable[bytes]]

#: What only a believed proxy may send. The rest of the family is dropped from everybody: nothing here reads it.
_FORWARDED = (
    "HTTP_FORWARDED", "HTTP_X_FORWARDED_FOR", "HTTP_X_FORWARDED_PROTO", "HTTP_X_FORWARDED_HOST", "HTTP_X_FORWARDED_PORT",
    "HTTP_X_FORWARDED_PREFIX", "HTTP_X_REAL_IP",
)  # fmt: skip


def read_proxies(text: str) -> tuple[Network, ...]:
    """Addresses or networks parted by commas, such as ``127.0.0.1, 10.0.0.0/8``; raises ValueError naming the one that is none."""
    found = []
    for item in filter(None, (part.strip() for part in text.split(","))):
        try:
            found.append(ipaddress.ip_network(item, strict=False))
        except ValueError:
            raise ValueError(f"TIDEFLAT_PROXY must be addresses such as 127.0.0.1 or 10.0.0.0/8, parted by commas (got {item!r})") from None
    return tuple(found)


class TrustedProxy:
    """Wraps a WSGI application. From a named proxy the scheme and the real address are taken over; from anybody else such notes are
    dropped.

    The real address is the last one in X-Forwarded-For that is no named proxy itself: what stands before it was written by the client.
    """

    def __init__(self, application: Wsgi, proxies: tuple[Network, ...]) -> None:
        self.application = application
        self.proxies = proxies

    def __call__(self, environ: dict[str, Any], start_response: Any) -> Iterable[bytes]:
        notes = {name: environ.pop(name) for name in _FORWARDED if name in environ}
        environ["wsgi.url_scheme"] = "http"  # the server may have believed a proxy of its own choosing
        if self._is_proxy(environ.get("REMOTE_ADDR", "")):
            if notes.get("HTTP_X_FORWARDED_PROTO", "").strip().lower() == "https":
                environ["wsgi.url_scheme"] = "https"
            environ["REMOTE_ADDR"] = self._real(environ["REMOTE_ADDR"], notes.get("HTTP_X_FORWARDED_FOR", ""))
        return self.application(environ, start_response)

    def _real(self, nearest: str, forwarded_for: str) -> str:
        for text in reversed([part.strip() for part in forwarded_for.split(",")]):
            address = _address(text)
            if address is None:
                return nearest  # no chain that can be followed any further
            nearest = str(address)
            if not self._is_proxy(nearest):
                return nearest
        return nearest

    def _is_proxy(self, text: str) -> bool:
        address = _address(text)
        return address is not None and any(address in network for network in self.proxies)


def _address(text: str) -> ipaddress.IPv4Address | ipaddress.IPv6Address | None:
    """The address in ``text``, without a port or brackets; IPv4 written as IPv6 is IPv4."""
    if text.startswith("["):
        text = text[1:].partition("]")[0]
    elif text.count(":") == 1:
        text = text.partition(":")[0]
    try:
        address = ipaddress.ip_address(text)
    except ValueError:
        return None
    return (address.ipv4_mapped or address) if isinstance(address, ipaddress.IPv6Address) else address
