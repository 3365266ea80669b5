"""Equipment as data: power stations with their modules, transfer equipment, panels, generators. All shipped entries
are made up.

The fields of these classes are the one table of what can be bought: name, unit and range, meaning, source and default
of each feed validation, the page on the plan file, the columns of CSV, and the forms."""

from __future__ import annotations

from dataclasses import dataclass, field
from functools import lru_cache

from imbuto.core.basics.data_tables import rows
from imbuto.core.equipment.bare_battery import Battery
from imbuto.core.equipment.portable_generator import Generator
from imbuto.core.equipment.power_station import Module, Station
from imbuto.core.equipment.solar_panel import Panel
from imbuto.core.equipment.transfer_equipment import TransferEquipment


@dataclass(frozen=True, slots=True, kw_only=True)
class Catalogue:
    """Equipment by id. A home's own entries stand before the shipped ones."""

    stations: dict[str, Station] = field(default_factory=dict)
    transfer: dict[str, TransferEquipment] = field(default_factory=dict)
    panels: dict[str, Panel] = field(default_factory=dict)
    modules: dict[str, Module] = field(default_factory=dict)
    generators: dict[str, Generator] = field(default_factory=dict)
    batteries: dict[str, Battery] = field(default_factory=dict)

    def over(self, other: Catalogue) -> Catalogue:
        """This catalogue's entries, with the other's where this has none."""
        return Catalogue(
            stations=other.stations | self.stations,
            transfer=other.transfer | self.transfer,
            panels=other.panels | self.panels,
            modules=other.modules | self.modules,
            generators=other.generators | self.generators,
            batteries=other.batteries | self.batteries,
        )


@lru_cache(maxsize=1)
def shipped() -> Catalogue:
    """The made-up equipment that ships."""
    return Catalogue(
        stations={row.id: row for row in rows("stations.csv", Station)},
        transfer={row.id: row for row in rows("transfer.csv", TransferEquipment)},
        panels={row.id: row for row in rows("panels.csv", Panel)},
        modules={row.id: row for row in rows("modules.csv", Module)},
        generators={row.id: row for row in rows("generators.csv", Generator)},
        batteries={row.id: row for row in rows("batteries.csv", Battery)},
    )
