"""Files that are damaged, cut, spliced or meant ill, made from good ones: a reader takes each in or refuses it with a
sentence.

The same inputs for the same seed, on every machine; ``bench/hardness.py`` makes many of them, a test a few.
"""

from __future__ import annotations

import io
import json
import random
import re
import zipfile
from collections.abc import Callable, Iterator
from contextlib import suppress
from datetime import datetime, timedelta
from functools import cache
from importlib import resources
from pathlib import Path
from tempfile import TemporaryDirectory

from PIL import Image

from imbuto.core.basics.errors import ImbutoError
from imbuto.formats import attached, bundle, planfile, sheetfile
from imbuto.formats.csv_tables import bookcsv, tariffcsv
from imbuto.formats.meter_data import meterlog
from imbuto.formats.weather import alerts, weatherfile
from imbuto.services.desk.demo import demo_file
from imbuto.services.house.importing import channel_view
from imbuto.store import backup
from imbuto.store.database import Database

Read = Callable[[bytes], object]
ZONE = "America/Los_Angeles"
HOMES = resources.files("imbuto.services").joinpath("demo_homes")
EPW_HEAD = "LOCATION,Tidal flat,OR,USA,made up,000000,44.6,-124.0,-8.0,10.0"

# What has hurt a reader somewhere: numbers at the edge, encodings that are none, dates that are not, formulas, marks
# of other forms.
BITS: tuple[bytes, ...] = (
    b"1e400",
    b"-1e400",
    b"999",
    b"-999999",
    b"1e-400",
    b"nan",
    b"inf",
    b"-0",
    b"9" * 400,
    b"0x10",
    b"1_000",
    "\u0663\u0664".encode(),
    b"1,5",
    b"1.234,5",
    b"2026-02-30",
    b"0000-00-00",
    b"9999-12-31T23:59:59-14:00",
    b"0001-01-01T00:00:00+14:00",
    b"31.02.2026",
    b"2026-11-01 01:30",
    b"24:00",
    b"99:99",
    b"1795000000000000",
    b"-62135596800",
    b"253402300800",
    b'"',
    b"'",
    b"\\",
    b"\x00",
    b"\xff\xfe",
    b"\xef\xbb\xbf",
    b"\r",
    b"\r\n",
    b"\n\n\n",
    b"\t",
    b";",
    b",",
    b"|",
    b"=1+1",
    b"@",
    b"<",
    b">",
    b"&amp;",
    b"&#0;",
    b"&x;",
    b"<![CDATA[",
    b"]]>",
    b"<powerOfTenMultiplier>999</powerOfTenMultiplier>",
    b"<powerOfTenMultiplier>-999999</powerOfTenMultiplier>",
    b"<uom>72</uom>",
    b"<value>1e308</value>",
    b"<start>1e300</start>",
    b"<a>" * 300,
    b"a" * 140_000,
    b'"' + b"b" * 140_000,
    b"{}",
    b"[",
    b"]",
    b"{",
    b"null",
    b"true",
    b'"id": ""',
    b'"id": "../../x"',
    b"\\ud800",
    b"-99",
    b"1e9",
    b"tariff,",
    b"rate,",
    b"date,",
    b"TRUE",
    b"W",
    b"kWh",
    b"\xc3\x28",
    b"\xed\xa0\x80",
)
ENCODINGS = (
    "x-none",
    "UTF-16",
    "idna",
    "hex",
    "UTF-7",
    "cp65001",
    "utf-8",
    "punycode",
    "rot13",
    "undefined",
    "ascii",
    "utf-32",
    "shift_jis",
    "\xe4",
    "",
)
HEADS: tuple[bytes, ...] = (
    *(f'<?xml version="1.0" encoding="{e}"?>'.encode() for e in ENCODINGS),
    b'<?xml version="9"?>',
    b"\xff\xfe",
    b"\xfe\xff",
    b"\xef\xbb\xbf",
    b'<!DOCTYPE a [<!ENTITY b "c">]>',
    b"LOCATION,",
    b"LOCATION,,,,,,a,b,c,d\n",
    b"%PDF-1.7\n",
    b"PK\x03\x04",
    b"\x89PNG\r\n\x1a\n",
    b"\xff\xd8\xff",
    b"[",
    b"[[[[",
    b"{",
)


def _csv() -> list[bytes]:
    start = datetime(2026, 10, 30, 12)
    rows = [f"{start + timedelta(minutes=15 * i):%Y-%m-%d %H:%M},{i % 7 * 30.5},{40 + i / 8:.3f}" for i in range(40)]
    euro = [f"{start + timedelta(minutes=2 * i):%d.%m.%Y;%H:%M};{i * 3};1.234,{i:02d}" for i in range(30)]
    stamps = [f"{1_794_000_000 + 60 * i}|{i}" for i in range(30)]
    zoned = [f"{(start + timedelta(hours=i)).isoformat()}+01:00\t{i}" for i in range(30)]
    return [
        "\n".join(["A meter;made up", "time,Pump W,Meter kWh", *rows, "Total,,9"]).encode(),
        "\r\n".join(["Datum;Zeit;Leistung W;Zähler kWh", *euro]).encode("latin-1"),
        "\n".join(["at|W", *stamps]).encode(),
        "\n".join(["time\tWh", *zoned]).encode(),
    ]


