"""Tries of something secret: so many from one address in so long, counted before they are tried.

One stranger's wrong tries keep nobody else out; a network of one household or firm that asks by
IPv6 has billions of addresses and counts as one.
"""

from __future__ import annotations

import time
from collections import OrderedDict, deque
from ipaddress import IPv6Address, ip_address

MOST_ADDRESSES = 10_000
"""Of which tries are remembered; the one that was seen longest ago is forgotten first."""


class Tries:
    """Counts tries by address."""

    def __init__(self, most: int, within_s: float) -> None:
        """Count.

        Args:
            most: tries of one address.
            within_s: in so many seconds.
        """
        self._most = most
        self._within_s = within_s
        self._tries: OrderedDict[str, deque[float]] = OrderedDict()

    def begin(self, address: str) -> bool:
        """Count a try that is about to be looked at; says whether it may be."""
        now, place = time.monotonic(), network_of(address)
        tries = self._tries.setdefault(place, deque())
        self._tries.move_to_end(place)
        while tries and now - tries[0] > self._within_s:
            tries.popleft()
        if len(tries) >= self._most:
            return False
        tries.append(now)
        if len(self._tries) > MOST_ADDRESSES:
            self._tries.popitem(last=False)
        return True

    def worked(self, address: str) -> None:
        """Count the last try of an address no longer: it was the right one."""
        tries = self._tries.get(network_of(address))
        if tries:
            tries.pop()


def network_of(address: str) -> str:
    """What an address is counted as: itself, or its network where there are 2^64 in it.

    Example:
        >>> network_of("10.0.0.7"), network_of("2001:db8:1:2:3::4"), network_of("somewhere")
        ('10.0.0.7', '2001:db8:1:2', 'somewhere')
    """
    try:
        known = ip_address(address.partition("%")[0])
    except ValueError:
        return address
    if isinstance(known, IPv6Address):
        if known.ipv4_mapped is not None:
            return str(known.ipv4_mapped)
        return ":".join(part.lstrip("0") or "0" for part in known.exploded.split(":")[:4])
    return str(known)
