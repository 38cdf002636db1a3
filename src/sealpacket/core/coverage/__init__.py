"""Cover: from candidates to a ruling with its reasons."""

from sealpacket.core.coverage.model import Candidate, Cure, Login, Need, PassedOver, Question, Route, Ruling, Thing
from sealpacket.core.coverage.ruling import rule

__all__ = ["Candidate", "Cure", "Login", "Need", "PassedOver", "Question", "Route", "Ruling", "Thing", "rule"]
