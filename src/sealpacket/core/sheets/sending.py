"""How a packet is written and sent, and how the desk answers: the parts of a sheet for each channel."""

from __future__ import annotations

from typing import Annotated, Any, Literal

from pydantic import Field

from sealpacket.core.sheets.asking import Condition, Part

JsonPath = str
LARGEST_SCHEMA = 200_000


class AsJson(Part):
    """A JSON tree."""

    form: Literal["json"]
    body: dict[str, Any]


class AsForm(Part):
    """The fields of a form, one text each."""

    form: Literal["form"]
    body: dict[str, Any]


class AsXml(Part):
    """One XML document (1.0). In the body `@name` is an attribute, a list repeats its element, `#text` is the text."""

    form: Literal["xml"]
    root: str = Field(pattern=r"^[A-Za-z_][A-Za-z0-9_.-]{0,60}$")
    namespace: str = ""
    body: dict[str, Any]
    xsd: str = Field(
        max_length=LARGEST_SCHEMA,
        description="The desk's XML Schema (XSD 1.0): every packet is checked against it.",
    )


class AsMail(Part):
    """A mail (RFC 5322, MIME): its subject, some words, and a block of labelled lines."""

    form: Literal["mail"]
    subject: str = Field(
        max_length=300, description="With facts and answers in braces: [care] {asset.serial}."
    )
    opening: str = Field(
        "", description="Words before the block, with facts and answers in braces."
    )
    first_line: str = Field(
        "", max_length=100, description="The line that begins the block, if the desk looks for one."
    )
    last_line: str = Field("", max_length=100, description="The line that ends it.")
    body: dict[str, Any] = Field(description="By label, what stands behind its colon.")


class Table(Part):
    """A list that goes with a form, as CSV (RFC 4180)."""

    name: str = Field(max_length=120, description="The file's name, with facts in braces.")
    rows: str = Field(description="The question whose rows are listed.")
    columns: dict[str, Any] = Field(
        description="By heading, what stands below it: {take: row.part}, {take: asset.serial}."
    )


class AsPdf(Part):
    """A PDF form (AcroForm) with its fields filled, and perhaps a list beside it."""

    form: Literal["pdf"]
    name: str = Field(max_length=120, description="The file's name, with facts in braces.")
    blank: str = Field(max_length=700_000, description="The desk's empty form, a PDF in base64.")
    body: dict[str, Any] = Field(description="By field of the form, its text; true ticks a box.")
    table: Table | None = None


Writing = Annotated[AsJson | AsForm | AsXml | AsMail | AsPdf, Field(discriminator="form")]
"""How the packet is written; `{take: path}` stands for a value."""


class OverHttp(Part):
    """Paths are below the desk's address, which is configured, never part of a sheet."""

    sign_in: Literal["bearer", "basic"] = Field(
        "bearer",
        description="The login's secret as bearer token (RFC 6750), or its name and secret (RFC 7617).",
    )
    lodge: str = Field(pattern=r"^/")
    follow: str = Field(pattern=r"^/")
    answer: str = Field(pattern=r"^/")
    answer_body: dict[str, Any]


class HttpJson(OverHttp):
    """JSON over HTTP; attachments by tus 1.0 before it, if the desk takes any."""

    channel: Literal["http_json"]
    uploads: str | None = Field(
        None, pattern=r"^/", description="Where tus 1.0 uploads are created."
    )


class HttpForm(OverHttp):
    """One form with its attachments (multipart/form-data, RFC 7578)."""

    channel: Literal["http_form"]
    files: str = Field(
        pattern=r"^[A-Za-z][A-Za-z0-9_.-]{0,39}$", description="The form's field for attachments."
    )


class HttpXml(OverHttp):
    """An XML document over HTTP; attachments are put one by one below the case, which is released by them."""

    channel: Literal["http_xml"]
    files: str = Field(
        pattern=r"^/",
        description="Where each attachment is put: a path with {reference} and {name}.",
    )
    answer_root: str = Field("answer", pattern=r"^[A-Za-z_][A-Za-z0-9_.-]{0,60}$")


class ByMail(Part):
    """SMTP both ways: out by the house's mail server to the desk's address, in by the house's mail gate."""

    channel: Literal["mail"]
    answer_opening: str = Field(
        "", description="Words before each answer of ours, with {reference}."
    )


