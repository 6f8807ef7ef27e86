"""What is wrong with a value, in one plain sentence: the words for a model's complaints."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from typing import Any

from wempa.craft.errors import quoted

Context = Mapping[str, Any]

_SAID: dict[str, Callable[[Context], str]] = {
    "greater_than_equal": lambda told: f"it has to be {told['ge']:g} or more",
    "greater_than": lambda told: f"it has to be more than {told['gt']:g}",
    "less_than_equal": lambda told: f"it has to be {told['le']:g} or less",
    "less_than": lambda told: f"it has to be less than {told['lt']:g}",
    "string_too_long": lambda told: f"it has to be {told['max_length']} letters long at most",
    "string_too_short": lambda told: (
        "it may not be empty" if told["min_length"] == 1 else f"it has to be {told['min_length']} letters at least"
    ),
    "too_long": lambda told: f"there may be {told['max_length']} at most",
    "too_short": lambda told: f"there have to be {told['min_length']} at least",
    "literal_error": lambda told: f"it has to be {told['expected']}",
    "enum": lambda told: f"it has to be {told['expected']}",
    "finite_number": lambda told: "the number is not finite",
    "int_from_float": lambda told: "it has to be a whole number",
}
_KINDS = {
    "float": "a number",
    "int": "a whole number",
    "string": "a text",
    "bool": "true or false",
    "list": "a list",
    "tuple": "a list",
    "dict": "a group of named values",
    "model": "a group of named values",
    "model_attributes": "a group of named values",
    "date": "a day",
    "bytes": "data",
}


def complaint(problem: Mapping[str, Any]) -> str:
    """One complaint of a Pydantic model (``ValidationError.errors()``), in words, with what was given."""
    kind, given = str(problem["type"]), problem.get("input")
    place = problem["loc"][-1] if problem["loc"] else ""
    if kind == "extra_forbidden":
        return f"{quoted(str(place))} is not a key that is known here"
    if kind == "missing":
        return f"{quoted(str(place))} is missing"
    if kind == "value_error":
        return str(problem["msg"]).removeprefix("Value error, ")
    if kind == "string_pattern_mismatch":
        colour = "#" in str(problem.get("ctx", {}).get("pattern", ""))
        return f"{quoted(given)} is not {'a colour such as #a8dcc0' if colour else 'written as it should be'}"
    if kind in _SAID:
        said = _SAID[kind](problem.get("ctx", {}))
    else:
        plain = kind.removesuffix("_type").removesuffix("_parsing").removesuffix("_parsing_size")
        said = f"it has to be {_KINDS[plain]}" if plain in _KINDS else str(problem["msg"])
        said = said[0].lower() + said[1:]
    return f"{said}, not {quoted(given)}" if isinstance(given, (str, int, float)) and kind != "finite_number" else said
