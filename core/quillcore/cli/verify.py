"""``quill verify``: whether a finished file is what was signed, without web or database."""

from __future__ import annotations

import argparse
from pathlib import Path
from typing import Any

from quillcore.cli.common import fail
from quillcore.signing.verifying import verify
from quillcore.values import Fault


def describe(command: argparse.ArgumentParser) -> None:
    """Add the command's arguments."""
    command.add_argument("file", type=Path, metavar="FILE.pdf")
    command.add_argument(
        "--authority",
        type=Path,
        action="append",
        required=True,
        metavar="CERT.pem",
        help="the certificate of an authority whose seals count; may be given several times",
    )


def run(options: argparse.Namespace) -> Any:
    """Return what holds of it, one by one."""
    authorities = [path.read_bytes() for path in options.authority]
    if not all(b"BEGIN CERTIFICATE" in content for content in authorities):
        fail(["--authority: this is not a certificate. A certificate begins with BEGIN CERTIFICATE."])
    verdict = verify(options.file.read_bytes(), authorities)
    if isinstance(verdict, Fault):
        fail([verdict])
    return {
        "holds": verdict.holds,
        "paper": verdict.paper,
        "signers": list(verdict.signers),
        "said": [{"about": one.about, "holds": one.holds, "sentence": one.sentence} for one in verdict.said],
    }
