"""A home's own equipment: typed from a label, taken in from CSV or JSON, given out as either."""

from __future__ import annotations

import csv
import io
from dataclasses import MISSING, dataclass, fields
from decimal import Decimal
from typing import Any, Literal, get_args, get_type_hints

from pydantic import TypeAdapter, ValidationError

from imbuto.core.basics.elsewhere import run_elsewhere
from imbuto.core.basics.errors import InvalidValue, UnreadableFile
from imbuto.core.equipment.bare_battery import Battery
from imbuto.core.equipment.catalogue import Catalogue, shipped
from imbuto.core.equipment.portable_generator import Generator
from imbuto.core.equipment.power_station import Module, Station
from imbuto.core.equipment.solar_panel import Panel
from imbuto.core.equipment.transfer_equipment import TransferEquipment
from imbuto.core.measuring.data_sheet import read_sheet
from imbuto.core.measuring.data_sheet_meanings import SheetKind
from imbuto.formats import strict_json
from imbuto.formats.csv_tables.csvout import DANGEROUS, table
from imbuto.formats.documents import CATALOGUE, Json
from imbuto.formats.guide import field_notes
from imbuto.formats.sheetfile import SheetText, text_of
from imbuto.services.desk.judging import Pair
from imbuto.services.desk.planner import EditResult, Planner

Kind = Literal["stations", "modules", "panels", "transfer", "generators", "batteries"]
KINDS: dict[Kind, type] = {
    "stations": Station,
    "modules": Module,
    "panels": Panel,
    "transfer": TransferEquipment,
    "generators": Generator,
    "batteries": Battery,
}
MOST_ENTRIES = 500
MOST_BYTES = 2_000_000
MOST_SHEET = 60_000  # characters pasted


@dataclass(frozen=True, slots=True, kw_only=True)
class FieldNote:
    """A field of an entry: what kind of value, within what, and what it means. needed: it has no default."""

    name: str
    kind: str
    limits: str
    default: str
    meaning: str
    needed: bool
    choices: list[str]


@dataclass(frozen=True, slots=True, kw_only=True)
class CatalogueView:
    """Everything there is to plan with, and which of it is the home's own."""

    catalogue: Catalogue
    own: dict[str, list[str]]
    notes: dict[str, list[FieldNote]]


def catalogue_view(planner: Planner, home_id: str) -> CatalogueView:
    """The equipment of a home. Raises NotFound."""
    documents = planner.open(home_id)
    own: dict[str, list[str]] = {kind: sorted(getattr(documents.home.catalogue, kind)) for kind in KINDS}
    return CatalogueView(
        catalogue=documents.catalogue, own=own, notes={kind: _notes(cls) for kind, cls in KINDS.items()}
    )


def _notes(cls: type) -> list[FieldNote]:
    hints = get_type_hints(cls)
    found = []
    for f, (kind, limits, default, meaning) in zip(fields(cls), field_notes(cls), strict=True):
        choices = [str(x) for x in get_args(hints[f.name]) if isinstance(x, str)]
        needed = f.default is MISSING and f.default_factory is MISSING
        found.append(
            FieldNote(
                name=f.name, kind=kind, limits=limits, default=default, meaning=meaning, needed=needed, choices=choices
            )
        )
    return found


@dataclass(frozen=True, slots=True, kw_only=True)
class ReadView:
    """One value of a sheet.

    value: as it is typed into the form
    words: where it stands
    ask: why to look at it first
    """

    field: str
    value: str
    words: str
    ask: str


@dataclass(frozen=True, slots=True, kw_only=True)
class SheetView:
    """What a sheet says.

    left: pieces with figures that were not taken
    missing: fields that must still be given
    note: what holds for all of it, empty where nothing does
    """

    found: list[ReadView]
    left: list[str]
    missing: list[str]
    note: str = ""


def read_label(kind: SheetKind, text: str) -> SheetView:
    """What the text of a data sheet says of one thing. Raises InvalidValue on one that is far too long."""
    if len(text) > MOST_SHEET:
        raise InvalidValue(
            "the sheet", f"{len(text):,} characters", f"paste the part with the figures, {MOST_SHEET:,} at most"
        )
    sheet = read_sheet(text, kind)
    found = [ReadView(field=f.field, value=_typed(f.value), words=f.words, ask=f.ask) for f in sheet.found]
    said = {f.field for f in sheet.found}
    needed = [n.name for n in _notes(KINDS[kind]) if n.needed and n.name != "id" and n.name not in said]
    return SheetView(found=found, left=list(sheet.left), missing=needed, note=sheet.note)


def sheet_text(data: bytes, name: str) -> SheetText:
    """The text of a data sheet given as a file, as much as is read at once. Raises UnreadableFile."""
    return run_elsewhere(text_of, data, name, MOST_SHEET)


def _typed(value: float | str | bool) -> str:
    if isinstance(value, bool):
        return "yes" if value else "no"
    return (
        f"{value:g}"
        if isinstance(value, float) and abs(value) < 1e5
        else f"{value:.0f}"
        if isinstance(value, float)
        else value
    )


def as_csv(planner: Planner, home_id: str, kind: Kind) -> str:
    """All entries of a kind as a table whose columns are their fields. Raises NotFound."""
    catalogue = planner.open(home_id).catalogue
    names = [f.name for f in fields(KINDS[kind])]
    rows = [[_cell(getattr(x, n)) for n in names] for x in getattr(catalogue, kind).values()]
    return table(names, rows)


