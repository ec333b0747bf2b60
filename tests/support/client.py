"""A plain HTTP client that signs in to a running Tideflat, for tests and benchmarks that need a real server."""

from __future__ import annotations

import gzip
import http.client
import re
import urllib.parse
from typing import Any


class Browser:
    """A signed-in client over one kept connection."""

    def __init__(self, port: int) -> None:
        from tideflat.web.scenes.demo import PASSWORD

        self.connection = http.client.HTTPConnection("127.0.0.1", port)
        self.cookies: dict[str, str] = {}
        page = self.ask("GET", "/sign-in/").decode()
        token = re.search(r'csrfmiddlewaretoken" value="([^"]+)"', page)
        assert token is not None
        self.ask("POST", "/sign-in/", {"username": "wren", "password": PASSWORD, "csrfmiddlewaretoken": token[1]})
        assert "sessionid" in self.cookies

    def ask(self, method: str, path: str, values: dict[str, Any] | None = None) -> bytes:
        headers = {"Cookie": "; ".join(f"{k}={v}" for k, v in self.cookies.items()), "Accept-Encoding": "gzip"}
        body = None
        if values is not None:
            body = urllib.parse.urlencode(values)
            headers |= {"Content-Type": "application/x-www-form-urlencoded", "X-CSRFToken": self.cookies.get("csrftoken", "")}
        self.connection.request(method, path, body, headers)
        response = self.connection.getresponse()
        raw = response.read()
        for name, value in response.getheaders():
            if name.lower() == "set-cookie":
                key, _, rest = value.partition("=")
                self.cookies[key] = rest.split(";")[0]
        assert response.status < 400, (response.status, raw[:300])
        self.wire = len(raw)
        return gzip.decompress(raw) if response.getheader("Content-Encoding") == "gzip" else raw
