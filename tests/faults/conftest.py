"""The product that faults are caused to: one for all of them, which each leaves running."""

from __future__ import annotations

from collections.abc import Iterator
from pathlib import Path

import pytest

from tests.running import Running


@pytest.fixture(scope="session")
def running(folder: Path, stand_ins: None) -> Iterator[Running]:
    made = Running(folder / "faults")
    yield made
    made.stop()
