"""The one table: complete, within its own ranges, overridable by name."""

from __future__ import annotations

import re
from pathlib import Path

import pytest

from wempa.craft import constants
from wempa.craft.errors import ConstantError
from wempa.craft.vocabulary import Formula, Known, Load, PadState, Surface, Tool

ROOT = Path(__file__).parents[2]


def test_every_row_has_a_unit_a_reason_and_a_value_in_its_range() -> None:
    for row in constants.TABLE.values():
        assert row.unit
        assert len(row.reason) > 12
        assert row.sure in ("measured", "reasoned", "guess")
        assert row.low <= row.value <= row.high


def test_every_word_has_its_rows() -> None:
    for formula in Formula:
        assert all(f"formula.{formula}.{column}" in constants.TABLE for column in constants.FORMULA_COLUMNS)
    for surface in Surface:
        assert all(f"surface.{surface}.{column}" in constants.TABLE for column in constants.SURFACE_COLUMNS)
    assert all(f"tool.{tool}.amount" in constants.TABLE for tool in Tool)
    assert all(f"load.{load}" in constants.TABLE for load in Load)
    assert all(f"known.{known}.spread" in constants.TABLE for known in Known)
    assert all(f"pad.{pad}.hand" in constants.TABLE for pad in PadState)


def test_no_row_is_idle() -> None:
    """Each single constant is read somewhere in the craft."""
    source = "".join(path.read_text() for path in (ROOT / "src/wempa/craft").rglob("*.py") if path.stem != "constants")
    for name in constants.TABLE:
        family, _, column = name.partition(".")
        if family in ("formula", "surface", "tool", "known"):
            assert f'"{column.split(".")[-1]}"' in source or f'.{column.split(".")[-1]}"' in source, name
        elif family == "eye":
            # One row for each light: read by its word.
            assert 'f"eye.{' in source, name
        elif family not in ("load", "lid") and any(part in set(Tool) for part in column.split(".")):
            # One row for each tool: read by the tool's word.
            read = "\\.".join(r"\{[^}]+\}" if part in set(Tool) else re.escape(part) for part in name.split("."))
            assert re.search(read, source), name
        elif family != "load" and not name.endswith(".hand"):
            assert f'"{name}"' in source, name


def test_overrides_are_checked() -> None:
    assert constants.values((("tool.foam.amount", 0.5),))["tool.foam.amount"] == 0.5
    assert constants.AS_SHIPPED["tool.foam.amount"] != 0.5
    with pytest.raises(ConstantError, match=re.escape("there is no constant 'foam'")):
        constants.values((("foam", 0.5),))
    with pytest.raises(ConstantError, match="must lie between"):
        constants.values((("mud.card_to", -1.0),))