def _xml() -> list[bytes]:
    whole = HOMES.joinpath("logs", "utility.xml").read_text()
    readings = [part + "</IntervalReading>" for part in whole.split("</IntervalReading>")]
    return ["".join([*readings[:24], readings[-1].removesuffix("</IntervalReading>")]).encode()]


def _epw() -> list[bytes]:
    rows = []
    for i in range(24 * 301):
        t = datetime(2025, 1, 1) + timedelta(hours=i)
        cells = [str(t.year), str(t.month), str(t.day), str(t.hour + 1), "0", "made", *["0"] * 29]
        cells[6], cells[13] = f"{i % 30 - 3}", str(max(0, 600 - 100 * abs(12 - t.hour)))
        rows.append(",".join(cells))
    head = "\n".join([EPW_HEAD, *["NOTE"] * 7])
    short = "\n".join([head, *rows[:30]]).encode()
    return [short] * 19 + ["\n".join([head, *rows]).encode()]


def _pictures() -> list[bytes]:
    found = []
    for kind in ("JPEG", "PNG"):
        out = io.BytesIO()
        Image.new("RGB", (24, 16), (90, 120, 130)).save(out, kind)
        found.append(out.getvalue())
    return [*found, b"A receipt,12.50\n", b"%PDF-1.7\n%%EOF\n"]


def _packed() -> list[bytes]:
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w") as archive:
        archive.writestr(bundle.PLAN, "{}")
        archive.writestr("files/" + "0" * 64, b"x")
    return [bundle.pack(b"{}", {}), out.getvalue()]


def _pdf() -> list[bytes]:
    from imbuto.formats.printing.paper import pdf

    return [
        pdf("<p>Hogshead power station. Capacity 5,120 Wh, 4,000 W, 16 A, 54 kg</p>"),
        b"Capacity 5,120 Wh\n4,000 W",
    ]


def _home() -> list[bytes]:
    return [
        Path(__file__).parents[1].joinpath("examples", "four-loads.json").read_bytes(),
        demo_file("saltgrass-house").encode(),
    ]


def _log(data: bytes) -> object:
    with TemporaryDirectory() as folder:
        path = Path(folder) / "f"
        path.write_bytes(data)
        return [channel_view(c, ZONE) for c in meterlog.read(path, "file", ZONE).channels]


def _backups() -> list[bytes]:
    with TemporaryDirectory() as folder:
        place = Path(folder)
        Database(place / "imbuto.db").close()
        return [backup.pack_folder(place, "0", datetime(2026, 11, 28)), (place / "imbuto.db").read_bytes()]


def _restored(data: bytes) -> None:
    with TemporaryDirectory() as folder:
        path = Path(folder) / "file"
        path.write_bytes(data)
        backup.looked_into(path, Path(folder) / "fresh", Path(folder) / "files")


READERS: dict[str, tuple[Callable[[], list[bytes]], Read]] = {
    "logs as CSV": (_csv, _log),
    "interval data as XML": (_xml, _log),
    "weather": (_epw, lambda data: weatherfile.read(data, "file")),
    "alerts": (
        lambda: [HOMES.joinpath("alerts", "windstorm.xml").read_bytes()],
        lambda data: alerts.read(data, "file", ZONE),
    ),
    "tariffs": (
        lambda: [
            b"kind,name,price,from,until,days,months\ntariff,Home,9.5,2026-01-01,,,\nrate,Peak,0.31,17,21,weekday,6 7\n"
            b"rate,Else,0.12,21,17,,\ntier,500,0.02,,,,\nexport,net,0.05,,,,\nholiday,2026-12-25,,,,,\n"
        ],
        lambda data: tariffcsv.read(data, "file"),
    ),
    "days of the book": (
        lambda: [b'date,grid,sun,house\n2026-11-25,3.5,1.25,9\n2026-11-26,,"2,5",8\n'],
        lambda data: bookcsv.read(data, "file"),
    ),
    "data sheets": (_pdf, lambda data: sheetfile.text_of(data, "file", 20_000)),
    "plan files": (_home, lambda data: planfile.read(data, "file")),
    "attachments": (_pictures, lambda data: attached.taken_in(data, "file")),
    "packed homes": (_packed, lambda data: bundle.unpack(data, "file")),
    "backups": (_backups, _restored),
}


@cache
def _seeds(reader: str) -> list[bytes]:
    return READERS[reader][0]()


def inputs(reader: str, seed: int, count: int) -> Iterator[bytes]:
    """So many files for a reader, each a good one with one to four things done to it."""
    rng = random.Random(f"{reader} {seed}")
    good = _seeds(reader)
    for _ in range(count):
        data = rng.choice(good)
        for _ in range(rng.choice((1, 1, 2, 4))):
            data = _harmed(data, good, rng)
        yield data


