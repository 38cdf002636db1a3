"""From a packet's body to what goes out: a document, a mail, a filled form; archives, names and envelopes of files."""

from sealpacket.core.sheets.writing.cases import Case, cases_of
from sealpacket.core.sheets.writing.envelope import seal_to
from sealpacket.core.sheets.writing.files import names_of
from sealpacket.core.sheets.writing.mail import Letter, letter_of
from sealpacket.core.sheets.writing.pdf import fields_of, fill_form
from sealpacket.core.sheets.writing.table import csv_of
from sealpacket.core.sheets.writing.written import Written, write_case, written_faults
from sealpacket.core.sheets.writing.xml import to_tree, to_xml, xsd_faults

__all__ = [
    "Case", "Letter", "Written", "cases_of", "csv_of", "fields_of", "fill_form", "letter_of", "names_of", "seal_to",
    "to_tree", "to_xml", "write_case", "written_faults", "xsd_faults",
]  # fmt: skip
