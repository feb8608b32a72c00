"""How people get to the app: openly on this machine, or by signing in."""

from __future__ import annotations

import re
from dataclasses import dataclass
from urllib.parse import urlsplit

from true_margin.desk.access.passkeys import Site

LOOPBACK_NAMES = frozenset({"localhost", "127.0.0.1", "[::1]"})
_NAMED = re.compile(r"[a-z]", re.IGNORECASE)
"""An address of numbers has no letter, but for IPv6, whose colons no name has."""


@dataclass(frozen=True, slots=True)
class Access:
    """Who is let in, and how.

    Attributes:
        sign_in: whether people sign in; else whoever reaches the app may do everything.
        names: that an address may have; a page elsewhere cannot reach the app under a name
            of its own. None where any will do.
        address: where people reach the app, if it is set; it decides whether cookies are
            for TLS only.
        proxied: whether a proxy speaks TLS there, with a certificate that browsers know.
    """

    sign_in: bool = False
    names: frozenset[str] | None = None
    address: str | None = None
    proxied: bool = False

    @property
    def secure(self) -> bool:
        """Whether people reach the app by TLS."""
        return (self.address or "").startswith("https://")

    @property
    def strict(self) -> bool:
        """Whether browsers shall never come by anything but TLS again.

        Not where the app speaks TLS itself: its own certificate is new on another machine, and
        a browser that was told this would let nobody in any more.
        """
        return self.secure and self.proxied

    def site(self, host: str) -> Site | None:
        """For which site passkeys are good; None where browsers would make none.

        They need a name, no address of numbers; and TLS, but on this machine itself.

        Args:
            host: as the request says it, with its port; believed only where it is this machine.
        """
        if self.address is not None:
            parts = urlsplit(self.address)
            name = (parts.hostname or "").rstrip(".")
            named = _NAMED.search(name) is not None and ":" not in name
            good = named and (parts.scheme == "https" or name == "localhost")
            return Site(name, f"{parts.scheme}://{parts.netloc}") if good else None
        local = re.fullmatch(r"localhost(:\d{1,5})?", host.casefold())
        return Site("localhost", f"http://{local[0]}") if local else None

    @property
    def cookie(self) -> str:
        """Name of the cookie; with this beginning, browsers hold it to this host and TLS."""
        return "__Host-tm_person" if self.secure else "tm_person"

    @property
    def known_cookie(self) -> str:
        """Name of the cookie by which a browser that signed in before is known; see ``cookie``."""
        return "__Host-tm_known" if self.secure else "tm_known"


OPEN = Access()
