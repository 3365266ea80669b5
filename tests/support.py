"""Small homes for tests, by hand and at random, and how a test asks a server."""

from __future__ import annotations

import html
import json
import random
import re
import socket
import subprocess
import sys
import time
import urllib.error
import urllib.request
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import replace
from datetime import UTC, datetime, timedelta
from pathlib import Path
from typing import IO, Any

from cryptography import x509
from cryptography.hazmat.primitives import hashes
from cryptography.hazmat.primitives.asymmetric import ec
from cryptography.hazmat.primitives.serialization import Encoding, NoEncryption, PrivateFormat
from cryptography.x509.oid import NameOID

from imbuto.core.basics.clock import Window
from imbuto.core.equipment.catalogue import Catalogue, shipped
from imbuto.core.equipment.power_station import Station
from imbuto.core.equipment.wires import Cord
from imbuto.core.home.circuits import Circuit
from imbuto.core.home.home import Home, Service, Site, check_home
from imbuto.core.home.loads import Load, Use
from imbuto.core.plan.outage import Outage
from imbuto.core.plan.plan import Device, Feed, Plan
from imbuto.core.plan.plan_checks import check_plan
from imbuto.core.plan.sources import Source
from imbuto.core.plan.system import Part, resolve_part

STATION = Station(
    id="test",
    name="Test station",
    volts="120/240",
    nominal_wh=5000,
    module_name="Test module",
    module_wh=2000,
    max_modules=3,
    continuous_w=5000,
    rated_va=5000,
    surge_va=8000,
    surge_s=3,
    leg_a=25,
    leg_surge_va=5000,
    outlets=4,
    outlet_a=20,
    inlet_outlet_a=30,
    idle_w=20,
)
OUTAGE = Outage(id="o", name="Outage", start=datetime(2026, 11, 24, 18), hours=24, goal_hours=24, indoors_c=25)


def load(ident: str, run_w: float = 100, average_w: float | None = None, **more: object) -> Load:
    """A load; resistive and steady unless said."""
    fields = {"kind": "heater", "power_factor": 1.0, "name": ident.capitalize()} | more
    return Load(id=ident, run_w=run_w, average_w=run_w if average_w is None else average_w, **fields)  # type: ignore[arg-type]


def plan_of(transfer: str = "cords", inlet_cord: Cord | None = None, **rest: Any) -> Plan:
    """A plan with one device, or with cords; what is set on the charger goes to its first source."""
    devices = {} if transfer == "cords" else {"main": Device(id="main", equipment=transfer, cord=inlet_cord)}
    charging = {k: rest.pop(k) for k in ("charge_w", "charge_circuit") if k in rest}
    plan = Plan(devices=devices, **({"id": "p", "name": "Plan"} | rest))
    return charged(plan, **charging)


def charged(plan: Plan, **charging: Any) -> Plan:
    """The plan with something set on the charger of its first source."""
    if plan.source is None or not charging:
        return plan
    return replace(plan, sources=plan.sources | {plan.source.id: replace(plan.source, **charging)})


def switched(
    *circuits: tuple[int, list[Load]],
    station: Station = STATION,
    breaker_a: float = 20,
    outage: Outage = OUTAGE,
    **plan: object,
) -> tuple[Part, Outage]:
    """A ten-place switch with these circuits: (place, loads on it). Odd places are on leg A."""
    names = [f"c{place}" for place, _ in circuits]
    loads = {x.id: replace(x, circuit=f"c{place}") for place, xs in circuits for x in xs}
    home = Home(
        id="h",
        name="Home",
        service=Service(slots=40),
        site=Site(time_zone="UTC"),
        circuits={c: Circuit(id=c, name=f"Circuit {c[1:]}", slots=(int(c[1:]),), breaker_a=breaker_a) for c in names},
        loads=loads,
    )
    feeds = {f"c{p}": Feed(id=f"c{p}", circuit=f"c{p}", place=p) for p, _ in circuits}
    return _joined(home, station, transfer="ten-place", feeds=feeds, **plan), outage


