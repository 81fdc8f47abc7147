"""Settings and versions: one of each, and told plainly when they cannot be read."""

from __future__ import annotations

import json
import tomllib

import pytest

from tallyman.config import HOME, VERSION, Settings, more_nodes


def test_the_version_is_the_same_wherever_it_stands() -> None:
    project = tomllib.loads((HOME / "pyproject.toml").read_text(encoding="utf-8"))
    page = json.loads((HOME / "web/package.json").read_text(encoding="utf-8"))
    lock = json.loads((HOME / "web/package-lock.json").read_text(encoding="utf-8"))
    found = {project["project"]["version"], page["version"], lock["version"], lock["packages"][""]["version"]}
    assert found == {VERSION}


def test_the_nodes_of_a_cluster_may_be_anywhere() -> None:
    one = Settings(
        db_host="weir",
        db_more_ports=(3308,),
        db_more_nodes=("sluice:3307", "db.merrowdale.example:1", "[::1]:2"),
    )
    assert more_nodes(one) == (
        ("weir", 3308),
        ("sluice", 3307),
        ("db.merrowdale.example", 1),
        ("::1", 2),
    )


@pytest.mark.parametrize("node", ["sluice", ":3307", "sluice:", "sluice:port"])
def test_what_is_no_node_is_named(node: str) -> None:
    with pytest.raises(ValueError, match="is no host:port"):
        more_nodes(Settings(db_more_nodes=(node,)))
