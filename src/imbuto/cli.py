"""The command line: demo, serve, estimate, export, import, backup, restore, erase, schema."""

from __future__ import annotations

import errno
import json
import os
import shutil
import signal
import socket
import sys
from dataclasses import dataclass
from pathlib import Path
from typing import TYPE_CHECKING, Annotated

import typer

from imbuto import __version__
from imbuto.core.basics.errors import ImbutoError, InvalidValue

if TYPE_CHECKING:
    from collections.abc import Callable

    from fastapi import FastAPI

    from imbuto.services.desk.pairing import Pairing
    from imbuto.services.desk.planner import Planner

# Everything is imported where it is used: neither --help nor a script's loop should wait for what it does not need.

PORT = 8474
app = typer.Typer(
    no_args_is_help=True,
    add_completion=False,
    help=("Plan backup power for a home: how long it lasts, and what limits it."),
)


def data_folder() -> Path:
    """Where a person's own homes are kept: IMBUTO_FOLDER, or the user's data folder."""
    own = os.environ.get("IMBUTO_FOLDER")
    return Path(own) if own else Path(os.environ.get("XDG_DATA_HOME", Path.home() / ".local/share")) / "imbuto"


Folder = Annotated[
    Path | None, typer.Option(help="Folder of the database [IMBUTO_FOLDER; else the user's data folder].")
]
Port = Annotated[int | None, typer.Option(help=f"Port on this machine [default: {PORT}, or the next free one].")]


Lan = Annotated[
    bool, typer.Option("--lan", help="Also let paired phones on the local network connect, and show a pairing code.")
]
BrokerFlag = Annotated[
    bool,
    typer.Option(
        "--broker",
        help="Let Imbuto listen to an MQTT broker that you enter, on your own network. The demo runs one.",
    ),
]
Cert = Annotated[Path | None, typer.Option(help="With --lan: a certificate of your own (PEM), for https there.")]
Key = Annotated[Path | None, typer.Option(help="With --cert: its key (PEM).")]
Address = Annotated[
    str | None, typer.Option(help=("With --lan: this computer's address on that network, if Imbuto doesn't find it."))
]


@app.command()
def demo(
    folder: Folder = None,
    port: Port = None,
    fresh: bool = False,
    lan: Lan = False,
    address: Address = None,
    cert: Cert = None,
    key: Key = None,
    broker: BrokerFlag = False,
) -> None:
    """Start with the demo homes, in a folder of their own. --fresh forgets what was changed in the demo."""
    from imbuto.services.desk.lock import hold_folder

    place = (folder or data_folder().with_name("imbuto-demo")).resolve()
    with hold_folder(place):
        if fresh and (place / "imbuto.db").exists():
            from imbuto.devices.station import StationOver

            for path in place.glob("station-*.json"):
                StationOver(path).end()
            for pattern in (
                "imbuto.db*",
                "copies/*.db",
                "instruments-*.json",
                "watch-*.json",
                "broker-*.json",
                "brokerlog-*.json",
                "demo-begun.json",
            ):
                for path in place.glob(pattern):
                    path.unlink()
        _serve(lambda: _demo(place), port, _lan(lan, address, cert, key), broker=broker, demo=True)


@app.command()
def serve(
    folder: Folder = None,
    port: Port = None,
    lan: Lan = False,
    address: Address = None,
    cert: Cert = None,
    key: Key = None,
    broker: BrokerFlag = False,
) -> None:
    """Start with your own homes."""
    from imbuto.services.desk.lock import hold_folder

    with hold_folder(folder or data_folder()):
        _serve(lambda: _opened(folder or data_folder()), port, _lan(lan, address, cert, key), broker=broker)


@app.command("estimate")
def estimate_command(
    file: Annotated[str, typer.Argument(help="A plan file, or - for standard input.")],
    plan: Annotated[str | None, typer.Option(help="Id or name of the plan [default: the first].")] = None,
    outage: Annotated[str | None, typer.Option(help="Id or name of the outage [default: the first].")] = None,
    as_json_: Annotated[bool, typer.Option("--json", help="Print JSON for scripts.")] = False,
) -> None:
    """Hours, hand check, waterfall, limits and neck of one plan in one outage."""
    from imbuto.services.compare.estimate import as_json, as_text, estimate

    verdict = estimate(_read(file), file, plan, outage)
    typer.echo(
        json.dumps(as_json(verdict), indent=2, ensure_ascii=False, allow_nan=False) if as_json_ else as_text(verdict)
    )


@app.command("export")
def export_command(home: str, folder: Folder = None) -> None:
    """Print a home's plan file."""
    from imbuto.formats import strict_json

    typer.echo(strict_json.dump(_planner(folder).give_out(home)))


@app.command("import")
def import_command(file: str, folder: Folder = None) -> None:
    """Take in a plan file as a new home."""
    state = _planner(folder).take_in(_read(file), file)
    typer.echo(f"Imported as “{state.id}”: {len(state.plans)} plans, {len(state.outages)} outages.")


