"""``quill address TEXT``: an address taken apart, and in the form in which two are compared."""

from __future__ import annotations

import argparse
from dataclasses import asdict
from typing import Any

from quillcore.values.addresses import normal_form, take_apart


def describe(command: argparse.ArgumentParser) -> None:
    """Add the command's argument."""
    command.add_argument("text", metavar="TEXT")


def run(options: argparse.Namespace) -> Any:
    """Take it apart."""
    return asdict(take_apart(options.text)) | {"normal": normal_form(options.text)}