def corded(*loads: Load, station: Station = STATION, volts: int = 120, **plan: object) -> Part:
    """Loads on cords, each on an outlet of its own."""
    service = Service(volts=volts, legs=2 if volts == 120 else 1)  # type: ignore[arg-type]
    home = Home(id="h", name="Home", service=service, site=Site(time_zone="UTC"), loads={x.id: x for x in loads})
    feeds = {x.id: Feed(id=x.id, load=x.id, place=i) for i, x in enumerate(loads, 1)}
    return _joined(home, station, feeds=feeds, **plan)


def _joined(home: Home, station: Station, **said: Any) -> Part:
    catalogue = Catalogue(stations={station.id: station}).over(shipped())
    sources = {"main": Source(id="main", station=station.id, deliverable=1.0)}
    plan = plan_of(**({"sources": sources} | said))
    check_home(home)
    check_plan(plan, home, catalogue)
    return resolve_part(home, plan, catalogue)


def random_load(rng: random.Random, ident: str) -> Load:
    """A load of any kind and use, its figures in order."""
    rest = rng.choice([0.0, 0.0, rng.uniform(0, 8)])
    run = rest + rng.choice([rng.uniform(5, 90), rng.uniform(5, 300), rng.uniform(5, 1300)])
    kind = rng.choice(["compressor", "pump", "fan", "heater", "electronics", "inverter_driven", "light"])
    use = rng.choice(
        [
            Use(),
            Use(kind="cycling"),
            Use(kind="windows", windows=(Window(start_h=rng.randrange(24), end_h=rng.randrange(24)),)),
            Use(kind="tasks", times=(float(rng.randrange(24)), rng.randrange(48) / 2), minutes=rng.uniform(3, 90)),
        ]
    )
    return Load(
        id=ident,
        name=ident.upper(),
        kind=kind,
        rest_w=rest,
        run_w=run,
        average_w=rest + (run - rest) * rng.uniform(0.05, 1),
        use=use,
        count=rng.choice([1, 1, 1, 2]),
        thermostatic=rng.random() < 0.3,
        turns_ok=rng.random() < 0.5,
        purpose=rng.choice(["life", "house", "food", "communications", "comfort", "convenience"]),
        evidence=rng.choice(["guess", "label", "metered", "logged"]),
    )


def random_plan(seed: int) -> tuple[Home, Plan, Outage]:
    """A home with a switch or with cords, a plan for it and an outage; anything may be broken in it."""
    rng = random.Random(seed)
    cords = rng.random() < 0.4
    names = [f"c{i}" for i in range(1, rng.randint(3, 9))]
    circuits = {c: Circuit(id=c, name=c.upper(), slots=(i,), breaker_a=20) for i, c in enumerate(names, 1)}
    loads = {}
    for i in range(rng.randint(3, 14)):
        item = random_load(rng, f"l{i}")
        loads[item.id] = replace(item, circuit=rng.choice(names) if not cords or rng.random() < 0.5 else None)
    home = Home(
        id="h",
        name="H",
        service=Service(slots=20),
        site=Site(time_zone="America/Los_Angeles"),
        circuits=circuits,
        loads=loads,
    )
    feeds = {}
    targets = list(loads) if cords else names
    for place, target in enumerate(rng.sample(targets, min(len(targets), 6)), 1):
        windows = (Window(start_h=rng.randrange(24), end_h=rng.randrange(24)),) if rng.random() < 0.3 else ()
        stance = rng.choice(["keep_on", "keep_on", "turns"])
        where = {"load": target} if cords else {"circuit": target}
        feeds[target] = Feed(
            id=target, place=place, stance=stance, windows=windows, share=rng.choice([0.3, 0.5]), **where
        )  # type: ignore[arg-type]
    station = rng.choice(["pail", "firkin", "hogshead", "tun", "puncheon"])
    modules = rng.randint(0, shipped().stations[station].max_modules)
    plan = plan_of(
        id="p",
        name="P",
        transfer="cords" if cords else "ten-place",
        feeds=feeds,
        floor=rng.choice([0.0, 0.1, 0.25]),
        sources={"main": Source(id="main", station=station, modules=modules, spot=rng.choice(["indoors", "garage"]))},
    )
    outage = Outage(
        id="o",
        name="O",
        start=datetime(2026, rng.randint(1, 12), rng.randint(1, 28), rng.randrange(24)),
        hours=rng.choice([4, 24, 72]),
        goal_hours=rng.choice([4, 24, 48]),
        garage_c=rng.choice([-3, 8, 30]),
        start_charge=rng.choice([1.0, 1.0, 0.6]),
    )
    return home, plan, outage


