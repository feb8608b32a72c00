"""A device that keeps passkeys, in software: what a browser would hand on, and can be bent.

Structures as in Web Authentication, level 3, sections 6.1 (authenticator data) and 5.8.1 (client
data); keys are ES256 in COSE form (RFC 9053, section 7.1.1).
"""

from __future__ import annotations

import hashlib
import json
import secrets
import struct
from base64 import urlsafe_b64encode
from dataclasses import dataclass, field
from typing import Any

import cbor2
from cryptography.hazmat.primitives import hashes
from cryptography.hazmat.primitives.asymmetric import ec

PRESENT, VERIFIED, MADE = 0x01, 0x04, 0x40


@dataclass
class Device:
    """Keeps one passkey; each field can be bent to try what is refused."""

    origin: str
    host: str
    flags: int = PRESENT | VERIFIED
    count: int = 0
    key: ec.EllipticCurvePrivateKey = field(
        default_factory=lambda: ec.generate_private_key(ec.SECP256R1())
    )
    credential_id: bytes = field(default_factory=lambda: secrets.token_bytes(32))

    def make(self, options: dict[str, Any]) -> dict[str, Any]:
        """What a browser hands on after ``navigator.credentials.create``."""
        numbers = self.key.public_key().public_numbers()
        cose = {
            1: 2,
            3: -7,
            -1: 1,
            -2: numbers.x.to_bytes(32, "big"),
            -3: numbers.y.to_bytes(32, "big"),
        }
        made = bytes(16) + struct.pack(">H", len(self.credential_id)) + self.credential_id
        data = self._data(self.flags | MADE) + made + cbor2.dumps(cose)
        attested = cbor2.dumps({"fmt": "none", "attStmt": {}, "authData": data})
        return self._credential(
            {
                "clientDataJSON": coded(self._client("webauthn.create", options["challenge"])),
                "attestationObject": coded(attested),
            }
        )

    def sign(self, options: dict[str, Any]) -> dict[str, Any]:
        """What a browser hands on after ``navigator.credentials.get``."""
        data, client = self._data(self.flags), self._client("webauthn.get", options["challenge"])
        signed = self.key.sign(data + hashlib.sha256(client).digest(), ec.ECDSA(hashes.SHA256()))
        return self._credential(
            {
                "clientDataJSON": coded(client),
                "authenticatorData": coded(data),
                "signature": coded(signed),
            }
        )

    def _data(self, flags: int) -> bytes:
        return hashlib.sha256(self.host.encode()).digest() + struct.pack(">BI", flags, self.count)

    def _client(self, kind: str, challenge: str) -> bytes:
        told = {"type": kind, "challenge": challenge, "origin": self.origin, "crossOrigin": False}
        return json.dumps(told).encode()

    def _credential(self, response: dict[str, str]) -> dict[str, Any]:
        key = coded(self.credential_id)
        return {
            "id": key,
            "rawId": key,
            "type": "public-key",
            "response": response,
            "clientExtensionResults": {},
        }


def coded(data: bytes) -> str:
    """Bytes as they travel in JSON: base64url without padding."""
    return urlsafe_b64encode(data).rstrip(b"=").decode()
