"""Which addresses are this machine alone."""

import ipaddress

__all__ = ["is_loopback"]


def is_loopback(host: str | None) -> bool:
    """Whether a name or address of a host means this machine and can be reached from no other."""
    if host is None:
        return False
    try:
        return host == "localhost" or ipaddress.ip_address(host).is_loopback
    except ValueError:
        return False
