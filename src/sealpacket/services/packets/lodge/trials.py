"""Trying a sheet: a sample packet plays a whole life at a desk made from it, and nothing goes to the real one."""

from __future__ import annotations

import secrets
from collections.abc import Sequence
from datetime import UTC, datetime, timedelta
from typing import Any

from sqlalchemy import delete

from sealpacket.app.context import Actor, AppContext
from sealpacket.channels import DeskAway, DeskRefused, Login, Parcel, open_desk
from sealpacket.core.coverage import Need
from sealpacket.core.errors import (
    Conflict,
    DatabaseUnreachable,
    NotFound,
    ProblemError,
    Unavailable,
)
from sealpacket.core.sheets import (
    Sample,
    Sheet,
    read_reference,
    refused,
    sample_packet,
)
from sealpacket.core.sheets.facts import WRITTEN_FACTS
from sealpacket.core.words import joined
from sealpacket.services.coverage import logins_of, rule_for
from sealpacket.services.desks import usable
from sealpacket.services.packets.facts import facts_of, people_of
from sealpacket.services.packets.lodge.deliveries import login_of
from sealpacket.services.packets.lodge.trial_course import play
from sealpacket.services.packets.schemas import TrialShown
from sealpacket.services.register import KINDS
from sealpacket.store.models import Packet, Trial

TRY = "try_sheet"
_UNFORESEEN = {
    "detail": "The trial met an error that was not foreseen.", "remedy": "Look into the worker's log.",
    "code": "unforeseen",
}  # fmt: skip


def try_sheet(
    app: AppContext,
    actor: Actor,
    text: str,
    *,
    asset: str,
    need: Need,
    seed: int,
    recorded: Sequence[tuple[str, str]] = (),
) -> TrialShown:
    """Have the worker play a whole life of a sample packet at a desk made from this sheet; see `trial`.

    `recorded` are things that the desk has really said, by name: the sheet has to understand each.

    With an asset the sample is about it, and is lodged at the stand-in that is configured as well. Raises Conflict
    where none is: a sample is never sent to a real desk.
    """
    sheet = usable(text)
    if asset:
        _stand_in(app, sheet)
    with app.transaction(actor, "sheet tried", f"desk {sheet.desk}", seed=seed) as tx:
        if asset:
            KINDS["asset"].find(tx.session, asset)
        made = Trial(
            account_id=actor.account_id,
            wish={
                "yaml": text,
                "asset": asset,
                "need": need,
                "seed": seed,
                "recorded": [list(one) for one in recorded],
            },
        )
        tx.session.add(made)
        tx.session.flush()
        app.enqueue(tx.session, TRY, {"trial": made.id}, made.id)
        return _shown(made)


def trial(app: AppContext, actor: Actor, ident: str) -> TrialShown:
    """The result of a trial. Raises the ProblemError that prevented it."""
    with app.database.transaction() as session:
        made = session.get(Trial, ident)
        if made is None or made.account_id != actor.account_id:
            raise NotFound(
                "There is no such trial, or it has been deleted.", "Try the sheet again."
            )
        problem = (made.result or {}).get("problem")
        if problem:
            raise Unavailable(problem["detail"], problem["remedy"], code=problem["code"])
        return _shown(made)


def _shown(made: Trial) -> TrialShown:
    empty: dict[str, Any] = {
        "status_text": "",
        "reference": None,
        "refusals": [],
        "cases": 0,
        "sent": None,
        "steps": [],
    }
    return TrialShown(id=made.id, done=made.result is not None, **(empty | (made.result or {})))


def run_trial(app: AppContext, ident: str) -> None:
    """Make a trial. The worker calls this."""
    with app.database.transaction() as session:
        made = session.get(Trial, ident)
        if made is None or made.result is not None:
            return
        wish = dict(made.wish)
    try:
        result = _tried(app, wish)
    except DatabaseUnreachable:
        raise
    except ProblemError as problem:
        result = {
            "problem": {"detail": problem.detail, "remedy": problem.remedy, "code": problem.code}
        }
    except Exception:
        _keep(app, ident, {"problem": _UNFORESEEN})
        raise
    _keep(app, ident, result)


