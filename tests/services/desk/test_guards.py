"""Breakers and fuses of a plan, and what to have ready."""

from dataclasses import replace

import pytest

from imbuto.core.advice.breakers import guards, preparations
from imbuto.core.diagram.joining_diagram import diagram
from imbuto.core.plan.system import resolve_part
from imbuto.formats import planfile
from imbuto.services.desk.demo import demo_file

BUNDLE = planfile.read(demo_file("saltgrass-house"), "demo")
PLANS = {p.id: p for p in BUNDLE.plans}


def made(plan_id: str, **changes):
    return resolve_part(BUNDLE.home, replace(PLANS[plan_id], **changes), BUNDLE.catalogue)


def test_every_source_has_its_own_and_direct_current_is_told():
    found = {g.place: g for g in guards(made("switched-panel"))}
    shed = found["Disconnect at Shed roof"]
    assert shed.direct
    assert shed.amps == pytest.approx(1.56 * 13.95)
    assert shed.volts == pytest.approx(8 * 38.9 * (1 - 0.0025 * (-14 - 25)) * 1.03)
    assert not found["Breaker from Tun to the inlet"].direct
    assert found["Breaker from Tun to the inlet"].amps == 50  # the lower of outlet and inlet
    assert "Outlet of Ember 7000" in found
    assert "Fuse for each Stave 4" in found


def test_three_strings_want_a_fuse_each():
    array = PLANS["switched-panel"].arrays["shed-roof"]
    two, three = (made("switched-panel", arrays={"shed-roof": replace(array, parallel=n)}) for n in (2, 3))
    assert not [g for g in guards(two) if "each string" in g.place]
    fuse = next(g for g in guards(three) if "each string" in g.place)
    assert fuse.amps == pytest.approx(1.56 * 13.95)


def test_what_to_have_ready_follows_the_plan():
    cords, panel = preparations(made("cords-only")), preparations(made("switched-panel"))
    assert not any("Lugs" in x for x in cords)
    assert any("Lugs" in x for x in panel)
    assert any("222 kg" in x for x in panel)  # a Tun of 118 kg and two modules of 52
    assert diagram(made("switched-panel")).guards
