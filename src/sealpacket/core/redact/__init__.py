"""Redaction: find what must not leave, put placeholders in its place, and prove that none of it is left.

catalogue = Catalogue.build(terms=[...], keep={...}, domains=[...])
outcome = Outcome()
for block in redact(source, catalogue, Placeholders(scope_key), outcome):
    outgoing.write(block)
leaks = leak_check(outgoing_blocks, outcome.legend)
"""

from sealpacket.core.redact.engine import Held, Outcome, redact
from sealpacket.core.redact.known import Term, host_terms, person_terms
from sealpacket.core.redact.pseudonyms import Legend, Placeholders
from sealpacket.core.redact.search import Catalogue
from sealpacket.core.redact.verify import Blind, Leak, LeakReport, check_file, leak_check

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
