"""Tables: documents with a revision, and the edits that made them."""

from __future__ import annotations

from datetime import datetime
from typing import Annotated, Any

from sqlalchemy import JSON, DateTime, ForeignKey, Index, UniqueConstraint
from sqlalchemy.orm import DeclarativeBase, Mapped, mapped_column

HomeKey = Annotated[str, mapped_column(ForeignKey("homes.id", ondelete="CASCADE"))]


class Base(DeclarativeBase):
    """The tables' base."""


class HomeRow(Base):
    """A home's row. rev: raised by every edit, undo and redo of any of its documents; position: order in lists."""

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

    rev: the home's revision it led to; undone: taken back, waiting for redo; counts: False for the rows that record
    an undo or a redo itself, which only say what changed at that revision; reading_id: the reading it noted, or took
    back where withdraws is set.
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
    reading_id: Mapped[str | None] = mapped_column(default=None)
    withdraws: Mapped[bool] = mapped_column(default=False)


class ReadingRow(Base):
    """One reading, as it was typed. Never deleted: taken back, it is marked withdrawn."""

    __tablename__ = "readings"
    home_id: Mapped[HomeKey] = mapped_column(primary_key=True)
    id: Mapped[str] = mapped_column(primary_key=True)
    load: Mapped[str]
    at: Mapped[datetime] = mapped_column(DateTime(timezone=True))
    raw: Mapped[str]
    side: Mapped[str]
    setting: Mapped[str]
    season: Mapped[str]
    withdrawn: Mapped[bool] = mapped_column(default=False)
