"""Speed, printed as ratios against a baseline measured in the same run. Figures only: nothing here passes or fails."""

from __future__ import annotations

import gc
import gzip
import random
import re
import resource
import statistics
import subprocess
import sys
import tempfile
import time
import urllib.request
from collections.abc import Callable
from dataclasses import replace
from datetime import datetime
from pathlib import Path

import numpy as np
import polars as pl
from fastapi.testclient import TestClient
from numba import njit

from imbuto.api.app import create_app
from imbuto.api.interface import built_interface
from imbuto.core.advice.answer import judge
from imbuto.core.advice.frontier import frontier
from imbuto.core.equipment.catalogue import shipped
from imbuto.core.home.circuits import Circuit
from imbuto.core.home.home import Home as CoreHome
from imbuto.core.home.home import Service
from imbuto.core.home.loads import PURPOSES, Load
from imbuto.core.limits.all_limits import fit
from imbuto.core.measuring.log_analysis import analyse
from imbuto.core.plan.load_conditions import in_outage
from imbuto.core.plan.outage import Outage
from imbuto.core.plan.plan import Device, Plan
from imbuto.core.plan.sources import Source
from imbuto.core.plan.system import resolve_part
from imbuto.core.proposal.propose_set import propose
from imbuto.core.run.band import band
from imbuto.core.run.battery_store import Store
from imbuto.core.run.network import run_many, run_one
from imbuto.core.run.run_controls import Controls, Motor
from imbuto.devices.simulated import FastClock
from imbuto.devices.station import SimulatedStation, station_truth
from imbuto.formats import planfile
from imbuto.services.desk.demo import demo_file, open_demo
from imbuto.services.desk.planner import Planner
from imbuto.services.outages.outage_now import live_view
from imbuto.services.outages.watched_station import Watch, WatchJoin

HOME, PLAN, OUTAGE = "saltgrass-house", "ten-place", "november-windstorm"


def baseline() -> float:
    """Seconds for a fixed piece of plain Python: what this machine does just now."""
    start = time.perf_counter()
    total = 0.0
    for i in range(400_000):
        total += i % 7 / 3
    return time.perf_counter() - start


def timed(call: Callable[[int], object], n: int) -> list[float]:
    found = []
    for i in range(n):
        start = time.perf_counter()
        call(i)
        found.append(1000 * (time.perf_counter() - start))
    return sorted(found)


def line(name: str, value: str, ratio: float | None, aim: str) -> None:
    print(f"{name:<46} {value:>22}  {'' if ratio is None else f'{ratio:6.2f} x baseline'}   {aim}")


def p95(found: list[float]) -> float:
    return found[min(len(found) - 1, round(0.95 * len(found)))]


def edits(base_ms: float) -> None:
    with tempfile.TemporaryDirectory() as folder:
        planner = open_demo(Path(folder))
        client = TestClient(create_app(planner), base_url="http://localhost")
        judge = {"plan": PLAN, "outage": OUTAGE}

        def edit(path: str, values: list[object], doc: str) -> Callable[[int], object]:
            def call(i: int) -> object:
                rev = planner.rev(HOME)
                op = {"doc": doc, "op": "replace", "path": path, "value": values[i % len(values)]}
                body = {"base_rev": rev, "edit_id": f"{doc}{path}{rev}", "label": "Edit", "ops": [op], "judge": judge}
                answer = client.post(f"/api/homes/{HOME}/edits", json=body)
                assert answer.status_code == 200, answer.text
                return answer

            return call

        kinds = {
            "a load's watts": edit("/loads/concentrator/average_w", [float(w) for w in range(250, 310)], "home"),
            "the floor": edit("/floor", [0.05 + 0.001 * k for k in range(60)], PLAN),
            "a circuit kept on: leg B breaks, and mends": edit("/feeds/office/stance", ["keep_on", "turns"], PLAN),
        }
        every: list[float] = []
        for name, call in kinds.items():
            timed(call, 4)
            found = timed(call, 40)
            every += found
            middle = statistics.median(found)
            line(f"edit to verdict, {name}", f"{middle:.0f} ms, p95 {p95(found):.0f}", middle / base_ms, "")
        every.sort()
        middle = statistics.median(every)
        line("edit to verdict, all", f"{middle:.0f} ms, p95 {p95(every):.0f}", middle / base_ms, "aim p95 60 ms")
        everyday(client, base_ms)
        papers(client, base_ms)
        gauge(client, judge, base_ms)
        stream(planner, judge)
        planner.database.close()


