"""Makes the sample logs of the demo house anew, from its simulated instruments; the same on every machine."""

from __future__ import annotations

from datetime import UTC, datetime
from pathlib import Path

from imbuto.devices.simulated import SimulatedHouse, panel_log, truth_of
from imbuto.formats import planfile
from imbuto.services.desk.demo import demo_file

FOLDER = Path(__file__).parents[1] / "src" / "imbuto" / "services" / "demo_homes" / "logs"
CIRCUITS = ["kitchen-fridge", "office", "septic"]


def house() -> SimulatedHouse:
    home = planfile.read(demo_file("saltgrass-house"), "demo").home
    return SimulatedHouse(home, {k: truth_of(x, home.id) for k, x in home.loads.items()})


def panel(found: SimulatedHouse) -> str:
    """A panel monitor: ISO times with their zone, W, a column a circuit."""
    zone = found.home.site.tz
    start = datetime(2026, 11, 9, tzinfo=zone)
    rows = panel_log(found, CIRCUITS, start.astimezone(UTC), 3, 60)
    lines = [",".join(["time", *(f"{found.home.circuits[c].name} W" for c in CIRCUITS)])]
    lines += [",".join([datetime.fromtimestamp(r[0], zone).isoformat(), *(f"{w:.1f}" for w in r[1:])]) for r in rows]
    return "\n".join(lines) + "\n"


def plug(found: SimulatedHouse) -> str:
    """A plug-in meter: day first, semicolons, a comma for the decimals, a counter in kWh."""
    zone = found.home.site.tz
    start = datetime(2026, 11, 11, 18, 0, tzinfo=zone)
    watts = found.load_w("refrigerator", start.timestamp(), 2 * 86_400).reshape(-1, 4).mean(axis=1)
    lines, counted = ["Zeit;Zähler kWh"], 41.3
    for i, w in enumerate(watts):
        at = datetime.fromtimestamp(start.timestamp() + 120 * i, zone)
        lines.append(f"{at:%d.%m.%Y %H:%M};{counted:.5f}".replace(f"{counted:.5f}", f"{counted:.5f}".replace(".", ",")))
        counted += float(w) / 30 / 1000
    return "\n".join(lines) + "\n"


def utility(found: SimulatedHouse) -> str:
    """The utility: Green Button, an hour an interval, the whole house."""
    start = datetime(2026, 10, 16, tzinfo=found.home.site.tz).astimezone(UTC)
    hours = 24 * 20
    total = sum(found.load_w(k, start.timestamp(), hours * 3600) for k in found.home.loads)
    values = total.reshape(hours, -1).mean(axis=1)
    readings = "\n".join(
        f"<IntervalReading><timePeriod><duration>3600</duration><start>{int(start.timestamp()) + 3600 * i}</start>"
        f"</timePeriod><value>{w:.0f}</value></IntervalReading>"
        for i, w in enumerate(values)
    )
    base = "https://utility.invalid/UsagePoint/1/MeterReading/1"
    kind = "https://utility.invalid/ReadingType/1"
    espi = 'xmlns="http://naesb.org/espi"'
    return (
        '<?xml version="1.0" encoding="UTF-8"?>\n<feed xmlns="http://www.w3.org/2005/Atom">\n'
        f'<entry><link rel="self" href="{base}"/><link rel="related" href="{kind}"/><title>Energy delivered</title>'
        f"<content><MeterReading {espi}/></content></entry>\n"
        f'<entry><link rel="self" href="{kind}"/><content><ReadingType {espi}><accumulationBehaviour>4'
        "</accumulationBehaviour><flowDirection>1</flowDirection><intervalLength>3600</intervalLength>"
        "<powerOfTenMultiplier>0</powerOfTenMultiplier><uom>72</uom></ReadingType></content></entry>\n"
        f'<entry><link rel="self" href="{base}/IntervalBlock/1"/><content><IntervalBlock {espi}>\n{readings}\n'
        "</IntervalBlock></content></entry>\n</feed>\n"
    )


def main() -> None:
    FOLDER.mkdir(exist_ok=True)
    found = house()
    for name, make in {"panel-monitor.csv": panel, "plug-in-meter.csv": plug, "utility.xml": utility}.items():
        (FOLDER / name).write_text(make(found), encoding="utf-8")
        print(FOLDER / name)


if __name__ == "__main__":
    main()
