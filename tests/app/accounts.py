"""People with accounts, and a shootout that has one of everything."""

from __future__ import annotations

from datetime import UTC, datetime
from decimal import Decimal
from itertools import count
from uuid import uuid4

from tests.desk.helpers import Bench
from true_margin.desk.access import pairing, people, sign_in
from true_margin.desk.access.rights import LOCAL, Who
from true_margin.desk.lineup.spec_sheet import show_lineup
from true_margin.desk.picks import viewers
from true_margin.desk.publish import cards
from true_margin.desk.room import keeping
from true_margin.store import (
    clips,
    editions,
    inquiries,
    judgements,
    lineup,
    outputs,
    overrules,
    ratios,
    reports,
    runs,
    sent,
    shootouts,
)
from true_margin.store.database import Database
from true_margin.store.rows import insert_row
from true_margin.store.tables import FreeSheetRow, TimelineRow
from true_margin.store.tables_noted import RunPictureRow

PASSWORD = "a bench of my own"
_NUMBERS = count(1)


def account(database: Database, role: str, slug: str | None = None) -> sign_in.SignedInNow:
    """Invite somebody, who makes an account and signs in."""
    email = f"person{next(_NUMBERS)}-{uuid4().hex[:6]}@bench.test"
    token = people.invite(database, LOCAL, role, slug).token
    people.accept(database, token, email, f"{role} {slug or 'of all'}"[:40], PASSWORD)
    return sign_in.sign_in(database, email, PASSWORD, "a browser", f"10.0.0.{next(_NUMBERS)}")


def who_of(database: Database, signed_in: sign_in.SignedInNow) -> Who:
    who = sign_in.who_is(database, signed_in.token)
    assert who is not None
    return who


def free_row(database: Database, slug: str) -> str:
    """Add an empty row to a spec sheet."""
    title = f"Hinges {next(_NUMBERS)}"
    with database.transaction() as session:
        home = shootouts.get_shootout(session, slug).id
        return str(
            insert_row(
                session, FreeSheetRow, {"shootout_id": home, "title": title, "number": False}
            )
        )


def one_of_everything(bench: Bench, elsewhere: Bench) -> dict[str, str]:
    """Something for every name in the addresses of the API, by that name."""
    database, slug = bench.database, bench.slug
    a, b, parade = bench.setups["A"], bench.setups["B"], bench.tasks["Parade"]
    run = bench.run("A", "6:17").run.id
    throwaway = account(database, "reader", elsewhere.slug).account.id
    owner = who_of(database, account(database, "owner"))
    pairing.pair_at_once(database, slug, "phone", owner)
    machine = keeping.KeptMachine(f"Kept {next(_NUMBERS)}", None, (a,))
    standing = keeping.KeptTask(f"Standing {next(_NUMBERS)}", None, (parade,))
    kept = keeping.keep(database, [machine], [standing], "owner")
    made: dict[str, object] = {
        "run_id": run,
        "kept_id": kept.machines[0].id,
        "standing_id": kept.tasks[0].id,
        "setup_id": a,
        "task_id": parade,
        "person_id": throwaway,
        "machine_id": show_lineup(database, slug).columns[0].machine.id,
        "viewer_id": viewers.add_viewer(database, slug, {"name": "Filmer"}, None).id,
        "card_id": cards.add_card(database, slug, {"kind": "bar", "task_id": parade}).card.id,
        "device_id": pairing.list_devices(database, slug)[0].id,
        "invitation_id": people.invite(database, LOCAL, "reader", slug).invitation.id,
        "signed_in_id": uuid4(),
        "passkey_id": uuid4(),
        "slug": slug,
        "other": elsewhere.slug,
        "field": "memory_gb",
        "kind": "csv",
        "name": "results",
        "shape": "wide",
        "look": "night",
        "client_key": "none",
    }
    now, told = datetime.now(UTC), {"who": "Marit"}
    pair = {"task_id": parade, "setup_a_id": a, "setup_b_id": b}
    with database.transaction() as session:
        home = shootouts.get_shootout(session, slug).id
        made |= {
            "overrule_id": overrules.add_overrule(
                session, {**pair, **told, "reason": "meant", "made_at": now}
            ),
            "round_id": shootouts.list_rounds(session, home)[0].id,
            "price_id": lineup.add_price(
                session,
                lineup.setup_home(session, a),
                {"kind": "list", "amount": Decimal(10), "currency": "EUR", "dated": now.date()},
            ),
            "trial_id": outputs.add_trial(
                session,
                {
                    **told,
                    "task_id": parade,
                    "setup_id": a,
                    "kind": "scrub",
                    "grade": "slow",
                    "noted_at": now,
                },
            ),
            "trouble_id": outputs.add_trouble(
                session,
                {**told, "task_id": parade, "setup_id": a, "kind": "crash", "noted_at": now},
            ),
            "mark_id": runs.add_mark(session, run, {"elapsed_s": 60.0, "fraction": 0.2}),
            "judgement_id": judgements.add_judgement(
                session,
                {
                    **told,
                    "task_id": parade,
                    "setup_id": a,
                    "judged_as": "looked at",
                    "part": "output",
                    "noted_at": now,
                },
            ),
            "ratio_id": ratios.add_ratio(
                session,
                {
                    **told,
                    "task_id": parade,
                    "setup_id": a,
                    "against_id": b,
                    "typed": "2x",
                    "source": "a forum",
                    "noted_at": now,
                },
            ),
            "inquiry_id": inquiries.add_inquiry(
                session,
                home,
                {
                    **pair,
                    **told,
                    "kind": "noise",
                    "about": "A",
                    "suspected": "heat",
                    "opened_at": now,
                },
            ),
            "figure_id": inquiries.add_published(
                session,
                home,
                {
                    **pair,
                    **told,
                    "kind": "times as fast",
                    "value": 1.2,
                    "source": "a page",
                    "noted_at": now,
                },
            ),
            "timeline_id": insert_row(session, TimelineRow, {"shootout_id": home, "name": "Cut"}),
            "picture_id": insert_row(
                session,
                RunPictureRow,
                {
                    **told,
                    "run_id": run,
                    "name": "shot",
                    "media_type": "image/png",
                    "content": b"png",
                    "size": 3,
                    "added_at": now,
                },
            ),
            "sent_id": sent.add_sent(
                session,
                {
                    "shootout_id": home,
                    "digest": "0" * 64,
                    "content": {"model": "A", "made_at": now.isoformat(), "tasks": []},
                    "sealed": True,
                    "received_at": now,
                    "received_by": "Marit",
                    "state": "new",
                },
            ),
            "report_id": reports.add_report(session, home, 1, now),
            "link_id": editions.add_link(session, home, uuid4().hex),
            "clip_id": clips.add_clip(
                session,
                home,
                {
                    "card_id": made["card_id"],
                    "name": "a-card",
                    "asked": {"kind": "mp4"},
                    "revision": 1,
                },
                now,
            ),
        }
    return {name: str(value) for name, value in made.items()}
