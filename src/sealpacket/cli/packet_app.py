"""All commands about packets, in the order in which they are needed."""

from __future__ import annotations

from typer.models import CommandInfo

from sealpacket.cli.parts import app

__all__ = ["JOURNEY", "app"]

JOURNEY: dict[str, tuple[str, ...]] = {
    "Looking": ("list", "count", "show", "thread", "record", "similar", "wait"),
    "Drafting": (
        "note", "unlisted", "change", "questions", "answer", "foreseen", "ruling", "checks", "sheet", "solved",
    ),
    "Evidence (see also: sealpacket exhibit, sealpacket kit)": ("tried",),
    "Sealing": ("letter", "ask-release", "seal", "seal-later", "bag", "reopen", "withdraw"),
    "Lodging": ("lodge", "hand", "reference", "try-now", "cancel"),
    "After the reference": (
        "follow", "reply", "comment", "no-question", "take-back", "pass-on", "take-reply", "call", "mark-unwished",
        "file", "severity", "escalate", "contact", "told", "accept", "contest", "rate", "close", "settle", "open-again",
        "ask-for-cure",
        "claim",
        "name-colleague",
        "follow-up",
    ),
    "What follows": (
        "consequences", "take-consequence", "dismiss-consequence", "undo-consequence",
    ),
    "Parts and access": ("ship", "arrived", "receive-unit", "swap-serial", "grant-access", "end-access", "access"),
    "Care": ("hand-over", "take-over", "inform", "together"),
}  # fmt: skip
"""By part of a packet's journey, the commands of that part, as the help lists them."""

_PANELS = {name: part for part, names in JOURNEY.items() for name in names}
_ORDER = [*_PANELS]


def _name(command: CommandInfo) -> str:
    return command.name or str(getattr(command.callback, "__name__", ""))


for _command in app.registered_commands:
    _command.rich_help_panel = _PANELS[_name(_command)]
app.registered_commands.sort(key=lambda command: _ORDER.index(_name(command)))