def gauge(client: TestClient, judge: dict[str, str], base_ms: float) -> None:
    """A reading on Outage now, from the line sent to the hours it gives."""
    at = f"/api/homes/{HOME}/live"
    began = client.post(at, json=judge | {"edit_id": "out"})
    assert began.status_code == 200, began.text

    def call(i: int) -> object:
        told = client.post(f"{at}/notes", json=judge | {"edit_id": f"gauge{i}", "text": f"{99 - i % 60}%"})
        assert told.status_code == 200, told.text
        view = client.get(at, params={"outage": judge["outage"]})
        assert view.json()["stores"][0]["notes"] > 0
        return view

    took = timed(call, 30)
    middle = statistics.median(took)
    line("a reading to the hours it gives", f"{middle:.0f} ms, p95 {p95(took):.0f}", middle / base_ms, "aim 150 ms")


def papers(client: TestClient, base_ms: float) -> None:
    """Every sheet of a plan as one PDF; an edit before each, so that nothing is known from the one before."""
    pair = {"plan": "ten-place", "outage": OUTAGE}
    sheets = len(client.get(f"/api/homes/{HOME}/papers", params=pair).json())

    def pack(i: int) -> object:
        rev = client.get(f"/api/homes/{HOME}").json()["rev"]
        op = {"doc": "home", "op": "replace", "path": "/note", "value": f"print {i}"}
        sent = {"base_rev": rev, "edit_id": f"print-{i}", "label": "a note", "ops": [op]}
        assert client.post(f"/api/homes/{HOME}/edits", json=sent).status_code == 200
        told = client.get(f"/api/homes/{HOME}/papers/pack.pdf", params=pair)
        assert told.status_code == 200
        return told

    took = timed(pack, 3)
    middle = statistics.median(took)
    line(f"{sheets} sheets as one PDF", f"{middle / 1000:.1f} s", middle / base_ms, "aim 6 s for twenty")


def everyday(client: TestClient, base_ms: float) -> None:
    """A year of a plan with its figures once its sun is known, and twenty holds with the readiness of every hour."""
    pair = {"plan": "switched-panel", "outage": OUTAGE}

    def year(_: int) -> object:
        told = client.get(f"/api/homes/{HOME}/everyday", params=pair)
        assert told.status_code == 200, told.text
        return told

    def holds(_: int) -> object:
        told = client.get(f"/api/homes/{HOME}/everyday/curve", params=pair)
        assert len(told.json()["points"]) == 20
        return told

    timed(year, 1)
    took = timed(year, 15)
    middle = statistics.median(took)
    line(
        "an ordinary year with all its figures", f"{middle:.0f} ms, p95 {p95(took):.0f}", middle / base_ms, "aim 60 ms"
    )
    took = timed(holds, 5)
    line(
        "twenty holds, readiness of every hour",
        f"{statistics.median(took):.0f} ms",
        statistics.median(took) / base_ms,
        "aim 3 s",
    )


def stream(planner: Planner, judge: dict[str, str]) -> None:
    """An hour of a watched station at a reading a second, with the outage looked at every ten: what the process holds
    more of.

    The station is stepped here rather than in its process, so that an hour takes a minute."""
    now, home = [0.0], planner.documents(planner.state(HOME)).home
    utc = planner.now(home).replace(tzinfo=home.site.tz)
    watch = Watch(planner, lambda: now[0])
    label, name, house = watch.label_of(
        planner.documents(planner.state(HOME)), judge["plan"], judge["outage"], "main", utc
    )
    station = SimulatedStation(
        label, station_truth(label, "bench"), FastClock(lambda: now[0], utc.timestamp()), house, 0.9
    )
    watch.add(
        WatchJoin(HOME, home.site.time_zone, "main", judge["plan"], judge["outage"], name, station), by_itself=False
    )
    held = []
    for second in range(4200):
        now[0] += 1
        watch.read(HOME)
        if second % 10 == 0:
            live_view(planner, HOME, judge["outage"])
        if second in (600, 4199):
            gc.collect()
            held.append(int(Path("/proc/self/statm").read_text().split()[1]) * resource.getpagesize() / 1e6)
    watch.close()
    line("held more after an hour's stream, 1 a second", f"{held[1] - held[0]:+.1f} MB", held[1] / held[0], "aim flat")


