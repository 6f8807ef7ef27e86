"""Simulate people who enter a colour by eye, and print how far they miss (the row ``known.eye``).

Run by hand: ``python -m tools.eye_family``. Somebody holds a swatch beside the screen under a lamp, takes the
nearest colour of the family's field, then nudges with big, middle and small steps until no step looks nearer.
Each has eyes, a screen and a lamp of their own:

- eyes: cone fundamentals of Stockman and Sharpe (2000) with the spread of lens, macula and peaks between people
  that Asano, Fairchild and Blondé (2016) report; lens and macula in the form of van de Kraats and van Norren (2007);
- a screen with three primaries, made for sRGB by the standard observer, its gamma and channels a little off;
- daylight of 5000 to 7500 K, a warm lamp or an LED; the eye adapts to the lamp's white for
  the card and to the screen's for the screen, each by three quarters, for it looks from the one to the other;
- each comparison is off by a draw, as two things that do not touch are compared.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from tools.phone_family import dyes, screen_colours
from wempa.craft.stash.by_eye import STEPS, around, field, on_screen
from wempa.craft.vocabulary import EyeFamily
from wempa.optics import colorimetry as cm
from wempa.optics.grid import WAVELENGTHS, Floats, illuminant_power, white_point

PEOPLE, EACH, SEED = 60, 10, 5
# Of the differences between comparisons, ΔE: nearby, and across a whole field.
_NOISE, _FIRST_NOISE = 1.5, 3.0
_PRESSES = 40
_ADAPTED = 0.75
_LAMPS = {"daylight": "D65", "LED lamp": "LED-B3", "warm lamp": "A"}


def _lens(age: float) -> Floats:
    wave = WAVELENGTHS
    return np.asarray(
        0.446 * (400 / wave) ** 4
        + (0.059 + 0.000186 * age**2) * 11.95 * np.exp(-((0.021 * (wave - 325)) ** 2))
        + (0.016 + 0.000132 * age**2) * 1.43 * np.exp(-((0.008 * (wave - 325)) ** 2))
        + 2.13 * np.exp(-((0.029 * (wave - 370)) ** 2))
    )


def _macula() -> Floats:
    wave = WAVELENGTHS
    return np.asarray(
        0.32 * np.exp(-0.0012 * (436 - wave) ** 2)
        + 0.32 * np.exp(-0.0012 * (480 - wave) ** 2)
        - 0.123 * np.exp(-0.0012 * (458 - wave) ** 2)
        + 0.12042 * np.exp(-0.006 * (457 - wave) ** 2)
    )


def _cones() -> Floats:
    import colour

    table = colour.MSDS_CMFS["Stockman & Sharpe 2 Degree Cone Fundamentals"]
    return np.stack([np.interp(WAVELENGTHS, table.wavelengths, table.values[:, k]) for k in range(3)], axis=1)


@dataclass(frozen=True)
class Person:
    """Somebody's eyes, screen and lamp."""

    cones: Floats
    primaries: Floats
    gain: Floats
    gamma: float
    lamp: str
    light: Floats

    def on_screen(self, labs: Floats) -> Floats:
        """Cone responses (n, 3) to colours that the page shows, CIELAB under D65."""
        linear = (
            cm.adapt(cm.xyz_from_lab(labs, white_point("D65")), white_point("D65"), cm.SRGB_WHITE) @ cm.XYZ_TO_SRGB.T
        )
        shown = np.clip(linear, 0, 1) ** (self.gamma / 2.2) * self.gain
        return np.asarray(shown @ self.primaries @ self.cones)

    def on_card(self, reflectance: Floats) -> Floats:
        """Cone responses (3,) to a swatch under the lamp."""
        return np.asarray((reflectance * self.light) @ self.cones)

    def seen(self, cones: Floats, own: Floats, other: Floats) -> Floats:
        """CIELAB of cone responses (..., 3), as an eye that looks from one white to the other sees them."""
        own, other = own / own[1], other / other[1]
        white = _ADAPTED * own + (1 - _ADAPTED) * other
        return cm.lab_from_xyz(cones / white @ _TO_XYZ.T, _TO_XYZ.sum(axis=1))


