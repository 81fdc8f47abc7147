"""Settings: from the environment (TALLYMAN_…) and from var/settings.json, written by the set-up."""

from __future__ import annotations

import contextlib
import json
import os
from datetime import UTC, datetime, timedelta
from functools import lru_cache
from pathlib import Path
from typing import Any
from urllib.parse import urlsplit

import structlog
from pydantic_settings import BaseSettings, SettingsConfigDict

from tallyman.formats.envelope import Ring, new_key

HOME = Path(__file__).resolve().parents[2]
VERSION = "0.4.0"


class Settings(BaseSettings):
    """Where things are and how to reach them."""

    model_config = SettingsConfigDict(env_prefix="TALLYMAN_", extra="ignore")

    var: Path = HOME / "var"
    db_host: str = "127.0.0.1"
    db_port: int = 3307
    # Further nodes of a cluster, tried in this order: each as host:port, or by its port on the same host.
    db_more_nodes: tuple[str, ...] = ()
    db_more_ports: tuple[int, ...] = ()
    db_name: str = "tallyman"
    db_user: str = "tallyman"
    db_password: str = ""
    owner_user: str = "tallyman_owner"
    owner_password: str = ""
    port: int = 8420
    mail_host: str = "127.0.0.1"
    mail_port: int = 8425
    mail_from: str = "tallyman@merrowdale.example"
    secure_cookie: bool = False
    # Where people reach Tallyman, for links in mails; empty means this machine and port.
    public_url: str = ""
    # Further names under which people reach it, beside that of the public address and this machine's.
    hosts: tuple[str, ...] = ()
    # Addresses of proxies whose word on where a request comes from is believed; none unless named.
    proxies: tuple[str, ...] = ()
    # Hosts (name or name:port) that mail, single sign-on and the like may connect to; the mail server
    # of these settings is one of them. Nothing else is reached, and this machine only where it stands here.
    outgoing: tuple[str, ...] = ()
    # The keys that wrap secrets, outside the database; empty means var/keys.json.
    keys_file: str = ""
    clock_file: str = ""
    # Who may read /metrics without signing in; empty means from this machine only.
    metrics_token: str = ""
    web_dist: Path = HOME / "web" / "dist"


@lru_cache
def settings() -> Settings:
    """The settings of this process; the environment wins over var/settings.json."""
    base = Settings()
    path = base.var / "settings.json"
    if not path.exists():
        return base
    kept: dict[str, Any] = json.loads(path.read_text(encoding="utf-8"))
    given = base.model_fields_set
    return base.model_copy(update={k: v for k, v in kept.items() if k not in given})


def configure_logs() -> None:
    """One line of JSON for each event, with its time and a plain traceback: no values of variables."""
    structlog.configure(
        processors=[
            structlog.processors.add_log_level,
            structlog.processors.TimeStamper(fmt="iso", utc=True),
            structlog.processors.format_exc_info,
            structlog.processors.JSONRenderer(ensure_ascii=False),
        ],
        cache_logger_on_first_use=True,
    )


def more_nodes(one: Settings) -> tuple[tuple[str, int], ...]:
    """The further nodes of a database cluster, by host and port. Raises ValueError for what is neither."""
    found = []
    for node in one.db_more_nodes:
        host, mark, port = node.rpartition(":")
        if not mark or not host or not port.isdigit():
            raise ValueError(
                f"TALLYMAN_DB_MORE_NODES: {node!r} is no host:port, such as db2.company.example:3306"
            )
        found.append((host.strip("[]"), int(port)))
    return (*((one.db_host, port) for port in one.db_more_ports), *found)


def address() -> str:
    """Where people reach Tallyman, without a slash at the end."""
    return settings().public_url.rstrip("/") or f"http://127.0.0.1:{settings().port}"


@lru_cache
def known_hosts() -> frozenset[str]:
    """The names under which a request may ask for this installation, in small letters."""
    public = urlsplit(settings().public_url).hostname
    return frozenset(
        {"localhost", *(name.lower() for name in settings().hosts), *([public] if public else [])}
    )


def _keys_path() -> Path:
    return Path(settings().keys_file) if settings().keys_file else settings().var / "keys.json"


def _write_ring(path: Path, ring: dict[str, Any]) -> None:
    """Writes the ring aside and moves it into place, readable by this account only."""
    aside = path.with_name(f"{path.name}.{os.getpid()}")
    handle = os.open(aside, os.O_WRONLY | os.O_CREAT | os.O_TRUNC, 0o600)
    with os.fdopen(handle, "w", encoding="utf-8") as file:
        json.dump(ring, file)
        file.flush()
        os.fsync(file.fileno())
    if path.exists():
        aside.replace(path)
    with contextlib.suppress(FileExistsError, FileNotFoundError):
        # Two processes that start at once agree on the first ring.
        os.link(aside, path)
    aside.unlink(missing_ok=True)


def key_ring() -> Ring:
    """The keys that wrap secrets, read anew each time as another process may have added one."""
    path = _keys_path()
    if not path.exists():
        path.parent.mkdir(parents=True, exist_ok=True)
        _write_ring(path, {"current": "k1", "keys": {"k1": new_key().hex()}, "links": new_key().hex()})
    kept = json.loads(path.read_text(encoding="utf-8"))
    keys = {name: bytes.fromhex(key) for name, key in kept["keys"].items()}
    return Ring(kept["current"], keys, bytes.fromhex(kept["links"]))


def add_key() -> str:
    """Puts a new key on the ring and makes it the current one; gives its name."""
    ring = key_ring()
    name = f"k{1 + max(int(key[1:]) for key in ring.keys)}"
    keys = {key: value.hex() for key, value in ring.keys.items()}
    keys[name] = new_key().hex()
    _write_ring(_keys_path(), {"current": name, "keys": keys, "links": ring.links.hex()})
    return name


def drop_keys(names: set[str]) -> None:
    """Takes former keys off the ring, once nothing is wrapped by them; never the current one."""
    ring = key_ring()
    keys = {k: v.hex() for k, v in ring.keys.items() if k not in names or k == ring.current}
    _write_ring(_keys_path(), {"current": ring.current, "keys": keys, "links": ring.links.hex()})


def read_clock() -> datetime:
    """The time, read once at the edge of a request or loop step, as aware UTC.

    Tests own the clock through one file holding seconds to add.
    """
    now = datetime.now(UTC)
    path = settings().clock_file
    if path and Path(path).exists():
        text = Path(path).read_text(encoding="utf-8").strip()
        now += timedelta(seconds=float(text or 0))
    return now