Passphrase = Annotated[
    bool,
    typer.Option("--sealed", help="Ask for a passphrase [or IMBUTO_PASSPHRASE], under which the backup is sealed."),
]


@app.command("backup")
def backup_command(file: Path, folder: Folder = None, sealed: Passphrase = False) -> None:
    """Write everything that is kept into one file: homes, logs, readings, undo, files. Paired phones are left out."""
    from imbuto.services.desk.safekeeping import TELLS, back_up

    size = back_up(folder or data_folder(), file, _passphrase(confirm=True) if sealed else None)
    typer.echo(f"Everything is in {file}, {size / 1e6:.1f} MB, and was read back. {TELLS}")


@app.command("restore")
def restore_command(file: Path, folder: Folder = None) -> None:
    """Put a backup, or one of the dated copies, in the place of everything that is kept; what was there stays
    beside."""
    from imbuto.formats.sealed import is_sealed
    from imbuto.services.desk.safekeeping import restore

    with file.open("rb") as found:
        asked = _passphrase(confirm=False) if is_sealed(found.read(64)) else None
    old = restore(file, folder or data_folder(), asked)
    typer.echo(
        f"Restored from {file}."
        + (f" The earlier folder is now {old}. Delete it when everything works." if old else "")
    )


@app.command("erase")
def erase_command(home: str, folder: Folder = None) -> None:
    """Take a home that was deleted out of the dated copies too."""
    from imbuto.services.desk.safekeeping import erase

    place = folder or data_folder()
    if any(h.id == home for h in _planner(folder).homes()):
        raise InvalidValue("home", home, "that home is still there. Delete it first")
    typer.echo(
        f"Removed from {erase(place, home)} copies. Backups that were made into files of their own still have it."
    )


def _passphrase(*, confirm: bool) -> str:
    given = os.environ.get("IMBUTO_PASSPHRASE")
    asked: str = (
        given if given is not None else typer.prompt("Passphrase", hide_input=True, confirmation_prompt=confirm)
    )
    return asked


@app.command("schema")
def schema_command() -> None:
    """Print the JSON Schema of the plan file."""
    from imbuto.formats import planfile

    typer.echo(json.dumps(planfile.schema(), indent=2, ensure_ascii=False))


@app.command("openapi", hidden=True)
def openapi_command() -> None:
    """Print the API's description, from which the interface's types are made."""
    from imbuto.api.app import create_app

    scratch = Path(os.environ.get("TMPDIR", "/tmp")) / f"imbuto-openapi-{os.getpid()}"
    try:
        typer.echo(json.dumps(create_app(_planner(scratch)).openapi(), indent=2))
    finally:
        shutil.rmtree(scratch, ignore_errors=True)


@app.command("blanks", hidden=True)
def blanks_command() -> None:
    """Print something new of each kind, with which the interface begins."""
    from imbuto.formats.blanks import blanks

    typer.echo(json.dumps(blanks(), indent=2, ensure_ascii=False))


@app.command("version")
def version_command() -> None:
    """Print the version."""
    typer.echo(__version__)


def _demo(place: Path) -> Planner:
    """The planner of the demo homes in a folder that this program holds."""
    from imbuto.core.run.compile_ahead import keep_in
    from imbuto.services.desk.demo import open_demo

    keep_in(place)
    return open_demo(place)


def _opened(place: Path) -> Planner:
    """The planner of a folder that this program holds."""
    from imbuto.core.run.compile_ahead import keep_in
    from imbuto.services.desk.demo import open_planner

    keep_in(place)
    return open_planner(place)


def _planner(folder: Path | None) -> Planner:
    """The planner of a folder, which may be in use by a server."""
    from imbuto.services.desk.lock import heal_if_free

    place = folder or data_folder()
    heal_if_free(place)
    return _opened(place)


def _read(file: str) -> bytes:
    from imbuto.formats import strict_json

    if file == "-":
        return sys.stdin.buffer.read(strict_json.MAX_BYTES + 1)
    path = Path(file)
    size = path.stat().st_size
    if size > strict_json.MAX_BYTES:
        raise strict_json.too_large(file, size)
    return path.read_bytes()


@dataclass(frozen=True, slots=True)
class Network:
    """Where phones are answered. cert, key: files of a certificate of one's own, None for plain http."""

    address: str
    cert: Path | None
    key: Path | None


def _lan(lan: bool, address: str | None, cert: Path | None, key: Path | None) -> Network | None:
    """What was asked for. Raises InvalidValue for a certificate that cannot be used."""
    import ssl

    if cert is None and key is None:
        return Network(_lan_address(address), None, None) if lan else None
    if not lan or cert is None or key is None:
        raise InvalidValue("--cert", None, "use --cert together with --key and --lan")
    try:
        ssl.create_default_context(ssl.Purpose.CLIENT_AUTH).load_cert_chain(cert, key)
    except ssl.SSLError as error:
        raise InvalidValue(
            "--cert", str(cert), f"it and its key, both in PEM, do not go together: {error.reason}"
        ) from None
    return Network(_lan_address(address), cert, key)


