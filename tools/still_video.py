"""Make the two seconds of black video that keep a tablet awake where the browser has no other way for it.

Chromium records them itself: `python -m tools.still_video` writes them anew.
"""

from __future__ import annotations

import base64
from pathlib import Path

from playwright.sync_api import sync_playwright

FOLDER = Path(__file__).parents[1] / "web/src/assets/awake"
FORMS = {"still.webm": "video/webm;codecs=vp8", "still.mp4": "video/mp4;codecs=avc1.42E01E"}
_RECORD = """async (type) => {
  const canvas = Object.assign(document.createElement('canvas'), { width: 16, height: 16 })
  const pen = canvas.getContext('2d')
  const recorder = new MediaRecorder(canvas.captureStream(10), { mimeType: type, videoBitsPerSecond: 20000 })
  const parts = []
  recorder.ondataavailable = (event) => parts.push(event.data)
  const stopped = new Promise((done) => (recorder.onstop = done))
  recorder.start()
  // A picture that never changes is not recorded.
  let n = 0
  const ticking = setInterval(() => { pen.fillStyle = n++ % 2 ? '#000' : '#010101'; pen.fillRect(0, 0, 16, 16) }, 100)
  await new Promise((done) => setTimeout(done, 2000))
  recorder.stop()
  clearInterval(ticking)
  await stopped
  const bytes = new Uint8Array(await new Blob(parts).arrayBuffer())
  return btoa(String.fromCharCode(...bytes))
}"""


def main() -> None:
    """Write both forms."""
    FOLDER.mkdir(parents=True, exist_ok=True)
    with sync_playwright() as play:
        browser = play.chromium.launch(executable_path="/usr/bin/chromium", args=["--no-sandbox"])
        page = browser.new_page()
        for name, form in FORMS.items():
            (FOLDER / name).write_bytes(base64.b64decode(page.evaluate(_RECORD, form)))
        browser.close()


if __name__ == "__main__":
    main()
