"""Back up and restore everything; a dated copy each day; a lock, so that two programs never hold one folder."""

from __future__ import annotations

import asyncio
import logging
import os
import sqlite3
import tempfile
from datetime import datetime
from importlib.metadata import version
from pathlib import Path

from imbuto.core.basics.errors import DataFolder, InvalidValue, UnreadableFile
from imbuto.formats import sealed
from imbuto.services.desk.lock import hold_folder
from imbuto.store import backup
from imbuto.store.database import newest

LOOK_S = 3_600.0
log = logging.getLogger("imbuto")
TELLS = "The backup has health details and times when no one is home. Keep it where only you can read it."


def back_up(folder: Path, to: Path, passphrase: str | None = None) -> int:
    """Write everything in a data folder into one file, readable by its owner only; its bytes. Raises DataFolder,
    InvalidValue, OSError."""
    data = backed_up(folder, passphrase, to.resolve().parent)
    if to.is_dir():
        raise InvalidValue("backup", str(to), "that is a folder; choose a file")
    made, name = tempfile.mkstemp(dir=to.resolve().parent, prefix=".imbuto-")
    try:
        with os.fdopen(made, "wb") as out:
            out.write(data)
            out.flush()
            os.fsync(out.fileno())
        os.replace(name, to)
    finally:
        Path(name).unlink(missing_ok=True)
    if to.read_bytes() != data:
        raise DataFolder("backup", str(to), "the backup doesn't read back correctly; try another disk")
    return len(data)


def backed_up(folder: Path, passphrase: str | None = None, at: Path | None = None) -> bytes:
    """Return the same as bytes. at: where to work, None for the system's folder for such things. Raises DataFolder,
    InvalidValue."""
    if not (folder / backup.DATABASE).is_file():
        raise DataFolder("data folder", str(folder), "it has no homes")
    try:
        data = backup.pack_folder(folder, version("imbuto"), datetime.now(), at)
    except sqlite3.Error as error:
        rule = (
            f"it can't be copied whole ({error}): check the disk's free space and health, or restore one of the "
            "dated copies"
        )
        raise DataFolder("database", str(folder / backup.DATABASE), rule) from None
    return sealed.seal(data, passphrase) if passphrase else data


def restore(file: Path, folder: Path, passphrase: str | None = None) -> Path | None:
    """Put a backup in the place of a data folder, which is kept beside under another name; that name. Raises
    UnreadableFile, DataFolder, OSError; then nothing has changed."""
    folder = folder.resolve()
    data = file.read_bytes()
    if sealed.is_sealed(data):
        if not passphrase:
            raise InvalidValue("passphrase", "", "the backup is sealed; enter its passphrase")
        data = sealed.unseal(data, passphrase, file.name)
    folder.parent.mkdir(parents=True, exist_ok=True)
    with (
        hold_folder(folder),
        tempfile.TemporaryDirectory(dir=folder.parent, prefix=f".{folder.name}.unpacking-") as scratch,
    ):
        archive = Path(scratch) / file.name
        archive.write_bytes(data)
        look = Path(scratch) / "look"
        backup.looked_into(archive, look, folder / "files")
        if backup.schema_of(look / backup.DATABASE) > newest():
            raise UnreadableFile(file.name, None, "a newer version of Imbuto made it; update Imbuto first")
        return backup.restore_folder(archive, folder, datetime.now())


def erase(folder: Path, home_id: str) -> int:
    """Take a deleted home out of the copies too; out of how many. Raises DataFolder."""
    try:
        return backup.erase_from_copies(folder, home_id)
    except sqlite3.Error as error:
        raise DataFolder(
            "copies", str(folder / backup.COPIES), f"Imbuto can't read one of them: {error}; delete it by hand"
        ) from None


async def keep_copies(folder: Path) -> None:
    """Today's copy of the database, as soon as there is one to be made; one that fails is told in the log and tried
    again."""
    while True:
        try:
            await asyncio.to_thread(backup.daily, folder, datetime.now())
        except (OSError, sqlite3.Error) as error:
            log.warning("today's copy could not be made: %s", error)
        await asyncio.sleep(LOOK_S)
