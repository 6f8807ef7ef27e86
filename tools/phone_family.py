"""Draw simulated phones and write what their photos tell of them (`optics/data/phones.json`).

Run by hand: ``python -m tools.phone_family``. Nothing in it is fitted to a measured camera: sensors of
three filters are drawn around peaks and widths as commonly measured, sensors of three layers from how
deep light of each wavelength goes into silicon (Green 2008), with leakage between the channels.
"""

from __future__ import annotations

import json
from dataclasses import dataclass
from importlib.resources import files
from pathlib import Path

import numpy as np

from wempa.optics import colorimetry as cm
from wempa.optics.grid import BANDS, WAVELENGTHS, Floats, illuminant_power, white_point
from wempa.optics.photo import family as model
from wempa.optics.photo.tone import STRENGTH_AT, bent
from wempa.optics.reconstruct import smoothest_reflectance

OUT = Path(str(files("wempa.optics"))) / "data/phones.json"
PHONES = 6000
SEED = 3
_TYPICAL = ((600.0, 38.0), (535.0, 40.0), (460.0, 30.0))
# Absorption of silicon at 300 K in 1/µm.
_SILICON: Floats = np.interp(
    WAVELENGTHS,
    [380, 400, 420, 450, 480, 500, 520, 550, 580, 600, 630, 650, 680, 700, 730],
    [29, 9.5, 5.0, 2.55, 1.5, 1.11, 0.88, 0.64, 0.46, 0.414, 0.33, 0.281, 0.23, 0.19, 0.155],
)
# How far stashes lean towards strong, red and yellow inks.
_LEANS = np.array([0.5, 0.5, 0.5])
_LUMA = np.array([0.2126, 0.7152, 0.0722])
_DAYLIGHT = illuminant_power("D65")
_WHITE = 0.72
_RAMP = np.linspace(0, 1, 257)


def screen_colours(count: int, rng: np.random.Generator) -> Floats:
    """Smooth reflectances of random colours that a screen can show, (count, 36)."""
    labs = np.stack([rng.uniform(low, high, 8 * count) for low, high in ((15, 95), (-90, 90), (-90, 100))], axis=1)
    xyz = cm.xyz_from_lab(labs, white_point("D65"))
    linear = cm.adapt(xyz, white_point("D65"), cm.SRGB_WHITE) @ cm.XYZ_TO_SRGB.T
    inside = ((linear > 0.002) & (linear < 0.98)).all(axis=1)
    return smoothest_reflectance(xyz[inside][:count], "D65")[0]


def dyes(count: int, rng: np.random.Generator) -> Floats:
    """White card under one to three absorption bands, (count, 36)."""
    found = []
    for _ in range(count):
        depth = np.zeros(BANDS)
        for _ in range(rng.integers(1, 4)):
            centre, width = rng.uniform(380, 700), rng.uniform(30, 80)
            depth += rng.uniform(0.1, 2.2) * np.exp(-0.5 * ((WAVELENGTHS - centre) / width) ** 2)
        white = 0.86 * (1 - 0.06 * np.exp(-(WAVELENGTHS - 380) / 40))
        floor = rng.uniform(0.01, 0.04)
        found.append(floor + (1 - floor) * white * np.exp(-depth))
    return np.array(found)


def linear(reflectance: Floats) -> Floats:
    """Linear sRGB under daylight, (n, 3)."""
    return np.asarray(cm.xyz(reflectance) / cm.xyz(np.ones(BANDS)) * cm.SRGB_WHITE @ cm.XYZ_TO_SRGB.T)


def _edges(rng: np.random.Generator) -> Floats:
    """What glass and filters in front of a sensor let through."""
    red = 1 / (1 + np.exp((WAVELENGTHS - rng.uniform(645, 705)) / rng.uniform(6, 18)))
    violet = 1 / (1 + np.exp(-(WAVELENGTHS - rng.uniform(395, 420)) / rng.uniform(4, 10)))
    return np.asarray(red * violet)


def filtered(rng: np.random.Generator) -> Floats:
    """Sensitivity (36, 3) of a sensor with three filters."""
    curves = []
    for peak, width in _TYPICAL:
        centre = peak + rng.normal(0, 9)
        below, above = width * np.exp(rng.normal(0, 0.15, 2))
        curves.append(np.exp(-0.5 * ((WAVELENGTHS - centre) / np.where(centre > WAVELENGTHS, below, above)) ** 2))
    leak = np.eye(3) + rng.uniform(0, 0.08, (3, 3)) * (1 - np.eye(3))
    sensitivity = leak @ np.array(curves)
    sensitivity[0] += rng.uniform(0, 0.12) * np.exp(-0.5 * ((WAVELENGTHS - 440) / 22) ** 2)
    return np.asarray((sensitivity * _edges(rng)).T)