class BySftp(Part):
    """Files left in a folder of the desk's SFTP server, and its papers picked up in another."""

    channel: Literal["sftp"]
    drop: str = Field(
        pattern=r"^[A-Za-z0-9_][A-Za-z0-9_/-]{0,80}$", description="The folder for our files."
    )
    pick_up: str = Field(
        pattern=r"^[A-Za-z0-9_][A-Za-z0-9_/-]{0,80}$", description="The folder with its papers."
    )
    answer_name: str = Field(
        "{reference}-{message}.txt", description="The name of a file with an answer of ours."
    )


Sending = Annotated[HttpJson | HttpForm | HttpXml | ByMail | BySftp, Field(discriminator="channel")]
"""How it is sent."""

FORMS_OF_CHANNELS = {
    "http_json": "json",
    "http_form": "form",
    "http_xml": "xml",
    "mail": "mail",
    "sftp": "pdf",
}
"""By channel, the form in which a packet is written for it."""


class StatusWord(Part):
    """What one of the desk's status words means for us."""

    life: Literal["lodged", "answered", "settled", "refused"]
    turn: Literal["ours", "vendor"]


class Messages(Part):
    """Where the desk's messages stand in what it says of a case."""

    each: JsonPath
    id: JsonPath
    text: JsonPath
    at: JsonPath
    asks: JsonPath
    files: JsonPath | None = Field(
        None, description="Names of what is attached to a message; told below its text."
    )


class Cure(Part):
    """What to do about a refusal."""

    sentence: str
    act: str = ""


class Refusals(Part):
    """Where reasons stand in a refusal, and what cures each."""

    each: JsonPath
    code: JsonPath
    text: JsonPath
    cures: dict[str, Cure] = {}


class Told(Part):
    """Something else that the desk tells, such as an RMA or a tracking number."""

    label: str = Field(max_length=60)
    take: JsonPath


class Replies(Part):
    """How the desk answers. What it says is read as one tree (see `read`), and its parts by JSONPath (RFC 9535)."""

    by: Literal["polling", "webhook", "mail", "drop"] = Field(
        "polling",
        description="We ask; it calls us (and we ask as well); it writes; it leaves papers in a folder.",
    )
    read: Literal["json", "xml", "labels"] = Field(
        "json", description="labels: lines such as `Case: 12`, the text after them under `text`."
    )
    reference: JsonPath
    ours: JsonPath = Field(
        "", description="Where our own number stands, in what a desk sends of its own accord."
    )
    status: JsonPath
    words: dict[str, StatusWord]
    messages: Messages
    refusals: Refusals
    told: tuple[Told, ...] = ()
    signature: str = Field(
        "",
        max_length=60,
        description="Of a webhook: the header with the HMAC-SHA256 (hex) of its body.",
    )


class SplitBy(Part):
    """One packet becomes several cases, lodged together."""

    question: str = Field(
        description="The question with rows (or several choices): each makes a case."
    )
    label: str = Field(description="What a case is called, from its row: {row.region}.")


class Naming(Part):
    """How files are called and packed. In braces: facts, {name}, {stem}, {ending} and {number} of the file."""

    each: str = Field("{name}", max_length=120, description="What a file is called at the desk.")
    archive: str = Field(
        "", max_length=120, description="One ZIP of that name holds them all; empty: one by one."
    )


class Attachments(Part):
    """What the desk takes as attachments. Sizes are bytes."""

    most: int = Field(ge=0, description="How many; of an archive, how many in it.")
    each: int = Field(gt=0, description="Bytes of one.")
    together: int = Field(gt=0, description="Bytes of all, or of the archive.")
    endings: tuple[str, ...] = Field(
        (), description="Allowed endings of the name, such as .log; empty allows all."
    )
    naming: Naming = Naming()
    encrypt_to: str = Field(
        "",
        max_length=20_000,
        description="The desk's certificate (PEM): each file goes as CMS (RFC 5652) for it alone.",
    )


class Evidence(Part):
    """What the desk wants to see, for some kinds and categories."""

    what: str = Field(max_length=200, description="In words: the controllers' log.")
    when: bool | Condition = True
    kit: str = Field("", description="The probe kit that gathers it.")
    endings: tuple[str, ...] = Field((), description="How its file ends; empty: any file will do.")
    names: str = Field(
        "", max_length=200, description="RE2 for its name, if the desk knows it by that."
    )
    hours_before: int = Field(
        0, ge=0, le=720, description="How long before the event it has to begin."
    )
    hours_after: int = Field(0, ge=0, le=720)
    required: bool = False
