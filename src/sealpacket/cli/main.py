"""sealpacket: the command line. Sub-commands are named by the things they are about."""

from __future__ import annotations

import sys

import typer

from sealpacket import __version__
from sealpacket.cli import (
    accounts,
    ahead,
    coverage,
    custody,
    desks,
    exhibits,
    intake,
    labels,
    offline,
    overview,
    packets,
    papers,
    redacting,
    redaction_plan,
    register,
    statements,
)
from sealpacket.cli.show import errors as err
from sealpacket.client import ClientError
from sealpacket.core.errors import ProblemError

app = typer.Typer(
    no_args_is_help=True,
    rich_markup_mode="markdown",
    pretty_exceptions_enable=False,
    help="Keep the register of bought support, and send vendors packets that neither bounce nor leak.",
    epilog="Exit codes: 0 done · 1 refused or failed · 2 wrong usage · 3 something stops it · 4 it does not verify",
)


def _version(wanted: bool) -> None:
    if wanted:
        typer.echo(f"sealpacket {__version__}")
        raise typer.Exit


@app.callback()
def _options(
    version: bool = typer.Option(False, "--version", callback=_version, is_eager=True, help="Say the version."),
) -> None:
    pass


overview.add(app)
accounts.add(app)
app.command("coverage")(coverage.coverage)
offline.add(app)
app.command("seal-keys")(custody.seal_keys)
redacting.add(app)
intake.add(app)
app.add_typer(papers.app, name="paper")
app.add_typer(statements.app, name="statement")
app.add_typer(labels.app, name="label")
app.add_typer(ahead.app, name="ahead")
app.add_typer(packets.app, name="packet")
app.add_typer(exhibits.app, name="exhibit")
app.add_typer(desks.desk_app, name="desk")
app.add_typer(redaction_plan.plan_app, name="redaction-plan")
app.add_typer(custody.custody_app, name="custody")
for _name, _group in register.groups().items():
    app.add_typer(_group, name=_name)


def run() -> None:
    """Entry point: what goes wrong is told as what happened and what to do, and ends with code 1."""
    try:
        app()
    except (ClientError, ProblemError) as error:
        err.print(f"[bold red]{error.detail}[/]\n{error.remedy}", highlight=False)
        raise SystemExit(1) from error
    except KeyboardInterrupt:
        sys.exit(130)


if __name__ == "__main__":
    run()