def layered(rng: np.random.Generator) -> Floats:
    """Sensitivity (36, 3) of a sensor with three layers one below another."""

    def thick(low: float, high: float) -> float:
        return float(np.exp(rng.uniform(np.log(low), np.log(high))))

    first = thick(0.2, 2)
    second = first + thick(0.5, 3)
    third = second + thick(1.5, 8)
    left = [np.exp(-_SILICON * depth) for depth in (first, second, third)]
    curves = np.array([left[1] - left[2], left[0] - left[1], 1 - left[0]])
    leak = np.eye(3) + rng.uniform(0, 0.25, (3, 3)) * (1 - np.eye(3))
    return np.asarray(((leak @ (curves / curves.max(axis=1)[:, None])) * _edges(rng)).T)


def own_matrix(sensitivity: Floats, lamp: Floats, surfaces: Floats) -> Floats:
    """The matrix that a maker gives a sensor: balanced channels under a lamp to linear sRGB, (3, 3)."""
    raw = (surfaces * lamp) @ sensitivity / (lamp @ sensitivity)
    return np.asarray(np.linalg.lstsq(raw, linear(surfaces), rcond=None)[0])


@dataclass
class Phone:
    """One simulated phone."""

    sensitivity: Floats
    balance: float
    """How far it takes the lamp's cast out, 0–1."""
    adapted: float
    """How far its matrix is made for the lamp, 0 for daylight, 1 for the lamp."""
    drift: Floats
    bend: float
    """How far a smooth step is mixed into its tones."""
    bend_light: bool
    """Whether tones are bent in light rather than in code."""
    paint: float
    """By what factor colours are painted up."""
    paint_light: bool


def drawn_phone(rng: np.random.Generator) -> Phone:
    """A phone: one in seven has layers; one in three bends no tones, and then paints nothing up."""
    sensitivity = layered(rng) if rng.random() < 0.15 else filtered(rng)
    bend = 0.0 if rng.random() < 0.35 else rng.uniform(0.1, 0.75)
    # Phones that bend tones more paint colours up more, as far as one can see: between not at all and twice this.
    paint = 1 + 0.42 * bend * rng.uniform(0, 2)
    adapted = 0.0 if rng.random() < 0.8 else rng.uniform(0, 1)
    return Phone(
        sensitivity, rng.uniform(0.65, 1), adapted, rng.normal(0, 0.02, 3), bend, rng.random() < 0.3, paint,
        rng.random() < 0.5,
    )  # fmt: skip


def coded_by(phone: Phone, light: Floats) -> Floats:
    """Codes 0–1 of linear light (n, 3) after the phone has painted and bent."""
    if phone.paint_light:
        grey = (light @ _LUMA)[:, None]
        light = grey + phone.paint * (light - grey)
    light = np.clip(light, 0, 1)
    if phone.bend_light:
        light = _bent(light, phone.bend)
    codes = cm.coded_from_linear(light)
    if not phone.bend_light:
        codes = _bent(codes, phone.bend)
    if not phone.paint_light:
        grey = (codes @ _LUMA)[:, None]
        codes = grey + phone.paint * (codes - grey)
    return np.clip(codes, 0, 1)


def _bent(x: Floats, bend: float) -> Floats:
    return np.asarray(x + bend * (3 * x**2 - 2 * x**3 - x))


def seen(phone: Phone, reflectance: Floats, lamp: Floats, surfaces: Floats) -> Floats:
    """Codes of surfaces (n, 36), the first of which is white card."""
    raw = (reflectance * lamp) @ phone.sensitivity / (_DAYLIGHT @ phone.sensitivity)
    cast = raw[0] / raw[0].mean()
    raw = raw / cast**phone.balance * np.exp(phone.drift)
    matrix = own_matrix(phone.sensitivity, _DAYLIGHT, surfaces)
    if phone.adapted:
        matrix = (1 - phone.adapted) * matrix + phone.adapted * own_matrix(phone.sensitivity, lamp, surfaces)
    light = raw @ matrix
    return coded_by(phone, light * (_WHITE / light[0].max()))


def fitted(light: Floats, true: Floats, weight: Floats) -> Floats:
    """The map of one phone, (6, 3): ridge towards leaving all as it is, with white kept."""
    found = model.terms(light)
    base = np.zeros((len(model.TERMS), 3))
    base[:3] = np.eye(3)
    rows = np.vstack([found * weight[:, None], 30 * model.terms(np.ones((1, 3)))])
    wanted = np.vstack([true * weight[:, None], 30 * np.ones((1, 3))])
    square = rows.T @ rows + 1e-4 * len(light) * np.eye(len(base))
    return np.asarray(base + np.linalg.solve(square, rows.T @ (wanted - rows @ base)))


