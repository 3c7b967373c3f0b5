"""A pack from a path, as several commands want it."""

from __future__ import annotations

from pathlib import Path

from quillcore.cli.common import fail
from quillcore.formulas import Setting
from quillcore.packs.manifest import Pack
from quillcore.packs.reading import read_folder, read_sheet, read_zip
from quillcore.packs.strangers import checked_pack


def pack_at(path: Path) -> Pack:
    """Return the pack; ends the command with everything that is wrong with it."""
    found = read_zip(path.read_bytes()) if path.is_file() else read_folder(path)
    if isinstance(found, list):
        fail(found)
    if faults := checked_pack(found):
        fail(faults)
    return found


def setting_of(path: Path) -> Setting:
    """Return the calendar and rates of the pack there, if there is one.  Of a folder its sheet alone is
    read: forms have no say in them."""
    if path.is_file():
        return pack_at(path).sheet.setting()
    if not path.exists():
        return Setting()
    found = read_sheet(path)
    if isinstance(found, list):
        fail(found)
    return found.setting()
