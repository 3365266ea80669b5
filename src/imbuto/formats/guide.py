"""The plan file's fields as a page of the guide, from the dataclasses themselves."""

from __future__ import annotations

import inspect
import re
from dataclasses import MISSING, Field, fields, is_dataclass
from decimal import Decimal
from types import NoneType, UnionType
from typing import Annotated, Any, Literal, Union, get_args, get_origin, get_type_hints

from annotated_types import Interval, Len, Unit

from imbuto.core.basics.clock import Window
from imbuto.core.basics.units import FieldMeaning
from imbuto.core.equipment.bare_battery import Battery
from imbuto.core.equipment.catalogue import Catalogue
from imbuto.core.equipment.power_station import Module, Station
from imbuto.core.equipment.solar_panel import Panel
from imbuto.core.equipment.transfer_equipment import TransferEquipment
from imbuto.core.equipment.wires import Cord
from imbuto.core.home.circuits import Circuit, SubPanel
from imbuto.core.home.home import Home, Service, Site
from imbuto.core.home.loads import Load, Use
from imbuto.core.measuring.readings import Reading
from imbuto.core.plan.outage import Outage
from imbuto.core.plan.plan import Device, Feed, Plan
from imbuto.core.plan.sources import Array, AwayTimes, Bank, Shade, Source

PARTS = (
    Home,
    Service,
    Site,
    SubPanel,
    Circuit,
    Load,
    Use,
    Window,
    Plan,
    Source,
    AwayTimes,
    Device,
    Bank,
    Array,
    Shade,
    Feed,
    Cord,
    Outage,
    Reading,
    Catalogue,
    Station,
    TransferEquipment,
    Module,
    Panel,
    Battery,
)
UNIT_TAIL = re.compile(r"_(a|w|va|wh|c|v|h|ms|kg|m|db|s)$")
HEAD = """# The plan file

One JSON document holds a home, its plans and outages, and the catalogue entries they use. It goes out by *Save as a
plan file* or `imbuto export`, comes in by *Take in a plan file* or `imbuto import`, and is what `imbuto estimate`
reads. Out and in again gives the same figures to the last digit; unknown keys and ids survive. Its JSON Schema is
printed by `imbuto schema`.

    {"format": "imbuto", "version": 2, "home": {…}, "plans": […], "outages": […], "readings": [], "catalogue": {…}}

`readings` are what was noted of loads, circuits and the home, each as typed and when. A file has at most 20 MB; a
newer version, a field of the wrong kind, a value outside its range, a name that points at nothing or a number that is not
finite is refused by one sentence, and nothing is half taken. A file of version 1, whose plans had one transfer device
each, is read all the same. Maps are keyed by id, and each entry repeats its id.
[`examples/four-loads.json`](../../examples/four-loads.json)
is a small one.

This page is made from the program's own data classes.
"""


def page() -> str:
    """The whole page, as Markdown."""
    return HEAD + "".join(_section(part) for part in PARTS)


def _section(part: Any) -> str:
    intro = (part.__doc__ or "").split("\n\n")[0].split(". ")[0].strip().rstrip(".")
    rows = [
        f"| `{f.name}` | {kind} | {limits} | {default} | {meaning} |".replace("|  |", "| |")
        for f, (kind, limits, default, meaning) in zip(fields(part), field_notes(part), strict=True)
    ]
    table = "\n".join(["| field | kind | range | default | meaning |", "| --- | --- | --- | --- | --- |", *rows])
    return f"\n## {part.__name__}\n\n{' '.join(intro.split())}.\n\n{table}\n"


def _notes(doc: str) -> dict[str, str]:
    """What a docstring says of its fields: ``name: text`` or ``name, other: text``, a line each, indented where it
    goes on."""
    found: dict[str, str] = {}
    names: list[str] = []
    for line in inspect.cleandoc(doc).splitlines():
        begun = re.match(r"(\w+(?:, \w+)*(?: and \w+)?): (.*)", line)
        if begun:
            names = re.split(r", | and ", begun[1])
            found |= dict.fromkeys(names, begun[2])
        elif names and line.startswith("    "):
            found |= {name: f"{found[name]} {line.strip()}" for name in names}
        else:
            names = []
    return found


def field_notes(part: Any) -> list[tuple[str, str, str, str]]:
    """Each field's kind, limits, default and meaning, as a person reads them."""
    hints = get_type_hints(part, include_extras=True)
    notes = {k: v for base in reversed(part.__mro__[:-1]) for k, v in _notes(base.__doc__ or "").items()}
    return [
        (*_kind(hints[f.name]), _default(f), field_meaning(hints[f.name]) or notes.get(f.name, _spelled(f.name)))
        for f in fields(part)
    ]


def field_meaning(hint: Any) -> str:
    """What a field's own annotation says that it means, with the source of its default; empty where it says nothing."""
    found = (
        next((x for x in get_args(hint)[1:] if isinstance(x, FieldMeaning)), None)
        if get_origin(hint) is Annotated
        else None
    )
    return "" if found is None else found.meaning + (f" ({found.source})" if found.source else "")


def _spelled(name: str) -> str:
    return UNIT_TAIL.sub("", name).replace("_", " ")


def _kind(hint: Any) -> tuple[str, str]:
    """A type and its limits as a person reads them."""
    if get_origin(hint) is Annotated:
        inner, *extras = get_args(hint)
        kind, limits = _kind(inner)
        unit = next((f" {x.unit}" for x in extras if isinstance(x, Unit)), "")
        for extra in extras:
            if isinstance(extra, Interval):
                limits = _interval(extra)
            elif isinstance(extra, Len) and extra.max_length is not None:
                limits = f"{extra.min_length} to {extra.max_length} long"
        return kind, f"{limits}{unit}" if limits else limits
    if get_origin(hint) in (Union, UnionType):
        inner = [a for a in get_args(hint) if a is not NoneType]
        kind, limits = _kind(inner[0]) if len(inner) == 1 else (" or ".join(_kind(a)[0] for a in inner), "")
        return (f"{kind} or null" if NoneType in get_args(hint) else kind), limits
    if get_origin(hint) is Literal:
        return ", ".join(f"`{a}`" for a in get_args(hint)), ""
    if get_origin(hint) is tuple:
        return f"list of {_kind(get_args(hint)[0])[0]}", ""
    if get_origin(hint) is dict:
        return f"map of {_kind(get_args(hint)[1])[0]}", ""
    if is_dataclass(hint):
        name = getattr(hint, "__name__", "")
        return f"[{name}](#{name.lower()})", ""
    names = {str: "text", float: "number", int: "whole number", bool: "true or false", Decimal: "money, as text"}
    return names.get(hint, "local date and time" if getattr(hint, "__name__", "") == "datetime" else str(hint)), ""


def _interval(x: Interval) -> str:
    low = x.ge if x.ge is not None else x.gt
    above = "over " if x.gt is not None else ""
    if low is None:
        return f"up to {x.le:,}"
    return f"{above}{low:,} to {x.le:,}" if x.le is not None else f"{above}{low:,} or more"


def _default(f: Field[Any]) -> str:
    if f.default is not MISSING:
        value = f.default
        shown = {True: "true", False: "false"}.get(value) if isinstance(value, bool) else value
        return "null" if value is None else "empty" if value in ("", ()) else f"{shown}"
    return "empty" if f.default_factory is not MISSING else "must be given"
