"""The trade's names of colours: what a cardmaker calls them, by examples.

Each name has a few colours that anybody would call so; any other colour has the name of
the example nearest to it in ΔE00. So a learned name such as coral or teal covers what is
like its examples and nothing else, whatever lies at the same hue.
"""

from __future__ import annotations

from functools import cache

import numpy as np

from wempa.optics import colorimetry as cm
from wempa.optics.grid import Floats, white_point

EXAMPLES = """
white: ffffff f7f7f5 f2f3f4
cream: f6ecd0 f3e6c4 fbf3dc fffdd0 f8f0d8
pale grey: dcdcdc cfd0d2 e3e4e6
light grey: b8b9bb aaabad c2c3c4
grey: 8f9092 7a7b7d 9c9d9e 858688
dark grey: 5e5f61 6a6b6d 545557
charcoal: 474849 3a3b3d 36454f 40464c
black: 1f1f20 141415 0a0a0a 26262a
warm grey: a39c93 8c847b b3aca3
blue-grey: 8593a3 6b7b8c a3b0bd 5c6a7a
grey-green: 7f8b80 98a39a 6a766c
mauve grey: 9a9099 7d727c ada4ac
grey-brown: 6f6257 7d6f62 5c5148 8b7d70
beige: f0d8a0 ead096 f5deb3 f0dcb8 dccbb0 d8c6a6 e4d6bd e8dcc6
tan: c8a47a bf9a6c d2b48c b99468 c4a177 ae8a5e
light brown: c08040 cd853f b8803c a47c55 a9825f 9a7048
brown: 7d5233 6b452c 8a5c3c 734a2e 964b00 8b4513 80522a
deep brown: 3f2a1e 4a3022 33221a 52361f
reddish brown: 7a3f2e 6c3528 85422f
rust: a8482a b5522e 9b4226 b7410e b04a1c a64b1e
terracotta: c0674a b8644a c8725a bb6e56
wine: 5e1a2c 6f1e34 722f37 4c1524 7a2038 5a2030
deep red: 9c1c26 8c1a24 940f1c 7f1a1c
red: d42a2a c8202f e0352f c22b2b b81f2a d03038
bright red: f0302a ff2020 f5222d
dusky red: a85050 9a4a4c b05c58
raspberry: b8184f a81c52 c01f58 a52050
deep pink: c53a6e b8386a cc4878 c04070
hot pink: f0308c e8207a ff4f9e ff69b4 d81b78 ff1493 f0409a e0387f
pink: f4a6bd ee8fae f7b8c8 ffb6c1 f29ab2 f080a2 e88aa8
pale pink: f7dde2 f3cfd8 fbe6ea f6d3d6
dusky pink: c9a0a4 b98a8f d3b3b5 c4929a b88088 d4a5a5
coral: f4735e f07f6a f88a72 ff7f50 ea6a58 ee6f5c e57a66 f0665a
light coral: f6a08e f2a596 f4a897
peach: f9c4a3 f7b58f fbd0b0 ffcba4 ffdab9 ffe5b4 f5b996 f8c8ac
pale peach: fae3d3 fbe6da f6ddcb
orange-red: ea4b23 e5512b f05528
orange: ffa500 f79a1a f28a24 f07c1c ef7f1a e8781e ff8c1a f2902e f58220
bright orange: ff7a00 ff6d0a ff8000
deep orange: d05a14 c75f18 cc5500 d4651c
light orange: f8ad5c f6b26b f9b870
golden yellow: ffd700 fccb1a f6b81e f9c22c ffc20e f5b335 eda21a
gold: d9a52a cfa13a d4af37 e0b040 c9a038 dba93c
mustard: c4962a b8932a a98a22 c2a02e b39020 e1ad01 cda434 c49a1e
yellow: f6d92a f9e22c f4dc3c fbe84a f2d83a ffdb58
bright yellow: ffee00 fff200 ffea00 f8f032
light yellow: faeb7c f8e88c f7e690
pale yellow: fbf6c8 f8f0a8 f9f3b8 fdf8d4
khaki: a8a06a b5ad7c b8ac78 9c9460
olive: 7d7a2c 6b6a28 8a8434 75743a 808000 6e6c32 7a7848
deep olive: 45451f 50501f 3c3d1e
moss green: 6e7f3a 62752f 6b8e23 5c7034 748848
yellow-green: a8cc2c 9ac428 8fb82c a0c83a 98c040
lime: c4e03a bfe32e cbe84a b8e02a d4ee4a
sage: a3b38f 9caf88 b2bfa0 8fa37e 94a684 b2ac88 87a96b a8b898 adbb9a
dusky green: 6b8a68 5f7f62 7a9a78 56755a 648468
light green: 8fd08a a2d99a 7fc97f 9cd68e
pale green: d8efd3 c3e6bd cdebc8 e2f3de
mint: b5e6cf a6dcc4 98d8bd a8dcc0 bdead6
green: 2f9a4a 36a24f 3a9148 2e8b4a 4aa85a 228b22 3d8f45 50a050
bright green: 2ecc40 28c24a 4cd038 00c040 3cd850
deep green: 1c5a32 1f6b3a 174a2a 124f2c 23502f 0f3d22
sea green: 2a9d7e 35a583 3cae8a 2e8b70
turquoise: 1fb5ad 22bdb6 2ab0a6 17a8a0 30c5bc 40c8c0
aqua: 5fd0d0 6fd6d8 7fdad6 52c8cf 7fdbda 00ffff 88dcdc 66cdcc
pale aqua: d0efec bfe7e6 c8ebea d8f2f0
teal: 1c7c7c 1a6f72 17878a 20797a 14696c 2a8a86 008080 207078 256b70
deep teal: 0f4a4e 123f44 114c50 0e3a3e
dusky teal: 4d7d7d 5a8787 46706f 689292
sky blue: 7cc0ea 8accf0 6ab6e6 9ad2f2 87ceeb 70bce8 5cb4e4
pale blue: d3e4f5 bcd7f0 c8def2 dceaf6
light blue: 6fa0ee 7fb0f0 9cc3e8 a6c8ea 90b8e0 add8e6
dusky blue: 7f9cb8 8aa5be 7493b0 93aac0
denim: 4a6d96 46658a 54779f 3f5f86 1560bd 6f8faf 5a7ba6 3e5c84
blue: 4169e1 2a62c8 2f6bd0 2456b8 1f5fbf 3a74d4 2458a8 3068c0 2456a6
bright blue: 1e78ff 1466f0 0f7ae5 0090e0 0a9adf 0066ff
deep blue: 1c3f94 183a86 1a3a9c 0f3f8c
navy: 191970 1b2a52 16223f 1f2f5c 000080 1f305e 22335a 14203c 182850 1a2340
periwinkle: 8a94dc 9aa2e4 a3a8e0 8088d0
indigo: 4b0082 45108a 3f2a7e 3a2f86 33297a 2f2a7c
violet: 8a68d4 5b3fb0 6a46c0 5236a0 6a3fb5 7048c0
bright violet: 7a3cf0 6a28f0 8040ff
purple: 7a3d9a 83409e 6f3590 8e48a8 7b3fa0 800080 763c94
bright purple: a02cd0 9a30c8 aa30e0
deep purple: 43205c 4a2566 381a4e 4a2a68
dusky purple: 6d5a80 77638a 5f4d72 80708f
plum: 6e2f5c 7a3566 653057 5a264c 84406e 673147 8e4585 7c3a68
deep plum: 3f1c36 45203c 3a1a34
mauve: a87c98 b08aa4 9c7190 b794ac a2789a b784a7 946a88 a5849c
lilac: c4a4dc b899d6 cdb2e2 bfa0d8 c8a2c8 b9a8dc d0b4e0 c9a9d4
pale lilac: e6dcf3 d9cbee e0d4f0 ecdff2
dusky lilac: a393b4 988aa8 ab9dba
orchid: c860c0 d070c8 bf55b8 cc6cc4 da70d6
magenta: c8209a d0289f b81c8c e02cb0 c41e8f
"""


