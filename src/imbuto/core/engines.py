"""What must hold of a generator in a plan, and what its fuel does."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from imbuto.core.controls import at_height
from imbuto.core.equipment import Generator
from imbuto.core.joining import Joined
from imbuto.core.limit import Limit
from imbuto.core.limits import Instants
from imbuto.core.units import number_text

FAR_M = 6  # an engine stands at least so far from doors and windows; the usual caution


def engine_limits(joined: Joined, now: Instants) -> Iterator[Limit]:
    """Limits of a generator: it carries what runs together, and a start on top; cautions of exhaust and neutral."""
    made, use = joined.generator, joined.plan.engine
    if made is None or use is None:
        return
    house = 230 if joined.home.service.volts == 230 else 120
    if (made.volts == "230") != (house == 230):
        yield Limit(
            id="engine_volts", family="engine", title="Generator, voltage", kind="yes_no", severity="refuse", ok=False,
            sentence=f"{made.name} gives {made.volts} V and the house runs on {house} V.",
        )  # fmt: skip
    yield from _power(joined, made, now)
    settled = joined.plan.ticks
    yield Limit(
        id="engine_place", family="engine", title="Where the engine stands", kind="yes_no", severity="caution",
        ok="engine_place" in settled, tick="engine_place",
        sentence=f"{made.name} runs outdoors only, at least {FAR_M} m from doors and windows, exhaust away from the house, "
        "dry but never in a garage or shed; a carbon-monoxide alarm is tested indoors, and it is refuelled cold.",
    )  # fmt: skip
    if made.bonded_neutral and joined.equipment.kind != "cords" and not joined.equipment.switched_neutral:
        yield Limit(
            id="engine_bond", family="engine", title="Generator, neutral and ground", kind="yes_no", severity="caution",
            ok="engine_bond" in settled, tick="engine_bond",
            sentence=f"{made.name} joins neutral to its frame, and the house joins it to ground too: on the house's inlet its "
            "ground-fault device trips. An electrician resolves it; never lift a ground.",
        )  # fmt: skip
    if not use.charges or (joined.station is not None and not joined.station.charges_while_supplying):
        yield Limit(
            id="engine_charges", family="engine", title="Generator stores nothing", kind="yes_no", severity="caution",
            ok="engine_charges" in settled, tick="engine_charges",
            sentence="While the generator carries the house nothing of it is stored: the station passes it on and does not "
            "charge. Fuel burnt then buys only the hours it runs.",
        )  # fmt: skip


def _power(joined: Joined, made: Generator, now: Instants) -> Iterator[Limit]:
    running = at_height(made.running_w, joined.home.site.elevation_m)
    surge = max(at_height(made.surge_w, joined.home.site.elevation_m), running)
    together = now.most(now.w)
    yield Limit(
        id="engine_w", family="engine", title="Generator carries", used=together, limit=running, unit="W",
        ok=together <= running, evidence="default",
        sentence=f"While {made.name} runs it carries the house past the inverter: {number_text(together)} of "
        f"{number_text(running)} W may run together.",
    )  # fmt: skip
    start, who = now.hardest_start(np.ones(len(now.fed)))
    yield Limit(
        id="engine_start", family="engine", title="Generator, hardest start", used=start, limit=surge, unit="VA",
        ok=start <= surge, severity="caution", evidence="default",
        sentence=f"{who or 'Nothing'} starting on all the rest asks {made.name} for {number_text(start)} of "
        f"{number_text(surge)} VA. Start it before the generator takes over, or with less running.",
    )  # fmt: skip
