"""The panel's directory and its dot labels, as a PDF to print, cut and tape."""

from __future__ import annotations

from base64 import b64encode
from dataclasses import dataclass
from html import escape
from importlib import resources
from pathlib import Path

from imbuto.core.home.circuits import Circuit, panel_leg
from imbuto.core.home.home import Home
from imbuto.core.plan.plan import Plan, places_of

PAPER = {"letter": "8.5in 11in", "a4": "210mm 297mm"}
FONTS = {
    "Imbuto Text": "atkinson-hyperlegible-next-latin-wght-normal",
    "Imbuto Head": "bricolage-grotesque-latin-wght-normal",
}


@dataclass(frozen=True, slots=True)
class Mark:
    """A dot beside a breaker. text: the places of its circuit, or the mark of one that must be off."""

    text: str
    name: str
    off: bool


def directory_rows(home: Home, panel: str | None = None) -> list[tuple[list[Circuit], list[Circuit]]]:
    """A panel row by row: what is in its left slot and in its right one, as it hangs on the wall; None for the main
    one."""
    by_slot: dict[int, list[Circuit]] = {}
    for circuit in home.circuits.values():
        for slot in circuit.slots if circuit.panel == panel else ():
            by_slot.setdefault(slot, []).append(circuit)
    last = max([home.service.slots if panel is None else home.panels[panel].slots, *by_slot], default=0)
    return [(by_slot.get(s, []), by_slot.get(s + 1, [])) for s in range(1, last + 1, 2)]


def marks(home: Home, plan: Plan | None) -> list[Mark]:
    """The dots of a plan: place numbers beside the circuits it feeds, and a mark for those that share a neutral with
    one and must be off, or moved with it, before a source connects."""
    if plan is None:
        return []
    fed = {f.circuit: places_of(f, home) for f in plan.feeds.values() if f.circuit is not None}
    found = [
        Mark(" · ".join(map(str, places)), home.circuits[c].name, off=False)
        for c, places in sorted(fed.items(), key=lambda item: item[1])
        if c in home.circuits
    ]
    for circuit in home.circuits.values():
        if circuit.neutral_partner in fed and circuit.id not in fed:
            found.append(Mark("OFF", circuit.name, off=True))
    return found


def labels_html(home: Home, plan: Plan | None, paper: str, day: str) -> str:
    """The page as HTML, with every word escaped."""
    tables = f"<table>{_rows(home, None)}</table>" + "".join(
        f"<h2>{escape(p.name)}</h2><p class=sub>Behind a {p.feeder_a:g} A feeder from "
        f"{escape(home.panel_name(p.behind))}</p>"
        f"<table>{_rows(home, p.id)}</table>"
        for p in home.panels.values()
    )
    dots = "".join(
        f'<div class="dot{" off" if m.off else ""}"><b>{escape(m.text)}</b><span>{escape(m.name)}</span></div>'
        for m in marks(home, plan)
    )
    what = f"<h2>Dots for “{escape(plan.name)}”</h2>" if plan else ""
    note = (
        "<p class=note>A number is the place of the switch the circuit is moved to. OFF: shares a neutral with a moved "
        "circuit; off, or moved together with it, before a source connects. The work behind the cover is an "
        "electrician’s; your local code decides.</p>"
    )
    return (
        f"<!doctype html><html lang=en><meta charset=utf-8><title>{escape(home.name)}: panel directory</title>"
        f"<style>{_style(paper)}</style><h1>{escape(home.name)}: panel directory</h1>"
        f"<p class=sub>{home.service.main_a:g} A main · printed {escape(day)} · GF ground-fault, AF arc-fault "
        f"device</p>"
        f"{tables}{what}{f'<div class=dots>{dots}</div>{note}' if dots else ''}</html>"
    )


def _rows(home: Home, panel: str | None) -> str:
    return "".join(
        f"<tr><td class=n>{2 * i + 1}</td>{_cell(home, left)}{_cell(home, right)}<td class=n>{2 * i + 2}</td></tr>"
        for i, (left, right) in enumerate(directory_rows(home, panel))
    )


