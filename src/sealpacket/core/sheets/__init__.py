"""Desk sheets: what a desk asks, what it limits, how a packet is written for it and how its replies are read."""

from sealpacket.core.sheets.answers import (
    Answer,
    Fact,
    Facts,
    People,
    answer_fault,
    answers_for,
    known_for,
    severity_of,
)
from sealpacket.core.sheets.asking import Condition, Question
from sealpacket.core.sheets.checks import Check, ExhibitState, Seen, Typed, check_packet, say_size
from sealpacket.core.sheets.conditions import holds, sentence
from sealpacket.core.sheets.difference import SheetDifference, differences
from sealpacket.core.sheets.facts import FACTS
from sealpacket.core.sheets.hours import open_again
from sealpacket.core.sheets.lint import Finding, has_stops, lint
from sealpacket.core.sheets.loading import load_sheet
from sealpacket.core.sheets.model import Sheet, sheet_schema
from sealpacket.core.sheets.outgoing import TypedText, outgoing_values, redacted_texts, typed_texts
from sealpacket.core.sheets.refusing import Refusal, read_refusals, refused
from sealpacket.core.sheets.rendering import fill, render
from sealpacket.core.sheets.replies import (
    CaseNews,
    ReadReply,
    find_number,
    has_reference,
    read_all,
    read_case,
    read_given,
    read_reference,
)
from sealpacket.core.sheets.sampling import Sample, sample_packet, sample_values
from sealpacket.core.sheets.sending import ByHand, ByMail, BySftp, HandWay, OverHttp
from sealpacket.core.sheets.trees import read_reply
from sealpacket.core.sheets.updates import TELLS, UpdateKind, words_of
from sealpacket.core.sheets.values import OutgoingValues
from sealpacket.core.sheets.writing import Case, Written, cases_of, names_of, seal_to, write_case

__all__ = [
    "FACTS",
    "TELLS",
    "Answer",
    "ByHand",
    "ByMail",
    "BySftp",
    "Case",
    "CaseNews",
    "Check",
    "Condition",
    "ExhibitState",
    "Fact",
    "Facts",
    "Finding",
    "HandWay",
    "OutgoingValues",
    "OverHttp",
    "People",
    "Question",
    "ReadReply",
    "Refusal",
    "Sample",
    "Seen",
    "Sheet",
    "SheetDifference",
    "Typed",
    "TypedText",
    "UpdateKind",
    "Written",
    "answer_fault",
    "answers_for",
    "cases_of",
    "check_packet",
    "differences",
    "fill",
    "find_number",
    "has_reference",
    "has_stops",
    "holds",
    "known_for",
    "lint",
    "load_sheet",
    "names_of",
    "open_again",
    "outgoing_values",
    "read_all",
    "read_case",
    "read_given",
    "read_reference",
    "read_refusals",
    "read_reply",
    "redacted_texts",
    "refused",
    "render",
    "sample_packet",
    "sample_values",
    "say_size",
    "seal_to",
    "sentence",
    "severity_of",
    "sheet_schema",
    "typed_texts",
    "words_of",
    "write_case",
]  # fmt: skip
