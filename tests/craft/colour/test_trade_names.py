"""Two hundred colours named by eye: each has a name that a cardmaker would give it, and none that she would not."""

from __future__ import annotations

import numpy as np
import pytest

from wempa.craft.colour import trade_names
from wempa.craft.colour.naming import describe
from wempa.optics import colorimetry as cm
from wempa.optics.grid import white_point

# What may be said (any of the words before the colon), of colours that are none of the examples.
SAID = """
pink, pale pink: f6b0c4 f3a0b6 ef98b4 f9c2d0 ec88a6 f5a8c0
hot pink: ea2f86 f53f98 e02a80 fa50a8 de2074 f4208c
dusky pink, mauve: c79aa0 bd9096 ce a8ac b4858c c8a0a6 be8890
coral: f27866 ee745f f48268 f06c56 f6805e ec7a62
light coral, peach, coral: f4a28c f09a86
peach, pale peach: f8bd9c f6b894 fac8a6 fbd2b4 f4b48e f9cfae
rust, terracotta: aa4c2c b04e28 a44a26 b8542a ad5028 a24626
wine, deep red: 641c30 6a2036 701e38 581a2c 762640 5e2034
deep red, wine: 961a22 881820 90141c
red, bright red: cc2a2c d42e30 c6262a dc322e be2428 d03634
raspberry, deep pink, hot pink: b01a50 bc2060
plum, deep plum, purple: 70305e 763668 682a58 7e3a6a 602850 883c72
mauve, dusky pink, mauve grey: ac8098 a47894 b48ca6 9e7690 b090a8 a68298
lilac: c2a0da ba9cd8 caaee0 c6a8de beA2d6 d2b8e6
purple, violet, bright purple: 7c4098 743a94 803e9c 883fa6 6c3890 8a44a4
deep purple, indigo, deep plum: 46225e 4c2868 3e1e54
violet, indigo, periwinkle: 6040b4 5a3caa 6844bc
magenta, hot pink, orchid: c42298 ca2a9c d4309e
orchid, lilac, magenta: c464be cc6cc6
navy, deep blue: 1c2c56 18264a 20305e 1a2848 243866 16244c
denim, dusky blue: 486a94 4e709a 44648c 587ca4 42628a 5074a0
blue, deep blue, bright blue: 2860c0 2c66cc 265abc 326cd0 225ec4 2e62b8
bright blue, blue, sky blue: 1a72f4 1288e8
sky blue, light blue: 80c2ea 74bce4 8ecaee 84c4e8 6cb8e2 96ceee
pale blue, light blue: c4daf0 cee2f4 bcd4ee d6e6f6
dusky blue, blue-grey, denim: 8099b4 8ea4bc
teal, dusky teal: 1e7878 1a7478 228082 187070 267c7e 1c6e74
deep teal, teal: 10484c 144e52
aqua, turquoise: 64d2d2 72d8d6 5cccce 7cd8d8 6ad0d0 58cacc
pale aqua, mint: c6eae8 ccecea
turquoise, aqua: 24b8b0 2cb4ac 1eb0a8 34bcb4
sea green, turquoise, green: 30a080 2c9878
sage, dusky green, grey-green: a0b08c 98ac86 a8b894 94a880 aeba9c 9aae8a
mint, pale green, light green: b0e2ca aadec6 b8e4d0
green, bright green, sea green: 34964a 3c9c50 30924c 44a256 389048 4ca45a
light green, mint: 94d090 a0d694 88cc86
deep green, green: 1e5e36 1a5430 226840 184c2e
bright green, green: 34c646 2cc444
yellow-green, lime: a4c830 98c02c acca38 94bc34
lime, yellow-green: c0e038 c8e444
moss green, olive, dusky green: 6a7a36 667634
olive, deep olive, khaki: 7a782e 706e2c 84803a 666428 787638 727030
mustard, gold: be982c b48e2a c09c30 c89e28 b6922e ba942c
gold, mustard, golden yellow: d6a62e dcae34 d2a230 deb040 d8aa36 e0b23a
golden yellow, yellow, gold: f6bc24 f4b42a fac024
yellow, bright yellow, golden yellow: f6de30 f8e038 f4da34 fae444 f2d836 f8dc2c
pale yellow, cream, light yellow: faf2ae f8f2b4 faf4c2
cream, pale yellow, beige, white: f5eace f4e8ca f8efd6 f6ecd4 f9f2de f3e7c8
beige, cream, tan: dccab0 e0d0b8
tan, beige, light brown: c6a278 c29e72 ceae84 bc986c caa67c c4a074
light brown, tan, brown: a87e58 a27a52
brown, deep brown, reddish brown: 7a5034 70482e 845638 684630 765036 6e4a32
deep brown, brown: 42301f 482e20 3a271c
orange, bright orange: f08626 ee8020 f28c2a ec7a1e f48e30 f07e22
orange-red, coral, bright red: e84e28 ec5430
deep orange, orange, rust: cc5e18 d2621c
light orange, peach, orange: f6ae62 f8b268
charcoal, dark grey, black: 444548 3e4043 4a4b4e 383a3d 424448 404145
black, charcoal: 18181a 202122
grey, warm grey, blue-grey: 8a8b8d 828385 949596 7e8082
light grey, pale grey: b4b6b8 bebfc1 aeb0b2
pale grey, white, light grey: d6d7d9 d0d2d4
white, cream: f8f8f6 f4f4f4
blue-grey, dusky blue, grey: 7a8898 8896a4 728090
warm grey, grey-brown, beige: 9a9288 a29a90
periwinkle, lilac, violet: 9098de 8690da
pale lilac, lilac, pale blue: e2d8f0 dccff0
pale green, mint: d0ebca cae8c4
pale pink, pink: f4d4dc f6dade
""".replace(" ce a8ac", " cea8ac")


