"""The pack that commands use where none is named."""

from pathlib import Path

DEMO_PACK = Path(__file__).resolve().parents[3] / "packs" / "calloway" / "built"