def as_json(planner: Planner, home_id: str) -> Json:
    """All entries of every kind. Raises NotFound."""
    written: Json = CATALOGUE.write(planner.open(home_id).catalogue)
    return written


def _cell(value: Any) -> Any:
    return str(value) if isinstance(value, Decimal) else value


def take_in(
    planner: Planner, home_id: str, data: bytes, name: str, kind: Kind, edit_id: str, pair: Pair | None
) -> EditResult:
    """Add entries from a CSV table of one kind, or a JSON catalogue, to the home's own; one edit, which can be undone.

    What is the same as a shipped entry is passed over. Raises UnreadableFile and InvalidValue; then nothing was added.
    """
    if len(data) > MOST_BYTES:
        raise UnreadableFile(
            name, len(data), f"the file has {len(data) / 1e6:.1f} MB; Imbuto can import {MOST_BYTES / 1e6:g} at most"
        )
    entries = _from_json(data, name) if name.lower().endswith(".json") else {kind: _from_csv(data, name, kind)}
    known, own = shipped(), planner.open(home_id).home.catalogue
    ops: list[Json] = []
    for each, found in entries.items():
        for ident, entry in found.items():
            if getattr(known, each).get(ident) == entry:
                continue
            op = "replace" if ident in getattr(own, each) else "add"
            written = TypeAdapter(KINDS[each]).dump_python(entry, mode="json")
            ops.append({"doc": "home", "op": op, "path": f"/catalogue/{each}/{_escape(ident)}", "value": written})
    if not ops:
        raise UnreadableFile(name, None, "it has nothing new")
    state = planner.state(home_id)
    many = f"{len(ops)} entries" if len(ops) > 1 else "1 entry"
    return planner.edit(home_id, state.rev, edit_id, f"Equipment imported: {many}", ops, pair)


def _escape(ident: str) -> str:
    return ident.replace("~", "~0").replace("/", "~1")


def _from_json(data: bytes, name: str) -> dict[Kind, dict[str, Any]]:
    raw = strict_json.parse(data, name)
    if not isinstance(raw, dict) or not set(raw) & set(KINDS):
        raise UnreadableFile(name, None, f"it has none of {', '.join(KINDS)}")
    found = CATALOGUE.read(raw, name)
    for kind in KINDS:
        for key, entry in getattr(found, kind).items():
            if key != entry.id:
                raise InvalidValue(
                    f"{name}, {kind}/{key}/id", entry.id, f"its key is “{key}”, and the two must be the same"
                )
    return {kind: getattr(found, kind) for kind in KINDS}


def _from_csv(data: bytes, name: str, kind: Kind) -> dict[str, Any]:
    try:
        text = data.decode("utf-8-sig")
    except UnicodeDecodeError as error:
        raise UnreadableFile(name, None, f"byte {error.start + 1} is not UTF-8 text; save it as CSV in UTF-8") from None
    cls = KINDS[kind]
    text = text.replace("\r\n", "\n").replace("\r", "\n")
    try:
        rows = list(csv.reader(io.StringIO(text), dialect=_dialect(text)))
    except csv.Error as error:
        raise UnreadableFile(name, None, f"the file isn't a table: {error}") from None
    rows = [r for r in rows if any(c.strip() for c in r) and not r[0].startswith("#")]
    if len(rows) < 2:
        raise UnreadableFile(name, None, "it has no rows; name the columns in the first row")
    head = [c.strip() for c in rows[0]]
    known = [f.name for f in fields(cls)]
    foreign = [c for c in head if c not in known]
    if foreign or "id" not in head:
        rule = f"name the columns {', '.join(known)}"
        raise InvalidValue(f"{name}, row 1", ", ".join(foreign) or "no id", rule)
    if len(rows) - 1 > MOST_ENTRIES:
        raise UnreadableFile(name, len(rows) - 1, f"import at most {MOST_ENTRIES} entries at once")
    found: dict[str, Any] = {}
    for number, row in enumerate(rows[1:], 2):
        if len(row) != len(head):
            raise InvalidValue(f"{name}, row {number}", len(row), f"{len(head)} cells are needed, as in row 1")
        entry = _entry(
            cls, {k: _plain(v) for k, v in zip(head, row, strict=True) if v.strip()}, f"{name}, row {number}"
        )
        if entry.id in found:
            raise InvalidValue(f"{name}, row {number}, id", entry.id, "an earlier row has this id already")
        found[entry.id] = entry
    return found


def _entry(cls: type, cells: dict[str, str], where: str) -> Any:
    try:
        return TypeAdapter(cls).validate_python(cells)
    except ValidationError as error:
        detail = error.errors()[0]
        column = str(detail["loc"][0]) if detail["loc"] else ""
        rule = "enter a value" if detail["type"] == "missing" else detail["msg"][:1].lower() + detail["msg"][1:]
        raise InvalidValue(f"{where}, {column}", cells.get(column, "nothing"), rule) from None


def _plain(cell: str) -> str:
    """A cell without the apostrophe that keeps a spreadsheet from running it."""
    cell = cell.strip()
    return cell[1:] if cell.startswith("'") and cell[1:].lstrip().startswith(DANGEROUS) else cell


def _dialect(text: str) -> type[csv.Dialect]:
    try:
        return csv.Sniffer().sniff(text.split("\n", 1)[0], delimiters=",;\t")
    except csv.Error:
        return csv.excel
