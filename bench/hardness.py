"""How it stands accidents: kills at random moments, requests nobody would write, damaged files, and hours of use.

``python bench/hardness.py kills [N] | api [N] | fuzz [N] | soak [MINUTES] | all``; prints what was tried, and all
that was lost or not declared. A short form of each is among the tests."""

from __future__ import annotations

import os
import random
import re
import resource
import shutil
import signal
import sqlite3
import statistics
import subprocess
import sys
import tempfile
import time
import traceback
import urllib.error
import urllib.request
import warnings
from collections import Counter
from collections.abc import Iterator
from concurrent.futures import ProcessPoolExecutor
from contextlib import closing
from datetime import datetime
from pathlib import Path
from typing import Any

ROOT = Path(__file__).parents[1]
sys.path.insert(0, str(ROOT))

from tests import fuzzing  # noqa: E402
from tests.support import serving, wait_for  # noqa: E402

HOME = "saltgrass-house"
SLICES = 20
EVERY_PLACE = (
    *("everyday", "everyday/curve", "worth", "keeping", "size", "ready", "run", "run/steps", "sun", "fuel"),
    *("papers", "work", "trials", "cards", "book", "whole", "goals", "live", "station", "papers/run-card.pdf"),
)
PAUSE_S = 0.3  # between two rounds of use: quicker than anybody, and not as quick as can be


# Damaged files


def _fuzzed(task: tuple[str, int, int]) -> tuple[str, int, Counter[str], float]:
    reader, seed, count = task
    warnings.simplefilter("error")
    roots: Counter[str] = Counter()
    slowest = 0.0
    for data in fuzzing.inputs(reader, seed, count):
        begun = time.perf_counter()
        raised = fuzzing.undeclared(reader, data)
        slowest = max(slowest, time.perf_counter() - begun)
        if raised is not None:
            own = [f for f in traceback.extract_tb(raised.__traceback__) if "imbuto" in f.filename]
            roots[f"{type(raised).__name__} in {Path(own[-1].filename).name}:{own[-1].lineno}: {str(raised)[:80]}"] += 1
    return reader, count, roots, slowest


