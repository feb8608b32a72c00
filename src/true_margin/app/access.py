"""How people get to the app: openly on this machine, or by signing in."""

from __future__ import annotations

from dataclasses import dataclass

LOOPBACK_NAMES = frozenset({"localhost", "127.0.0.1", "[::1]"})


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

    @property
    def cookie(self) -> str:
        """Name of the cookie; with this beginning, browsers hold it to this host and TLS."""
        return "__Host-tm_person" if self.secure else "tm_person"

    @property
    def known_cookie(self) -> str:
        """Name of the cookie by which a browser that signed in before is known; see ``cookie``."""
        return "__Host-tm_known" if self.secure else "tm_known"


OPEN = Access()
