"""Tariffs in and out as CSV."""

from __future__ import annotations

from imbuto.core.basics.errors import NotFound
from imbuto.formats.csv_tables import tariffcsv
from imbuto.formats.documents import TARIFF
from imbuto.formats.patch import escape
from imbuto.services.desk.judging import Pair
from imbuto.services.desk.planner import EditResult, Planner


def give_tariff(planner: Planner, home_id: str, tariff_id: str) -> str:
    """A tariff as a table. Raises NotFound."""
    tariffs = planner.open(home_id).home.tariffs
    if tariff_id not in tariffs:
        raise NotFound("tariff", tariff_id, "this home doesn't have that tariff")
    return tariffcsv.write(tariffs[tariff_id])


def take_tariff(planner: Planner, home_id: str, data: bytes, name: str, edit_id: str, pair: Pair | None) -> EditResult:
    """Take a tariff in from a table, as one edit; one of the same name is replaced. Raises NotFound, UnreadableFile,
    InvalidValue."""
    state = planner.state(home_id)
    if planner.has_edit(edit_id):
        return planner.answer(state, pair)
    there = planner.enter(state).home.tariffs
    read = tariffcsv.read(data, name)
    verb = "replace" if read.id in there else "add"
    op = {"doc": "home", "op": verb, "path": f"/tariffs/{escape(read.id)}", "value": TARIFF.write(read)}
    return planner.edit(home_id, state.rev, edit_id, f"Tariff {read.name}"[:80], [op], pair)
