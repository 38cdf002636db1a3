"""How a packet is written and sent: the parts of a sheet for each channel."""

from __future__ import annotations

import re
from typing import Annotated, Any, Literal

from pydantic import BeforeValidator, Field, StringConstraints, model_validator

from sealpacket.core.coverage import Need
from sealpacket.core.sheets.asking import Condition, Part
from sealpacket.core.sheets.bodies import Group, Joined, Take
from sealpacket.core.sheets.reply_rules import JsonPath

LARGEST_SCHEMA = 200_000


class _Written(Part):
    """The base of all formats: `body`, or one for each kind of request in `bodies`."""

    body: Group = Field(
        default_factory=dict,
        description="By field, what is written there. Questions with `to` write theirs themselves.",
    )
    bodies: dict[Need, Group] = Field(
        default_factory=dict,
        description="By kind of request, the body that is written instead of `body`.",
    )


class AsJson(_Written):
    """A JSON tree."""

    format: Literal["json"] = Field(description="A JSON tree.")


class AsForm(_Written):
    """The fields of a form, one text each."""

    format: Literal["form"] = Field(description="The fields of a form.")


class AsXml(_Written):
    """One XML document (1.0). In the body `@name` is an attribute, a list repeats its element, `#text` is the text.

    Its elements are written in the order that the schema wants.
    """

    format: Literal["xml"] = Field(description="An XML document.")
    root: str = Field(
        pattern=r"^[A-Za-z_][A-Za-z0-9_.-]{0,60}$", description="The name of the outermost element."
    )
    namespace: str = Field("", description="The namespace of its elements.")
    xsd: str = Field(
        max_length=LARGEST_SCHEMA,
        description="The desk's XML Schema (XSD 1.0): every packet is checked against it.",
    )


class AsMail(_Written):
    """A mail (RFC 5322, MIME): its subject, some words, and a block of labelled lines."""

    format: Literal["mail"] = Field(description="A mail.")
    subject: Annotated[str, StringConstraints(max_length=300)] | Joined = Field(
        description="With facts and answers in braces: [care] {asset.serial}; or parts, where a value has to become "
        "another word: {parts: [{take: packet.need, map: {fault: Fault}}, '{asset.serial}'], join: ' '}."
    )
    opening: str = Field(
        "", description="Words before the block, with facts and answers in braces."
    )
    first_line: str = Field(
        "", max_length=100, description="The line that begins the block, if the desk looks for one."
    )
    last_line: str = Field("", max_length=100, description="The line that ends it.")


class Table(Part):
    """A list that goes with a form, as CSV (RFC 4180)."""

    name: str = Field(max_length=120, description="The file's name, with facts in braces.")
    rows: str = Field(description="The question whose rows are listed.")
    columns: Group = Field(
        description="By heading, the node written below it: {take: row.part}, {take: asset.serial}."
    )
    when: bool | Condition = Field(True, description="When the list is written.")


class AsPdf(_Written):
    """A PDF form (AcroForm) with its fields filled, and perhaps a list beside it."""

    format: Literal["pdf"] = Field(description="A filled PDF form.")
    name: str = Field(max_length=120, description="The file's name, with facts in braces.")
    blank: str = Field(max_length=700_000, description="The desk's empty form, a PDF in base64.")
    table: Table | None = Field(None, description="A list that goes with it.")


class AsFields(_Written):
    """Fields that a person enters by hand, by label; choices go by their labels."""

    format: Literal["fields"] = Field(description="Fields that a person enters.")
    order: tuple[str, ...] = Field(
        (),
        max_length=200,
        description="The labels in the desk's own order; those that are not named come after.",
    )


Writing = Annotated[
    AsJson | AsForm | AsXml | AsMail | AsPdf | AsFields, Field(discriminator="format")
]
"""How the packet is written."""


_ENTRY: Group = {
    "upload": Take(take="file.location"),
    "name": Take(take="file.name"),
    "size": Take(take="file.size"),
    "sha256": Take(take="file.sha256"),
}


