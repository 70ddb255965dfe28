"""Nothing leaves the machine: the whole application, watched from outside by the system calls of all its processes."""

import os
import re
import signal
import subprocess
import sys
from pathlib import Path

import httpx
import pytest

from mosskeeper.cluster import Cluster, free_port
from tests.conftest import wait_for

pytestmark = pytest.mark.process
_INET = re.compile(r"sa_family=AF_INET6?, .*?(?:sin_addr=inet_addr\(\"([^\"]+)\"\)|inet_pton\(AF_INET6, \"([^\"]+)\")")


def calls(trace: Path) -> list[str]:
    """The addresses on the internet that a traced program connected or sent to."""
    return [m[1] or m[2] for line in trace.read_text(errors="replace").splitlines() for m in _INET.finditer(line)]


def test_starting_and_making_a_take_connects_and_looks_up_nothing_but_loopback(tmp_path: Path) -> None:
    data, trace, port = Path("/var/tmp") / f"moss-quiet-{os.getpid()}", tmp_path / "trace", free_port()
    data.mkdir(mode=0o755)
    env = {k: v for k, v in os.environ.items() if k not in ("MOSS_DATABASE_URL", "ORT_DISABLE_TELEMETRY")} | {"MOSS_DATA": str(data)}
    watched = [
        "strace",
        "-f",
        "--seccomp-bpf",
        "-qq",
        "-e",
        "trace=connect,sendto,sendmsg,sendmmsg",
        "-o",
        str(trace),
        sys.executable,
        "-m",
        "mosskeeper",
    ]
    process = subprocess.Popen([*watched, "serve", "--port", str(port)], env=env, stdout=subprocess.PIPE, stderr=subprocess.STDOUT)
    try:
        with httpx.Client(base_url=f"http://127.0.0.1:{port}", timeout=30) as client:

            def answers() -> bool:
                try:
                    return client.get("/").status_code == 200
                except httpx.TransportError:
                    return False

            wait_for(answers, 120)
            story = client.post("/stories", data={"name": "Quiet"}).headers["location"]
            shot = client.post(f"{story}/shots", data={}).headers["location"]
            recipe = {"words": "a girl", "width": "256", "height": "256", "steps": "4", "count": "1"}
            assert client.post(f"{shot}/run", data=recipe, headers={"HX-Request": "true"}).status_code == 200

            def measured() -> bool:
                page = client.get(shot).text
                return "Take 1</b>" in page and "being measured" not in page

            wait_for(measured, 180)  # the reader has looked at it: its runtime was imported
    finally:
        own = subprocess.run(["ps", "-o", "pid=", "--ppid", str(process.pid)], capture_output=True, text=True, check=True).stdout.split()[0]
        os.kill(int(own), signal.SIGINT)  # the watcher itself would not pass it on
        process.communicate(timeout=60)
        Cluster(data / "postgres").stop()
        subprocess.run(["rm", "-rf", str(data)], check=True)
    found = calls(trace)
    assert "127.0.0.1" in found  # it was watched: PostgreSQL was called
    assert "htons(53)" not in trace.read_text(errors="replace")  # no name is looked up, wherever the look-up would go
    assert {address for address in found if not address.startswith("127.") and address != "::1"} == set()
