"""How a device is reached, and what a step could not do."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from pathlib import Path

from sealpacket.core.evidence.kits import Step


@dataclass(frozen=True)
class Access:
    """How the device of a kit is reached: its address, the user there, and secrets by name.

    `known_hosts` is an OpenSSH file with its host key, without which no connection is made; `authorities` a PEM file of
    certificate authorities for https, beside the system's. A secret is a password, a private key (PEM), or a token.
    """

    target: str = ""
    port: int = 22
    https_port: int = 443
    user: str = ""
    secrets: Mapping[str, str] = field(default_factory=dict, repr=False)
    known_hosts: Path | None = None
    authorities: Path | None = None

    def address(self, step: Step) -> str:
        """The address that a step gets."""
        host = f"[{self.target}]" if self.target.count(":") > 1 else self.target
        there = host if self.https_port == 443 else f"{host}:{self.https_port}"
        return step.get.replace("{target}", there)


class StepFailed(Exception):
    """A step could not be done; the words say why."""


def too_late(step: Step) -> StepFailed:
    """The error of a step that exceeded its time limit."""
    return StepFailed(f"it took longer than {step.time.total_seconds():g} s")
