"""The Typer application, with as many of its commands as are needed."""

from __future__ import annotations

from copy import copy
from importlib import import_module

import typer
from typer.models import CommandInfo

from sealpacket import __version__
from sealpacket.cli.commands import ABOUT, COMMANDS, EXIT_CODES, Command
from sealpacket.cli.everywhere import everywhere


def build(name: str = "", part: str = "") -> typer.Typer:
    """The application with one command, or with all where no such name is known (to suggest the nearest).

    Of a group only the command `part` is there, if it has one of that name: the others take time.
    """
    app = typer.Typer(
        no_args_is_help=True,
        rich_markup_mode="markdown",
        pretty_exceptions_enable=False,
        help=ABOUT,
        epilog=EXIT_CODES,
    )
    app.callback()(_options)
    for one in [COMMANDS[name]] if name in COMMANDS else COMMANDS.values():
        _add(app, one, part)
    return app


def _add(app: typer.Typer, command: Command, part: str) -> None:
    found = getattr(import_module(f"sealpacket.cli.{command.module}"), command.attribute)
    if isinstance(found, dict):
        found = found[command.name]
    if isinstance(found, typer.Typer):
        group = copy(found)
        wanted = [one for one in found.registered_commands if _name(one) == part]
        group.registered_commands = wanted or found.registered_commands
        for one in group.registered_commands:
            if one.callback is not None:
                one.callback = everywhere(one.callback)
        app.add_typer(group, name=command.name)
    else:
        app.command(command.name)(everywhere(found))


def _name(command: CommandInfo) -> str:
    called = getattr(command.callback, "__name__", "")
    return command.name or called.replace("_", "-")


def _version(wanted: bool) -> None:
    if wanted:
        typer.echo(f"sealpacket {__version__}")
        raise typer.Exit


def _options(
    version: bool = typer.Option(
        False, "--version", callback=_version, is_eager=True, help="Print the version."
    ),
) -> None:
    pass
