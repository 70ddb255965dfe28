"""What the environment sets. Every name is documented in docs/settings.md."""

from __future__ import annotations

import hashlib
import os
import stat
from dataclasses import dataclass
from pathlib import Path

ROOT = Path(__file__).resolve().parents[2]


def default_data(root: Path) -> Path:
    """The project's data folder. Where root's PostgreSQL user could not reach it (a clone in /root), one in /var/lib."""
    folder = root / "data"
    reachable = all(parent.stat().st_mode & stat.S_IXOTH for parent in (root, *root.parents))
    if os.geteuid() != 0 or reachable:
        return folder
    return Path("/var/lib") / f"moss-keeper-{hashlib.sha256(str(root).encode()).hexdigest()[:8]}"


@dataclass(frozen=True, slots=True)
class Settings:
    database_url: str  # MOSS_DATABASE_URL
    data: Path  # MOSS_DATA: private cluster, logs
    hosts: tuple[str, ...]  # MOSS_HOSTS: names at which the studio answers besides loopback, parted by commas
    heartbeat_seconds: float  # MOSS_HEARTBEAT_SECONDS: how often a worker says that it lives
    stalled_seconds: float  # MOSS_STALLED_SECONDS: silence after which its runs are given to others
    live_rooms: int = 2  # MOSS_LIVE_ROOMS: boards that a web server follows live at once

    @staticmethod
    def from_environment() -> Settings:
        env = os.environ
        return Settings(
            database_url=env.get("MOSS_DATABASE_URL", ""),
            data=Path(env["MOSS_DATA"]).resolve() if "MOSS_DATA" in env else default_data(ROOT),
            hosts=tuple(filter(None, env.get("MOSS_HOSTS", "").split(","))),
            heartbeat_seconds=float(env.get("MOSS_HEARTBEAT_SECONDS", "5")),
            stalled_seconds=float(env.get("MOSS_STALLED_SECONDS", "20")),
            live_rooms=int(env.get("MOSS_LIVE_ROOMS", "2")),
        )
