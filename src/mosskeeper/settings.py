"""What the environment sets. Every name is documented in docs/settings.md."""

from __future__ import annotations

import os
from dataclasses import dataclass
from pathlib import Path

ROOT = Path(__file__).resolve().parents[2]


@dataclass(frozen=True, slots=True)
class Settings:
    database_url: str  # MOSS_DATABASE_URL
    data: Path  # MOSS_DATA: private cluster, logs
    heartbeat_seconds: float  # MOSS_HEARTBEAT_SECONDS: how often a worker says that it lives
    stalled_seconds: float  # MOSS_STALLED_SECONDS: silence after which its runs are given to others

    @staticmethod
    def from_environment() -> Settings:
        env = os.environ
        return Settings(
            database_url=env.get("MOSS_DATABASE_URL", ""),
            data=Path(env.get("MOSS_DATA", ROOT / "data")).resolve(),
            heartbeat_seconds=float(env.get("MOSS_HEARTBEAT_SECONDS", "5")),
            stalled_seconds=float(env.get("MOSS_STALLED_SECONDS", "20")),
        )
