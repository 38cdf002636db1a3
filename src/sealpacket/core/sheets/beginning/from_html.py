"""Fields of a web form, from its page saved as a file. Nothing of the page is run or fetched."""

from __future__ import annotations

from html.parser import HTMLParser
from typing import Any
from urllib.parse import urlsplit

from sealpacket.core.sheets.beginning.fields import Begun, Field

_KINDS = {
    "email": "mail", "tel": "phone", "number": "whole", "date": "date", "datetime-local": "datetime",
    "checkbox": "boolean",
}  # fmt: skip
_NOTHING = ("submit", "button", "reset", "image", "hidden", "password", "search")


def from_html(text: str) -> Begun:
    """The fields of the form with the most of them."""
    page = _Page()
    page.feed(text)
    forms = [form for form in page.forms if form.fields]
    if not forms:
        return Begun("form", [])
    form = max(forms, key=lambda one: len(one.fields))
    fields = [_named(one, ident, page.labels) for one, ident in form.fields.values()]
    path = urlsplit(form.action).path
    send: dict[str, Any] = {"lodge": path} if path.startswith("/") else {}
    if form.file:
        send["files"] = {"sent": "with", "by": "multipart", "field": form.file}
    return Begun("form", fields, send=send, files=bool(form.file))


def _named(one: Field, ident: str, labels: dict[str, str]) -> Field:
    one.label = one.label or " ".join(labels.get(ident, "").split()).rstrip("*: ")
    return one


class _Form:
    def __init__(self, action: str) -> None:
        self.action, self.file = action, ""
        self.fields: dict[str, tuple[Field, str]] = {}


class _Page(HTMLParser):
    """Collects forms, their fields and labels."""

    def __init__(self) -> None:
        super().__init__()
        self.forms = [_Form("")]
        self.labels: dict[str, str] = {}
        self._label: str | None = None
        self._inside: list[str] = []
        self._select: Field | None = None
        self._option: str | None = None

    def handle_starttag(self, tag: str, attrs: list[tuple[str, str | None]]) -> None:
        """See HTMLParser."""
        given = {name: value or "" for name, value in attrs}
        match tag:
            case "form":
                self.forms.append(_Form(given.get("action", "")))
            case "label":
                self._label = given.get("for", "")
                self._inside = []
                self.labels.setdefault(self._label, "")
            case "input" | "textarea" | "select":
                self._add(tag, given, {name for name, _ in attrs})
            case "option" if self._select is not None:
                self._option = given.get("value", "\0")
                if self._option not in ("", "\0"):
                    self._select.choices.append((self._option, ""))

    def handle_endtag(self, tag: str) -> None:
        """See HTMLParser."""
        match tag:
            case "form":
                self.forms.append(_Form(""))
            case "label":
                for ident in self._inside:
                    self.labels.setdefault(ident, self.labels.get("", ""))
                if self._label == "":
                    self.labels.pop("", None)
                self._label = None
            case "select":
                self._select = None
            case "option":
                self._option = None

    def handle_data(self, data: str) -> None:
        """See HTMLParser."""
        if self._label is not None and self._select is None:
            self.labels[self._label] = self.labels.get(self._label, "") + data
        if self._select is None or self._option is None or not data.strip():
            return
        if self._option == "\0":
            self._select.choices.append((data.strip(), data.strip()))
            self._option = data.strip()
        elif self._select.choices and self._select.choices[-1][0] == self._option:
            self._select.choices[-1] = (self._option, data.strip())

    def _add(self, tag: str, given: dict[str, str], names: set[str]) -> None:
        name, kind = given.get("name", ""), given.get("type", "text").lower()
        form = self.forms[-1]
        if not name or (tag == "input" and kind in _NOTHING):
            return
        if tag == "input" and kind == "file":
            form.file = form.file or name
            return
        ident = given.get("id", "") or f"\0{name}"
        if self._label == "":
            self._inside.append(ident)
        if tag == "input" and kind == "radio":
            known = form.fields.setdefault(name, (Field(name, name, "choice"), ident))[0]
            known.choices.append((given.get("value", ""), given.get("value", "")))
            known.required |= "required" in names
            return
        field = Field(
            name, given.get("aria-label", ""), _KINDS.get(kind, "text"), "required" in names
        )
        field.max_length = int(given["maxlength"]) if given.get("maxlength", "").isdigit() else None
        field.min_length = int(given["minlength"]) if given.get("minlength", "").isdigit() else None
        field.pattern, field.example = (
            given.get("pattern", ""),
            given.get("placeholder", "") if given.get("pattern") else "",
        )
        if tag == "textarea":
            field.kind = "long"
        if tag == "select":
            field.kind = "several" if "multiple" in names else "choice"
            self._select = field
        form.fields[name] = (field, ident)