def _harmed(data: bytes, good: list[bytes], rng: random.Random) -> bytes:
    at = rng.randrange(len(data) + 1)
    end = min(len(data), at + rng.choice((0, 1, 1, 2, 4, 12, 40, 400)))
    match rng.randrange(11):
        case 9 | 10:
            return _other_structure(data, rng)
        case 0:
            return data[:at] + bytes([rng.randrange(256)]) + data[at + 1 :]
        case 1:
            return data[:at] + data[end:]
        case 2:
            return data[:at] if rng.random() < 0.3 else data[:end] + data[at:]
        case 3:
            other = rng.choice(good)
            return data[:at] + other[rng.randrange(len(other)) :]
        case 4 | 5:
            return data[:at] + rng.choice(BITS) + data[at:]
        case 6:
            return data[:at] + rng.choice(BITS) + data[end:]
        case 7:
            head = data.find(b"?>") + 2 if data.startswith(b"<?xml") else at
            return rng.choice(HEADS) + data[head:]
        case _:
            return _other_cell(data, rng)


LEAVES: tuple[object, ...] = (
    *(1e308, -1e308, 1e-320, 10**30, -1, 0, True, None),
    *("", [], {}, [[]], {"a": {}}, "x" * 5000, "1e308"),
    *("0001-01-01T00:00:00+14:00", "9999-12-31T23:59:59-14:00", "2026-11-01T01:30"),
)
PACKING = (zipfile.ZIP_STORED, zipfile.ZIP_DEFLATED, zipfile.ZIP_BZIP2, zipfile.ZIP_LZMA)


def _other_structure(data: bytes, rng: random.Random) -> bytes:
    """A form that stays good with another content: values of JSON, texts of XML, members of a ZIP, columns of a
    table."""
    if data.startswith(b"PK"):
        return _other_archive(data, rng)
    if data.lstrip()[:1] in (b"{", b"["):
        with suppress(ValueError, RecursionError):
            return json.dumps(_other_leaf(json.loads(data), rng)).encode()
    if data.lstrip().startswith(b"<"):
        texts = list(re.finditer(rb">([^<>]+)<", data[:200_000]))
        if texts:
            at = rng.choice(texts)
            return data[: at.start(1)] + str(rng.choice(LEAVES)).encode() + data[at.end(1) :]
    lines = data.split(b"\n")
    if len(lines) > 2 and rng.random() < 0.1:
        return b"\n".join(line + b",1" * 3000 for line in lines[:5])
    rest = lines[1:]
    rng.shuffle(rest)
    return b"\n".join([lines[0], *rest])


def _other_leaf(value: object, rng: random.Random) -> object:
    """The value with one of its parts replaced, left out or doubled, however deep."""
    if isinstance(value, dict) and value and rng.random() < 0.9:
        key = rng.choice(list(value))
        if rng.random() < 0.1:
            return {k: v for k, v in value.items() if k != key}
        return value | {key: _other_leaf(value[key], rng)}
    if isinstance(value, list) and value and rng.random() < 0.9:
        i = rng.randrange(len(value))
        return [*value[:i], _other_leaf(value[i], rng), *value[i + (rng.random() < 0.8) :]]
    return rng.choice(LEAVES)


def _other_archive(data: bytes, rng: random.Random) -> bytes:
    """The same members packed otherwise, one of them changed in its structure, left out, renamed or swollen."""
    try:
        with zipfile.ZipFile(io.BytesIO(data)) as archive:
            members = {n: archive.read(n) for n in archive.namelist()}
    except Exception:  # damaged before: nothing to take apart
        return data
    if members:
        name = rng.choice(list(members))
        match rng.randrange(5):
            case 0:
                members[name] = _other_structure(members[name], rng)
            case 1:
                members[rng.choice(["../x", "/x", "files/" + "0" * 64, "logs.json", "logs/0.csv"])] = members.pop(name)
            case 2:
                members[name] = b"0" * 3_000_000
            case 3:
                members["logs.json"] = json.dumps(rng.choice(LEAVES)).encode()
            case _:
                members.pop(name)
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", rng.choice(PACKING)) as archive:
        for name, content in members.items():
            archive.writestr(name, content)
    return out.getvalue()


def _other_cell(data: bytes, rng: random.Random) -> bytes:
    """One cell, number or text between marks as a whole replaced, so that the form stays good and the content is
    not."""
    marks = [i for i, b in enumerate(data[:60_000]) if b in b',;|\t\n<>":= ']
    if len(marks) < 2:
        return data
    k = rng.randrange(len(marks) - 1)
    return data[: marks[k] + 1] + rng.choice(BITS) + data[marks[k + 1] :]


def undeclared(reader: str, data: bytes) -> Exception | None:
    """What a reader raised that is no refusal in a sentence; None where it read the file or refused it."""
    try:
        READERS[reader][1](data)
    except ImbutoError as refused:
        return None if refused.sentence.endswith(".") else refused
    except Exception as error:
        return error
    return None
