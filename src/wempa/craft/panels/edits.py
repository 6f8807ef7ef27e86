"""What happens to widths and seams when a panel's bands are dragged, taken out, brought back, evened."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

# No band is dragged narrower than this, in mm.
LEAST_MM = 1.0


def moved_widths(
    visible: Sequence[tuple[float, float]], at: int, by: float, reach: Sequence[float] = ()
) -> list[float] | None:
    """Visible widths (mm) once the boundary after band `at` is moved by so many mm; None where a band would vanish.

    `visible` is where each band begins and ends now. The band after the last is the first: a fan
    closes. `reach` says for each seam by how much its in-between grows with the mean of its two
    bands, 0 where its width is said; all other bands keep their widths.
    """
    wide = [end - begin for begin, end in visible]
    if not 0 <= at < len(wide) or len(wide) < 2:
        return None
    following = (at + 1) % len(wide)
    grows = [*reach, *[0.0] * (len(wide) - len(reach))]
    # How much of the line a millimetre of either band takes, with its share of the in-betweens.
    takes = [1 + (grows[k] + (grows[k - 1] if k or len(reach) == len(wide) else 0.0)) / 2 for k in (at, following)]
    moves = 1 + (grows[at - 1] / 2 if at else 0.0) + grows[at] / 4 * (1 - takes[0] / takes[1])
    wide[at] += by / moves
    wide[following] -= by / moves * takes[0] / takes[1]
    if min(wide[at], wide[following]) < LEAST_MM:
        return None
    return [round(width, 2) for width in wide]


def seam_to_drop(at: int, seams: int) -> int | None:
    """Which seam goes when band `at` is taken out: of its two the later one; None where there is none."""
    return min(at, seams - 1) if seams else None


def softness_words(hardest: float, table: Mapping[str, float]) -> str:
    """How a seam looks by the most that the colour changes on a millimetre, in ΔE00."""
    hard = table["seam.hard"]
    return "soft" if hardest < hard / 2 else "noticeable" if hardest <= hard else "a line"


def evenness_words(evenness: float) -> str:
    """How even the steps of colour over a panel are, 0–1, in words."""
    return "Even steps" if evenness > 0.8 else "Fairly even steps" if evenness > 0.6 else "Uneven steps"