def labels_pdf(home: Home, plan: Plan | None, paper: str, day: str) -> bytes:
    """The page as PDF. Nothing is fetched from anywhere but the fonts that ship. Raises OSError where the text-drawing
    libraries of the system are missing."""
    from weasyprint import HTML  # slow to load, and only wanted here
    from weasyprint.urls import URLFetcher

    made: bytes = HTML(
        string=labels_html(home, plan, paper, day), url_fetcher=URLFetcher(allowed_protocols={"file"})
    ).write_pdf()
    return made


def _cell(home: Home, circuits: list[Circuit]) -> str:
    if not circuits:
        return "<td class=empty></td>"
    return f"<td>{''.join(_line(home, c) for c in circuits)}</td>"


def _line(home: Home, circuit: Circuit) -> str:
    names = ", ".join(x.name for x in home.loads_on(circuit.id))
    leg = "" if home.service.legs == 1 else " · A+B" if circuit.poles == 2 else f" · {panel_leg(circuit)}"
    guard = {"none": "", "ground_fault": " · GF", "arc_fault": " · AF", "both": " · GF AF"}[circuit.protection]
    traced = "" if circuit.traced else " <i>not traced</i>"
    tandem = " (tandem)" if circuit.tandem else ""
    return (
        f"<div><b>{escape(circuit.name)}</b>{tandem}{traced} <span>{circuit.breaker_a:g} A{leg}{guard}"
        f"{f' · {escape(circuit.room)}' if circuit.room else ''}</span><br><small>{escape(names)}</small></div>"
    )


def faces(*, inside: bool = False) -> str:
    """The fonts that ship, as style rules. inside: with their bytes, for a page that is carried away."""

    def at(path: Path) -> str:
        return f"data:font/woff2;base64,{b64encode(path.read_bytes()).decode()}" if inside else path.as_uri()

    return "".join(
        f'@font-face{{font-family:"{family}";src:url("{at(path)}"){";font-weight:200 800" if inside else ""}}}'
        for family, stem in FONTS.items()
        if (path := _font(stem))
    )


def _style(paper: str) -> str:
    return (
        faces()
        + f"""
    @page {{ size: {PAPER[paper]}; margin: 11mm 12mm; }}
    body {{ font: 8.4pt/1.18 "Imbuto Text", "DejaVu Sans", sans-serif; color: #1d2b33; margin: 0; }}
    h1, h2 {{ font-family: "Imbuto Head", "DejaVu Sans", sans-serif; margin: 0; }}
    h1 {{ font-size: 17pt; }} h2 {{ font-size: 12pt; margin: 8pt 0 4pt; break-after: avoid; }}
    .sub {{ margin: 1pt 0 5pt; color: #55636a; }}
    table {{ width: 100%; border-collapse: collapse; table-layout: fixed; border: 1.2pt solid #1d2b33; }}
    td {{ border: .5pt solid #8d8676; padding: 1.4pt 4pt; height: 16pt; vertical-align: middle; overflow: hidden; }}
    .n {{ width: 17pt; text-align: center; font-weight: 700; padding: 0; }}
    td:last-child.n {{ border-left: .5pt solid #8d8676; }}
    .empty {{ background: repeating-linear-gradient(135deg, #fff 0 3pt, #e9e3d6 3pt 3.6pt); }}
    td span {{ color: #55636a; font-size: 7.4pt; }} small {{ font-size: 7.2pt; color: #55636a; }}
    .dots {{ display: flex; flex-wrap: wrap; gap: 5pt 8pt; }}
    .dot {{ width: 62pt; text-align: center; break-inside: avoid; }}
    .dot b {{ display: block; width: 34pt; height: 34pt; line-height: 34pt; margin: 0 auto 1pt; border: 1.6pt solid #1d2b33;
      border-radius: 50%; font: 700 13pt/34pt "Imbuto Head", "DejaVu Sans", sans-serif; }}
    .off b {{ background: #1d2b33; color: #fff; border-radius: 4pt; font-size: 10.5pt; }}
    .dot span {{ font-size: 7pt; }}
    .note {{ margin: 6pt 0 0; color: #55636a; }}
    """
    )


def _font(stem: str) -> Path | None:
    """A font of the built interface; the system's own stands in where it was not built."""
    folder = Path(str(resources.files("imbuto").joinpath("web_dist", "assets")))
    return next(folder.glob(f"{stem}-*.woff2"), None) if folder.is_dir() else None