def _serve(
    opened: Callable[[], Planner], port: int | None, lan: Network | None, *, broker: bool = False, demo: bool = False
) -> None:
    """Answer until stopped. opened: makes the planner, which takes seconds; the interface is answered meanwhile. Raises
    what it raises."""
    import asyncio

    import uvicorn

    from imbuto.api.interface import built_interface
    from imbuto.api.starting_up import StartingUp
    from imbuto.services.desk.memory_use import share_memory

    share_memory()
    interface = built_interface()
    if interface is None:
        typer.echo("The interface isn't built, so only the API works. Run “make build” first.", err=True)
    listeners = _listen(port, ["127.0.0.1", *([lan.address] if lan else [])])
    chosen = listeners[0].getsockname()[1]
    typer.echo(f"Imbuto is at http://localhost:{chosen}  (stop with Ctrl+C)")
    scheme = "https" if lan and lan.cert else "http"

    def load() -> FastAPI:
        from imbuto.api.app import create_app

        where = f"{scheme}://{lan.address}:{chosen}" if lan else None
        whole = create_app(opened(), where, broker=broker, demo=demo)
        if lan:
            _show_code(whole.state.pairing)
        return whole

    def ended() -> None:
        for server in servers:
            server.should_exit = True

    application = StartingUp(load, interface, ended)
    # This machine is always answered plainly: a certificate is made out for an address on the network, not for
    # “localhost”.
    servers = [uvicorn.Server(uvicorn.Config(application, log_level="warning", timeout_graceful_shutdown=2))]
    if lan and lan.cert and lan.key:
        secured = uvicorn.Config(
            application,
            log_level="warning",
            timeout_graceful_shutdown=2,
            lifespan="off",
            ssl_certfile=lan.cert,
            ssl_keyfile=lan.key,
        )
        servers.append(uvicorn.Server(secured))

    async def all_of_them() -> None:
        shared = [listeners] if len(servers) == 1 else [[x] for x in listeners]
        await asyncio.gather(*(server.serve(sockets=own) for server, own in zip(servers, shared, strict=True)))

    # Told to end, the program ends like any other, so that what it holds is given back.
    signal.signal(signal.SIGTERM, lambda *_: sys.exit(0))
    asyncio.run(all_of_them())
    if application.problem is not None:
        raise application.problem


def _show_code(pairing: Pairing) -> None:
    """The pairing code, as a QR code in the terminal and as an address."""
    import segno

    invitation = pairing.invite()
    typer.echo(
        "Phones on this network can connect once they are paired. Scan this code, or open the address on the phone:"
    )
    segno.make(invitation.address, error="m").terminal(out=sys.stdout, compact=True)
    typer.echo(
        f"{invitation.address}\nIt works once, for {invitation.minutes:.0f} minutes; the interface shows new ones."
    )


def _lan_address(asked: str | None) -> str:
    """This machine's address on the local network. Raises OSError where there is none."""
    if asked is not None:
        return asked
    with socket.socket(socket.AF_INET, socket.SOCK_DGRAM) as probe:
        try:
            probe.connect(("10.255.255.255", 9))  # picks a route; sends nothing
            found: str = probe.getsockname()[0]
        except OSError:
            raise OSError("this computer has no address on a local network. Enter one with --address") from None
    return found


def _listen(port: int | None, addresses: list[str]) -> list[socket.socket]:
    """Sockets on the same port of each address: the port asked for, or the first free one from the default on."""
    for candidate in [port] if port is not None else [*range(PORT, PORT + 20), 0]:
        made: list[socket.socket] = []
        try:
            for address in addresses:
                # The protocol is named: without it nothing sets TCP_NODELAY, and every small answer waits 40 ms for
                # acknowledgement.
                listener = socket.socket(socket.AF_INET, socket.SOCK_STREAM, socket.IPPROTO_TCP)
                made.append(listener)
                listener.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
                listener.bind((address, made[0].getsockname()[1] if len(made) > 1 else candidate))
        except OSError as error:
            for listener in made:
                listener.close()
            if error.errno == errno.EADDRNOTAVAIL:
                raise OSError(f"{addresses[-1]} isn't an address of this machine. Name one with --address") from None
            continue
        return made
    raise OSError(f"port {port} is taken; name another with --port, or none to use a free one")


def main() -> None:
    """Run; an expected error is one line, and the exit code is 2."""
    try:
        app()
    except ImbutoError as error:
        typer.echo(f"imbuto: {error.sentence}", err=True)
        sys.exit(2)
    except OSError as error:
        typer.echo(f"imbuto: {error.filename or ''}{': ' if error.filename else ''}{error.strerror or error}", err=True)
        sys.exit(2)


if __name__ == "__main__":
    main()
