"""Whose request it is, and what an address counts as."""

from __future__ import annotations

import ipaddress
import re

UNKNOWN = "unknown"  #: A client that the proxy names not.


def client_of(remote: str, forwarded: str, proxy: str) -> str:
    """Return whose request it is: a declared proxy's word on its client is believed, and nobody else's.

    Args:
        remote: Address of who connected.
        forwarded: The header in which proxies tell it, the nearest last.
        proxy: Address of the declared one; empty: there is none.

    >>> client_of("10.0.0.2", "6.6.6.6, 192.168.1.7", "10.0.0.2"), client_of("6.6.6.6", "127.0.0.1", "10.0.0.2")
    ('192.168.1.7', '6.6.6.6')
    >>> client_of("127.0.0.1", "", "127.0.0.1")
    'unknown'
    """
    if not proxy or remote != proxy:
        return remote
    last = forwarded.rsplit(",", 1)[-1].strip()
    return last if re.fullmatch(r"[0-9A-Fa-f:.]{2,45}", last) else UNKNOWN


def counted_as(address: str) -> str:
    """Return what an address counts as: a whole network of the newer kind, which one machine may use as it likes.

    >>> counted_as("192.168.1.7"), counted_as("::ffff:192.168.1.7"), counted_as("2001:db8::1:2:3:4")
    ('192.168.1.7', '192.168.1.7', '2001:db8::/64')
    """
    try:
        parsed = ipaddress.ip_address(address.partition("%")[0])
    except ValueError:
        return address
    if isinstance(parsed, ipaddress.IPv6Address):
        if parsed.ipv4_mapped is not None:
            return str(parsed.ipv4_mapped)
        if not parsed.is_loopback:
            return str(ipaddress.ip_network((parsed, 64), strict=False))
    return str(parsed)
