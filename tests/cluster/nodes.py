"""A three-node Galera cluster on loopback, started and ended by the test."""

from __future__ import annotations

import shutil
import tempfile
import time
from pathlib import Path

import pymysql

from tallyman.config import Settings
from tallyman.launcher import mariadb
from tallyman.store.db import Database
from tests.conftest import free_port
from tests.serving import wait_for

PROVIDER = Path("/usr/lib/galera/libgalera_smm.so")
ROOT = "root-of-the-cluster"


class Cluster:
    """Nodes 0 to 2; each can be killed."""

    def __init__(self) -> None:
        self.folder = Path(tempfile.mkdtemp(prefix="tallyman-cluster-"))
        self.folder.chmod(0o755)
        first = free_port(16)
        self.ports = [first + n for n in range(3)]
        self.group = [first + 4 + 2 * n for n in range(3)]
        self.transfer = [first + 11 + n for n in range(3)]
        self.nodes: list[mariadb.Server] = []
        for n in range(3):
            mariadb.install(self.folder / f"n{n}")
        self.nodes.append(self._start(0, "--wsrep-new-cluster"))
        self.wanted = Settings(
            db_port=self.ports[0],
            db_name="tallyman",
            db_user="app",
            db_password="app",
            owner_user="owner",
            owner_password="owner",
        )
        mariadb.prepare(self.nodes[0], self.wanted, ROOT)
        for n in (1, 2):
            self.nodes.append(self._start(n))
            wait_for(lambda n=n: self.ready(n), 90)

    def _start(self, n: int, *more: str) -> mariadb.Server:
        address = ",".join(f"127.0.0.1:{port}" for port in self.group)
        group = self.group[n]
        options = f"gmcast.listen_addr=tcp://127.0.0.1:{group};ist.recv_addr=127.0.0.1:{group + 1};gcache.size=64M;pc.recovery=false"
        return mariadb.start(
            self.folder / f"n{n}",
            self.ports[n],
            "--binlog-format=ROW",
            "--default-storage-engine=InnoDB",
            "--innodb-autoinc-lock-mode=2",
            "--innodb-flush-log-at-trx-commit=0",
            "--wsrep-on=ON",
            f"--wsrep-provider={PROVIDER}",
            "--wsrep-cluster-name=merrowdale",
            f"--wsrep-cluster-address=gcomm://{address}",
            f"--wsrep-node-name=n{n}",
            f"--wsrep-node-address=127.0.0.1:{group}",
            f"--wsrep-sst-receive-address=127.0.0.1:{self.transfer[n]}",
            "--wsrep-sst-method=rsync",
            f"--wsrep-provider-options={options}",
            *more,
        )

    def ready(self, n: int) -> bool:
        """Whether a node takes work."""
        try:
            with (
                pymysql.connect(
                    host="127.0.0.1", port=self.ports[n], user="app", password="app", ssl_disabled=True
                ) as connection,
                connection.cursor() as cursor,
            ):
                cursor.execute("SHOW STATUS LIKE 'wsrep_ready'")
                row = cursor.fetchone()
                return row is not None and row[1] == "ON"
        except pymysql.err.Error:
            return False

    def connect(self, n: int, user: str = "app") -> Database:
        """A pool whose first choice is one node, and whose others follow."""
        first, *others = (self.ports[(n + step) % 3] for step in range(3))
        more = [("127.0.0.1", port) for port in others]
        return Database(port=first, user=user, password=user, name="tallyman", size=8, more=more)

    def kill(self, n: int) -> float:
        """Kills a node outright; gives when."""
        self.nodes[n].process.kill()
        self.nodes[n].process.wait()
        return time.monotonic()

    def end(self) -> None:
        """Ends every node."""
        for node in reversed(self.nodes):
            if node.process.poll() is None:
                node.process.kill()
                node.process.wait()
        shutil.rmtree(self.folder, ignore_errors=True)
