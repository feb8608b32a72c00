"""What is known of the way in for other devices."""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True, slots=True)
class Outside:
    """Addresses that other devices reach, and the certificate there, as digits and as PEM."""

    addresses: tuple[str, ...]
    fingerprint: str | None
    certificate: str | None = None
