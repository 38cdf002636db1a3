"""Why a desk refuses: its own reasons, each with the remedy that the sheet knows."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from pydantic import BaseModel, ConfigDict

from sealpacket.core.sheets.model import Sheet
from sealpacket.core.sheets.reply_rules import Remedy
from sealpacket.core.sheets.trees import all_at, facts_in, read_at, with_parts


class Refusal(BaseModel):
    """One reason for which the desk refused, with what to do; `known` if the sheet has a remedy for it."""

    model_config = ConfigDict(frozen=True)

    code: str
    text: str
    cure: str
    act: str
    known: bool = True


def read_refusals(sheet: Sheet, body: Any, status: int = 0) -> tuple[Refusal, ...]:
    """The desk's reasons, each with the remedy that the sheet knows; `status` is that of its answer over HTTP."""
    rules = sheet.replies.refusals_by_status.get(str(status), sheet.replies.refusals)
    if rules is None or body is None:
        return ()
    body = with_parts(sheet, body)
    found: list[Refusal] = []
    for item in all_at(rules.list, body):
        said = str(read_at(rules.text, item) or "")
        code = str(read_at(rules.code, item) or "")
        if not rules.code and said:
            code = f"http-{status}" if status else "refused"
        code, text = code or "unknown", f"{rules.opening} {said}".strip() if said else ""
        remedy = _remedy(rules.remedies, code)
        found.append(
            Refusal(
                code=code,
                text=text,
                cure=remedy.remedy
                if remedy
                else "Read the desk's reason, mend the packet and lodge it again.",
                act=(remedy.act or "") if remedy else "",
                known=remedy is not None,
            )
        )
    return tuple(found)


def refused(sheet: Sheet, body: Any, status: int) -> tuple[Refusal, ...]:
    """Why a desk refused over HTTP: its own reasons; else what its status says (RFC 9110), and facts beside it."""
    reasons = tuple(
        one
        for one in read_refusals(sheet, body, status)
        if one.known or one.text or one.code != "unknown"
    )
    if reasons:
        return reasons
    facts = facts_in(sheet, body) if body is not None else {}
    said, cure = _BY_STATUS.get(_LIKE.get(status, status), _NO_REASON)
    told = "".join(f" {label}: {value}." for label, value in facts.items())
    text = f"{said} (HTTP {status}).{told}"
    return (Refusal(code=f"http-{status}", text=text, cure=cure, act="", known=False),)


_NO_REASON = (
    "The desk gave no reason that can be read",
    "Ask the desk, then mend the packet and lodge it again.",
)
_BY_STATUS = {
    401: (
        "The desk does not accept our sign-in",
        "Nothing of the packet is wrong: have the secret of its login put right, then reopen and lodge it again.",
    ),
    404: (
        "The desk has nothing at the address to which cases go",
        "Check its address in SEALPACKET_DESKS and `send.lodge` in its sheet.",
    ),
    409: (
        "The desk says that it does not go together with something that it has",
        "See whether it has a case of the same thing already, then mend the packet and lodge it again.",
    ),
    413: (
        "The desk does not take so much at once",
        "Take an exhibit out, or cut the logs to the hours that matter.",
    ),
}
_LIKE = {403: 401, 405: 404, 410: 404}


def _remedy(remedies: Mapping[str, Remedy], code: str) -> Remedy | None:
    """The remedy of a code, or of the longest beginning that the sheet names with a star."""
    if code in remedies:
        return remedies[code]
    fitting = [
        name for name in remedies if name.endswith("*") and code.startswith(name.removesuffix("*"))
    ]
    return remedies[max(fitting, key=len)] if fitting else None
