"""Files among inputs are found by the schema, at any depth, and by nothing else."""

from __future__ import annotations

from tallyman.kit.given_files import named, with_files

FILE = {"type": "string", "format": "file"}
SCHEMA = {
    "type": "object",
    "properties": {
        "list": FILE,
        "note": {"type": "string"},
        "streets": {
            "type": "array",
            "items": {"type": "object", "properties": {"photos": {"type": "array", "items": FILE}}},
        },
        "by_name": {"type": "object", "additionalProperties": FILE},
    },
}
GIVEN = {
    "list": "file:aa/list.csv",
    "note": "file:bb/is-no-file",
    "streets": [{"photos": ["file:cc/1.png", "file:dd/2.png"], "more": "file:ee/x"}, "no street"],
    "by_name": {"plan": "file:ff/plan.pdf"},
    "unknown": ["file:99/y"],
}


def test_each_file_is_replaced_and_the_rest_stays() -> None:
    places: dict[str, str] = {}

    def use(place: str, value: str) -> str:
        places[place] = value
        return named(value)[1]

    found = with_files(SCHEMA, GIVEN, use)
    assert places == {
        "list": "file:aa/list.csv",
        "streets.0.photos.0": "file:cc/1.png",
        "streets.0.photos.1": "file:dd/2.png",
        "by_name.plan": "file:ff/plan.pdf",
    }
    assert found["streets"] == [{"photos": ["1.png", "2.png"], "more": "file:ee/x"}, "no street"]
    assert (found["list"], found["note"], found["unknown"]) == (
        "list.csv",
        "file:bb/is-no-file",
        ["file:99/y"],
    )


def test_a_schema_that_says_nothing_finds_nothing() -> None:
    assert with_files(None, {"list": "file:aa/list.csv"}, lambda *_: "") == {"list": "file:aa/list.csv"}
