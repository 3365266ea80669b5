"""Metered series as kept: one compressed block a channel a day, never a row a sample."""

from __future__ import annotations

import zlib
from typing import Literal, cast

import numpy as np
import numpy.typing as npt
from sqlalchemy import select
from sqlalchemy.orm import Session

from imbuto.core.basics.clock import FloatArray
from imbuto.core.basics.errors import NotFound
from imbuto.core.measuring.metered_series import Series, Unit
from imbuto.store.models import BlockRow, SeriesRow

DAY_MS = 86_400_000
LEVEL: Literal[1] = 1  # of the compression: the arrays are arranged so that the fastest does well


def pack(ms: npt.NDArray[np.int64], values: FloatArray) -> bytes:
    """A block: times as differences and values as they are, both sorted by byte so that like bytes lie together."""
    steps = np.diff(ms, prepend=0)
    both = np.concatenate([steps.view(np.uint8).reshape(-1, 8), values.view(np.uint8).reshape(-1, 8)], axis=1)
    return zlib.compress(np.ascontiguousarray(both.T).tobytes(), LEVEL)


def unpack(data: bytes) -> tuple[npt.NDArray[np.int64], FloatArray]:
    """Times in ms of UTC and values of a block; both shape (n,)."""
    both = np.ascontiguousarray(np.frombuffer(zlib.decompress(data), dtype=np.uint8).reshape(16, -1).T)
    steps = np.ascontiguousarray(both[:, :8]).view(np.int64).ravel()
    return np.cumsum(steps), np.ascontiguousarray(both[:, 8:]).view(np.float64).ravel()


def keep(session: Session, row: SeriesRow, series: Series) -> None:
    """Add a series; the caller owns the transaction."""
    session.add(row)
    session.flush()
    ms = np.round(series.seconds * 1000).astype(np.int64)
    days = ms // DAY_MS
    cuts = np.flatnonzero(np.diff(days)) + 1
    starts, ends = [0, *cuts.tolist()], [*cuts.tolist(), len(ms)]
    values = np.ascontiguousarray(series.values, dtype=np.float64)
    session.add_all(
        BlockRow(home_id=row.home_id, series_id=row.id, day=int(days[a]), data=pack(ms[a:b], values[a:b]))
        for a, b in zip(starts, ends, strict=True)
    )
    session.flush()


def list_series(session: Session, home_id: str) -> list[SeriesRow]:
    """A home's series, without their samples."""
    return list(session.scalars(select(SeriesRow).where(SeriesRow.home_id == home_id).order_by(SeriesRow.id)))


def extent(session: Session, home_id: str, series_id: str) -> tuple[float, float]:
    """First and last moment of a series, UTC seconds."""
    chosen = select(BlockRow.data).where(BlockRow.home_id == home_id, BlockRow.series_id == series_id)
    first = session.scalars(chosen.order_by(BlockRow.day).limit(1)).one()
    last = session.scalars(chosen.order_by(BlockRow.day.desc()).limit(1)).one()
    return float(unpack(first)[0][0]) / 1000, float(unpack(last)[0][-1]) / 1000


def load(session: Session, home_id: str, series_id: str) -> tuple[SeriesRow, Series]:
    """A series with its samples. Raises NotFound."""
    row = session.get(SeriesRow, (home_id, series_id))
    if row is None:
        raise NotFound("series", series_id, "this home doesn't have that series")
    chosen = select(BlockRow.data).where(BlockRow.home_id == home_id, BlockRow.series_id == series_id)
    blocks = [unpack(data) for data in session.scalars(chosen.order_by(BlockRow.day))]
    seconds = np.concatenate([ms for ms, _ in blocks]) / 1000
    values = np.concatenate([v for _, v in blocks])
    return row, Series(cast(Unit, row.unit), row.cumulative, seconds, values, row.interval_s)
