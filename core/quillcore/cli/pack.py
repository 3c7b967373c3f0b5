"""``quill pack check DIR|ZIP`` and ``quill pack build SRC -o DIR [--only NUMBER …]``."""

from __future__ import annotations

import argparse
from pathlib import Path
from typing import Any

from quillcore.cli.common import fail
from quillcore.cli.packs import pack_at
from quillcore.packs.building import build_pack


def describe(command: argparse.ArgumentParser) -> None:
    """Add the command's two actions."""
    actions = command.add_subparsers(required=True, metavar="ACTION")
    checking = actions.add_parser("check", help="find everything that is wrong with a pack")
    checking.add_argument("path", type=Path, metavar="DIR|ZIP")
    checking.set_defaults(run=lambda options: _told(options.path))
    building = actions.add_parser("build", help="build a pack from form sources")
    building.add_argument("source", type=Path, metavar="SRC")
    building.add_argument("-o", "--out", type=Path, required=True, metavar="DIR")
    building.add_argument(
        "--only", nargs="+", default=[], metavar="NUMBER", help="forms to build again; the others stay"
    )
    building.set_defaults(run=_build)


def _told(path: Path) -> Any:
    pack = pack_at(path)
    forms = [
        {
            "number": number,
            "title": form.edition.title,
            "pages": form.edition.pages,
            "blanks": sum(x.shape != "sign" for x in form.edition.fields),
            "sign_spots": sum(x.shape == "sign" for x in form.edition.fields),
        }
        for number, form in pack.forms.items()
    ]
    sheet = pack.sheet
    return {
        "association": sheet.association,
        "released": sheet.released.isoformat(),
        "forms": forms,
        "templates": sorted(pack.templates),
        "prescribed": dict(sheet.prescribed),
    }


def _build(options: argparse.Namespace) -> Any:
    if faults := build_pack(options.source, options.out, options.only):
        fail(faults)
    return _told(options.out)
