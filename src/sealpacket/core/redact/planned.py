"""What a redaction plan comes to for the engine. That of no plan is there without the models of plans being loaded."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass, field

from sealpacket.core.kinds import FLOOR
from sealpacket.core.redact.known import Term
from sealpacket.core.redact.pseudonyms import Style
from sealpacket.core.redact.rules import PUBLIC_HOSTS, REGISTRY, WHEN_ASKED, Detector
from sealpacket.core.redact.search import Catalogue


@dataclass(frozen=True)
class Planned:
    """What happens to each kind, to single values and to hosts, and how copies look; the fields are those of Plan."""

    name: str = ""
    kinds: Mapping[str, str] = field(default_factory=dict)
    allow: tuple[str, ...] = ()
    forbid: tuple[str, ...] = ()
    domains: tuple[str, ...] = ()
    keeps_public_hosts: bool = True
    own: tuple[Detector, ...] = ()
    style: Style = field(default_factory=Style)
    searchable: bool = False

    def catalogue(
        self,
        terms: Iterable[Term] = (),
        keep: Mapping[str, str] | None = None,
        floor: Iterable[str] = FLOOR,
        keep_kinds: Mapping[str, str] | None = None,
        mask_kinds: Iterable[str] = (),
        domains: Iterable[str] = (),
    ) -> Catalogue:
        """The catalogue of this plan. What it would keep below the floor is masked all the same.

        `keep` are further values and `keep_kinds` further kinds that are kept, with the reasons; `mask_kinds` are
        masked though the plan, or `keep_kinds`, would keep them.
        """
        kept = {
            kind: "the plan keeps it" for kind, action in self.kinds.items() if action == "keep"
        } | dict(keep_kinds or {})
        kept = {kind: reason for kind, reason in kept.items() if kind not in {*floor, *mask_kinds}}
        allowed = dict.fromkeys(self.allow, "the plan allows it")
        forbidden = [
            Term("custom", text, text.casefold(), anywhere=len(text) >= 8) for text in self.forbid
        ]
        asked = [
            one
            for one in WHEN_ASKED
            if self.kinds.get(one.kind, "keep") != "keep" or one.kind in mask_kinds
        ]
        drops = {kind: action for kind, action in self.kinds.items() if action.startswith("drop-")}
        shipped = (
            REGISTRY
            if self.keeps_public_hosts
            else tuple(one for one in REGISTRY if one not in PUBLIC_HOSTS)
        )
        return Catalogue.build(
            [*terms, *forbidden],
            {**allowed, **(keep or {})},
            {*self.domains, *domains},
            kept,
            (*self.own, *asked, *shipped),
            floor,
            drops=drops,
        )
