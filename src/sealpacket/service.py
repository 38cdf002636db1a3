"""sealpacket-service: what whoever runs the service types: migrate, serve, work, keys and accounts."""

from __future__ import annotations

import gc
import json
import secrets
import sys
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import TYPE_CHECKING, Annotated

import typer

from sealpacket.core.errors import ProblemError
from sealpacket.settings import Settings, WrongSettings, nothing_listens, read_settings

if TYPE_CHECKING:
    from sealpacket.app.context import AppContext

cli = typer.Typer(
    no_args_is_help=True, help="Run the Seal Packet service.", pretty_exceptions_show_locals=False
)


_MADE_BETWEEN = 50_000
"""Objects that are made between two searches for garbage: a long thread makes half as many, and no garbage."""


@contextmanager
def _loading() -> Iterator[None]:
    """Load code without the garbage collector: what is loaded stays, and is not searched for garbage later either."""
    gc.disable()
    try:
        yield
    finally:
        gc.freeze()
        gc.set_threshold(_MADE_BETWEEN)
        gc.enable()


def _ready() -> Settings:
    """The settings of a house that can begin to work. Raises WrongSettings with what keeps it from that."""
    from sealpacket.services.doctor import first_needs

    settings = read_settings()
    if faults := first_needs(settings):
        raise WrongSettings(faults)
    return settings


def _house() -> AppContext:
    """The house, for a command that looks at its records. Raises WrongSettings if these are not there."""
    from sealpacket.app.bootstrap import bootstrap
    from sealpacket.services.doctor import without_tables

    settings = read_settings()
    if faults := without_tables(settings):
        raise WrongSettings(faults)
    return bootstrap(settings)


@cli.command()
def doctor() -> None:
    """Check everything that the settings name. Ends with 2 if something is missing."""
    from sealpacket.services.doctor import look

    wrong = False
    for one in look(read_settings()):
        mark = "  ok " if not one.fault else "wrong" if one.needed else " note"
        print(f"{mark}  {one.what}{f': {one.fault}' if one.fault else ''}")
        wrong = wrong or bool(one.fault and one.needed)
    if wrong:
        raise typer.Exit(2)


@cli.command("migrate")
def migrate_command() -> None:
    """Migrate the database to the newest version."""
    from sealpacket.store.migrate import migrate

    settings = read_settings()
    migrate(settings.owner_url or settings.database_url, settings.database_url)


@cli.command()
def new_keys(folder: Annotated[Path, typer.Argument(help="Folder for the two key files.")]) -> None:
    """Create a master key and a seal key, unless they exist."""
    from sealpacket.app.key_file import write_secret
    from sealpacket.core.keyring import KEY, KeyRing
    from sealpacket.core.packet import SealKey

    folder.mkdir(parents=True, exist_ok=True, mode=0o700)
    contents = {
        "master.key": KeyRing((secrets.token_bytes(KEY),)).written(),
        "seal.jwk": SealKey.generate().private_jwk() + "\n",
    }
    for name, content in contents.items():
        if not (folder / name).exists():
            write_secret(folder / name, content)


@cli.command()
def new_master_key() -> None:
    """Add a new master key to the key file. Running processes use it at once; then run re-encrypt."""
    from sealpacket.services import keys

    print(f"The key {keys.new_master_key(_house())} encrypts from now on.")
    print("Encrypt with it what is there already: sealpacket-service re-encrypt")


@cli.command()
def re_encrypt(
    forget: Annotated[
        bool, typer.Option(help="Remove the former key from the key file afterwards.")
    ] = False,
) -> None:
    """Re-encrypt everything with the newest master key. Can be interrupted and resumed."""
    from sealpacket.services import keys

    context = _house()
    done = keys.re_encrypt(context)
    print(f"Re-encrypted: {done.values} values, {done.files} files.")
    if forget:
        for key in keys.forget_former(context):
            print(
                f"The key {key} is out of the key file. Keep it with the backups that were made with it."
            )


@cli.command()
def check() -> None:
    """Read every file that a record names, and verify the custody log. Ends with 4 if anything is wrong."""
    from sealpacket.services import soundness

    found = soundness.check(_house())
    for fault in found.faults:
        print(fault, file=sys.stderr)
    print(
        f"{found.entries} custody entries and {found.files} files looked at, {len(found.faults)} faults."
    )
    if found.unnamed:
        print(
            f"{found.unnamed} files are named by no record: they came after the backup of the database was made."
        )
    if found.faults:
        raise typer.Exit(4)


