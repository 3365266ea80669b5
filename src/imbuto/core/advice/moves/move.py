"""A changed plan, and what every kind of change is made with."""

from __future__ import annotations

from dataclasses import dataclass, replace

from imbuto.core.home.loads import PURPOSES
from imbuto.core.plan.plan import Feed, Plan
from imbuto.core.plan.sources import Source
from imbuto.core.plan.system import Part, PoweredLoad


@dataclass(frozen=True, slots=True)
class Move:
    """A changed plan.

    family: at most one of each is shown at a glance
    harm: what is given up, 0 for nothing
    enter: id of a load whose true figure is to be entered instead, empty where the plan changes
    """

    id: str
    family: str
    label: str
    plan: Plan
    harm: float = 0.0
    enter: str = ""


def harm_of(item: PoweredLoad) -> float:
    """How much it hurts to lose a load: most for life and health."""
    return 1.0 + len(PURPOSES) - PURPOSES.index(item.load.purpose)


def loads_by_feed(part: Part) -> dict[str, list[PoweredLoad]]:
    found: dict[str, list[PoweredLoad]] = {feed_id: [] for feed_id in part.plan.feeds}
    for item in part.fed:
        found[item.feed.id].append(item)
    return found


def with_source(plan: Plan, source: Source) -> Plan:
    return replace(plan, sources=plan.sources | {source.id: source})


def with_feed(plan: Plan, *feeds: Feed) -> Plan:
    return replace(plan, feeds=plan.feeds | {f.id: f for f in feeds})


def without_feed(plan: Plan, feed_id: str) -> Plan:
    return replace(plan, feeds={k: f for k, f in plan.feeds.items() if k != feed_id})


def inside_sentence(name: str) -> str:
    """A name inside a sentence."""
    return name[:1].lower() + name[1:]
