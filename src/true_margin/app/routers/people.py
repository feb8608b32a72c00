"""Who gets in: oneself, one's sign-ins and password, and for owners everybody else."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Annotated, Any
from uuid import UUID

from fastapi import Request
from pydantic import Field, StringConstraints

from true_margin.app.access import Access
from true_margin.app.answers import people as answers
from true_margin.app.bodies import stage_router
from true_margin.app.context import DatabaseHere, WhoHere
from true_margin.app.requests import Request as Body
from true_margin.core.choices import Role as RoleKind
from true_margin.desk.access import passkeys, people, recovery, sign_in
from true_margin.desk.access.rights import Right, Who
from true_margin.desk.errors import RefusedError
from true_margin.store.sign_ins import SignedIn

router = stage_router("people")
Slug = Annotated[str, StringConstraints(min_length=1, max_length=80)]
Secret = Annotated[str, StringConstraints(min_length=1, max_length=sign_in.MOST_PASSWORD)]


class NewInvite(Body):
    """Whom to invite to what."""

    role: RoleKind = Field(description="What they will be")
    shootout: Slug | None = Field(default=None, description="Address of the shootout; all without")
    note: Annotated[str, StringConstraints(strip_whitespace=True, max_length=120)] | None = Field(
        default=None, description="For whom: their e-mail address, or a word to tell it by"
    )


class NewRole(Body):
    """What somebody may do from now on."""

    role: RoleKind | None = Field(description="The role; null takes it")
    shootout: Slug | None = Field(default=None, description="Address of the shootout; all without")


class NewPassword(Body):
    """One's own password."""

    old: Secret = Field(description="As it is")
    new: Secret = Field(description="As it shall be: 10 signs or more")


class OwnPassword(Body):
    """One's password, asked again before one's ways to sign in change."""

    password: Secret = Field(description="As it is")


class NewPasskey(Body):
    """A passkey that the browser has made."""

    name: Annotated[str, StringConstraints(strip_whitespace=True, max_length=80)] = Field(
        description="To tell it by"
    )
    credential: dict[str, Any] = Field(
        description="As the browser's PublicKeyCredential.toJSON() gives it"
    )


@dataclass(frozen=True, slots=True)
class Role:
    """A role in a shootout; ``shootout_id`` None means all."""

    shootout_id: UUID | None
    role: str


@dataclass(frozen=True, slots=True)
class Me:
    """Who is asking: by kind ``local``, ``person`` or ``device``.

    ``signs_in`` is False where there are no accounts; then one may do everything.
    """

    name: str
    kind: str
    signs_in: bool
    roles: tuple[Role, ...]
    makes: bool
    owns_all: bool


@router.get("/me")
def show_me(request: Request, who: WhoHere) -> Me:
    """Say who is asking, and what they may do."""
    access: Access = request.app.state.access
    roles = tuple(Role(home, role) for home, role in who.roles.items())
    return Me(who.name, who.kind, access.sign_in, roles, who.may(Right.MAKE), who.may(Right.OWN))


@router.put("/me/password")
def change_password(
    body: NewPassword, database: DatabaseHere, who: WhoHere
) -> list[answers.OwnSignIn]:
    """Give oneself another password; every other browser is signed out."""
    sign_in.change_password(database, who, body.old, body.new)
    return _sign_in_views(who, sign_in.list_signed_in(database, who))


@router.get("/me/signed-in")
def list_signed_in(database: DatabaseHere, who: WhoHere) -> list[answers.OwnSignIn]:
    """List the browsers in which one is signed in."""
    return _sign_in_views(who, sign_in.list_signed_in(database, who))


@router.put("/me/signed-in/{signed_in_id}/ended")
def end_signed_in(
    signed_in_id: UUID, database: DatabaseHere, who: WhoHere
) -> list[answers.OwnSignIn]:
    """Sign oneself out of a browser."""
    return _sign_in_views(who, sign_in.end_signed_in(database, who, signed_in_id))


@router.get("/me/ways")
def show_ways(request: Request, database: DatabaseHere, who: WhoHere) -> answers.Ways:
    """Show one's passkeys, and how many recovery codes are left."""
    return _ways(request, passkeys.show_ways(database, who))


@router.post("/me/passkeys/begin")
def begin_passkey(
    body: OwnPassword, request: Request, database: DatabaseHere, who: WhoHere
) -> dict[str, Any]:
    """Say what the browser needs to make a passkey, as PublicKeyCredential reads it from JSON."""
    return passkeys.begin_passkey(database, who, _site(request), body.password)


