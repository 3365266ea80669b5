"""How honest the band is: of a thousand true houses drawn from the model, how many exceed the 9-in-10 figure quoted.

The true houses are drawn anew and without strata, each quantity on its own; a house that is never dark in the time
looked at exceeds any figure. Between 87 and 93% is wanted. The result stands in docs/guide/band.md."""

from __future__ import annotations

from dataclasses import replace
from statistics import NormalDist
from zlib import crc32

import numpy as np

from imbuto.core.advice.answer import judge
from imbuto.core.plan.plan import Plan
from imbuto.core.run import band_members as draws
from imbuto.core.run.band import members
from imbuto.formats import planfile
from imbuto.services.desk.demo import demo_file

HOUSES = 1000


def draw_anew(seed: int) -> None:
    """Replace the band's strata by plain draws of a seed."""

    def uniforms(name: str) -> np.ndarray:
        return np.random.default_rng([seed, crc32(name.encode())]).random(draws.MEMBERS)

    draws.uniforms = uniforms
    draws.normals = lambda name: np.array([NormalDist().inv_cdf(u) for u in uniforms(name)])


def pair_of(bundle: planfile.Bundle) -> Plan:
    """A plan of two stores, a leg each; *Switched panel* in January is the one that ends with its fuel."""
    ten = next(p for p in bundle.plans if p.id == "ten-place")
    pair = replace(ten.sources["main"], station="firkin", modules=4, units=2, link="coupler")
    return replace(ten, id="pair", name="A pair", sources={"main": pair})


def main() -> None:
    bundle = planfile.read(demo_file("saltgrass-house"), "demo")
    quoted = []
    for plan in [*bundle.plans, pair_of(bundle)]:
        for outage in bundle.outages:
            v = judge(bundle.home, plan, outage, bundle.catalogue, with_moves=False)
            if v.run is not None and v.band is not None and v.band.low_h is not None:
                quoted.append((f"{plan.name}, {outage.name}", v.run, v.band.low_h))
    exceeded = {name: 0 for name, _, _ in quoted}
    rounds = -(-HOUSES // draws.MEMBERS)
    for seed in range(rounds):
        draw_anew(1000 + seed)
        for name, run, low in quoted:
            dark = members(run).first_dark_h.min(axis=1)
            exceeded[name] += int((dark > low).sum())
    of = rounds * draws.MEMBERS
    for name, count in exceeded.items():
        print(f"{name:<44} {100 * count / of:5.1f}% of {of}")
    print(f"{'all':<44} {100 * sum(exceeded.values()) / (of * len(quoted)):5.1f}%")


if __name__ == "__main__":
    main()
