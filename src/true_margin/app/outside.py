"""What is known of the way in for other devices."""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True, slots=True)
class Outside:
    """Addresses that other devices reach, and the fingerprint of the certificate there."""

    addresses: tuple[str, ...]
    fingerprint: str | None
