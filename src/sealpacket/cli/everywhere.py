"""Options that every command has (--json, --quiet), and - for standard input."""

from __future__ import annotations

import inspect
import sys
import tempfile
from collections.abc import Callable
from functools import wraps
from pathlib import Path
from typing import Annotated, Any, get_args, get_type_hints

import typer

from sealpacket.cli import session, show

Quiet = Annotated[bool, typer.Option("--quiet", help="Print nothing but faults.")]
AnswerJson = Annotated[bool, typer.Option("--json", help="JSON: the record after the act.")]
_TYPED = ("text", "note", "reason", "words", "result")
"""Parameters that are typed texts: `-` reads them from standard input."""
_FILES: list[Any] = []
_LARGEST = 2_000_000_000
_BLOCK = 1 << 20


def everywhere(command: Callable[..., Any]) -> Callable[..., Any]:
    """The command with --json, --quiet and - for standard input, as far as it has none of its own."""
    if hasattr(command, "is_everywhere"):
        return command
    hints = get_type_hints(command, include_extras=True)
    signature = inspect.signature(command)
    has_json = any(_is_json(hints[name]) for name in signature.parameters)
    files = {name for name in signature.parameters if _is_file(hints[name])}

    @wraps(command)
    def done(**given: Any) -> Any:
        quiet = given.pop("quiet")
        record = False if has_json else given.pop("json")
        # Where a record is asked for, faults are printed after this, as JSON.
        show.quieten(
            *(["out", "progress"] if quiet or record else ()), *(["errors"] if record else ())
        )
        try:
            with tempfile.TemporaryDirectory(prefix="sealpacket-") as folder:
                for name in files:
                    given[name] = _file(name, given[name], Path(folder))
                for name in set(_TYPED) & given.keys():
                    given[name] = _typed(given[name])
                return command(**given)
        finally:
            show.quieten()
            ended = sys.exc_info()[1]
            if record and isinstance(ended, typer.Exit | None):
                _print_answer()

    more = {"quiet": Quiet} if has_json else {"json": AnswerJson, "quiet": Quiet}
    parameters = [
        *(one.replace(annotation=hints[name]) for name, one in signature.parameters.items()),
        *(
            inspect.Parameter(
                name, inspect.Parameter.KEYWORD_ONLY, default=False, annotation=annotation
            )
            for name, annotation in more.items()
        ),
    ]
    done.__signature__ = signature.replace(parameters=parameters)  # type: ignore[attr-defined]
    done.__annotations__ = {**hints, **more}
    done.is_everywhere = True  # type: ignore[attr-defined]
    return done


def _is_json(hint: Any) -> bool:
    """Whether a parameter is the option --json: within Annotated, typer has the first name as the default."""
    return any(
        "--json" in (getattr(info, "default", None), *(getattr(info, "param_decls", None) or ()))
        for info in get_args(hint)[1:]
    )


def _is_file(hint: Any) -> bool:
    """Whether a parameter names existing files. They are checked here and not by typer, because - is not a file."""
    for info in get_args(hint)[1:]:
        if getattr(info, "exists", False):
            info.exists = False
            _FILES.append(info)  # commands share some of them
        if any(info is one for one in _FILES):
            return True
    return False


def _file(name: str, value: Any, folder: Path) -> Any:
    if isinstance(value, list):
        return [_file(name, one, folder) for one in value]
    if value == Path("-"):
        return _kept(folder)
    if value is not None and not value.exists():
        raise typer.BadParameter(f"file {str(value)!r} does not exist.", param_hint=name)
    return value


def _typed(value: Any) -> Any:
    return sys.stdin.read().rstrip("\n") if value == "-" else value


def _kept(folder: Path) -> Path:
    """Standard input as a file."""
    path = folder / "standard-input"
    with path.open("wb") as file:
        while block := sys.stdin.buffer.read(_BLOCK):
            file.write(block)
            if file.tell() > _LARGEST:
                raise typer.BadParameter("Standard input has more than 2 GB.")
    return path


def _print_answer() -> None:
    """Print what the service answered last, as JSON."""
    show.as_json(session.last_answer() or {"done": True})