@njit
def bare(load_w, sun_w, full_wh, floor_wh, out):
    """The same shape with nothing decided: add, subtract, clamp, and note the first time at the floor."""
    m, n = load_w.shape
    for j in range(m):
        wh, first = full_wh[j], -1
        for i in range(n):
            wh += (sun_w[j, i] * 0.97 - load_w[j, i] / 0.94 - 40.0) * 0.25
            wh = min(max(wh, 0.0), full_wh[j])
            if first < 0 and wh < floor_wh:
                first = i
        out[j] = first


def beside(name: str, call: Callable[[int], object], shape: tuple[int, int], aim: str, n: int = 15) -> None:
    """A march beside the bare loop of its shape, in the same run."""
    rng = np.random.default_rng(5)
    load, full, out = rng.gamma(4, 100, shape), np.full(shape[0], 12_000.0), np.zeros(shape[0])
    sun = rng.uniform(0, 900, shape)
    bare(load, sun, full, 1200.0, out)
    plain = timed(lambda _: bare(load, sun, full, 1200.0, out), n)
    call(0)
    ours = timed(call, n)
    middle, ratio = statistics.median(ours), statistics.median(ours) / statistics.median(plain)
    print(f"{name:<46} {f'{middle:.2f} ms, p95 {p95(ours):.2f}':>22}  {ratio:6.1f} x a bare loop   {aim}")


def switched(n: int, engine: Motor | None) -> Controls:
    always, none = np.ones(n, dtype=bool), np.zeros(n)
    return Controls(
        tiers=(),
        engine=engine,
        awake=always,
        engine_may=always,
        owes_w=none,
        gap_w=none,
        delay_h=0.25,
        hands=True,
        by_itself=False,
    )


def marches() -> None:
    rng = np.random.default_rng(5)
    m, n = 400, 672
    store = Store(nominal_wh=12_400, idle_w=40)
    motor = Motor(
        running_w=1800, charger_w=1400, still_l_h=0.2, l_per_wh=1 / 1800, fuel_l=60, start_at=0.3, by_hand=False
    )
    full, start, load = rng.normal(12_000, 300, (m, 1)), np.ones((m, 1)), rng.gamma(4, 100, (m, 1, n))
    day = np.maximum(0, 1500 * np.sin(np.pi * ((np.arange(n) / 4) % 24 - 6) / 12))
    sun = day * rng.random((m, 1, n))
    now = switched(n, motor)
    beside(
        "400 members x 672 quarter hours, sun, engine",
        lambda _: run_many([store], full, start, load, 0.25, sun_w=sun, controls=now, until_dark=False),
        (m, n),
        "aim 20 x",
    )
    beside(
        "one run of 2,880 steps",
        lambda _: run_one([store], [1.0], np.full((1, 2880), 250.0), 0.25),
        (1, 2880),
        "",
    )
    year = np.tile(day[:96], 365)[None]
    beside(
        "a year of quarter hours",
        lambda _: run_one([store], [1.0], np.full((1, 35_040), 250.0), 0.25, sun_w=year),
        (1, 35_040),
        "aim 3 ms",
    )
    many = np.lib.stride_tricks.sliding_window_view(np.full(35_040 + 288, 250.0), 288)[:35_040:4][:, None, :]
    light = np.lib.stride_tricks.sliding_window_view(np.tile(day[:96], 369), 288)[:35_040:4][:, None, :]
    loads, lights = np.ascontiguousarray(many), np.ascontiguousarray(light)
    ends, charged = np.full((8760, 1), 12_000.0), np.full((8760, 1), 0.8)
    beside(
        "72 h from each of 8,760 hours",
        lambda _: run_many([store], ends, charged, loads, 0.25, sun_w=lights),
        (8760, 288),
        "aim 150 ms",
        n=5,
    )


