"""What a source's joining can do on ordinary days, and whose hands it takes."""

from __future__ import annotations

from dataclasses import dataclass, replace

from imbuto.core.plan.everyday_policy import Use
from imbuto.core.plan.system import Part, ahead_of


@dataclass(frozen=True, slots=True)
class EverydayModes:
    """What ordinary days a source's joining can carry.

    uses: modes it can be in, none where nothing hangs on it
    by: who can switch
    why: in a sentence
    """

    uses: tuple[Use, ...]
    by: tuple[str, ...]
    why: str


ALL: tuple[Use, ...] = ("stand", "sun", "store", "charge")


def can_do(x: Part) -> EverydayModes:
    """As far as the joining goes, never further; charging from a roof's surplus only where the plan has that roof."""
    found = _by_joining(x)
    roof = bool(x.whole.ac_arrays) and "charge" in found.uses
    return replace(found, uses=(*found.uses, "surplus")) if roof else found


def stands_behind(x: Part) -> bool:
    """Whether it waits at a switch thrown by hand, which another station's gear powers meanwhile."""
    behind = ahead_of(x.whole, x.source.id) is not None
    return behind and any(not e.automatic for e in x.by_device.values())


def _by_joining(x: Part) -> EverydayModes:
    if not x.fed:
        return EverydayModes((), (), "This plan connects nothing to a station.")
    if x.waits:
        return EverydayModes(
            ("stand",),
            ("hand",),
            "This station waits at the inlet of another one and stays full. No one swaps stations on ordinary days.",
        )
    if stands_behind(x):
        why = (
            "Its switch stays on the gateway's power on ordinary days, with the station full. You switch it over in an "
            "outage."
        )
        return EverydayModes(("stand",), ("hand",), why)
    if ahead_of(x.whole, x.source.id) is not None:
        why = "The station ahead of this one serves as its grid"
        if x.source.own_first:
            return EverydayModes(
                ALL,
                ("itself", "app"),
                f"{why}. It runs on its own battery down to the share kept for outages, then on that one's power.",
            )
        return EverydayModes(ALL, ("itself", "app"), f"{why}. It passes that power on and stays full.")
    if any(e.in_panel and not e.automatic for e in x.by_device.values()):
        return EverydayModes(
            ("stand",),
            ("hand",),
            "You switch an interlock for the whole panel by hand, and the power blinks. On ordinary days the "
            "station stays full.",
        )
    if not x.by_device:
        why = "Loads on its cords stay on the station, which is plugged into the wall."
        return EverydayModes(ALL, ("itself", "app"), why)
    if all(e.traits.passed_on for e in x.by_device.values()):
        why = (
            "The switch stays on the station, which is plugged into the wall, passes the grid on, and takes over by "
            "itself in an outage."
        )
        return EverydayModes(ALL, ("itself", "app"), why)
    if all(e.automatic for e in x.by_device.values()):
        why = "Its gear is wired between the grid and the circuits, and switches by itself."
        return EverydayModes(ALL, ("itself", "app"), why)
    why = (
        "You switch it by hand, so it changes only while someone is there, and its loads are off once "
        "the charge is down to the share kept for outages."
    )
    return EverydayModes(("stand", "store", "charge"), ("hand",), why)
