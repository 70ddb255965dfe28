import os
import signal
from pathlib import Path

import psycopg
import pytest

from mosskeeper.cluster import Cluster
from mosskeeper.migrate import alembic_config, upgrade
from tests.conftest import fresh_database, wait_for


@pytest.fixture
def own_cluster(tmp_path_factory: pytest.TempPathFactory) -> Cluster:
    folder = Path("/var/tmp") / f"moss-test-{os.getpid()}"
    folder.mkdir(mode=0o755, exist_ok=True)
    cluster = Cluster(folder / "postgres")
    yield cluster
    cluster.stop()
    import shutil

    shutil.rmtree(folder, ignore_errors=True)


@pytest.mark.process
def test_a_killed_cluster_starts_again_on_its_port_with_its_data(own_cluster: Cluster) -> None:
    own_cluster.start()
    own_cluster.start()  # harmless
    url, port = own_cluster.ensure_database("moss"), own_cluster.port()
    with psycopg.connect(url) as connection:
        connection.execute("create table kept (n int)")
    pid = int((own_cluster.data / "postmaster.pid").read_text().splitlines()[0])
    os.kill(pid, signal.SIGKILL)
    wait_for(lambda: not own_cluster.running())
    own_cluster.start()
    assert own_cluster.port() == port
    with psycopg.connect(own_cluster.url("moss")) as connection:
        assert connection.execute("select count(*) from kept").fetchone() == (0,)
    own_cluster.stop()
    assert not own_cluster.running()


def test_upgrading_twice_is_harmless_and_models_match_the_migrations(cluster: Cluster) -> None:
    from alembic import command

    url = fresh_database(cluster)
    upgrade(url)
    command.check(alembic_config(url))
    with psycopg.connect(url) as connection:
        assert connection.execute(
            "select attstorage from pg_attribute where attname = 'data' and attrelid = 'pictures'::regclass"
        ).fetchone() == ("e",)
