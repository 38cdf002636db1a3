"""The forms that an answer can have. Every answer is kept as text; its form checks it and takes it apart."""

from sealpacket.core.sheets.forms.base import AnswerForm, Known
from sealpacket.core.sheets.forms.choosing import Choosing, Consent, Several
from sealpacket.core.sheets.forms.numbers import Number, Version, Versions
from sealpacket.core.sheets.forms.people import Mail, People, Person, Phone
from sealpacket.core.sheets.forms.places import Address, Country, Language, State
from sealpacket.core.sheets.forms.rows import Rows
from sealpacket.core.sheets.forms.texts import Steps, Text
from sealpacket.core.sheets.forms.times import Date, Moment, Zone

FORMS: dict[str, AnswerForm] = {
    "text": Text(), "long": Text(), "steps": Steps(), "choice": Choosing(), "several": Several(), "tree": Choosing(),
    "number": Number(), "date": Date(), "moment": Moment(), "zone": Zone(), "version": Version(),
    "versions": Versions(), "consent": Consent(), "address": Address(), "country": Country(), "state": State(),
    "phone": Phone(), "mail": Mail(), "language": Language(), "person": Person(), "people": People(), "rows": Rows(),
}  # fmt: skip
"""By the name of the form."""

__all__ = ["FORMS", "AnswerForm", "Known"]
