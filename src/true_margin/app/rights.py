"""What each route asks of whoever calls it; a route that is not named here is refused.

Reading asks for ``READ``, everything else for ``WRITE``, unless the table says otherwise.
"""

from __future__ import annotations

from uuid import UUID

from fastapi import Request
from fastapi.concurrency import run_in_threadpool

from true_margin.desk.access.rights import NOBODY, Right, Who, find_home, known_home
from true_margin.desk.errors import NotAllowedError, NotFoundError
from true_margin.store.database import Database
from true_margin.store.shootout_lookup import COLLECTIONS

PREFIX = "/api/v1"
OTHERWISE: dict[tuple[str, str], Right] = {
    ("GET", "/health"): Right.NONE,
    ("GET", "/ready"): Right.NONE,
    ("GET", "/clock"): Right.KNOWN,
    ("GET", "/rates"): Right.KNOWN,
    ("GET", "/task-words"): Right.KNOWN,
    ("GET", "/shootouts"): Right.KNOWN,
    ("GET", "/shelf"): Right.KNOWN,
    # Finds only in shootouts that whoever asks may see.
    ("GET", "/search"): Right.KNOWN,
    ("GET", "/me"): Right.KNOWN,
    # The desk gives a job to whoever asked for it, and to nobody else.
    ("GET", "/jobs/{job_id}"): Right.KNOWN,
    ("PUT", "/me/password"): Right.KNOWN,
    ("GET", "/me/signed-in"): Right.KNOWN,
    ("PUT", "/me/signed-in/{signed_in_id}/ended"): Right.KNOWN,
    ("GET", "/me/ways"): Right.KNOWN,
    ("POST", "/me/passkeys/begin"): Right.KNOWN,
    ("POST", "/me/passkeys"): Right.KNOWN,
    ("PUT", "/me/passkeys/{passkey_id}/ended"): Right.KNOWN,
    ("POST", "/me/recovery-codes"): Right.KNOWN,
    ("GET", "/people"): Right.KNOWN,
    ("POST", "/people/invitations"): Right.KNOWN,
    ("PUT", "/people/invitations/{invitation_id}/withdrawn"): Right.KNOWN,
    ("PUT", "/people/{person_id}/role"): Right.KNOWN,
    ("POST", "/people/{person_id}/new-password"): Right.OWN,
    ("PUT", "/people/{person_id}/ended"): Right.OWN,
    ("POST", "/shootouts"): Right.MAKE,
    ("POST", "/notes"): Right.MAKE,
    ("POST", "/notes/preview"): Right.MAKE,
    ("POST", "/packs"): Right.MAKE,
    ("POST", "/packs/preview"): Right.MAKE,
    # The store room is of those who work on all shootouts: it names what is in each.
    ("GET", "/room"): Right.MAKE,
    ("GET", "/room/file"): Right.MAKE,
    ("POST", "/room/file"): Right.MAKE,
    ("POST", "/room/kept"): Right.MAKE,
    ("POST", "/room/machines"): Right.MAKE,
    ("PATCH", "/room/machines/{kept_id}"): Right.MAKE,
    ("GET", "/room/machines/{kept_id}/history"): Right.MAKE,
    ("GET", "/room/machines/{kept_id}/worth"): Right.MAKE,
    ("POST", "/room/machines/{kept_id}/specs"): Right.MAKE,
    ("POST", "/room/machines/{kept_id}/joined"): Right.MAKE,
    ("POST", "/room/setups"): Right.MAKE,
    ("POST", "/room/tasks/parted"): Right.MAKE,
    ("PATCH", "/room/tasks/{standing_id}"): Right.MAKE,
    ("GET", "/all-time"): Right.MAKE,
    ("GET", "/all-time/{standing_id}"): Right.MAKE,
    ("GET", "/house"): Right.MAKE,
    ("PATCH", "/house"): Right.MAKE,
    ("GET", "/shootouts/{slug}/room"): Right.MAKE,
    ("POST", "/shootouts/{slug}/room/taken"): Right.MAKE,
    ("POST", "/shootouts/{slug}/room/answers"): Right.MAKE,
    ("POST", "/shootouts/{slug}/continued"): Right.MAKE,
    # What is asked with a body and stores nothing.
    ("POST", "/shootouts/{slug}/bench/pace"): Right.READ,
    ("POST", "/shootouts/{slug}/entry"): Right.READ,
    ("POST", "/shootouts/{slug}/picks/try"): Right.READ,
    ("POST", "/shootouts/{slug}/picks/turns"): Right.READ,
    ("POST", "/shootouts/{slug}/script/check"): Right.READ,
    # Who else gets in, and what the world sees.
    ("GET", "/shootouts/{slug}/devices"): Right.WRITE,
    # What others said of their machines is for those who decide about it.
    ("GET", "/shootouts/{slug}/sent"): Right.WRITE,
    ("GET", "/shootouts/{slug}/bench/overlays"): Right.WRITE,
    ("GET", "/shootouts/{slug}/public"): Right.OWN,
    ("GET", "/shootouts/{slug}/public/folder.zip"): Right.OWN,
    ("POST", "/shootouts/{slug}/archive"): Right.OWN,
    ("POST", "/shootouts/{slug}/public/editions"): Right.OWN,
    ("POST", "/shootouts/{slug}/public/links"): Right.OWN,
    ("PUT", "/shootouts/{slug}/public/links/{link_id}/revoked"): Right.OWN,
}
"""Routes of people ask the desk again (``desk/access/people``), which knows whom they are about."""
_BESIDE = frozenset(
    {"all-time", "clock", "house", "jobs", "health", "me", "notes", "packs", "people", "presets"}
    | {"rates", "ready", "room", "search", "shelf", "task-words"}
)
"""First parts of addresses that are of no shootout."""