def fuzz(count: int = 100_000) -> int:
    """So many damaged files for every reader; how many exceptions were not declared."""
    tasks = [(reader, seed, count // SLICES) for reader in fuzzing.READERS for seed in range(SLICES)]
    found: dict[str, list[Any]] = {r: [0, Counter(), 0.0] for r in fuzzing.READERS}
    with ProcessPoolExecutor() as pool:
        for i, (reader, done, roots, slowest) in enumerate(pool.map(_fuzzed, tasks)):
            now = found[reader]
            now[0], now[1], now[2] = now[0] + done, now[1] + roots, max(now[2], slowest)
            if (i + 1) % SLICES:
                continue
            print(
                f"{reader:24} {now[0]:7,} files, {sum(now[1].values())} undeclared, slowest {now[2]:.2f} s", flush=True
            )
            for root, times in now[1].most_common():
                print(f"    {times} × {root}", flush=True)
    return sum(sum(roots.values()) for _, roots, _ in found.values())


# Kills


def _edits(folder: Path, out: int) -> None:
    """Edits until it is killed; each is told once it is answered."""
    from imbuto.services.desk.demo import open_planner

    planner = open_planner(folder)
    for n in range(10_000):
        rev = planner.state(HOME).rev
        op = {"doc": "home", "op": "replace", "path": "/loads/kettle/run_w", "value": 100 + rev}
        planner.edit(HOME, rev, f"{os.getpid()}-{n}", f"Edit {rev}", [op], None)
        os.write(out, f"{rev + 1}\n".encode())


def _imports(folder: Path, out: int) -> None:
    from imbuto.services.desk.demo import demo_file, open_planner

    planner = open_planner(folder)
    for _ in range(10_000):
        os.write(out, f"{planner.take_in(demo_file('via-dei-glicini'), 'f').id}\n".encode())


def _backups(folder: Path, out: int) -> None:
    from imbuto.services.desk.safekeeping import back_up

    for n in range(10_000):
        back_up(folder, folder.parent / "backup.zip")
        os.write(out, f"{n}\n".encode())


def _migrates(folder: Path, out: int) -> None:
    from imbuto.store.database import Database

    Database(folder / "imbuto.db").close()
    os.write(out, b"done\n")
    time.sleep(60)


def _slowly(name: str) -> None:
    """Have a call of the system's take some time before and after, so that a kill falls there too."""
    whole, rng = getattr(os, name), random.Random(os.getpid())

    def slow(*args: Any) -> Any:
        time.sleep(rng.uniform(0.0, 0.02))
        found = whole(*args)
        time.sleep(rng.uniform(0.0, 0.02))
        return found

    setattr(os, name, slow)


def _restores(folder: Path, out: int) -> None:
    from imbuto.services.desk.safekeeping import restore

    _slowly("rename")
    for n in range(10_000):
        old = restore(folder.parent / "restored.zip", folder)
        os.write(out, f"{n}\n".encode())
        if old is not None:
            shutil.rmtree(old)


def _beside(folder: Path, out: int) -> None:
    """Writes a file beside the database, of the kind that the watching of a station and the instruments keep."""
    from imbuto.store.state_files import write_whole

    for name in ("fsync", "replace"):
        _slowly(name)
    for n in range(10_000):
        write_whole(folder / "watch-saltgrass-house.json", {"n": n, "plan": "ten-place" * 200})
        os.write(out, f"{n}\n".encode())


def _demos(folder: Path, out: int) -> None:
    from imbuto.services.desk.demo import open_demo

    open_demo(folder).database.close()
    os.write(out, b"done\n")
    time.sleep(60)


def _healed(name: str, place: Path, said: list[str]) -> str:
    """What is wrong with a folder after a kill and the next start; empty for nothing."""
    from imbuto.services.desk.demo import DEMO_HOMES, open_demo, open_planner
    from imbuto.services.desk.lock import hold_folder
    from imbuto.store.state_files import read_whole

    with hold_folder(place):
        planner = open_demo(place) if name == "demos" else open_planner(place)
        there = {h.id for h in planner.homes()}
        for home in there:
            planner.state(home)
        planner.database.close()
        if not set(DEMO_HOMES) <= there:
            return f"the homes there are {sorted(there)}"
        if name == "beside":
            kept = read_whole(place / "watch-saltgrass-house.json")
            if said and (kept is None or kept["n"] < int(said[-1])):
                return f"{said[-1]} was written, {kept and kept['n']} is there"
    left = [p.name for p in (*place.glob(".making-*"), *place.parent.glob(f"{place.name}.restoring-*"))]
    return f"left behind: {left}" if left else ""


def _killed(work: Any, folder: Path, after: float) -> list[str]:
    """Do work in a process of its own, killed after so many seconds; what it told before."""
    reading, writing = os.pipe()
    child = os.fork()
    if child == 0:
        os.close(reading)
        try:
            work(folder, writing)
        finally:
            os._exit(1)
    os.close(writing)
    time.sleep(after)
    os.kill(child, signal.SIGKILL)
    os.waitpid(child, 0)
    with os.fdopen(reading) as told:
        return told.read().splitlines()


KILLED = {
    "edits": (_edits, 0.25),
    "restores": (_restores, 0.4),
    "imports": (_imports, 0.25),
    "backups": (_backups, 0.25),
    "migrations": (_migrates, 0.7),
    "beside": (_beside, 0.25),
    "demos": (_demos, 0.8),
}
HEALS = ("restores", "beside", "demos")


def kills(count: int = 1_000) -> int:
    """So many kills among edits, imports, backups, migrations, restores, first demo starts and writes beside the
    database, at random moments; how much was lost of what was answered, or did not start again."""
    from imbuto.services.desk.demo import open_demo, open_planner
    from imbuto.services.desk.safekeeping import back_up, restore
    from imbuto.store.database import Database, newest

    rng, lost, told = random.Random(1), 0, Counter[str]()
    with tempfile.TemporaryDirectory() as scratch:
        folder, older = Path(scratch) / "kept", Path(scratch) / "older.db"
        open_demo(folder).database.close()
        back_up(folder, Path(scratch) / "restored.zip")
        shutil.copytree(folder, Path(scratch) / "restored")
        _made_by_an_older_build(older)
        for n in range(count):
            name = list(KILLED)[n % len(KILLED)]
            work, most_s = KILLED[name]
            place = {"restores": Path(scratch) / "restored", "demos": Path(scratch) / f"demo-{n}"}.get(name, folder)
            if name == "migrations":
                place = Path(scratch) / f"old-{n}"
                place.mkdir()
                (place / "imbuto.db").write_bytes(older.read_bytes())
            said = _killed(work, place, rng.uniform(0.0, most_s))
            told[name] += 1
            if name in HEALS:
                wrong = _healed(name, place, said)
                lost += bool(wrong)
                if wrong:
                    print(f"kill {n}, {name}: {wrong}")
                for old in place.parent.glob(f"{place.name}.before-*"):
                    shutil.rmtree(old)
                if name == "demos":
                    shutil.rmtree(place)
                    continue
            with closing(sqlite3.connect(place / "imbuto.db")) as connection:
                if connection.execute("PRAGMA integrity_check").fetchone() != ("ok",):
                    lost += 1
                    print(f"kill {n}, {name}: the database is damaged")
            if name == "migrations":
                Database(place / "imbuto.db").close()
                with closing(sqlite3.connect(place / "imbuto.db")) as connection:
                    now = connection.execute("SELECT version_num FROM alembic_version").fetchone()
                    homes = connection.execute("SELECT count(*) FROM homes").fetchone()
                if now != (newest(),) or homes != (1,):
                    lost += 1
                    print(f"kill {n}: a migration left {now}, {homes}")
                continue
            planner = open_planner(place)
            homes_now = {h.id for h in planner.homes()}
            if name == "edits" and said and planner.state(HOME).rev < int(said[-1]):
                lost += 1
                print(f"kill {n}: revision {said[-1]} was answered, {planner.state(HOME).rev} is there")
            if name == "imports":
                lost += len(set(said) - homes_now)
                for home in homes_now - {HOME, "via-dei-glicini"}:
                    planner.state(home)
                    planner.delete(home)
            planner.database.close()
            if name == "backups" and said:
                restore(Path(scratch) / "backup.zip", Path(scratch) / f"restored-{n}")
                shutil.rmtree(Path(scratch) / f"restored-{n}")
        print(f"{sum(told.values()):,} kills ({', '.join(f'{v} {k}' for k, v in told.items())}): {lost} lost")
    return lost


def _made_by_an_older_build(path: Path) -> None:
    """A database as the schema was three revisions ago, with a home in it."""
    from alembic import command
    from alembic.config import Config
    from sqlalchemy import create_engine

    from imbuto.store.database import newest

    config = Config()
    config.set_main_option("script_location", "imbuto.store:migrations")
    config.set_main_option("path_separator", "os")
    with create_engine(f"sqlite:///{path}").connect() as connection:
        config.attributes["connection"] = connection
        command.upgrade(config, f"{int(newest()) - 3:04}")
        connection.exec_driver_sql("INSERT INTO homes (id, name, rev, position) VALUES ('old', 'Old', 1, 1)")
        connection.commit()


# Requests


CONFIG = """
[parameters]
"path.home_id" = "saltgrass-house"
"query.plan" = "ten-place"
"query.outage" = "november-windstorm"
"path.plan" = "ten-place"
"path.outage" = "november-windstorm"
"path.sheet" = "run-card"
"path.tariff_id" = "bay-plain"
"path.entry_id" = "hogshead-warranty"
"""


def api(count: int = 10_000) -> int:
    """So many requests out of the API's own description, valid and not, each and in sequences that follow from each
    other; how many were answered by a server error, or by a body of another shape than declared."""
    with tempfile.TemporaryDirectory() as scratch:
        (Path(scratch) / "st.toml").write_text(CONFIG)
        with (Path(scratch) / "server.log").open("wb") as log, serving(Path(scratch) / "kept", log) as (url, process):
            wait_for(f"{url}/api/homes/{HOME}/verdict?plan=ten-place&outage=november-windstorm", process)
            described = urllib.request.urlopen(f"{url}/api/openapi.json").read().decode()
            operations = len(re.findall(r'"operationId"', described))
            tool = [
                str(Path(sys.executable).with_name("schemathesis")),
                "--config-file",
                str(Path(scratch) / "st.toml"),
                "run",
            ]
            # Written as it comes, so that hours of it can be followed, and are kept where it is stopped.
            kept = Path(tempfile.gettempdir()) / "imbuto-api.txt"
            subprocess.run(
                [
                    *tool,
                    f"{url}/api/openapi.json",
                    "-n",
                    str(max(1, count // operations)),
                    "--phases",
                    "examples,coverage,fuzzing,stateful",
                    "--checks",
                    "not_a_server_error,status_code_conformance,content_type_conformance,response_schema_conformance",
                    "--exclude-path-regex",
                    "events$|/pack|bench",
                    "--exclude-name",
                    "DELETE /api/homes/{home_id}",
                    "--seed",
                    "1",
                    "--no-shrink",
                    "--continue-on-failure",
                    "--request-timeout",
                    "60",
                    "--suppress-health-check",
                    "all",
                    "--no-color",
                ],
                stdout=kept.open("wb"),
                stderr=subprocess.STDOUT,
                check=False,
            )
            told = kept.read_text()
            print(told[told.rfind("SUMMARY") :] if "SUMMARY" in told else told[-2_000:])
            alive = process.poll() is None
        said = (Path(scratch) / "server.log").read_text()
        broken = said.count("unexpected")
        print(f"server {'alive' if alive else 'DEAD'}; {broken} unexpected in its log")
        if broken:
            for (root, where), times in Counter(_roots(said)).most_common():
                print(f"    {times} × {root} at {where}")
        return broken + (not alive)


def _roots(log: str) -> Iterator[tuple[str, str]]:
    """The last line of every traceback, and the last place of the program's own in it."""
    for trace in log.split("Traceback (most recent call last):")[1:]:
        lines = trace.splitlines()
        ends = [x for x in lines if re.match(r"[A-Za-z_.]+(Error|Exception|Warning)\b", x)]
        own = re.findall(r'src/imbuto/([^"]+)", line (\d+)', trace)
        yield (ends[0][:140] if ends else "?", ":".join(own[-1]) if own else "?")


# An hour of use


def soak(minutes: float = 60) -> int:
    """Edits, undo, verdicts, pages and papers for so long; how many requests failed. Prints memory and waiting at the
    start and end."""
    import json

    def ask(url: str, body: Any = None) -> Any:
        data = None if body is None else json.dumps(body).encode()
        request = urllib.request.Request(url, data, {"content-type": "application/json"})
        with urllib.request.urlopen(request, timeout=60) as answer:
            return answer.read()

    failed, waits, memory, n = 0, [], [], 0
    with tempfile.TemporaryDirectory() as scratch, serving(Path(scratch) / "kept") as (url, process):
        home, pair = f"{url}/api/homes/{HOME}", {"plan": "ten-place", "outage": "november-windstorm"}
        query = "plan=ten-place&outage=november-windstorm"
        wait_for(f"{home}/verdict?{query}", process)
        rng, until = random.Random(1), time.monotonic() + 60 * minutes
        while time.monotonic() < until:
            n += 1
            begun = time.perf_counter()
            try:
                rev = json.loads(ask(home))["rev"]
                op = {"doc": "home", "op": "replace", "path": "/loads/kettle/run_w", "value": rng.randrange(1440, 1900)}
                body = {
                    "base_rev": rev,
                    "edit_id": f"s{n}",
                    "label": "Kettle",
                    "ops": [op],
                    "judge": pair,
                    "since": rev,
                }
                ask(f"{home}/edits", body)
                if n % 3 == 0:
                    ask(f"{home}/undo", {"edit_id": f"u{n}", "judge": pair})
                if n % 10 == 0:
                    for page in ("diagram", "labels", "front", "readings"):
                        ask(f"{home}/{page}?{query}") if page in ("diagram", "labels") else ask(f"{home}/{page}")
                if n % 120 == 1:
                    for page in EVERY_PLACE:
                        ask(f"{home}/{page}?{query}")
                    ask(f"{home}/frontier?{query}", {})
            except (OSError, ValueError) as error:
                failed += 1
                print(f"request {n}: {error}")
            waits.append(time.perf_counter() - begun)
            time.sleep(PAUSE_S)
            if n % 50 == 1:
                memory.append(
                    int(re.search(r"VmRSS:\s+(\d+)", Path(f"/proc/{process.pid}/status").read_text())[1]) / 1024
                )  # type: ignore[index]
        history = (Path(scratch) / "kept" / "imbuto.db").stat().st_size / 1e6
    tenth = max(len(waits) // 10, 1)
    first, last = statistics.median(waits[:tenth]), statistics.median(waits[-tenth:])
    print(
        f"{n:,} rounds in {minutes:g} min: {failed} failed; a round {first * 1e3:.0f} ms at first, "
        f"{last * 1e3:.0f} at the end;"
    )
    curve = ", ".join(f"{memory[i * (len(memory) - 1) // 8]:.0f}" for i in range(9))
    print(f"memory over time, MB, every place opened before the first: {curve}; database {history:.1f} MB")
    return failed


# What a meter's file may cost


def _large(path: str) -> str:
    from imbuto.core.basics.errors import ImbutoError
    from imbuto.formats.meter_data import greenbutton

    before, begun = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss, time.perf_counter()
    try:
        what = f"{greenbutton.read(Path(path), 'file', 'UTC', lambda _: None).rows:,} readings"
    except ImbutoError as refused:
        what = refused.sentence[:70]
    spent, after = time.perf_counter() - begun, resource.getrusage(resource.RUSAGE_SELF).ru_maxrss
    size = Path(path).stat().st_size / 1e6
    memory = f"memory {after / 1024:.0f} MB ({(after - before) / 1024:+.0f})"
    return f"{size:5.0f} MB in {spent:5.1f} s, {size / spent:4.1f} MB/s, {memory}: {what}"


def large() -> int:
    """Interval data at the ceiling: readings, stray elements, one long attribute."""
    from tests.formats.test_greenbutton import feed, interval, reading

    whole = feed(reading(1, [interval(i, 400 + i) for i in range(200)]))
    with tempfile.TemporaryDirectory() as scratch:
        made: dict[str, list[bytes]] = {
            "stray, 48 MB": [whole[:-7], *[b"<a><b/></a>" * 1000] * 4400, b"</feed>"],
            "stray, 24 MB": [whole[:-7], *[b"<a><b/></a>" * 1000] * 2200, b"</feed>"],
            "stray in a block": [
                b"<feed><entry><IntervalBlock>",
                *[b"<a><b/></a>" * 1000] * 8000,
                b"</IntervalBlock></entry></feed>",
            ],
            "one attribute": [b'<feed><entry a="', *[b"x" * 1_000_000] * 120, b'"/></feed>'],
            "blocks": [b"<feed><entry>", *[b"<IntervalBlock/>" * 1000] * 8000, b"</entry></feed>"],
            "entries": [
                b"<feed>",
                *[b'<entry><link rel="self" href="x/MeterReading/%d"/></entry>' % i for i in range(1_500_000)],
                b"</feed>",
            ],
        }
        for size in (75, 145):
            block = b"<IntervalBlock>" + b"".join(
                f"<IntervalReading><timePeriod><duration>900</duration><start>{1_700_000_000 + 900 * i}</start></timePeriod>"
                f"<value>{i % 997}</value></IntervalReading>".encode()
                for i in range(size * 1_000_000 // 130)
            )
            made[f"readings, {size} MB"] = [b"<feed><entry>", block, b"</IntervalBlock></entry></feed>"]
        for name, pieces in made.items():
            path = Path(scratch) / "f.xml"
            with path.open("wb") as out:
                out.writelines(pieces)
            with ProcessPoolExecutor(1) as pool:
                print(f"{name:18} {pool.submit(_large, str(path)).result()}")
    return 0


def main() -> None:
    what, *rest = sys.argv[1:] or ["all"]
    print(f"{datetime.now():%Y-%m-%d %H:%M}, {os.cpu_count()} processors")
    named = {"kills": kills, "api": api, "fuzz": fuzz, "soak": soak, "large": large}
    bad = sum(f() for f in named.values()) if what == "all" else named[what](*(type(f)(rest[0]) for f in [1] if rest))
    sys.exit(1 if bad else 0)


if __name__ == "__main__":
    main()
