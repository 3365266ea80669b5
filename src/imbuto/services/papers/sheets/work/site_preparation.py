"""The sheet of site preparation: where the station stands, and what to ask before."""

from __future__ import annotations

from imbuto.core.basics.measures import least_text, length_text, mass_text, temp_text, temps_text
from imbuto.core.equipment.power_station import Station
from imbuto.core.limits.rules.generator_limits import FAR_M
from imbuto.formats.printing.paper import Bullets, Sheet, SheetPart, TableRows
from imbuto.services.papers.sheet_request import SheetKind, SheetRequest

SITE_QUESTIONS = (
    "Is the location allowed? Ask the building authority about clearances, openings, sleeping rooms, heat and cold.",
    "Does the battery's listing allow that room? If you don't know, don't assume that it does.",
    "An inlet near an engine: at least {far} from every opening, exhaust away?",
)


ALONE_KG = 25.0  # in one piece, for one person; common guidance


def site(a: SheetRequest) -> Sheet:
    """Where it stands."""
    spot = a.documents.home.household.panel
    rows = [
        (
            x.station.name,
            mass_text(x.station.weight_kg + x.source.modules * x.station.module_weight_kg)
            if x.station.weight_kg
            else "weight not listed",
            _carried(x.station),
            x.source.spot,
            _weather(x.station),
        )
        for x in a.parts
    ]
    known = [
        ("from panel to station", length_text(spot.distance_m) if spot.distance_m else "not measured"),
        ("wire route", spot.route or "not entered"),
        ("the wall", spot.wall or "not entered"),
        ("shelter", spot.shelter or "not entered"),
    ]
    return a.sheet(
        "site",
        "Site preparation",
        "Before anything is delivered",
        SheetPart(
            "What gets delivered",
            (TableRows(("what", "weight", "carried by", "stands", "cold and heat"), tuple(rows)),) if rows else (),
        ),
        SheetPart("The place", (TableRows(("what", "so far"), tuple(known)),)),
        SheetPart(
            "To do",
            (
                Bullets(
                    (
                        "A backing board or a firm, dry, level floor.",
                        "A hand's width of air in front of and behind its fans.",
                        "An outlet for the charger on a circuit rated for it over hours.",
                        "Nothing above it that can fall or leak.",
                    ),
                    ticks=True,
                ),
            ),
        ),
        SheetPart(
            "Questions for the authority",
            (Bullets(tuple(q.format(far=least_text(FAR_M)) for q in SITE_QUESTIONS), ticks=True),),
        ),
    )


def _weather(station: Station) -> str:
    gives = temps_text(station.discharge_min_c, station.discharge_max_c)
    return f"supplies power from {gives}, charges from {temp_text(station.charge_min_c)}"


def _carried(station: Station) -> str:
    heaviest = max(station.weight_kg, station.module_weight_kg)
    if not heaviest:
        return "to look up"
    if heaviest <= ALONE_KG:
        return f"one person, {mass_text(heaviest)} at a time"
    return f"two people{' and its wheels' if station.wheels else ' and a cart'}, {mass_text(heaviest)} in one piece"


def _unsited(a: SheetRequest) -> list[str]:
    spot = a.documents.home.household.panel
    return [w for w, known in (("the distance to the panel", spot.distance_m), ("wire route", spot.route)) if not known]


KIND = SheetKind(
    "site",
    "Site preparation",
    "Location, and questions to ask first",
    "the person who carries it, the authority",
    site,
    _unsited,
)
