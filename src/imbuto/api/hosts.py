"""Which hosts the server answers to, and what a page of it may load. Light to import: it stands before everything."""

from __future__ import annotations

import ipaddress
import re
from typing import Any

POLICY = "; ".join(
    (
        "default-src 'self'",
        "script-src 'self'",
        "style-src 'self' 'unsafe-inline'",  # the chart and dialog libraries set style attributes
        "img-src 'self' data:",
        "font-src 'self'",
        "connect-src 'self'",
        "object-src 'none'",
        "base-uri 'none'",
        "form-action 'self'",
        "frame-ancestors 'none'",
    )
)
# A policy for referrers that is stricter would send a form without its origin.
HEADERS = {"content-security-policy": POLICY, "x-content-type-options": "nosniff", "referrer-policy": "same-origin"}
LOOPBACK = frozenset({"localhost", "127.0.0.1", "[::1]"})
HOST = re.compile(r"(?P<name>[a-z0-9](?:[a-z0-9.-]{0,251}[a-z0-9])?|\[[0-9a-f:.]{2,45}\])(?::[0-9]{1,5})?")


def host_name(value: str) -> str:
    """Return the host of a Host header, without its port; empty where it is not plainly one."""
    found = HOST.fullmatch(value.lower())
    return found["name"] if found else ""


def is_here(scope: Any) -> bool:
    """Return whether a request (an ASGI scope) comes from the machine the server runs on."""
    client = scope.get("client")
    if client is None:
        return True
    try:
        return ipaddress.ip_address(client[0]).is_loopback
    except ValueError:  # a test's client has no address
        return True
