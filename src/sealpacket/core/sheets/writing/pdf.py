"""PDF forms (AcroForm, ISO 32000): which fields a blank has, and filling them. pypdf is loaded when it is needed."""

from __future__ import annotations

import base64
import io
from collections.abc import Mapping
from dataclasses import dataclass, field
from functools import lru_cache
from typing import TYPE_CHECKING, Any, Literal

from sealpacket.core.errors import Invalid
from sealpacket.core.sheets.conversion import plain

if TYPE_CHECKING:
    from pypdf import PdfReader, PdfWriter


def _bad() -> tuple[type[Exception], ...]:
    """The errors that pypdf raises for a broken PDF."""
    from pypdf.errors import PyPdfError

    return PyPdfError, ValueError, KeyError, TypeError, AttributeError, RecursionError, IndexError


def _open(blank: str) -> PdfReader:
    from pypdf import PdfReader

    try:
        data = base64.b64decode("".join(blank.split()), validate=True)
        reader = PdfReader(io.BytesIO(data), strict=False)
        if reader.is_encrypted or len(reader.pages) > 40:
            raise ValueError("locked or too long")
    except _bad() as error:  # binascii.Error is a ValueError
        raise Invalid(
            "The blank is not a readable PDF.",
            "Put the desk's empty form there in base64.",
            code="pdf-blank",
        ) from error
    return reader


def form_fields(blank: str) -> dict[str, Any]:
    """The fields of a blank (base64) as its own dictionaries. Raises Invalid if it is no PDF."""
    try:
        return dict(_open(blank).get_fields() or {})
    except _bad() as error:
        raise Invalid(
            "The fields of the blank cannot be read.",
            "Save the form again, without scripts.",
            code="pdf-blank",
        ) from error


@dataclass(frozen=True)
class FormField:
    """A field of a form: its sort, and what it can hold.

    `takes` are the states of a tick box or of round buttons without Off, or what a choice is written as, each with what
    is shown for it. A choice that is `open` takes other texts as well.
    """

    sort: Literal["text", "tick", "choice"]
    takes: Mapping[str, str] = field(default_factory=dict)
    open: bool = True

    def held(self, value: Any) -> str:
        """The content of a field once the value is written into it. Raises ValueError for a value that it cannot
        hold."""
        text = plain(value)
        if self.sort == "text":
            return text
        wanted = text.strip().removeprefix("/").casefold()
        for takes, shown in self.takes.items():
            if wanted in (takes.casefold(), shown.casefold()):
                return takes
        if self.sort == "choice":
            if text == "" or self.open:
                return text
            raise ValueError(f"{text} is none of {', '.join(self.takes)}")
        if wanted in _NOT_TICKED:
            return "Off"
        if wanted in _TICKED and len(self.takes) == 1:
            return next(iter(self.takes))
        raise ValueError(f"{text} is none of {', '.join((*self.takes, 'Off'))}")

    def shown(self, held: str) -> str:
        """The text drawn for a field; of a tick box, the name of its state."""
        return f"/{held}" if self.sort == "tick" else self.takes.get(held, held)


_TICKED = frozenset({"yes", "true", "on", "1", "x"})
_NOT_TICKED = frozenset({"no", "false", "off", "0", ""})
_EDITABLE = 1 << 18


@lru_cache(maxsize=8)
def fields_of(blank: str) -> dict[str, FormField]:
    """The fields of a blank (base64) by name. Raises Invalid if it is no PDF."""
    return {name: _field(one) for name, one in form_fields(blank).items()}


def _field(one: Mapping[str, Any]) -> FormField:
    match str(one.get("/FT")):
        case "/Btn":
            states = [str(state).removeprefix("/") for state in one.get("/_States_", [])]
            return FormField(
                "tick", {state: state for state in states if state != "Off"}, open=False
            )
        case "/Ch":
            options = [
                (str(option[0]), str(option[-1]))
                if isinstance(option, list)
                else (str(option),) * 2
                for option in one.get("/Opt", [])
            ]
            is_open = bool(int(one.get("/Ff", 0) or 0) & _EDITABLE) or not options
            return FormField("choice", dict(options), open=is_open)
        case _:
            return FormField("text")


def form_values(blank: str, values: Mapping[str, Any]) -> dict[str, str]:
    """The content of each field once these values are written into the blank form.

    Raises Invalid if the blank is no PDF form, or for a value that names a field that it has not or that its field
    cannot hold.
    """
    fields = fields_of(blank)
    held: dict[str, str] = {}
    for name, value in values.items():
        if name not in fields:
            raise Invalid(
                f"The form has no field {name}.", f"It has: {', '.join(fields)}.", code="pdf-field"
            )
        try:
            held[name] = fields[name].held(value)
        except ValueError as fault:
            raise Invalid(
                f"The form's field {name} cannot hold that: {fault}.",
                "Say in `sends` what the form calls it.",
                code="pdf-value",
            ) from fault
    return held


def fill_form(blank: str, values: Mapping[str, Any]) -> bytes:
    """The blank with its fields filled and not to be changed. The same values give the same bytes.

    Raises Invalid as `form_values`.
    """
    from pypdf import PdfWriter
    from pypdf.generic import ArrayObject, NameObject, NumberObject

    fields, held = fields_of(blank), form_values(blank, values)
    texts = {name: fields[name].shown(one) for name, one in held.items()}
    try:
        writer = PdfWriter(clone_from=_open(blank))
        writer.set_need_appearances_writer(False)
        for page in writer.pages:
            notes = [note.get_object() for note in page.get("/Annots") or []]
            options = [
                (one, one[_OPTIONS]) for note in notes if (one := _with_options(note)) is not None
            ]
            for one, _ in options:  # what draws a choice knows no options with two texts
                one[NameObject(_OPTIONS)] = ArrayObject([_last(option) for option in one[_OPTIONS]])
            writer.update_page_form_field_values(page, texts, auto_regenerate=False)
            for one, before in options:
                one[NameObject(_OPTIONS)] = before
            for note in notes:
                note[NameObject("/Ff")] = NumberObject(int(note.get("/Ff", 0)) | 1)
        _hold(writer, {name: one for name, one in held.items() if fields[name].sort == "choice"})
        out = io.BytesIO()
        writer.write(out)
        return out.getvalue()
    except _bad() as error:
        raise Invalid(
            "The form cannot be filled.", "Save the form again, without scripts.", code="pdf-blank"
        ) from error


_OPTIONS = "/Opt"


def _with_options(note: Any) -> Any:
    """The field of a note on a page that has options with two texts; None if it has none."""
    for one in (note, note["/Parent"].get_object() if "/Parent" in note else None):
        if one is not None and any(isinstance(option, list) for option in one.get(_OPTIONS, [])):
            return one
    return None


def _last(option: Any) -> Any:
    return option[-1] if isinstance(option, list) else option


def _hold(writer: PdfWriter, held: Mapping[str, str]) -> None:
    """Have choices hold what they are written as; what was drawn is what is shown for it."""
    from pypdf.generic import NameObject, TextStringObject

    for name, field_ in (writer.get_fields() or {}).items():
        found = field_.indirect_reference if name in held else None
        if found is not None:
            found.get_object()[NameObject("/V")] = TextStringObject(held[name])