def _keep(app: AppContext, ident: str, result: dict[str, Any]) -> None:
    with app.database.transaction() as session:
        session.get_one(Trial, ident).result = result


def forget_trials(app: AppContext) -> None:
    """Forget trials of yesterday and before."""
    with app.database.transaction() as session:
        session.execute(delete(Trial).where(Trial.at < datetime.now(UTC) - timedelta(days=1)))


def _stand_in(app: AppContext, sheet: Sheet) -> str:
    address = app.settings.stand_ins.get(sheet.desk)
    if not address:
        raise Conflict(
            f"No stand-in is configured for {sheet.desk}.",
            "Set its address in SEALPACKET_STAND_INS, or try the sheet without an asset; a sample is never sent to the "
            "desk itself.",
            code="no-stand-in",
        )
    return address


def _tried(app: AppContext, wish: dict[str, Any]) -> dict[str, Any]:
    sheet = usable(wish["yaml"])
    if not wish["asset"]:
        kind = sheet.kind(wish["need"]) or sheet.kinds[0]
        known = {"packet.need": kind.need, "ruling.route": kind.routes[0]}
        return _played(sheet, sample_packet(sheet, wish["seed"], known), wish["recorded"])
    sample, login, number = _sample(app, sheet, wish["asset"], wish["need"], wish["seed"])
    return _played(sheet, sample, wish["recorded"]) | _lodged(app, sheet, sample, login, number)


def _played(sheet: Sheet, sample: Sample, recorded: Sequence[Any]) -> dict[str, Any]:
    """A whole life at a desk that is made from the sheet."""
    steps = play(sheet, sample, [(name, text) for name, text in recorded])
    failed = [step.act for step in steps if step.ok is False]
    words = f"It fails: {joined(failed)}." if failed else "It plays to its end."
    return {
        "sent": sample.cases[0].body,
        "cases": len(sample.cases),
        "reference": None,
        "refusals": [],
        "status_text": words,
        "steps": [step.model_dump() for step in steps],
    }


def _lodged(
    app: AppContext, sheet: Sheet, sample: Sample, login: Login, number: str
) -> dict[str, Any]:
    """The answer of the configured stand-in."""
    try:
        with open_desk(sheet, _stand_in(app, sheet), login) as desk:
            said = [
                desk.lodge(Parcel(f"{number}/{place}", number, case, []))
                for place, case in enumerate(sample.cases)
            ]
    except DeskRefused as refusal:
        reasons = [reason.model_dump() for reason in refused(sheet, refusal.body, refusal.status)]
        return {
            "refusals": reasons,
            "status_text": f"The stand-in refuses it ({refusal.status}).",
        }
    except DeskAway as away:
        raise Unavailable(
            str(away), "Start the stand-in, then try again.", code="desk-away"
        ) from away
    references = [read_reference(sheet, answer) for answer in said if answer is not None]
    words = "The stand-in takes it." if references else "It was sent; the stand-in answers later."
    return {"reference": ", ".join(references) or None, "status_text": words}


def _sample(
    app: AppContext, sheet: Sheet, asset: str, need: Need, seed: int
) -> tuple[Sample, Login, str]:
    number = f"T-{secrets.randbelow(10**6):06d}"
    with app.database.transaction() as session, session.no_autoflush:
        thing = KINDS["asset"].find(session, asset)
        login = next(iter(logins_of(session, thing.vendor_id)), None)
        ruling = rule_for(session, thing, need, datetime.now(UTC).date(), login)
        packet = Packet(
            number=number,
            title="A sample of what goes wrong",
            need=need,
            noted_by="",
            answers={},
            note="A sample: since this morning it does not do what it should; nothing was changed before, "
            "a restart was tried.",
            created_at=datetime.now(UTC),
        )
        packet.asset, packet.login = thing, login
        facts = facts_of(packet, ruling, people_of(session))
        left_out = {"login.person", "site.contact", *WRITTEN_FACTS}
        known = {path: str(fact.value) for path, fact in facts.items() if path not in left_out}
        way = login_of(app, packet)
        session.expunge_all()
    return sample_packet(sheet, seed, known), way, number
