"""Tables: documents with a revision, and the edits that made them."""

from __future__ import annotations

from datetime import datetime
from typing import Annotated, Any

from sqlalchemy import JSON, DateTime, ForeignKey, ForeignKeyConstraint, Index, UniqueConstraint
from sqlalchemy.orm import DeclarativeBase, Mapped, mapped_column

HomeKey = Annotated[str, mapped_column(ForeignKey("homes.id", ondelete="CASCADE"))]


class Base(DeclarativeBase):
    """The tables' base."""


class HomeRow(Base):
    """A home's row.

    rev: raised by every edit, undo and redo of any of its documents
    position: order in lists
    """

    __tablename__ = "homes"
    id: Mapped[str] = mapped_column(primary_key=True)
    name: Mapped[str]
    rev: Mapped[int] = mapped_column(default=1)
    position: Mapped[int] = mapped_column(default=0)


class DocumentRow(Base):
    """One versioned JSON document: kind is home, plan or outage."""

    __tablename__ = "documents"
    home_id: Mapped[HomeKey] = mapped_column(primary_key=True)
    id: Mapped[str] = mapped_column(primary_key=True)
    kind: Mapped[str]
    rev: Mapped[int]
    position: Mapped[int] = mapped_column(default=0)
    body: Mapped[dict[str, Any]] = mapped_column(JSON)


class EditRow(Base):
    """One edit: forward and inverse operations over one or more documents.

    rev: the home's revision it led to
    undone: taken back, waiting for redo
    counts: False for the rows that record an undo or a redo itself, which only say what changed at that revision
    readings: the ids of those it noted, or took back where withdraws is set
    """

    __tablename__ = "edits"
    __table_args__ = (UniqueConstraint("edit_id"), Index("ix_edits_home_rev", "home_id", "rev"))
    seq: Mapped[int] = mapped_column(primary_key=True, autoincrement=True)
    home_id: Mapped[HomeKey]
    edit_id: Mapped[str]
    label: Mapped[str]
    rev: Mapped[int]
    at: Mapped[datetime] = mapped_column(DateTime(timezone=True))
    forward: Mapped[list[dict[str, Any]]] = mapped_column(JSON)
    inverse: Mapped[list[dict[str, Any]]] = mapped_column(JSON)
    undone: Mapped[bool] = mapped_column(default=False)
    counts: Mapped[bool] = mapped_column(default=True)
    readings: Mapped[list[str]] = mapped_column(JSON, default=list)
    withdraws: Mapped[bool] = mapped_column(default=False)
    trial: Mapped[bool] = mapped_column(default=False)


class ReadingRow(Base):
    """One reading, as it was typed, of a load, a circuit, or with neither of the whole home; figures: as in the
    core's Reading.

    Never deleted: taken back, it is marked withdrawn.
    """

    __tablename__ = "readings"
    home_id: Mapped[HomeKey] = mapped_column(primary_key=True)
    id: Mapped[str] = mapped_column(primary_key=True)
    load: Mapped[str | None]
    circuit: Mapped[str | None]
    at: Mapped[datetime] = mapped_column(DateTime(timezone=True))
    raw: Mapped[str]
    side: Mapped[str]
    setting: Mapped[str]
    season: Mapped[str]
    figures: Mapped[dict[str, float]] = mapped_column(JSON, default=dict)
    withdrawn: Mapped[bool] = mapped_column(default=False)


class SeriesRow(Base):
    """A metered channel as it was measured. reading_id: the reading it was noted as; columns as in the core's
    Series."""

    __tablename__ = "series"
    __table_args__ = (
        ForeignKeyConstraint(["home_id", "reading_id"], ["readings.home_id", "readings.id"], ondelete="CASCADE"),
    )
    home_id: Mapped[HomeKey] = mapped_column(primary_key=True)
    id: Mapped[str] = mapped_column(primary_key=True)
    reading_id: Mapped[str]
    channel: Mapped[str]
    file: Mapped[str]
    zone: Mapped[str]
    unit: Mapped[str]
    cumulative: Mapped[bool]
    interval_s: Mapped[float | None]
    samples: Mapped[int]


class BlockRow(Base):
    """One day of a series, compressed. day: of UTC, counted from 1970."""

    __tablename__ = "series_blocks"
    __table_args__ = (
        ForeignKeyConstraint(["home_id", "series_id"], ["series.home_id", "series.id"], ondelete="CASCADE"),
    )
    home_id: Mapped[str] = mapped_column(primary_key=True)
    series_id: Mapped[str] = mapped_column(primary_key=True)
    day: Mapped[int] = mapped_column(primary_key=True)
    data: Mapped[bytes]


class EnergyRow(Base):
    """Metered energy of a day for an account of what was saved: Wh by quarter hour, compressed.

    role: of the core's ``metered_savings.Role``
    day: of UTC, counted from 1970
    """

    __tablename__ = "energy_days"
    home_id: Mapped[HomeKey] = mapped_column(primary_key=True)
    role: Mapped[str] = mapped_column(primary_key=True)
    day: Mapped[int] = mapped_column(primary_key=True)
    data: Mapped[bytes]


class FaceRow(Base):
    """What a watched station showed when it changed.

    source: of the plan
    at: local wall-clock time of the home, by the station's own clock
    charge: 0 to 1
    out_w, in_w: AC W
    """

    __tablename__ = "faces"
    home_id: Mapped[HomeKey] = mapped_column(primary_key=True)
    source: Mapped[str] = mapped_column(primary_key=True)
    at: Mapped[datetime] = mapped_column(primary_key=True)
    charge: Mapped[float]
    out_w: Mapped[float]
    in_w: Mapped[float]


class DeviceRow(Base):
    """A paired device.

    session: the hash of what its cookie holds, never the cookie itself
    rights: what it may do
    """

    __tablename__ = "devices"
    id: Mapped[str] = mapped_column(primary_key=True)
    name: Mapped[str]
    session: Mapped[str] = mapped_column(unique=True)
    paired: Mapped[datetime] = mapped_column(DateTime(timezone=True))
    rights: Mapped[str] = mapped_column(default="edit", server_default="edit")


class PrintRow(Base):
    """A sheet as it was printed last.

    outage: it was made for
    at: local wall-clock time of the home
    words: the mark of all that stood on it but its foot
    circuits: fed, by name
    steps: of its cards
    hours: in words
    """

    __tablename__ = "prints"
    home_id: Mapped[HomeKey] = mapped_column(primary_key=True)
    plan: Mapped[str] = mapped_column(primary_key=True)
    sheet: Mapped[str] = mapped_column(primary_key=True)
    outage: Mapped[str]
    rev: Mapped[int]
    at: Mapped[datetime]
    words: Mapped[str]
    circuits: Mapped[list[str]] = mapped_column(JSON)
    steps: Mapped[list[str]] = mapped_column(JSON)
    hours: Mapped[str]
