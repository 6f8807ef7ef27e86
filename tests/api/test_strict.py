"""A field that a route does not know is refused, in every body at every depth."""

from __future__ import annotations

from pathlib import Path
from typing import Any

import pytest

from wempa.api.app import create_app
from wempa.store import Workspace


@pytest.fixture(scope="module")
def schema(tmp_path_factory: pytest.TempPathFactory) -> dict[str, Any]:
    path: Path = tmp_path_factory.mktemp("strict") / "strict.wempa"
    return create_app(Workspace(path), copies=False).openapi()


def _bodies(schema: dict[str, Any]) -> dict[str, Any]:
    """Every object schema that a JSON body may hold, by name, with what its fields hold."""
    schemas, asked = schema["components"]["schemas"], list[Any]()
    for path in schema["paths"].values():
        for route in path.values():
            content = route.get("requestBody", {}).get("content", {}).get("application/json")
            if content and "schema" in content:
                asked.append(content["schema"])
    reached: dict[str, Any] = {}
    while asked:
        node = asked.pop()
        if isinstance(node, list):
            asked += node
        elif isinstance(node, dict):
            name = node.get("$ref", "").rpartition("/")[2]
            if name and name not in reached:
                reached[name] = schemas[name]
                asked.append(schemas[name])
            asked += [value for value in node.values() if isinstance(value, dict | list)]
    return {name: one for name, one in reached.items() if one.get("type") == "object"}


def test_every_body_refuses_what_it_does_not_know(schema: dict[str, Any]) -> None:
    bodies = _bodies(schema)
    assert {"ChartIn", "MatchIn", "TargetIn", "PanelEdit", "StackEdit", "StackEntry"} <= set(bodies)
    assert sorted(name for name, one in bodies.items() if one.get("additionalProperties") is not False) == []
