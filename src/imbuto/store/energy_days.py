"""Metered energy as kept: a day of UTC a row, its 96 quarter hours compressed; what is not metered is NaN."""

from __future__ import annotations

import zlib
from collections.abc import Iterable, Mapping

import numpy as np
from sqlalchemy import delete, func, select
from sqlalchemy.orm import Session

from imbuto.store.models import EnergyRow

QUARTERS = 96


def keep_energy(session: Session, home_id: str, role: str, wh: Mapping[int, float]) -> None:
    """Keep Wh by quarter hour since 1970; a quarter hour that was there is replaced, others stay."""
    by_day: dict[int, dict[int, float]] = {}
    for quarter, value in wh.items():
        by_day.setdefault(quarter // QUARTERS, {})[quarter % QUARTERS] = value
    for day, values in by_day.items():
        row = session.get(EnergyRow, (home_id, role, day))
        kept = np.full(QUARTERS, np.nan, dtype=np.float32) if row is None else _unpacked(row.data)
        kept[list(values)] = list(values.values())
        data = zlib.compress(kept.tobytes())
        if row is None:
            session.add(EnergyRow(home_id=home_id, role=role, day=day, data=data))
        else:
            row.data = data


def _unpacked(data: bytes) -> np.ndarray:
    return np.frombuffer(zlib.decompress(data), dtype=np.float32).copy()


def energy_between(session: Session, home_id: str, first_s: float, last_s: float) -> dict[str, dict[int, float]]:
    """Wh by quarter hour since 1970 of every role, between two moments in UTC seconds."""
    chosen = select(EnergyRow).where(
        EnergyRow.home_id == home_id, EnergyRow.day >= first_s // 86_400, EnergyRow.day <= last_s // 86_400
    )
    found: dict[str, dict[int, float]] = {}
    for row in session.scalars(chosen):
        values = _unpacked(row.data)
        into = found.setdefault(row.role, {})
        into.update({QUARTERS * row.day + int(i): float(values[i]) for i in np.flatnonzero(np.isfinite(values))})
    return found


def extents(session: Session, home_id: str) -> dict[str, tuple[int, int]]:
    """The first and the last quarter hour since 1970 that is metered of each role."""
    chosen = (
        select(EnergyRow.role, func.min(EnergyRow.day), func.max(EnergyRow.day))
        .where(EnergyRow.home_id == home_id)
        .group_by(EnergyRow.role)
    )
    found = {}
    for role, first, last in session.execute(chosen).all():
        ends = [session.get_one(EnergyRow, (home_id, role, day)) for day in (first, last)]
        told = [np.flatnonzero(np.isfinite(_unpacked(row.data))) for row in ends]
        found[role] = (QUARTERS * first + int(told[0][0]), QUARTERS * last + int(told[1][-1]))
    return found


def remove_energy(session: Session, home_id: str, roles: Iterable[str]) -> None:
    """Forget all that is kept of some roles."""
    session.execute(delete(EnergyRow).where(EnergyRow.home_id == home_id, EnergyRow.role.in_(list(roles))))
