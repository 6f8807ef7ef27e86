"""The one page that an unpaired device gets: a code and a name, no script, nothing of the workspace."""

from __future__ import annotations

from html import escape

MOST_LETTERS = 60
"""Letters of the name of a device."""

_PAGE = """<!doctype html>
<html lang="en-GB">
<head>
<meta charset="utf-8">
<meta name="viewport" content="width=device-width, initial-scale=1">
<title>Wempa: pair this device</title>
<link rel="stylesheet" href="/pair.css">
</head>
<body>
<main>
<h1>Wempa</h1>
<p>This device is not paired yet. On the laptop that runs Wempa a code of six figures is shown: where it was started,
and under <b>Table, Use a tablet</b>.</p>
{said}
<form method="post" action="/pair" autocomplete="off">
<label for="code">Code from the laptop</label>
<input id="code" name="code" inputmode="numeric" autocomplete="one-time-code" maxlength="12" required autofocus>
<label for="name">What you call this device</label>
<input id="name" name="name" maxlength="{most}" value="{name}" required>
<button>Pair it</button>
</form>
<p class="small">{plain}</p>
</main>
</body>
</html>
"""

_PLAIN = (
    "This is plain HTTP: whoever shares this network could read along. Use it at home, not in a café, "
    "or start Wempa with <code>--certfile</code> and <code>--keyfile</code>."
)
_SECURE = "What goes between this device and the laptop is encrypted."

CSS = """:root { color-scheme: light dark; --ground: #c9c9c9; --slip: #dedede; --text: #171717; --soft: #3a3a3a;
  --line: #6e6e6e; --strong: #171717; --on-strong: #f2f2f2; }
@media (prefers-color-scheme: dark) { :root { --ground: #2a2a2a; --slip: #414141; --text: #f0f0f0; --soft: #cfcfcf;
  --line: #9a9a9a; --strong: #e6e6e6; --on-strong: #161616; } }
* { box-sizing: border-box; }
body { margin: 0; background: var(--ground); color: var(--text); font: 400 19px/1.45 system-ui, sans-serif; }
main { max-width: 34rem; margin: 6vh auto; padding: 1.6rem; background: var(--slip); border: 1px solid var(--line); }
h1 { margin: 0 0 .6rem; font: 650 2rem/1.1 Georgia, serif; }
p { margin: 0 0 1rem; }
form { display: grid; gap: .5rem; margin: 1.2rem 0; }
label { font-weight: 600; margin-top: .6rem; }
input { min-height: 3.2rem; padding: 0 .8rem; border: 1px solid var(--line); border-radius: 4px;
  background: var(--ground); color: inherit; font: inherit; }
#code { font-size: 1.9rem; letter-spacing: .3em; font-variant-numeric: tabular-nums; }
button { min-height: 3.4rem; margin-top: 1.1rem; border: 0; border-radius: 4px; background: var(--strong);
  color: var(--on-strong); font: inherit; font-weight: 600; cursor: pointer; }
:focus-visible { outline: 3px solid var(--text); outline-offset: 2px; }
.said { padding: .6rem .9rem; border-left: 5px solid var(--text); background: var(--ground); }
code { white-space: nowrap; }
.small { color: var(--soft); font-size: 1rem; margin: 0; }
"""


def pairing_page(said: str = "", secure: bool = False, name: str = "Tablet at the mat") -> str:
    """The page, with what was wrong the last time and the name that was typed."""
    told = f'<p class="said" role="alert">{escape(said)}</p>' if said else ""
    plain = _SECURE if secure else _PLAIN
    return _PAGE.format(said=told, name=escape(name, quote=True), most=MOST_LETTERS, plain=plain)
