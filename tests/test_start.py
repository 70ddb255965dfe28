"""Starting and stopping everything, as real processes."""

import os
import signal
import socket
import subprocess
import sys
import tempfile
from collections.abc import Iterator
from pathlib import Path

import httpx
import pytest

from mosskeeper.cluster import Cluster, free_port
from mosskeeper.settings import default_data
from mosskeeper.supervise import next_free_port, port_is_free
from tests.conftest import wait_for

pytestmark = pytest.mark.process


@pytest.fixture
def data() -> Iterator[Path]:
    folder = Path(tempfile.mkdtemp(prefix="moss-start-", dir="/var/tmp"))  # not in pytest's own folder …
    folder.chmod(0o755)  # … since the server may run as another user
    yield folder
    Cluster(folder / "postgres").stop()
    import shutil

    shutil.rmtree(folder, ignore_errors=True)


def moss(data: Path, *arguments: str) -> subprocess.Popen[str]:
    env = {k: v for k, v in os.environ.items() if k != "MOSS_DATABASE_URL"} | {"MOSS_DATA": str(data)}
    return subprocess.Popen(
        [sys.executable, "-m", "mosskeeper", *arguments], env=env, text=True, stdout=subprocess.PIPE, stderr=subprocess.STDOUT
    )


def answers(port: int) -> bool:
    try:
        return httpx.get(f"http://127.0.0.1:{port}/", timeout=5).status_code == 200
    except httpx.TransportError:
        return False


def children_of(pid: int) -> list[int]:
    found = subprocess.run(["ps", "-o", "pid=", "--ppid", str(pid)], capture_output=True, text=True, check=False).stdout
    return [int(line) for line in found.split()]


def test_serving_starts_all_parts_postgresql_comes_back_when_killed_and_ctrl_c_stops_all_the_database_last(data: Path) -> None:
    port, cluster = free_port(), Cluster(data / "postgres")
    process = moss(data, "serve", "--port", str(port))
    wait_for(lambda: answers(port), 120)
    assert process.stdout is not None
    assert any(f"http://127.0.0.1:{port}/" in line for line in process.stdout)  # told once all parts are there
    assert cluster.running()
    parts = children_of(process.pid)
    assert len(parts) == 2
    before = cluster.port()
    os.kill(int((cluster.data / "postmaster.pid").read_text().splitlines()[0]), signal.SIGKILL)
    wait_for(lambda: not answers(port), 120)  # a page says so meanwhile
    wait_for(lambda: answers(port), 120)
    assert cluster.port() == before
    process.send_signal(signal.SIGINT)
    output = process.communicate(timeout=40)[0]
    assert process.returncode == 0, output
    assert not cluster.running()
    assert not any(Path(f"/proc/{pid}").exists() for pid in parts)


def test_killed_in_the_middle_the_parts_end_and_the_next_start_recovers(data: Path) -> None:
    port = free_port()
    first = moss(data, "serve", "--port", str(port))
    wait_for(lambda: answers(port), 120)
    parts = children_of(first.pid)
    first.kill()
    first.wait()
    wait_for(lambda: not any(Path(f"/proc/{pid}/exe").exists() for pid in parts), 30)
    second = moss(data, "serve", "--port", str(port))
    wait_for(lambda: answers(port), 120)
    second.send_signal(signal.SIGTERM)
    assert second.wait(40) == 0


def test_a_studio_is_backed_up_while_it_runs_and_restored_into_another_folder(data: Path, tmp_path: Path) -> None:
    port, file, other = free_port(), tmp_path / "studio.backup", data / "other"
    process = moss(data, "serve", "--port", str(port))
    wait_for(lambda: answers(port), 120)
    httpx.post(f"http://127.0.0.1:{port}/stories", data={"name": "Saved in time"})
    assert moss(data, "backup", str(file)).wait(60) == 0
    refused = moss(data, "restore", str(file))
    assert "The studio is running. Stop it first" in refused.communicate(timeout=60)[0]
    process.send_signal(signal.SIGINT)
    assert process.wait(40) == 0
    other.mkdir(mode=0o755)
    assert moss(other, "restore", str(file)).wait(60) == 0
    restored = moss(other, "serve", "--port", str(port))
    wait_for(lambda: answers(port), 120)
    assert "Saved in time" in httpx.get(f"http://127.0.0.1:{port}/").text
    restored.send_signal(signal.SIGINT)
    assert restored.wait(40) == 0


def test_a_taken_port_is_told_with_the_next_free_one(data: Path) -> None:
    with socket.socket() as taken:
        taken.bind(("127.0.0.1", 0))
        taken.listen()
        port = taken.getsockname()[1]
        assert not port_is_free(port)
        process = moss(data, "serve", "--port", str(port))
        output = process.communicate(timeout=30)[0]
        assert process.returncode == 1
        assert f"Port {port} is taken" in output
        assert f"--port {next_free_port(port)}" in output


def test_a_worker_without_a_database_says_what_to_do(data: Path) -> None:
    process = moss(data, "worker")
    output = process.communicate(timeout=30)[0]
    assert process.returncode == 1
    assert "Start ./moss demo first, or set MOSS_DATABASE_URL" in output


def test_the_data_folder_is_the_projects_unless_its_user_could_not_enter(tmp_path: Path) -> None:
    hidden = tmp_path / "hidden" / "clone"
    hidden.mkdir(parents=True)
    (tmp_path / "hidden").chmod(0o700)
    chosen = default_data(hidden)
    assert chosen == hidden / "data" if os.geteuid() else chosen.parent == Path("/var/lib")


def test_the_start_script_lists_its_commands_and_refuses_others() -> None:
    script = Path(__file__).parents[1] / "moss"
    assert "usage: ./moss COMMAND" in subprocess.run([script], capture_output=True, text=True, check=True).stdout
    wrong = subprocess.run([script, "fly"], capture_output=True, text=True, check=False)
    assert wrong.returncode == 2
    assert "no command “fly”" in wrong.stderr