def bands(base_ms: float) -> None:
    """The whole band, members drawn, and the verdict with band and chips, on every demo pair."""
    every: list[tuple[float, str]] = []
    worst: list[tuple[float, str]] = []
    for name in ("saltgrass-house", "via-dei-glicini"):
        demo = planfile.read(demo_file(name), "demo")
        for plan in demo.plans:
            for outage in demo.outages:
                run = judge(demo.home, plan, outage, demo.catalogue).run
                pair = f"{plan.name} in {outage.name}"
                took = timed(lambda _, r=run: band(r), 7)
                worst.append((p95(took), pair))
                took = timed(lambda _, p=plan, o=outage, d=demo: judge(d.home, p, o, d.catalogue), 9)
                every.append((p95(took), pair))
    line(
        "the band, members drawn, slowest demo pair",
        f"{max(worst)[0]:.0f} ms",
        max(worst)[0] / base_ms,
        f"aim 25 ms; {max(worst)[1]}",
    )
    two, one = ([x for x in every if x[1].startswith("Two panels") == of] for of in (True, False))
    for ms, pair in sorted(one, reverse=True)[:3]:
        line("verdict, band and chips, p95", f"{ms:.0f} ms", ms / base_ms, f"aim 60 ms; {pair}")
    for ms, pair in sorted(two, reverse=True)[:4]:
        line("verdict of Two panels, p95", f"{ms:.0f} ms", ms / base_ms, f"aim 100 ms; {pair}")


def buying(base_ms: float) -> None:
    """Everything that can be bought, with a catalogue large enough for 2,000 ways."""
    demo = planfile.read(demo_file("saltgrass-house"), "demo")
    plan = next(p for p in demo.plans if p.id == "ten-place")
    outage = next(o for o in demo.outages if o.id == "november-windstorm")
    kit = demo.catalogue
    more = {
        f"{s.id}-{k}": replace(s, id=f"{s.id}-{k}", nominal_wh=s.nominal_wh * (1 + k / 20))
        for s in kit.stations.values()
        for k in range(8)
        if s.currency == "USD" and not s.vehicle
    }
    large = replace(kit, stations=kit.stations | more)
    used = in_outage(demo.home, plan, outage)
    frontier(used, plan, outage, kit)  # the sun's library is loaded once
    start = time.perf_counter()
    found = frontier(used, plan, outage, large)
    took = time.perf_counter() - start
    name = f"what to buy, {found.tried:,} ways of which {len(found.reaches):,} fit"
    line(name, f"{took:.1f} s", 1000 * took / base_ms, "aim 1.5 s for 2,184")
    peak = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1024
    line("memory so far", f"{peak:.0f} MB", None, "aim 300 MB")


def logs() -> None:
    n = 43_200
    minutes = np.arange(n)
    watts = np.where(minutes % 43 < 18, 131.0, 4.0)
    found = timed(lambda _: analyse(minutes * 60.0, watts), 15)
    line("analysing a channel of 43,200 minutes", f"{statistics.median(found):.0f} ms", None, "aim 100 ms")
    large_log()


def large_log() -> None:
    """A million rows of 16 channels: merely read by the dataframe library, and read by us; each in a process of its
    own."""
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "large.csv"
        n, rng = 1_000_000, np.random.default_rng(1)
        start = pl.datetime(2026, 4, 1)
        end = start + pl.duration(seconds=10 * (n - 1))
        columns = {"time": pl.datetime_range(start, end, interval="10s", eager=True).dt.strftime("%Y-%m-%d %H:%M:%S")}
        i = np.arange(n)
        for k in range(16):
            level = np.where(i % (200 + 31 * k) < 80, 131.0 + k, 4.0)
            columns[f"channel {k} W"] = pl.Series(np.round(level + rng.normal(0, 0.8, n).clip(-3, 3), 1))
        pl.DataFrame(columns).write_csv(path)
        plain = child(f"import polars as pl\nfor _ in range(5): mark(lambda: pl.read_csv({str(path)!r}))")
        ours = child(
            "from pathlib import Path\nfrom imbuto.formats.meter_data import meterlog\n"
            f"for _ in range(5): mark(lambda: meterlog.read(Path({str(path)!r}), 'log', 'America/Los_Angeles'))"
        )
        size = path.stat().st_size / 1e6
        name = f"a CSV of 1,000,000 rows, 16 channels, {size:.0f} MB"
        print(f"{name:<46} {ours[0]:>19.0f} ms  {ours[0] / plain[0]:6.2f} x merely reading it   aim 2.5")
        print(f"{'  its memory':<46} {ours[1]:>19.0f} MB  {ours[1] / plain[1]:6.2f} x merely reading it")


def child(code: str) -> tuple[float, float]:
    """Run in a process of its own: the median ms of what it marks, and its highest memory in MB."""
    head = (
        "import resource, statistics, time\ntook = []\n"
        "def mark(call):\n    start = time.perf_counter(); call(); took.append(1000 * (time.perf_counter() - start))\n"
    )
    tail = "\nprint(statistics.median(took), resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1024)"
    done = subprocess.run([sys.executable, "-c", head + code + tail], capture_output=True, text=True, check=True)
    ms, memory = done.stdout.split()
    return float(ms), float(memory)


