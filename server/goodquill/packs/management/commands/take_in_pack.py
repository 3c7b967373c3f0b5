"""``manage.py take_in_pack DIR|ZIP``: an association's release for all of its members on this server."""

from __future__ import annotations

from pathlib import Path
from typing import Any

from django.core.management.base import BaseCommand, CommandError, CommandParser
from quillcore.packs.manifest import Pack
from quillcore.packs.reading import read_folder, read_zip
from quillcore.packs.strangers import checked_pack

from goodquill.forms.models import Release
from goodquill.packs.actions import take_in


def take_in_path(path: Path) -> Release:
    """Take a release in with its templates; CommandError names every fault, and then nothing has changed."""
    pack = read_zip(path.read_bytes()) if path.is_file() else read_folder(path)
    faults = checked_pack(pack) if isinstance(pack, Pack) else pack
    if faults or not isinstance(pack, Pack):
        raise CommandError("\n".join(map(str, faults)))
    return take_in(pack)


class Command(BaseCommand):
    """Takes a release in."""

    help = "Take an association's release in for all of its members"

    def add_arguments(self, parser: CommandParser) -> None:
        """Add the pack."""
        parser.add_argument("path", type=Path)

    def handle(self, *args: Any, **options: Any) -> None:
        """Take it in and say so."""
        release = take_in_path(options["path"])
        self.stdout.write(
            f"{release.association}, release of {release.released}: {release.forms.count()} forms"
        )