def right_of(method: str, template: str) -> Right:
    """What a route asks for.

    Args:
        method: of the request.
        template: of the route's address, without the prefix of the API.
    """
    asked = OTHERWISE.get((method, template))
    if asked is not None:
        return asked
    return Right.READ if method in ("GET", "HEAD") else Right.WRITE


def who_asks(request: Request) -> Who:
    """Say who is asking, as the entrance found out."""
    who: Who = request.scope.get("state", {}).get("who", NOBODY)
    return who


async def allowed(request: Request) -> None:
    """Refuse whoever may not do this; what one may not see is not there.

    Raises:
        NotFoundError: they may not even know of it.
        NotAllowedError: they see it, and may not do this.
    """
    who = who_asks(request)
    if who.kind == "local":
        return
    if _is_known(request):
        _judge(request, who)
    else:
        await run_in_threadpool(_judge, request, who)


def _judge(request: Request, who: Who) -> None:
    template = _template(request)
    right = right_of(request.method, template)
    home = _home(request, template)
    if not who.may(right, home):
        if home is not None and who.may(Right.READ, home):
            raise NotAllowedError(f"You are {who.role_in(home)} here: {_NEEDS[right]}")
        if home is None:
            raise NotAllowedError(_NEEDS[right][0].upper() + _NEEDS[right][1:])
        raise NotFoundError("There is nothing of yours here.")
    # An earlier shootout is read whole, so it must be one that they see too.
    other = request.path_params.get("other")
    if other is not None:
        _must_see(request, who, other)


_NEEDS = {
    Right.READ: "this is for people who were invited.",
    Right.WRITE: "an owner can make you editor.",
    Right.OWN: "this is for owners.",
    Right.MAKE: "making shootouts is for editors and owners of all of them.",
}


def must_see(request: Request, slug: str) -> None:
    """Refuse whoever does not see another shootout that a body names."""
    _must_see(request, who_asks(request), slug)


def _must_see(request: Request, who: Who, slug: str) -> None:
    if who.kind == "local":
        return
    database: Database = request.app.state.database
    home = find_home(database, "shootouts", slug)
    if home is None or not who.may(Right.READ, home):
        raise NotFoundError(f"There is no shootout {slug}.")


def _template(request: Request) -> str:
    route = request.scope.get("route")
    path = str(getattr(route, "path", ""))
    return path.removeprefix(PREFIX)


def _home(request: Request, template: str) -> UUID | None:
    """The shootout that a request is about; None where it is about none.

    Raises:
        NotFoundError: it names one that is not there.
    """
    first = template.split("/")[1]
    database: Database = request.app.state.database
    if first == "shootouts":
        if "slug" not in request.path_params:
            return None
        home = find_home(database, first, str(request.path_params["slug"]))
    elif first in COLLECTIONS:
        key = _id(request)
        home = None if key is None else find_home(database, first, key)
    elif first in _BESIDE:
        return None
    else:
        # A route that nobody thought about is for nobody.
        home = None
    if home is None:
        raise NotFoundError("There is nothing of yours here.")
    return home


def _is_known(request: Request) -> bool:
    """Whether nothing need be asked of the database: a bench asks every second."""
    slug = request.path_params.get("slug")
    if slug is None or "other" in request.path_params:
        return False
    return known_home(request.app.state.database, "shootouts", str(slug)) is not None


def _id(request: Request) -> UUID | None:
    given = next(iter(request.path_params.values()), "")
    try:
        return UUID(str(given))
    except ValueError:
        return None


__all__ = ["allowed", "must_see", "right_of", "who_asks"]
