"""The context in which a program met an error: a small JSON format of ours, version 1.

Its JSON Schema is docs/reference/program-context.schema.json.
"""

from __future__ import annotations

from datetime import datetime
from typing import Annotated, Literal

from pydantic import AwareDatetime, BaseModel, ConfigDict, Field, StringConstraints

from sealpacket.core.controls import one_line, without_controls

Line = Annotated[str, StringConstraints(strip_whitespace=True, max_length=400)]
LONGEST_STACK = 200_000
"""Characters of a stack trace."""
_TITLE = 200


class _Part(BaseModel):
    model_config = ConfigDict(extra="forbid", frozen=True)


class ProgramMessage(_Part):
    """The message that the program showed."""

    code: Line = Field("", description="Its code: LN-0417.")
    text: Annotated[str, StringConstraints(max_length=4000)] = Field(
        "", description="Its text, as the user saw it."
    )


class ProgramThing(_Part):
    """The platform, if the program knows it."""

    serial: Line = ""
    host: Line = ""


class ProgramContext(_Part):
    """Where a program was when something went wrong. All but the format's version may be left out."""

    context: Literal[1] = Field(description="The version of this format: 1.")
    program: Line = Field("", description="Its name and version.")
    system: Line = Field("", description="The system or instance that it works with.")
    user: Line = Field("", description="Who was signed in.")
    screen: Line = Field("", description="Screen or page.")
    message: ProgramMessage = ProgramMessage()
    stack: Annotated[str, StringConstraints(max_length=LONGEST_STACK)] = Field(
        "", description="Its stack trace, as text."
    )
    rights: list[Line] = Field(
        [], max_length=200, description="Rights that the user had, and those that were refused."
    )
    at: AwareDatetime | None = Field(None, description="When it happened (RFC 3339).")
    thing: ProgramThing = ProgramThing()
    ticket: Annotated[str, StringConstraints(strip_whitespace=True, max_length=60)] = Field(
        "", description="The number at our own service desk, if there is one already."
    )
    our_reference: Annotated[str, StringConstraints(strip_whitespace=True, max_length=120)] = Field(
        "",
        description="Its name in the program, such as an alert's id. Each makes one packet only.",
    )
    note: Annotated[str, StringConstraints(max_length=20_000)] = Field(
        "", description="A comment of the user."
    )

    @property
    def began_at(self) -> datetime | None:
        """When it happened."""
        return self.at

    def title(self) -> str:
        """It in one line: number and text of the message, else the screen or the program."""
        said = one_line(" ".join(filter(None, (self.message.code, self.message.text))))
        where = self.screen or self.program or "a program"
        return (said or f"Something went wrong in {where}")[:_TITLE]

    def words(self) -> str:
        """It as a note: what the user says, then where it happened."""
        lines = [
            ("Program", self.program), ("System", self.system), ("Screen", self.screen),
            ("Message", " ".join(filter(None, (self.message.code, self.message.text)))),
        ]  # fmt: skip
        told = "\n".join(f"{name}: {one_line(text)}" for name, text in lines if text)
        return str(without_controls("\n\n".join(filter(None, (self.note.strip(), told)))))