class Files(Part):
    """How attachments go to a desk over HTTP: before the case, with it, or after it, below its reference."""

    sent: Literal["before", "with", "after"] = Field(
        description="Before the case, in the same request (multipart/form-data), or after it."
    )
    by: Literal["tus", "post", "put", "multipart"] = Field(
        description="tus 1.0; the bare content by POST or PUT; a form of its own (RFC 7578)."
    )
    path: str = Field(
        "",
        pattern=r"^(/.*)?$",
        description="Where to, with {name}, and after the case {reference}.",
    )
    field: str = Field(
        "file",
        pattern=r"^[A-Za-z][A-Za-z0-9_.-]{0,39}$",
        description="Of a form: the field of the file.",
    )
    id: JsonPath = Field(
        "",
        description="Of POST, PUT and forms before the case: where the answer says what the file is called; "
        "else by the header Location.",
    )
    list_in: str = Field(
        "", description="Before the case: the field of the body that lists the files."
    )
    entry: Group = Field(
        default_factory=lambda: _ENTRY,
        description="The node written for each file in that list.",
    )


class OwnHeader(Part):
    """A header of the desk's own by which we sign in."""

    header: str = Field(
        pattern=r"^[A-Za-z][A-Za-z0-9-]{0,60}$", description="Its name: X-Customer-Key."
    )
    value: str = Field(
        "{secret}",
        max_length=200,
        description="Its value, with {secret} and {name} of the vendor login: Token {secret}.",
    )

    @model_validator(mode="after")
    def _is_for_signing_in(self) -> OwnHeader:
        if self.header.lower() in _NOT_OURS:
            raise ValueError(f"{self.header} is a header of the connection, not of a sign-in")
        if "{secret}" not in self.value:
            raise ValueError("the value of the header needs {secret}")
        return self


_NOT_OURS = frozenset(
    {"host", "connection", "content-length", "content-type", "transfer-encoding", "upgrade", "te", "trailer",
     "accept-encoding", "idempotency-key", "if-none-match"}
)  # fmt: skip
"""Headers that the channel writes itself."""


class OverHttp(Part):
    """HTTP (RFC 9110). Paths are below the desk's address, which is configured, never part of a sheet."""

    channel: Literal["http"] = Field(description="HTTP.")
    sign_in: Literal["bearer", "basic"] | OwnHeader = Field(
        "bearer",
        description="The login's secret as bearer token (RFC 6750), its name and secret (RFC 7617), or a header of "
        "the desk's own.",
    )
    lodge: str = Field(pattern=r"^/", description="Where a case is posted.")
    follow: str = Field(
        "", pattern=r"^(/.*)?$", description="Where a case is read, with {reference}."
    )
    find: str = Field(
        "",
        pattern=r"^(/.*)?$",
        description="Of a desk that does not know repetitions by their key: where it is asked, with our {number}, "
        "whether it has the case already. Asked before a case is sent again.",
    )
    found: JsonPath = Field("", description="The path of the reference in the answer of `find`.")
    answer: str = Field(
        "",
        pattern=r"^(/.*)?$",
        description="Where our answers are posted, with {reference}; empty: the desk takes none.",
    )
    answer_body: Group = Field(
        default_factory=dict,
        description="The posted body: {take: message.text}, {take: message.id}.",
    )
    answer_root: str = Field(
        "answer",
        pattern=r"^[A-Za-z_][A-Za-z0-9_.-]{0,60}$",
        description="Of XML: the outermost element of an answer.",
    )
    files: Files | None = Field(
        None, description="How attachments are sent, if the desk takes any."
    )
    more_files: Files | None = Field(
        None,
        description="How files follow a case that the desk has: before, with or after our answer.",
    )


class ByMail(Part):
    """SMTP both ways: out by the house's mail server to the desk's address, in by the house's mail gate."""

    channel: Literal["mail"] = Field(description="Mail.")
    answer_opening: str = Field(
        "", description="Words before each answer of ours, with {reference}."
    )


class BySftp(Part):
    """Files left in a folder of the desk's SFTP server, and its papers picked up in another."""

    channel: Literal["sftp"] = Field(description="SFTP.")
    drop: str = Field(
        pattern=r"^[A-Za-z0-9_][A-Za-z0-9_/-]{0,80}$", description="The folder for our files."
    )
    pick_up: str = Field(
        pattern=r"^[A-Za-z0-9_][A-Za-z0-9_/-]{0,80}$", description="The folder with its papers."
    )
    more_files_name: str = Field(
        "",
        max_length=120,
        description="The name of a file that follows later, with {reference} and {name}; empty: none can.",
    )
    answer_name: str = Field(
        "{reference}-{message}.txt",
        description="The name of a file with an answer of ours, with {reference}, {packet.number}, {message}, or "
        "{count}, which counts our answers from 1; empty: the desk takes none.",
    )


HandWay = Literal["form", "telephone", "mail", "paper"]


