"""What a package requires is pinned by version and hash, or it is not released."""

from __future__ import annotations

import pytest

from tallyman.core.faults import InputFaults
from tallyman.formats.requirements import WHEEL, read_requirements

HASH = "a" * 64
OTHER = "b" * 64


def test_pins_with_hashes_are_read_with_comments_extras_markers_and_continued_lines() -> None:
    text = f"""
    # what the letters need
    lettersmith==2.1.0 \\
        --hash=sha256:{HASH} \\
        --hash=sha256:{OTHER}   # both builds
    weir[full]==1!0.3.dev1+local ; python_version >= "3.11" --hash=sha256:{HASH}
    """
    found = [(one.name, one.version, one.digests) for one in read_requirements(text)]
    assert found == [("lettersmith", "2.1.0", (HASH, OTHER)), ("weir", "1!0.3.dev1+local", (HASH,))]


@pytest.mark.parametrize(
    "line",
    [
        "lettersmith",
        "lettersmith==2.1.0",
        f"lettersmith>=2.1.0 --hash=sha256:{HASH}",
        f"lettersmith==2.1.0 --hash=sha256:{HASH[:-1]}",
        f"lettersmith==2.1.0 --hash=md5:{HASH}",
        f"-r more.txt --hash=sha256:{HASH}",
        f"--index-url x --hash=sha256:{HASH}",
        f"./folder --hash=sha256:{HASH}",
        f"lettersmith @ file:///tmp/x.whl --hash=sha256:{HASH}",
        f"lettersmith==2.*.0 --hash=sha256:{HASH}",
    ],
)
def test_every_other_line_is_named(line: str) -> None:
    with pytest.raises(InputFaults) as refused:
        read_requirements(f"weir==1.0 --hash=sha256:{HASH}\n{line}\n")
    [fault] = refused.value.faults
    assert (fault.field, fault.value) == ("requirements.txt", line[:80])
    assert "pin it by version and hash" in fault.message


def test_all_faults_come_at_once_and_a_file_without_end_is_not_read() -> None:
    with pytest.raises(InputFaults) as refused:
        read_requirements("a\nb\nc\n")
    assert len(refused.value.faults) == 3
    with pytest.raises(InputFaults, match="200000"):
        read_requirements("#" * 200_001)


@pytest.mark.parametrize(
    "name", ["weir-1.0-py3-none-any.whl", "weir-1.0-2-cp311-cp311-manylinux_2_17_x86_64.whl"]
)
def test_a_wheel_is_known_by_its_name(name: str) -> None:
    assert WHEEL.fullmatch(name)


@pytest.mark.parametrize(
    "name", ["weir-1.0.tar.gz", "../weir-1.0-py3-none-any.whl", "weir.whl", "a b-1-py3-none-any.whl"]
)
def test_nothing_else_is_one(name: str) -> None:
    assert not WHEEL.fullmatch(name)
