"""Phones at home: a one-time token pairs a device, which then holds a session until it is unpaired."""

from __future__ import annotations

import hashlib
import io
import secrets
import time
from collections.abc import Callable
from dataclasses import dataclass
from datetime import UTC, datetime
from threading import Lock
from typing import cast

from sqlalchemy import delete, select

from imbuto.core.basics.errors import InvalidValue, NotFound
from imbuto.services.desk.device_rights import SAYS, Rights
from imbuto.store.database import Database
from imbuto.store.models import DeviceRow

TOKEN_S = 600.0  # how long a token may be used, once


@dataclass(frozen=True, slots=True, kw_only=True)
class DeviceView:
    """A paired device.

    rights: what it may do
    says: in words
    """

    id: str
    name: str
    paired: datetime
    rights: Rights
    says: str


@dataclass(frozen=True, slots=True, kw_only=True)
class Invitation:
    """How to pair one device.

    address: with its token, to be opened there
    svg: the same as a QR code
    """

    address: str
    svg: str
    minutes: float


class Pairing:
    """The devices of this server. address: where it answers on the local network, None where it does not; ticks:
    seconds, however counted. Safe to share between threads."""

    def __init__(self, database: Database, address: str | None, ticks: Callable[[], float] = time.monotonic) -> None:
        self.database = database
        self.address = address
        self._ticks = ticks
        self._tokens: dict[str, tuple[float, Rights]] = {}
        self._lock = Lock()
        with database.reading() as session:
            rows = session.execute(select(DeviceRow.session, DeviceRow.rights)).all()
        self._known: dict[str, Rights] = {held: cast(Rights, rights) for held, rights in rows}

    def invite(self, rights: Rights = "edit") -> Invitation:
        """A fresh token for a device that may do so much. Raises InvalidValue where the server does not answer on the
        network."""
        if self.address is None:
            raise InvalidValue(
                "phones", None, "Imbuto is open to this computer only; start it with “imbuto serve --lan”"
            )
        token = secrets.token_urlsafe(24)
        with self._lock:
            now = self._ticks()
            self._tokens = {t: held for t, held in self._tokens.items() if held[0] > now}
            self._tokens[token] = (now + TOKEN_S, rights)
        address = f"{self.address}/pair?token={token}"
        out = io.BytesIO()
        import segno  # wanted only for a phone

        segno.make(address, error="m").save(out, kind="svg", border=2, xmldecl=False, svgns=True)
        return Invitation(address=address, svg=out.getvalue().decode(), minutes=TOKEN_S / 60)

    def offered(self, token: str) -> Rights | None:
        """What whoever uses a token may do; None where it may not be used any more."""
        with self._lock:
            until, rights = self._tokens.get(token, (0.0, "look"))
            return rights if until > self._ticks() else None

    def pair(self, token: str, name: str) -> str:
        """Use a token up; returns the session the device is to hold. Raises InvalidValue."""
        with self._lock:
            until, rights = self._tokens.pop(token, (0.0, "look"))
            if until <= self._ticks():
                rule = "this code was used or has expired; show a new one on the computer that runs Imbuto"
                raise InvalidValue("pairing code", token[:4] + "…", rule)
        session = secrets.token_urlsafe(32)
        hashed = _hash(session)
        row = DeviceRow(
            id=secrets.token_hex(6),
            name=name.strip()[:60] or "A device",
            session=hashed,
            paired=datetime.now(UTC),
            rights=rights,
        )
        with self.database.writing() as writing:
            writing.add(row)
        with self._lock:
            self._known[hashed] = rights
        return session

    def rights_of(self, session: str) -> Rights | None:
        """What the paired device may do that a session belongs to; None where it belongs to none."""
        return self._known.get(_hash(session))

    def name_of(self, session: str) -> str:
        """What the paired device is called that a session belongs to; empty where it belongs to none."""
        with self.database.reading() as reading:
            return reading.scalar(select(DeviceRow.name).where(DeviceRow.session == _hash(session))) or ""

    def allow(self, device_id: str, rights: Rights) -> None:
        """From now on a device may do so much. Raises NotFound."""
        with self.database.writing() as session:
            row = session.get(DeviceRow, device_id)
            if row is None:
                raise NotFound("device", device_id, "that device isn't paired")
            row.rights = rights
            hashed = row.session
        with self._lock:
            self._known[hashed] = rights

    def devices(self) -> list[DeviceView]:
        """The paired devices, newest first."""
        with self.database.reading() as session:
            rows = session.scalars(select(DeviceRow).order_by(DeviceRow.paired.desc()))
            return [
                DeviceView(
                    id=r.id,
                    name=r.name,
                    paired=r.paired.replace(tzinfo=UTC),
                    rights=(may := cast(Rights, r.rights)),
                    says=SAYS[may],
                )
                for r in rows
            ]

    def unpair(self, device_id: str) -> None:
        """Let a device in no more. Raises NotFound."""
        with self.database.writing() as session:
            row = session.get(DeviceRow, device_id)
            if row is None:
                raise NotFound("device", device_id, "that device isn't paired")
            hashed = row.session
            session.execute(delete(DeviceRow).where(DeviceRow.id == device_id))
        with self._lock:
            self._known.pop(hashed, None)


def _hash(session: str) -> str:
    return hashlib.sha256(session.encode()).hexdigest()