class _EnteredBy(Part):
    """A way on which a person enters a packet."""

    by: HandWay = Field(description="How a person does it.")
    where: str = Field(
        "", max_length=300, description="In words: the page, the number, the address."
    )
    opening: str = Field(
        "",
        max_length=600,
        description="The opening, with facts in braces: Customer {contract.number}.",
    )
    closing: str = Field(
        "", max_length=600, description="The closing step: Ask for the number of the case."
    )


class AlsoBy(_EnteredBy):
    """Another way to the same desk by hand."""

    order: tuple[str, ...] = Field(
        (),
        max_length=200,
        description="The labels that it asks for, in its own order; empty: as on the first way. What it does not name "
        "is not asked there.",
    )


class ByHand(_EnteredBy):
    """A person enters the packet: into a web form, on the telephone, in a mail program, on paper."""

    channel: Literal["hand"] = Field(description="By hand.")
    also: tuple[AlsoBy, ...] = Field(
        (), max_length=3, description="Other ways to the same desk; a person chooses one."
    )

    @model_validator(mode="after")
    def _has_each_way_once(self) -> ByHand:
        ways = [one.by for one in (self, *self.also)]
        if len(set(ways)) < len(ways):
            raise ValueError("a way to the desk is described twice")
        return self


Sending = Annotated[OverHttp | ByMail | BySftp | ByHand, Field(discriminator="channel")]
"""How it is sent."""

FORMATS: dict[str, tuple[str, ...]] = {
    "http": ("json", "form", "xml"),
    "mail": ("mail",),
    "sftp": ("pdf",),
    "hand": ("fields",),
}
"""By channel, the formats in which a packet can be written for it."""


class SplitBy(Part):
    """One packet becomes several cases, lodged together."""

    question: str = Field(
        description="The question with rows (or several choices): each makes a case."
    )
    label: str = Field(description="The label of a case, from its row: {row.region}.")


class Naming(Part):
    """How files are called and packed. In braces: facts, {name}, {stem}, {ending} and {number} of the file."""

    file: str = Field("{name}", max_length=120, description="The name of a file at the desk.")
    archive: str = Field(
        "", max_length=120, description="One ZIP of that name holds them all; empty: one by one."
    )


_UNITS = {
    "": 1, "B": 1, "kB": 10**3, "MB": 10**6, "GB": 10**9, "KiB": 1 << 10, "MiB": 1 << 20, "GiB": 1 << 30,
}  # fmt: skip


def _bytes(value: Any) -> Any:
    match = (
        re.fullmatch(r"(\d{1,15})(\.\d{1,3})?\s*([A-Za-z]{0,3})", value)
        if isinstance(value, str)
        else None
    )
    if match is None or match[3] not in _UNITS:
        return value
    return int(float(match[1] + (match[2] or "")) * _UNITS[match[3]])


Size = Annotated[int, BeforeValidator(_bytes, json_schema_input_type=int | str)]
"""Bytes: 8000000, or with a unit: 8 MB, 7.5 MB, 16 MiB."""


class Attachments(Part):
    """The desk's limits for attachments. Sizes are bytes, or have a unit: 8 MB."""

    max_files: int = Field(0, ge=0, description="How many; of an archive, how many in it.")
    max_size: Size = Field(1, gt=0, description="The size of one.")
    max_total: Size = Field(1, gt=0, description="The size of all, or of the archive.")
    endings: tuple[str, ...] = Field(
        (), description="Allowed name endings, for example .log; empty allows all."
    )
    naming: Naming = Field(Naming(), description="The names of the files at the desk.")
    encrypt_to: str = Field(
        "",
        max_length=20_000,
        description="The desk's certificate (PEM): each file goes as CMS (RFC 5652) for it alone.",
    )


class Evidence(Part):
    """Evidence that the desk wants, for some kinds and categories."""

    what: str = Field(max_length=200, description="In words: the controllers' log.")
    when: bool | Condition = Field(True, description="When it wants to see it.")
    kit: str = Field("", description="The diagnostic kit that gathers it.")
    endings: tuple[str, ...] = Field((), description="How its file ends; empty: any file will do.")
    names: str = Field(
        "", max_length=200, description="RE2 for its name, if the desk knows it by that."
    )
    hours_before: int = Field(
        0, ge=0, le=720, description="How long before the event it has to begin."
    )
    hours_after: int = Field(
        0, ge=0, le=720, description="How long after the event it has to go on."
    )
    required: bool = Field(False, description="Without it the packet is stopped.")