def _drawn(rng: np.random.Generator, cones: Floats) -> Person:
    age = rng.uniform(25, 75)
    own = cones.copy()
    for k, shift in enumerate((2.0, 1.5, 1.3)):
        own[:, k] = np.interp(WAVELENGTHS - rng.normal(0, shift), WAVELENGTHS, own[:, k])
    lens = _lens(age) * np.exp(rng.normal(0, 0.187)) - _lens(32)
    macula = _macula() * (np.exp(rng.normal(0, 0.365)) - 1)
    own *= 10.0 ** -(lens + macula)[:, None]
    broad = rng.random() < 0.6
    peaks = ((620, 18), (532, 32), (450, 10)) if broad else ((622, 14), (528, 16), (460, 10))
    raw = np.array([np.exp(-0.5 * ((WAVELENGTHS - peak - rng.normal(0, 3)) / width) ** 2) for peak, width in peaks])
    # Managed for the standard observer: the mixture of primaries that comes to each channel of sRGB.
    standard = cm.xyz(raw / illuminant_power("D65"), "D65")
    primaries = cm.SRGB_TO_XYZ.T @ np.linalg.inv(standard) @ raw
    lamp = str(rng.choice(list(_LAMPS)))
    light = _daylight(rng.uniform(5000, 7500)) if lamp == "daylight" else illuminant_power(_LAMPS[lamp])
    return Person(own, primaries, np.exp(rng.normal(0, 0.025, 3)), rng.normal(2.2, 0.08), lamp, light)


def _daylight(kelvin: float) -> Floats:
    """Power of daylight of a temperature (CIE 15:2018, 4.1.2), (36,)."""
    import colour

    power = colour.sd_CIE_illuminant_D_series(colour.CCT_to_xy(kelvin, method="CIE Illuminant D Series"))
    return np.asarray(np.interp(WAVELENGTHS, power.wavelengths, power.values))


def _to_xyz(cones: Floats) -> Floats:
    """From cone responses balanced at daylight to XYZ (3, 3), by least squares over smooth reflectances."""
    surfaces = screen_colours(400, np.random.default_rng(1))
    light = illuminant_power("D65")
    balanced = (surfaces * light) @ cones / (light @ cones)
    return np.asarray(np.linalg.lstsq(balanced, cm.xyz(surfaces), rcond=None)[0].T)


_CONES = _cones()
_TO_XYZ = _to_xyz(_CONES)


def found_by(person: Person, reflectance: Floats, rng: np.random.Generator) -> Floats:
    """The colour that somebody enters for a swatch, CIELAB under D65 (3,)."""
    screen_white = person.on_screen(np.array([[100.0, 0, 0]]))[0]
    card_white = person.on_card(np.full(len(WAVELENGTHS), 0.9))
    target = person.seen(person.on_card(reflectance) / card_white[1] * 0.9, card_white, screen_white)

    def apart(labs: Floats, noise: float) -> Floats:
        seen = person.seen(person.on_screen(labs) / screen_white[1], screen_white, card_white)
        off = seen + rng.normal(0, noise, seen.shape)
        return np.asarray(cm.ciede2000(*off.T, *target))

    every = np.concatenate([np.array(field(family)).reshape(-1, 3) for family in EyeFamily])
    at = every[int(np.argmin(apart(every, _FIRST_NOISE)))]
    presses = 0
    for step in STEPS:
        while presses < _PRESSES:
            ways = np.array([at, *(nudged.lab for nudged in around(at, step) if nudged.lab is not None)])
            best = int(np.argmin(apart(ways, _NOISE)))
            if best == 0:
                break
            at, presses = ways[best], presses + 1
    return np.asarray(at)


def main() -> None:
    """Print the misses, all together and by lamp."""
    rng = np.random.default_rng(SEED)
    misses: dict[str, list[float]] = {}
    for _ in range(PEOPLE):
        person = _drawn(rng, _CONES)
        inks = np.concatenate([screen_colours(EACH, rng)[:EACH], dyes(EACH, rng)])
        inks = inks[on_screen(cm.lab(inks))]
        for ink in inks[rng.permutation(len(inks))[:EACH]]:
            miss = float(cm.ciede2000(*found_by(person, ink, rng), *cm.lab(ink)))
            misses.setdefault(person.lamp, []).append(miss)
    for lamp, some in misses.items():
        held = np.quantile(some, 2 / 3)
        print(f"{lamp:8} {len(some):4} swatches: median {np.median(some):.1f}, two in three within {held:.1f} ΔE00")


if __name__ == "__main__":
    main()
