"""SVG paths (W3C SVG 1.1, section 8.3) as outlines."""

from __future__ import annotations

from functools import lru_cache

from svgelements import Close, Line, Move, Path

from wempa.craft.errors import JobError
from wempa.craft.limits import MAX_PATH

# Corners for a curve, and of one shape at most; outlines of one shape at most.
_CORNERS, _MOST, _MOST_OUTLINES = 16, 5000, 1000
_TOO_MUCH = "this path has too many corners; simplify it"


@lru_cache(32)
def outlines(path: str) -> tuple[tuple[tuple[float, float], ...], ...]:
    """The closed outlines of the `d` of an SVG path, curves in 16 steps, in the path's own unit.

    Raises
    ------
    JobError
        It is no path, has no area, or is too long.
    """
    if len(path) > MAX_PATH:
        raise JobError(f"the path has more than {MAX_PATH} characters", ("path",))
    # The library looks back to the beginning of an outline each time that one is closed.
    if path.count("z") + path.count("Z") > _MOST_OUTLINES:
        raise JobError(_TOO_MUCH, ("path",))
    corners = 0
    try:
        read = Path(path)
        rings: list[list[tuple[float, float]]] = []
        for part in read:
            if isinstance(part, Move):
                rings.append([(part.end.x, part.end.y)])
            elif isinstance(part, Close):
                continue
            elif rings:
                steps = 1 if isinstance(part, Line) else _CORNERS
                corners += steps
                if corners > _MOST:
                    raise JobError(_TOO_MUCH, ("path",))
                rings[-1] += [(point.x, point.y) for point in (part.point(k / steps) for k in range(1, steps + 1))]
    except JobError:
        raise
    except (ValueError, TypeError, AttributeError, IndexError, KeyError, ZeroDivisionError) as error:
        raise JobError("this is no SVG path: it has letters like M, L, C and Z, and numbers", ("path",)) from error
    closed = tuple([tuple(ring) for ring in rings if len(ring) > 2])
    if not closed:
        raise JobError("this path encloses nothing", ("path",))
    if sum(len(ring) for ring in closed) > _MOST:
        raise JobError(_TOO_MUCH, ("path",))
    return closed