def ask(request: str | urllib.request.Request) -> Any:
    """What a server answers, as JSON. One that gets ready is asked again, as the interface does: on a busy machine
    what is compiled takes a while to load."""
    for _ in range(90):
        try:
            with urllib.request.urlopen(request, timeout=20) as answer:
                return json.load(answer)
        except urllib.error.HTTPError as refused:
            if refused.code != 503:
                raise
            time.sleep(1)
    raise AssertionError("not ready after a minute and a half")


def wait_for(url: str, process: subprocess.Popen[bytes], most_s: float = 300) -> None:
    """Wait until a server answers. Raises where its process has ended, or it takes far longer than on any machine."""
    end = time.monotonic() + most_s
    while time.monotonic() < end:
        try:
            urllib.request.urlopen(url, timeout=5).close()
            return
        except OSError:
            if process.poll() is not None:
                raise AssertionError(f"the server ended with {process.returncode} before it answered") from None
            time.sleep(0.1)
    raise AssertionError(f"the server did not answer within {most_s:g} s")


@contextmanager
def serving(
    folder: Path, log: IO[bytes] | None = None, port: int = 0, *more: str
) -> Iterator[tuple[str, subprocess.Popen[bytes]]]:
    """A demo of its own: its address, and its process, which may be stopped. log: for what it says; port: 0 for a
    free one; more: options of the command line."""
    from imbuto.api.interface import built_interface

    assert built_interface(), "the interface is not built: make build"
    with socket.socket() as s:
        s.bind(("127.0.0.1", port))
        port = s.getsockname()[1]
    command = [sys.executable, "-m", "imbuto.cli", "demo", "--folder", str(folder), "--port", str(port), *more]
    process = subprocess.Popen(command, stdout=log or subprocess.DEVNULL, stderr=log)
    address = f"http://localhost:{port}"
    try:
        wait_for(f"{address}/api/about", process)
        yield address, process
    finally:
        process.terminate()
        process.wait()


def text_of(made: str) -> str:
    """The words of a page, without its styles and its title."""
    plain = re.sub(r"<style>.*?</style>|<title>.*?</title>|<[^>]+>", " ", made, flags=re.DOTALL)
    return " ".join(html.unescape(plain).split())


def certificate(folder: Path, *names: x509.GeneralName) -> tuple[Path, Path]:
    """A certificate made for this test, for names or addresses of this machine, and its key."""
    key = ec.generate_private_key(ec.SECP256R1())
    name = x509.Name([x509.NameAttribute(NameOID.COMMON_NAME, "imbuto")])
    now = datetime.now(UTC)
    made = (
        x509.CertificateBuilder()
        .subject_name(name)
        .issuer_name(name)
        .public_key(key.public_key())
        .serial_number(1)
        .not_valid_before(now - timedelta(days=1))
        .not_valid_after(now + timedelta(days=1))
        .add_extension(x509.SubjectAlternativeName(names), critical=False)
        .sign(key, hashes.SHA256())
    )
    (folder / "c.pem").write_bytes(made.public_bytes(Encoding.PEM))
    (folder / "k.pem").write_bytes(key.private_bytes(Encoding.PEM, PrivateFormat.PKCS8, NoEncryption()))
    return folder / "c.pem", folder / "k.pem"
