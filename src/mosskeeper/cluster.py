"""A private PostgreSQL cluster on loopback, for one machine. Also used by the tests.

PostgreSQL refuses to run as root: then its binaries run as the user `postgres` on a folder that it owns.
"""

from __future__ import annotations

import contextlib
import fcntl
import os
import pwd
import shutil
import socket
import subprocess
import time
from collections.abc import Iterator
from pathlib import Path

import psycopg
from psycopg import sql

USER = "moss"
_FAST = "-c fsync=off -c synchronous_commit=off -c full_page_writes=off -c max_connections=400"  # many studios share one


class ClusterError(Exception):
    """PostgreSQL cannot be started; the sentence says why."""


def binaries() -> Path:
    found = sorted(Path("/usr/lib/postgresql").glob("*/bin/initdb"), key=lambda p: int(p.parts[4]))
    if found:
        return found[-1].parent
    on_path = shutil.which("initdb")
    if on_path:
        return Path(on_path).parent
    raise ClusterError("The PostgreSQL server is not installed (Debian package: postgresql).")


class Cluster:
    def __init__(self, root: Path, durable: bool = True) -> None:
        self.root, self.durable = root.resolve(), durable
        self.data, self.log = self.root / "data", self.root / "postgres.log"
        self._owner = pwd.getpwnam("postgres") if os.geteuid() == 0 else None

    def start(self) -> None:
        """Starts the cluster, on the same port as before where that is free. Harmless where it runs already."""
        with self._locked():
            if not (self.data / "PG_VERSION").exists():
                self._create()
            if self.running():
                return
            if self._pid() is None:
                (self.data / "postmaster.pid").unlink(missing_ok=True)  # left by a crash
            for port in self._ports():
                if self._try_start(port):
                    (self.root / "port").write_text(str(port))
                    return
            raise ClusterError(f"PostgreSQL does not start. Its log ends with:\n{self._tail()}")

    def stop(self) -> None:
        with self._locked():
            for mode in ("fast", "immediate"):
                if self._pid() is None:
                    return
                if self._run("pg_ctl", "-D", self.data, "-m", mode, "-w", "-t", "30", "stop").returncode == 0:
                    return

    def gone(self) -> bool:
        """Whether no server of this folder lives: it was killed, or never started."""
        return self._pid() is None

    def running(self) -> bool:
        if self._pid() is None:
            return False
        return self._run("pg_isready", "-q", "-h", "127.0.0.1", "-p", self.port(), "-t", "10").returncode == 0

    def port(self) -> int:
        return int((self.data / "postmaster.pid").read_text().splitlines()[3])

    def url(self, database: str) -> str:
        return f"postgresql://{USER}@127.0.0.1:{self.port()}/{database}"

    def ensure_database(self, name: str, template: str | None = None) -> str:
        """Creates the database where it is missing; its address."""
        with psycopg.connect(self.url("postgres"), autocommit=True) as connection:
            if connection.execute("select 1 from pg_database where datname = %s", (name,)).fetchone() is None:
                source = sql.SQL(" template {}").format(sql.Identifier(template)) if template else sql.SQL("")
                connection.execute(sql.SQL("create database {}").format(sql.Identifier(name)) + source)
        return self.url(name)

    # -- inside ------------------------------------------------------------------------------------------

    def _create(self) -> None:
        fresh = self.root / "data.new"
        shutil.rmtree(fresh, ignore_errors=True)
        sync = () if self.durable else ("--no-sync",)
        done = self._run("initdb", "-D", fresh, "-U", USER, "--auth=trust", "-E", "UTF8", "--locale=C.UTF-8", *sync)
        if done.returncode:
            raise ClusterError(f"PostgreSQL could not create its data folder:\n{done.stdout}")
        fresh.rename(self.data)  # never a half-made cluster

    def _try_start(self, port: int) -> bool:
        options = f"-p {port} -c listen_addresses=127.0.0.1 -c unix_socket_directories='' -c max_connections=80"
        if not self.durable:
            options += f" {_FAST}"
        for _ in range(20):
            done = self._run("pg_ctl", "-D", self.data, "-w", "-t", "60", "-l", self.log, "-o", options, "start")
            if done.returncode == 0:
                return True
            tail = self._tail()
            if "shared memory block" not in tail and "is still in use" not in tail:
                return False
            time.sleep(0.5)  # backends of a killed server are still ending
        return False

    def _ports(self) -> Iterator[int]:
        with contextlib.suppress(OSError, ValueError):
            yield int((self.root / "port").read_text())
        for _ in range(4):
            yield free_port()

    def _pid(self) -> int | None:
        """The pid of a live server of this very folder. `pg_ctl status` also believes zombies and reused pids."""
        try:
            pid = int((self.data / "postmaster.pid").read_text().splitlines()[0])
            if Path(f"/proc/{pid}/stat").read_text().rsplit(")", 1)[1].split()[0] == "Z":
                return None
            return pid if Path(f"/proc/{pid}/cwd").readlink() == self.data else None
        except (OSError, ValueError, IndexError):
            return None

    def _run(self, command: str, *arguments: object) -> subprocess.CompletedProcess[str]:
        env = {k: v for k, v in os.environ.items() if not k.startswith("PG")}
        env |= {"LC_ALL": "C.UTF-8", "HOME": str(self.root)}
        identity = {"user": self._owner.pw_uid, "group": self._owner.pw_gid, "extra_groups": []} if self._owner else {}
        done: subprocess.CompletedProcess[str] = subprocess.run(
            [str(binaries() / command), *map(str, arguments)],
            cwd=self.root,
            env=env,
            text=True,
            umask=0o077,
            stdin=subprocess.DEVNULL,
            stdout=subprocess.PIPE,
            stderr=subprocess.STDOUT,
            check=False,
            **identity,
        )  # type: ignore[call-overload,no-any-return]
        return done

    def _tail(self) -> str:
        with contextlib.suppress(OSError):
            return "\n".join(self.log.read_text().splitlines()[-15:])
        return ""

    @contextlib.contextmanager
    def _locked(self) -> Iterator[None]:
        self.root.mkdir(parents=True, exist_ok=True)
        if self._owner:
            os.chown(self.root, self._owner.pw_uid, self._owner.pw_gid)
        self.root.chmod(0o700)
        with (self.root / ".lock").open("w") as lock:
            fcntl.flock(lock, fcntl.LOCK_EX)
            yield


def free_port() -> int:
    with socket.socket() as s:
        s.bind(("127.0.0.1", 0))
        return int(s.getsockname()[1])
