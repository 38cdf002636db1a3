"""How the command line shows things: tables and sentences for people, JSON for scripts."""

from __future__ import annotations

import json
import os
import sys
import textwrap
from collections.abc import Iterable, Sequence
from datetime import datetime
from functools import cache
from pathlib import Path
from typing import TYPE_CHECKING, Annotated, Any, TextIO
from zoneinfo import ZoneInfo

import typer

if TYPE_CHECKING:
    from pydantic import BaseModel
    from rich.console import Console


def _width(stream: TextIO) -> int | None:
    """The width of a console: piped output is not wrapped."""
    return None if stream.isatty() or "COLUMNS" in os.environ else 10_000


_QUIET: set[str] = set()


def quieten(*names: str) -> None:
    """Have the consoles of these names (out, progress, errors) print nothing, and the others print."""
    _QUIET.clear()
    _QUIET.update(names)


def out() -> Console:
    """The console for what is asked for."""
    return _console("out")


def errors() -> Console:
    """The console for what went wrong."""
    return _console("errors")


def progress() -> Console:
    """The console for what is seen only on the way."""
    return _console("progress")


def _console(name: str) -> Console:
    console = _made(name)
    console.quiet = name in _QUIET
    return console


@cache
def _made(name: str) -> Console:
    """A console, made when it is first needed: loading rich takes a while.

    Texts of others are printed as they are: nothing in them is markup. What has a style is a Text of its own.
    """
    from rich.console import Console

    stream = sys.stdout if name == "out" else sys.stderr
    width = None if name == "progress" else _width(stream)
    return Console(stderr=name != "out", highlight=False, emoji=False, markup=False, width=width)


Json = Annotated[bool, typer.Option("--json", help="JSON instead of a table.")]
Need = Annotated[
    str, typer.Option(help="fault, question, change, capacity, return, help, improvement or tie.")
]
Out = Annotated[Path, typer.Option("--out", help="Output file.")]

ListOut = Annotated[
    Path | None, typer.Option("--out", help="Write the list to this file: .csv, .xlsx or .jsonl.")
]
_FORMS = ("csv", "xlsx", "jsonl")

_HANGING = 2

LEVEL_STYLES = {"stop": "bold red", "warn": "yellow", "hint": "dim", "pass": "green"}


def as_json(value: BaseModel | Sequence[BaseModel | dict[str, Any]] | dict[str, Any]) -> None:
    """Print models as JSON, for scripts."""
    body = _plain(value)
    if not isinstance(body, dict):
        body = [_plain(item) for item in body]
    typer.echo(json.dumps(body, indent=2, ensure_ascii=False))


def _plain(value: Any) -> Any:
    """A model as a mapping; anything else as it is."""
    return value.model_dump(mode="json") if hasattr(value, "model_dump") else value


def table(columns: Sequence[str], rows: Iterable[Sequence[Any]], *, nothing: str) -> None:
    """Print rows under their columns, or the words for there being none."""
    from rich.table import Table
    from rich.text import Text

    shown = Table(box=None, pad_edge=False, header_style="bold", padding=(0, 2, 0, 0))
    cells = [["" if cell is None else str(cell) for cell in row] for row in rows]
    for place, column in enumerate(columns):
        right = column.startswith(">")
        whole = all(" " not in row[place] or right for row in cells)
        shown.add_column(
            column.lstrip(">"), justify="right" if right else "left", overflow="fold", no_wrap=whole
        )
    for row in cells:
        shown.add_row(*map(Text, row))
    out().print(shown if cells else Text(nothing))


def heading(text: str, beside: str = "") -> None:
    """A heading with quieter words beside it."""
    from rich.text import Text

    out().print(Text.assemble("\n", (text, "bold"), "  ", (beside, "dim")))


def line(text: str, style: str = "") -> None:
    """One line; the text is never read as markup, and wrapped only for eyes."""
    if not out().is_terminal:
        out().print(text, style=style, soft_wrap=True)
        return
    indent = len(text) - len(text.lstrip(" "))
    for part in text.split("\n"):
        hanging = " " * (indent + _HANGING)
        wrapped = textwrap.wrap(
            part, out().width, subsequent_indent=hanging, break_on_hyphens=False
        )
        out().print("\n".join(wrapped), style=style, soft_wrap=True)


def size(value: int | None) -> str:
    """Bytes in decimal units."""
    if value is None:
        return ""
    number = float(value)
    for unit in ("B", "kB", "MB"):
        if number < 1000:
            return f"{number:.0f} {unit}" if unit == "B" else f"{number:.1f} {unit}"
        number /= 1000
    return f"{number:.1f} GB"


def form_of(path: Path) -> str:
    """The form of a file with a list, by its ending."""
    form = path.suffix.lstrip(".").lower()
    if form not in _FORMS:
        raise typer.BadParameter("The file ends in .csv, .xlsx or .jsonl.", param_hint="--out")
    return form


def day(value: datetime | None) -> str:
    """The day of a moment in the local zone."""
    return value.astimezone().strftime("%d %b %Y") if value else ""


def moment(value: datetime | None) -> str:
    """A moment in the local zone, to the minute."""
    return value.astimezone().strftime("%d %b %Y %H:%M") if value else ""


def saving(octets: int | None) -> None:
    """Say on a terminal how much of a file is saved so far; None takes it away again."""
    if progress().is_terminal and not progress().quiet:
        said = "\r\033[K" if octets is None else f"\r{size(octets)} …"
        progress().file.write(said)
        progress().file.flush()


def at_desk(value: datetime, zone: str) -> str:
    """The same moment on the desk's clocks, such as ` (09:40 at the desk)`; empty if they show the same."""
    if not zone:
        return ""
    there, here = value.astimezone(ZoneInfo(zone)), value.astimezone()
    if there.utcoffset() == here.utcoffset():
        return ""
    day = "" if there.date() == here.date() else f"{there:%d %b} "
    return f" ({day}{there:%H:%M} at the desk)"
