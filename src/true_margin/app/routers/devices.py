"""Other devices of a bench: a code for one more, the list, revoking. For the desk only."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime
from uuid import UUID

import segno
from fastapi import Request, Response

from true_margin.app.answers.bench import Devices, PairedDevice
from true_margin.app.bodies import stage_router
from true_margin.app.context import DatabaseHere, WhoHere, own_address
from true_margin.app.downloads import attachment
from true_margin.app.outside import Outside
from true_margin.app.run_requests import NewWatcher
from true_margin.desk.access import pairing
from true_margin.desk.bench import watcher_file
from true_margin.desk.errors import RefusedError
from true_margin.store import records

router = stage_router("devices")
PYZ_MEDIA = "application/zip"


@dataclass(frozen=True, slots=True)
class CodeShown:
    """A code with the address to type it at, and both as a square (SVG) to photograph."""

    code: str
    expires_at: datetime
    address: str
    square: str


@router.get("/shootouts/{slug}/devices")
def show_devices(slug: str, request: Request, database: DatabaseHere) -> Devices:
    """Show where other devices get in, and which were paired with this bench."""
    return _devices(request, pairing.list_devices(database, slug))


@router.post("/shootouts/{slug}/devices/code", status_code=201)
def make_code(slug: str, request: Request, database: DatabaseHere, who: WhoHere) -> CodeShown:
    """Make a code for one more device; it is good for ten minutes and one device."""
    outside: Outside | None = request.app.state.outside
    if outside is None:
        raise RefusedError(
            "slug", "Other devices are not let in. Start again with: make demo HOST=0.0.0.0"
        )
    made = pairing.make_code(database, slug, who)
    address = f"{outside.addresses[0]}/pair?code={made.code}"
    square = segno.make(address, error="m").svg_data_uri(scale=4, border=2)
    return CodeShown(made.code, made.expires_at, outside.addresses[0], square)


@router.post(
    "/shootouts/{slug}/devices/watcher",
    status_code=201,
    response_class=Response,
    responses={201: {"content": {PYZ_MEDIA: {}}, "description": "The watcher, in one file"}},
)
def save_watcher(
    slug: str, body: NewWatcher, request: Request, database: DatabaseHere, who: WhoHere
) -> Response:
    """Pair one more device and give it the watcher in one file, which knows its bench."""
    outside: Outside | None = request.app.state.outside
    address = own_address(request) if outside is None else outside.addresses[0]
    certificate = None if outside is None else outside.certificate
    packed = watcher_file.pair_watcher(database, slug, body.name, address, certificate, who)
    return Response(
        packed, status_code=201, media_type=PYZ_MEDIA, headers=attachment(watcher_file.NAME)
    )


@router.post("/devices/{device_id}/revocation")
def revoke(device_id: UUID, request: Request, database: DatabaseHere) -> Devices:
    """Let a device in no longer."""
    return _devices(request, pairing.revoke(database, device_id))


def _devices(request: Request, paired: tuple[records.PairedDevice, ...]) -> Devices:
    outside: Outside | None = request.app.state.outside
    devices = tuple(PairedDevice.model_validate(device) for device in paired)
    if outside is None:
        return Devices(addresses=(), fingerprint=None, devices=devices)
    return Devices(addresses=outside.addresses, fingerprint=outside.fingerprint, devices=devices)
