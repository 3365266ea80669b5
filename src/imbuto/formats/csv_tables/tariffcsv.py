"""A tariff as a CSV: a line for each window of each rate, and lines for what holds for all of it."""

from __future__ import annotations

import csv
import io
import re
from datetime import date

from imbuto.core.basics.clock import Days, Window
from imbuto.core.basics.errors import UnreadableFile
from imbuto.core.home.tariff import Rate, Tariff, Tier
from imbuto.formats.csv_tables.csvout import table

HEAD = ("kind", "name", "price", "from", "until", "days", "months")
DAYS: tuple[Days, ...] = ("all", "weekday", "weekend")
MOST_BYTES, MOST_LINES = 200_000, 500


def write(tariff: Tariff) -> str:
    """Its lines: tariff (name, fixed part, since), rate (price, window, days, months), tier (above so many kWh),
    export, net, holiday."""
    rows: list[list[str | float | None]] = [
        ["tariff", tariff.name, tariff.fixed, tariff.since.isoformat(), None, None, None]
    ]
    for r in tariff.rates.values():
        months = " ".join(map(str, r.months))
        rows += [["rate", r.name, r.price, w.start_h, w.end_h, w.days, months] for w in r.windows]
        if not r.windows:
            rows.append(["rate", r.name, r.price, None, None, None, months])
    rows += [["tier", f"{t.above_kwh:g}", t.more, None, None, None, None] for t in tariff.tiers]
    rows.append(["export", "net" if tariff.net else "", tariff.export_price, None, None, None, None])
    rows += [["holiday", d.isoformat(), None, None, None, None, None] for d in tariff.holidays]
    return table(HEAD, rows)


def read(data: bytes, name: str) -> Tariff:
    """The tariff of a file. Raises UnreadableFile with the line; whether its hours add up is asked where it is put."""
    if len(data) > MOST_BYTES:
        raise UnreadableFile(name, len(data), f"it is larger than {MOST_BYTES // 1000} kB")
    try:
        rows = list(csv.reader(io.StringIO(data.decode("utf-8-sig")), strict=True))
    except (UnicodeDecodeError, csv.Error) as error:
        raise UnreadableFile(name, "", f"the file isn't a CSV in UTF-8: {error}") from None
    if not rows or tuple(c.strip().lower() for c in rows[0]) != HEAD or len(rows) > MOST_LINES:
        raise UnreadableFile(name, "", f"its heading is {','.join(HEAD)}, with {MOST_LINES} lines at most")
    of = _Reading(name)
    for n, row in enumerate(rows[1:], 2):
        if any(c.strip() for c in row):
            of.line(n, [c.strip() for c in (*row, *[""] * 7)][:7])
    return of.tariff()


class _Reading:
    def __init__(self, file: str) -> None:
        self.file, self.name, self.fixed, self.since = file, "", 0.0, date(2000, 1, 1)
        self.rates: dict[str, Rate] = {}
        self.tiers: list[Tier] = []
        self.holidays: list[date] = []
        self.export, self.net = 0.0, False

    def line(self, n: int, cells: list[str]) -> None:
        kind, name, price, begin, end, days, months = cells
        where = f"{self.file}, line {n}"
        if kind == "tariff":
            self.name, self.fixed, self.since = name, self._number(price or "0", where), self._day(begin, where)
        elif kind == "rate":
            self._rate(name, self._number(price, where), begin, end, days, months, where)
        elif kind == "tier":
            self.tiers.append(Tier(above_kwh=self._number(name, where), more=self._number(price, where)))
        elif kind == "export":
            self.export, self.net = self._number(price or "0", where), name == "net"
        elif kind == "holiday":
            self.holidays.append(self._day(name, where))
        else:
            raise UnreadableFile(where, kind, "start the line with tariff, rate, tier, export or holiday")

    def _rate(self, name: str, price: float, begin: str, end: str, days: str, months: str, where: str) -> None:
        ident = _ident(name)
        if not ident:
            raise UnreadableFile(where, name, "enter a name for the rate")
        windows = self.rates[ident].windows if ident in self.rates else ()
        if begin or end:
            a, b = self._number(begin, where), self._number(end, where)
            if not (0 <= a <= 24 and 0 <= b <= 24) or (days or "all") not in DAYS:
                raise UnreadableFile(
                    where,
                    f"{begin} to {end} {days}",
                    f"enter hours from 0 to 24, and days out of {', '.join(DAYS)}",
                )
            windows = (
                *windows,
                Window(start_h=a % 24, end_h=b % 24, days=next(d for d in DAYS if d == (days or "all"))),
            )
        in_months = tuple(sorted({int(self._number(m, where)) for m in re.split(r"[\s,;]+", months) if m}))
        if any(not 1 <= m <= 12 for m in in_months):
            raise UnreadableFile(where, months, "write months as 1 to 12")
        self.rates[ident] = Rate(id=ident, name=name[:80], price=price, windows=windows, months=in_months)

    def tariff(self) -> Tariff:
        if not self.name or not self.rates:
            raise UnreadableFile(self.file, "", "add a line “tariff” with its name and at least one “rate”")
        return Tariff(
            id=_ident(self.name) or "tariff",
            name=self.name[:80],
            since=self.since,
            rates=self.rates,
            tiers=tuple(self.tiers),
            export_price=self.export,
            net=self.net,
            fixed=self.fixed,
            holidays=tuple(self.holidays),
            source=self.file[:200],
        )

    @staticmethod
    def _number(text: str, where: str) -> float:
        try:
            value = float(text.replace(",", "."))
        except ValueError:
            value = float("nan")
        if not -1e6 <= value <= 1e6:
            raise UnreadableFile(where, text[:40], f"“{text[:40]}” isn't a number")
        return value

    @staticmethod
    def _day(text: str, where: str) -> date:
        try:
            return date.fromisoformat(text)
        except ValueError:
            raise UnreadableFile(where, text[:40], "enter a date such as 2026-01-01") from None


def _ident(name: str) -> str:
    return re.sub(r"[^a-z0-9]+", "-", name.lower()).strip("-")[:60]