def lab_of(code: str) -> tuple[float, float, float]:
    found = cm.lab_from_xyz(cm.xyz_from_srgb(cm.rgb_from_hex("#" + code), "D65"), white_point("D65"))
    lightness, a, b = found.tolist()
    return lightness, a, b


CASES = [
    (code, tuple(name.strip() for name in allowed.split(",")))
    for line in SAID.strip().splitlines()
    for allowed, _, codes in [line.partition(": ")]
    for code in codes.split()
]


def test_there_are_two_hundred_spread_over_the_solid_and_none_is_an_example() -> None:
    assert len(CASES) >= 200
    assert len({code for code, _ in CASES}) == len(CASES)
    examples = set(trade_names.EXAMPLES.split())
    assert not examples & {code.lower() for code, _ in CASES}
    labs = np.array([lab_of(code) for code, _ in CASES])
    assert labs[:, 0].min() < 15
    assert labs[:, 0].max() > 95
    around = np.degrees(np.arctan2(labs[:, 2], labs[:, 1]))[np.hypot(labs[:, 1], labs[:, 2]) > 20] % 360
    assert np.histogram(around, bins=8, range=(0, 360))[0].min() >= 5


def test_each_is_called_what_it_is() -> None:
    wrong = [
        f"{code}: {describe(lab_of(code))}, not {' or '.join(allowed)}"
        for code, allowed in CASES
        if describe(lab_of(code)) not in allowed
    ]
    assert not wrong, "\n".join(wrong)


@pytest.mark.parametrize(
    ("code", "never"),
    [
        ("f27866", ("pink", "pale pink", "orange")),
        ("ea2f86", ("purple", "pink-purple", "magenta")),
        ("bc986c", ("orange", "light orange", "peach")),
        ("641c30", ("dark pink-purple", "plum", "brown")),
        ("88aa44", ("sage", "green", "olive")),
        ("1c2c56", ("blue", "black")),
    ],
)
def test_a_learned_name_is_not_lent_to_its_neighbours(code: str, never: tuple[str, ...]) -> None:
    assert describe(lab_of(code)) not in never


def test_many_are_named_as_each_is() -> None:
    labs = np.random.default_rng(2).normal(0, 25, (150, 3)) + np.array([60, 0, 0])
    assert trade_names.trade_names(labs) == [trade_names.trade_name(tuple(lab)) for lab in labs.tolist()]
    assert trade_names.trade_names(labs[:0]) == []


def test_every_name_is_reached_by_its_own_examples_and_spelt_plainly() -> None:
    for line in trade_names.EXAMPLES.strip().splitlines():
        name, _, codes = line.partition(": ")
        own = [describe(lab_of(code)) for code in codes.split()]
        assert set(own) == {name}
    assert len(trade_names.names()) == len(set(trade_names.names())) > 80
