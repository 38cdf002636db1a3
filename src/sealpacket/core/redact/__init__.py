"""Redaction: find what must not leave, put placeholders in its place, and prove that none of it is left.

catalogue = Catalogue.build(terms=[...], keep={...}, domains=[...])
outcome = Outcome()
for block in redact(source, catalogue, Placeholders(scope_key), outcome):
    outgoing.write(block)
leaks = leak_check(outgoing_blocks, outcome.legend)
"""

from sealpacket.core.redact.catalogue import Catalogue
from sealpacket.core.redact.engine import Held, Outcome, redact
from sealpacket.core.redact.leakcheck import Blind, Leak, LeakReport, check_file, leak_check
from sealpacket.core.redact.legend import Legend
from sealpacket.core.redact.placeholders import Placeholders
from sealpacket.core.redact.terms import Term, host_terms, person_terms

__all__ = [
    "Blind",
    "Catalogue",
    "Held",
    "Leak",
    "LeakReport",
    "Legend",
    "Outcome",
    "Placeholders",
    "Term",
    "check_file",
    "host_terms",
    "leak_check",
    "person_terms",
    "redact",
]