def proposing(base_ms: float) -> None:
    rng = random.Random(4)
    circuits, loads = {}, {}
    for i in range(40):
        motor = i % 5 == 0
        run = float(rng.choice([40, 90, 150, 300, 600, 900]))
        circuits[f"c{i}"] = Circuit(id=f"c{i}", name=f"Circuit {i}", slots=(i + 1,), breaker_a=20)
        loads[f"l{i}"] = Load(
            id=f"l{i}",
            name=f"Load {i}",
            kind="compressor" if motor else "electronics",
            circuit=f"c{i}",
            average_w=run * rng.uniform(0.3, 1),
            run_w=run,
            purpose=PURPOSES[i % 6],
            turns_ok=i % 3 == 0,
        )
    home = CoreHome(id="h", name="Home", service=Service(slots=84), circuits=circuits, loads=loads)
    plan = Plan(
        id="p",
        name="Plan",
        devices={"main": Device(id="main", equipment="grid-parallel")},
        sources={"main": Source(id="main", station="tun", modules=4)},
    )
    outage = Outage(id="o", name="Outage", start=datetime(2026, 11, 24, 18), hours=48, goal_hours=24)
    found = timed(lambda _: propose(home, plan, outage, shipped()), 5)
    middle = statistics.median(found)
    line("proposing a set, 40 circuits, 8 motors", f"{middle:.0f} ms", middle / base_ms, "aim 250 ms")
    demo = planfile.read(demo_file("saltgrass-house"), "demo")
    now = resolve_part(demo.home, demo.plans[0], demo.catalogue)
    found = timed(lambda _: fit(now, demo.outages[0]), 30)
    middle = statistics.median(found)
    line("all limits of the demo plan", f"{middle:.1f} ms", middle / base_ms, "aim 10 ms")


def first_answer(base_ms: float) -> None:
    def call(i: int) -> None:
        with tempfile.TemporaryDirectory() as folder:
            port = 18_700 + i
            command = [sys.executable, "-m", "imbuto.cli", "demo", "--folder", folder, "--port", str(port)]
            process = subprocess.Popen(command, stdout=subprocess.DEVNULL)
            try:
                while True:
                    try:
                        urllib.request.urlopen(f"http://localhost:{port}/api/about", timeout=1).close()
                        return
                    except OSError:
                        time.sleep(0.02)
            finally:
                process.terminate()
                process.wait()

    found = timed(call, 3)
    middle = statistics.median(found)
    line("start, new demo, to the first answer", f"{middle / 1000:.2f} s", middle / base_ms, "aim 2.5 s")


def first_load() -> None:
    folder = built_interface()
    assert folder is not None, "make build first"

    def size(name: str) -> int:
        return len(gzip.compress((folder / name).read_bytes(), 9))

    page = (folder / "index.html").read_text()
    wanted = set(re.findall(r"/(assets/[\w.-]+\.(?:js|css))", page))
    entry = next(folder.glob("assets/index-*.js")).read_text()
    house = set(re.findall(r"assets/(?:HousePlace|FirstPage)-[\w-]+\.(?:js|css)", entry))
    todo = list(wanted | house)
    while todo:  # what those files import in turn, without what is loaded on demand
        text = (folder / todo.pop()).read_text() if todo[-1].endswith(".js") else (todo.pop(), "")[1]
        for name in re.findall(r'(?:from|import)"\./([\w.-]+\.js)"', text):
            if f"assets/{name}" not in wanted | house:
                house.add(f"assets/{name}")
                todo.append(f"assets/{name}")
    total = sum(size(name) for name in wanted | house if (folder / name).exists())
    line("first load of House, JS and CSS, gzipped", f"{total / 1000:.0f} kB", None, "aim 350 kB")


def main() -> None:
    base_ms = 1000 * statistics.median(baseline() for _ in range(7))
    print(f"baseline: {base_ms:.1f} ms of plain Python arithmetic\n")
    marches()
    bands(base_ms)
    buying(base_ms)
    logs()
    proposing(base_ms)
    edits(base_ms)
    first_answer(base_ms)
    first_load()


if __name__ == "__main__":
    main()
