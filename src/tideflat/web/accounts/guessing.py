"""Guessing passwords is slowed down: failures make the next try wait, longer each time. Nobody is locked out by what others do.

Three counts of failures, each with its own free tries and longest wait:

- of an account from one address, or, in a browser that has signed in as this person before, of the account in that browser;
- of an address, whatever the accounts; not asked of a browser that is known;
- of an account, from wherever; slow to grow and short, for guessers with many addresses; not asked of a browser that is known.

So a stranger who fails for hours makes neither the person's own browser nor other addresses wait longer than a moment.
"""

from __future__ import annotations

import hashlib
import ipaddress
import secrets
import time
from dataclasses import dataclass

from django.contrib.auth.models import User
from django.core import signing
from django.db import transaction
from django.http import HttpRequest, HttpResponse

from .models import Count
from .names import known_as
from .throttle import sweep, take_back


@dataclass(frozen=True)
class Pace:
    """free: failures before the first wait of two seconds; each further one doubles it, up to longest_s. Forgotten after quiet_s of quiet."""

    free: int
    longest_s: int
    quiet_s: int = 3600

    def wait_s(self, failures: int, since_s: float) -> float:
        """Seconds left to wait after so many failures, the last of them ``since_s`` ago."""
        if failures < self.free:
            return 0.0
        return max(0.0, min(self.longest_s, 2.0 ** min(failures - self.free + 1, 20)) - since_s)


OWN, ADDRESS, ACCOUNT = Pace(12, 900), Pace(36, 300), Pace(60, 30)
COOKIE, COOKIE_S = "tideflat_known", 365 * 86_400
#: Accounts remembered in one browser.
_MOST_KNOWN = 6


@dataclass(frozen=True)
class Try:
    """One try to sign in: its counts, and the seconds it must wait (0: it may be made, and is counted as failed until it succeeds)."""

    keys: tuple[tuple[str, Pace], ...]
    wait_s: float


def begin_try(request: HttpRequest, typed: str) -> Try:
    """Count a try for the account that ``typed`` names as failed, or say how long it must wait first. One transaction."""
    name, address = known_as(typed), address_of(request)
    browser = _known_accounts(request).get(name)
    if browser:
        keys: tuple[tuple[str, Pace], ...] = ((_key("browser", name, browser), OWN),)
    else:
        keys = ((_key("pair", name, address), OWN), (_key("address", address), ADDRESS), (_key("account", name), ACCOUNT))
    now = time.time()
    with transaction.atomic():
        known = {row.key: row for row in Count.objects.filter(key__in=[key for key, _ in keys])}
        failures = {key: row.count for (key, pace) in keys if (row := known.get(key)) and now - row.last_at < pace.quiet_s}
        wait = max(pace.wait_s(failures.get(key, 0), now - known[key].last_at if key in known else 0.0) for key, pace in keys)
        if wait <= 0:
            for key, _ in keys:
                Count.objects.update_or_create(key=key, defaults={"count": failures.get(key, 0) + 1, "last_at": now})
            if len(known) < len(keys):
                sweep(now)
    return Try(keys, wait)


@transaction.atomic
def succeeded(done: Try) -> None:
    """The try did not fail: its own count begins anew, the shared ones are as they were before it."""
    for key, pace in done.keys:
        if pace is OWN:
            Count.objects.filter(key=key).delete()
        else:
            take_back(key)


def remember_browser(request: HttpRequest, response: HttpResponse, person: User) -> None:
    """This browser has signed in as the person: a signed note, worth nothing for signing in."""
    known = _known_accounts(request)
    name = person.get_username()
    known[name] = known.pop(name, "") or secrets.token_urlsafe(9)  # the newest last
    value = signing.dumps(dict(list(known.items())[-_MOST_KNOWN:]), salt=COOKIE)
    response.set_cookie(COOKIE, value, max_age=COOKIE_S, secure=request.is_secure(), httponly=True, samesite="Lax")


def address_of(request: HttpRequest) -> str:
    """The address the request came from; of IPv6 the network, as one machine has all of its addresses."""
    text = str(request.META.get("REMOTE_ADDR", ""))
    try:
        address = ipaddress.ip_address(text)
    except ValueError:
        return text
    return text if address.version == 4 else str(ipaddress.ip_network((address, 64), strict=False).network_address)


def _known_accounts(request: HttpRequest) -> dict[str, str]:
    try:
        found = signing.loads(request.COOKIES.get(COOKIE, ""), salt=COOKIE, max_age=COOKIE_S)
    except signing.BadSignature:
        return {}
    return {str(k): str(v) for k, v in found.items()} if isinstance(found, dict) else {}


def _key(kind: str, *parts: str) -> str:
    """Names and addresses are kept as digests only."""
    return f"sign-in-{kind}:{hashlib.sha256(chr(0).join(parts).encode()).hexdigest()[:48]}"