@router.post("/me/passkeys", status_code=201)
def finish_passkey(
    body: NewPasskey, request: Request, database: DatabaseHere, who: WhoHere
) -> answers.Ways:
    """Keep a passkey that the browser has made within five minutes."""
    site = _site(request)
    return _ways(request, passkeys.finish_passkey(database, who, site, body.credential, body.name))


@router.put("/me/passkeys/{passkey_id}/ended")
def end_passkey(
    passkey_id: UUID, request: Request, database: DatabaseHere, who: WhoHere
) -> answers.Ways:
    """End a passkey of one's own."""
    return _ways(request, passkeys.end_passkey(database, who, passkey_id))


@router.post("/me/recovery-codes", status_code=201)
def make_recovery_codes(
    body: OwnPassword, database: DatabaseHere, who: WhoHere
) -> answers.RecoveryCodes:
    """Make new recovery codes; those before are good no longer."""
    return answers.RecoveryCodes(codes=recovery.make_codes(database, who, body.password))


def _site(request: Request) -> passkeys.Site:
    access: Access = request.app.state.access
    site = access.site(request.headers.get("host", ""))
    if site is None:
        reason = "Passkeys need a name and TLS: an address of numbers can have none."
        raise RefusedError("passkey", reason)
    return site


def _ways(request: Request, ways: passkeys.Ways) -> answers.Ways:
    access: Access = request.app.state.access
    return answers.Ways(
        passkeys=tuple(answers.Passkey.model_validate(each) for each in ways.passkeys),
        codes_left=ways.codes_left,
        can=access.site(request.headers.get("host", "")) is not None,
    )


def _sign_in_views(who: Who, sign_ins: tuple[SignedIn, ...]) -> list[answers.OwnSignIn]:
    return [
        answers.OwnSignIn(
            signed_in=answers.SignedIn.model_validate(one), this=one.id == who.signed_in_id
        )
        for one in sign_ins
    ]


@router.get("/people", response_model=answers.PeopleView)
def show_people(database: DatabaseHere, who: WhoHere) -> people.PeopleView:
    """Show who gets in, with what they may do, as far as one owns it."""
    return people.show_people(database, who)


@router.post("/people/invitations", status_code=201)
def invite(
    body: NewInvite, request: Request, database: DatabaseHere, who: WhoHere
) -> answers.InvitationLink:
    """Make an invitation; its link is told once, is good once and for seven days."""
    made = people.invite(database, who, body.role, body.shootout, body.note)
    return _link(request, database, who, made)


@router.put("/people/invitations/{invitation_id}/withdrawn", response_model=answers.PeopleView)
def withdraw_invitation(
    invitation_id: UUID, database: DatabaseHere, who: WhoHere
) -> people.PeopleView:
    """Withdraw an invitation that nobody has used."""
    return people.withdraw_invitation(database, who, invitation_id)


@router.put("/people/{person_id}/role", response_model=answers.PeopleView)
def set_role(
    person_id: UUID, body: NewRole, database: DatabaseHere, who: WhoHere
) -> people.PeopleView:
    """Give somebody a role in one shootout or in all, or take it."""
    return people.set_role(database, who, person_id, body.shootout, body.role)


@router.post("/people/{person_id}/new-password", status_code=201)
def new_password(
    person_id: UUID, request: Request, database: DatabaseHere, who: WhoHere
) -> answers.InvitationLink:
    """Make a link by which somebody sets a new password; it is told once."""
    return _link(request, database, who, people.invite_to_new_password(database, who, person_id))


@router.put("/people/{person_id}/ended", response_model=answers.PeopleView)
def end_account(person_id: UUID, database: DatabaseHere, who: WhoHere) -> people.PeopleView:
    """End an account; runs keep its name."""
    return people.end_account(database, who, person_id)


def _link(
    request: Request, database: DatabaseHere, who: Who, made: people.NewInvitation
) -> answers.InvitationLink:
    access: Access = request.app.state.access
    base = access.address or str(request.base_url).rstrip("/")
    view = people.show_people(database, who)
    to = next((i.to for i in view.invitations if i.invitation.id == made.invitation.id), "")
    return answers.InvitationLink(
        link=f"{base}/invitation/{made.token}", to=to, view=answers.PeopleView.model_validate(view)
    )
