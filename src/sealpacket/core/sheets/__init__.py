"""Desk sheets: what a desk asks, how a packet is checked against it, written for it, and its replies read."""

from sealpacket.core.sheets.answers import Answer, Fact, Facts, answers_for
from sealpacket.core.sheets.checks import Check, ExhibitState, check_packet
from sealpacket.core.sheets.lint import FACTS, Finding, lint
from sealpacket.core.sheets.model import HttpForm, HttpJson, Question, Sheet, load_sheet, sheet_schema
from sealpacket.core.sheets.rendering import render
from sealpacket.core.sheets.replies import CaseNews, Refusal, read_case, read_reference, read_refusals
from sealpacket.core.sheets.sampling import Sample, sample_packet

__all__ = [
    "FACTS",
    "Answer",
    "CaseNews",
    "Check",
    "ExhibitState",
    "Fact",
    "Facts",
    "Finding",
    "HttpForm",
    "HttpJson",
    "Question",
    "Refusal",
    "Sample",
    "Sheet",
    "answers_for",
    "check_packet",
    "lint",
    "load_sheet",
    "read_case",
    "read_reference",
    "read_refusals",
    "render",
    "sample_packet",
    "sheet_schema",
]