@cache
def _examples() -> tuple[tuple[str, ...], Floats]:
    """The name of each example, and CIELAB of it, (n, 3)."""
    names, codes = [], []
    for line in EXAMPLES.split("\n"):
        name, _, own = line.partition(": ")
        for code in own.split():
            names.append(name)
            codes.append(cm.rgb_from_hex("#" + code))
    return tuple(names), cm.lab_from_xyz(cm.xyz_from_srgb(np.array(codes), "D65"), white_point("D65"))


def trade_name(lab: tuple[float, float, float]) -> str:
    """What a cardmaker calls a colour of CIELAB, such as ``coral`` or ``dusky blue``."""
    return trade_names(np.array([lab]))[0]


def trade_names(labs: Floats) -> list[str]:
    """What a cardmaker calls each of many colours of CIELAB (n, 3)."""
    names, examples = _examples()
    found: list[str] = []
    for start in range(0, len(labs), _AT_ONCE):
        some = labs[start : start + _AT_ONCE]
        apart = cm.ciede2000(*some.T[:, :, None], *examples.T[:, None])
        found += [names[k] for k in np.argmin(apart, axis=1).tolist()]
    return found


# Colours at a time, so that the arrays stay in the cache.
_AT_ONCE = 64


def names() -> tuple[str, ...]:
    """Every name, each once."""
    return tuple(dict.fromkeys(_examples()[0]))