def main() -> None:
    rng = np.random.default_rng(SEED)
    card = np.clip(0.93 * (1 - 0.05 * np.exp(-(WAVELENGTHS - 380) / 30)), 0, 1)
    bumps = np.exp(-0.5 * ((WAVELENGTHS - rng.uniform(380, 730, (400, 1))) / rng.uniform(30, 150, (400, 1))) ** 2)
    patches = np.clip(rng.uniform(0.02, 0.5, (400, 1)) + rng.uniform(-0.4, 0.8, (400, 1)) * bumps, 0.02, 0.95)
    patches = np.concatenate([patches, np.full((60, BANDS), 0.9)])
    learned = np.concatenate([screen_colours(150, rng), dyes(150, rng)])
    stash = np.concatenate([screen_colours(500, rng), dyes(500, rng)])
    _, a, b = cm.lab(stash).T
    standing = np.stack([(v - v.mean()) / v.std() for v in (np.hypot(a, b), a, b)], axis=1)
    typical = np.stack([np.exp(-0.5 * ((WAVELENGTHS - peak) / width) ** 2) for peak, width in _TYPICAL], axis=1)
    table: dict[str, list[list[float]]] = {"camera": own_matrix(typical, _DAYLIGHT, patches).round(6).tolist()}
    # `balanced` takes the typical camera's matrix from the table.
    OUT.write_text(json.dumps(table))
    model._table.cache_clear()
    true = linear(learned) / linear(card[None])
    weight = model.eye_weight(true)
    vivid = np.hypot(*cm.lab(learned)[:, 1:].T)
    dull, strong = vivid < np.quantile(vivid, 0.4), vivid > np.quantile(vivid, 0.7)
    at = [float(np.median(vivid[some])) for some in (dull, strong)]
    for lamp in model.LAMPS:
        power = illuminant_power(lamp)
        found: dict[tuple[str, bool], list[tuple[Floats, Floats, Floats]]] = {}
        for _ in range(PHONES):
            phone = drawn_phone(rng)
            # A stash is paler or stronger, warmer or cooler as a whole.
            lean = np.exp(standing @ (rng.normal(size=3) * _LEANS))
            some = rng.choice(len(stash), rng.integers(model.MANY, 37), replace=False, p=lean / lean.sum())
            codes = seen(phone, np.vstack([card, learned, stash[some]]), power, patches)
            ramp = coded_by(phone, np.repeat(_RAMP[:, None], 3, axis=1))[:, 0]
            top = float(codes[0].max())
            strength = bent(np.interp(STRENGTH_AT * top, ramp, _RAMP), round(top * 255)) + rng.normal(0, 0.05)
            for tones in (model.tones_of(strength, True), "unknown"):
                undone = tones != "unknown"
                light = np.interp(codes, ramp, _RAMP) if undone else cm.linear_from_coded(codes)
                balanced = model.balanced(light[1:], light[:1])
                swatches, theirs = balanced[: len(learned)], balanced[len(learned) :]
                own = fitted(swatches, true, weight)
                left = (model.terms(swatches) @ own - true) * weight[:, None]
                apart = cm.delta_e(model.lab_of(model.terms(swatches) @ own), model.lab_of(true))
                error = np.array([left.std(), *(np.quantile(apart[some_], 2 / 3) for some_ in (dull, strong))])
                for many in (True, False):
                    shown = model.features(theirs, light[0], strength if undone else 0.0, many)
                    found.setdefault((tones, many), []).append((own.ravel(), shown, error))
        for (tones, many), all_ in found.items():
            maps, shown, error = (np.array([one[k] for one in all_]) for k in range(3))
            mean, scale = shown.mean(axis=0), np.maximum(shown.std(axis=0), 1e-3)
            rows = model.design(shown, mean, scale)
            slopes = np.linalg.solve(rows.T @ rows + np.eye(rows.shape[1]), rows.T @ maps)
            spread = np.cov((maps - rows @ slopes).T)
            rest = np.median(error, axis=0)
            # What is left grows with chroma, about in proportion: at no chroma, and for each 50 of it.
            grows = (rest[2] - rest[1]) / (at[1] - at[0])
            rest = np.array([rest[0], max(rest[1] - grows * at[0], 0.1), 50 * grows])
            name = f"{lamp} {tones} {'many' if many else 'few'}"
            table[name] = [_short(row) for row in (mean, scale, rest, *slopes, *spread)]
            print(name, len(maps), "left", rest.round(3))
    OUT.write_text(
        "{\n" + ",\n".join(f"{json.dumps(key)}: {json.dumps(rows)}" for key, rows in table.items()) + "\n}\n"
    )


def _short(row: Floats) -> list[float]:
    return [float(f"{value:.5g}") for value in row]


if __name__ == "__main__":
    main()
