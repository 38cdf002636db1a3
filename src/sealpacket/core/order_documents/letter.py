"""Reading a mail (RFC 5322, MIME): its text as a page of fixed columns, and the PDFs that came with it."""

from __future__ import annotations

import re
from collections.abc import Iterator
from email import message_from_bytes, policy
from email.message import EmailMessage, MIMEPart
from html.parser import HTMLParser

from sealpacket.core.order_documents.page import DocumentFault, Line, Page, Word, line_of

MOST_LINES = 2000
MOST_PARTS = 100
WIDEST = 400
_WORD = re.compile(r"\S+")


def open_mail(content: bytes) -> EmailMessage:
    """Parse a mail. Raises DocumentFault if it is not one."""
    message = message_from_bytes(content, policy=policy.default)
    if not isinstance(message, EmailMessage) or not (message["From"] or message["Subject"]):
        raise DocumentFault(
            "This is not a mail message: it has neither sender nor subject.",
            "Save the mail as .eml.",
        )
    if sum(1 for _ in message.walk()) > MOST_PARTS:
        raise DocumentFault("The mail has too many parts.", "Save only its PDF and send that.")
    return message


def text_page(message: EmailMessage) -> Page:
    """The text of a mail, as one page whose units are columns and lines."""
    rows = [
        f"{name}: {_header(message, name)}" for name in ("From", "Date", "Subject") if message[name]
    ]
    body = message.get_body(("plain", "html"))
    text = _content(body) if body is not None else ""
    if body is not None and body.get_content_subtype() == "html":
        text = _from_html(text)
    rows += [
        "",
        *(row.replace("\t", "  \t").expandtabs(4).rstrip()[:WIDEST] for row in text.splitlines()),
    ]
    rows = rows[:MOST_LINES]
    lines = tuple(_line(row, place) for place, row in enumerate(rows))
    return Page(0, "text", max((len(row) for row in rows), default=1) or 1, len(rows), lines)


def pdfs(message: EmailMessage) -> Iterator[tuple[str, bytes]]:
    """The PDFs that came with it, by name."""
    for part in message.walk():
        name = part.get_filename() or ""
        if part.get_content_type() == "application/pdf" or name.lower().endswith(".pdf"):
            content = part.get_payload(decode=True)
            if isinstance(content, bytes) and content:
                yield name or "attachment.pdf", content


def _header(message: EmailMessage, name: str) -> str:
    return " ".join(str(message[name]).split())[:WIDEST]


def _content(part: MIMEPart) -> str:
    payload = part.get_payload(decode=True)
    if not isinstance(payload, bytes):
        return ""
    charset = part.get_content_charset() or "utf-8"
    try:
        return payload.decode(charset, "replace")
    except LookupError:
        return payload.decode("utf-8", "replace")


def _line(row: str, number: int) -> Line:
    """A line in which more than one space, or a bar, parts two cells."""
    words = [
        Word(match[0], match.start(), number, match.end(), number + 1)
        for match in _WORD.finditer(row)
    ]
    return line_of([word for word in words if word.text != "|"], gap=1)


class _Text(HTMLParser):
    """The words of a page of HTML: rows of tables become lines, their cells stay apart."""

    _ENDS = {"p", "div", "tr", "li", "h1", "h2", "h3", "h4", "table", "ul", "ol", "br"}
    _SILENT = {"script", "style", "head", "title"}

    def __init__(self) -> None:
        super().__init__(convert_charrefs=True)
        self.text: list[str] = []
        self._silent = 0

    def handle_starttag(self, tag: str, attrs: list[tuple[str, str | None]]) -> None:
        """A line or a cell begins."""
        self._silent += tag in self._SILENT
        if tag in self._ENDS:
            self.text.append("\n")
        elif tag in ("td", "th"):
            self.text.append("   ")

    def handle_endtag(self, tag: str) -> None:
        """A line ends."""
        self._silent -= tag in self._SILENT and self._silent > 0
        if tag in self._ENDS:
            self.text.append("\n")

    def handle_data(self, data: str) -> None:
        """Words."""
        if not self._silent:
            self.text.append(re.sub(r"\s+", " ", data))


def _from_html(text: str) -> str:
    parser = _Text()
    parser.feed(text)
    parser.close()
    lines = (line.strip() for line in "".join(parser.text).split("\n"))
    return "\n".join(line for line in lines if line)