@cli.command()
def new_seal_key() -> None:
    """Create a new seal key. The public part of the former one is kept to verify its bags."""
    from sealpacket.services import keys

    print(f"The key {keys.new_seal_key(_house())} seals from now on.")


@cli.command()
def rebuild_lists() -> None:
    """Compute the list entry of every packet again; only needed after changes made in the database by hand."""
    from sealpacket.services.packets import lines

    print(f"{lines.rebuild(_house())} list entries were computed.")


@cli.command()
def account(
    name: str,
    role: Annotated[
        list[str] | None,
        typer.Option(
            help="admin, keeper, preparer, releaser or reader; may be repeated. Not given: as they are."
        ),
    ] = None,
    person: Annotated[str | None, typer.Option(help="Key of the person behind it.")] = None,
    disable: Annotated[
        bool, typer.Option("--disable", help="Disable the account; ends its sessions and tokens.")
    ] = False,
) -> None:
    """Create an account, or set its password and roles; its sessions and tokens end.

    The password is read from standard input. Administrators do the same with `sealpacket account`; this is for the
    first one, and for a service that has none left.
    """
    from sealpacket.services import accounts as service

    context = _house()
    if disable:
        service.change(context, service.COMMAND, name, {"active": False})
        return
    password = (
        sys.stdin.readline().rstrip("\n")
        if not sys.stdin.isatty()
        else typer.prompt("Password", hide_input=True)
    )
    service.put(context, name, password, role or [], person)


@cli.command()
def accounts() -> None:
    """Create or change several accounts from JSON on standard input, a list of {name, password, roles, person}."""
    from sealpacket.services import accounts as service

    context = _house()
    for row in json.load(sys.stdin):
        service.put(context, row["name"], row["password"], row["roles"], row.get("person"))


@cli.command()
def serve(
    port: Annotated[int, typer.Option(help="Loopback port.")] = 8400,
    socket: Annotated[
        int | None, typer.Option(help="File descriptor of a listening socket, instead of --port.")
    ] = None,
    workers: Annotated[int, typer.Option(help="Number of processes.")] = 2,
) -> None:
    """Serve API and console on loopback; put a TLS proxy before it for anyone else."""
    settings = _ready()
    with _loading():
        from sealpacket.logs import set_up_log, start_line
        from sealpacket.services.packets.redaction.warming import warm_up
        from sealpacket.web.server import Server

        set_up_log(settings.log_level)
        warm_up(settings)
    where = f"127.0.0.1:{port}" if socket is None else f"socket {socket}"
    start_line("service", settings, address=where, processes=workers)
    Server(port if socket is None else None, workers, socket).run()


@cli.command()
def work(
    jobs: Annotated[int, typer.Option(help="Number of jobs at the same time.")] = 2,
    monitor: Annotated[
        int | None, typer.Option(help="Loopback port for the measures of this worker.")
    ] = None,
) -> None:
    """Run the jobs of the queue: redact, lodge, follow."""
    settings = _ready()
    with _loading():
        from sealpacket.jobs.worker import work as work_until_told
        from sealpacket.logs import set_up_log, start_line

    set_up_log(settings.log_level)
    start_line("worker", settings, jobs=jobs)
    work_until_told(settings, jobs, monitor)


@cli.command()
def receive(
    port: Annotated[int, typer.Option(help="Port of the SMTP server.")] = 8425,
    host: Annotated[str, typer.Option(help="Address to listen on.")] = "127.0.0.1",
) -> None:
    """Receive replies of desks by mail (SMTP); only mail to a packet's address is accepted."""
    from sealpacket.app.bootstrap import bootstrap
    from sealpacket.channels.gate import listen
    from sealpacket.logs import set_up_log, start_line
    from sealpacket.services.packets.inbound_mail.route import Post
    from sealpacket.traces import set_up_traces

    settings = _ready()
    set_up_log(settings.log_level)
    set_up_traces(settings, "mail gate")
    start_line("mail gate", settings, address=f"{host}:{port}")
    try:
        listen(host, port, Post(bootstrap(settings)))
    except OSError as error:
        raise nothing_listens(f"{host}:{port}", error) from error


def run() -> None:
    """Entry point; a problem is one sentence and a remedy on standard error."""
    try:
        cli()
    except ProblemError as problem:
        print(f"{problem.detail}\n{problem.remedy}", file=sys.stderr)
        raise SystemExit(1) from problem
    except WrongSettings as wrong:
        print(*wrong.faults, sep="\n", file=sys.stderr)
        raise SystemExit(2) from None


if __name__ == "__main__":
    run()
