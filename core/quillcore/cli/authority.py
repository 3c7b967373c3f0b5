"""``quill authority``: an authority of one's own, with a key to seal finished papers and one to stamp
times."""

from __future__ import annotations

import argparse
from pathlib import Path
from typing import Any

from quillcore.cli.common import fail
from quillcore.signing.authority import keep_authority, make_authority
from quillcore.signing.identity import AUTHORITY


def describe(command: argparse.ArgumentParser) -> None:
    """Add the command's arguments."""
    command.add_argument(
        "folder", type=Path, metavar="FOLDER", help="where it is put; nothing in it is written over"
    )
    command.add_argument("--name", required=True, help="what readers of PDF call it")


def run(options: argparse.Namespace) -> Any:
    """Make it; gives the certificate that readers are to trust."""
    if (options.folder / AUTHORITY).exists():
        fail([f"{options.folder}: there is an authority already. Choose another folder."])
    keep_authority(make_authority(options.name), options.folder)
    return {"certificate": str(options.folder / AUTHORITY)}
