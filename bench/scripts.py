"""What the benchmark runs inside the page: when something changed on it, when it is painted, how it scrolls."""

CHANGED = """async how => {
  const grid = document.querySelector('[role=grid]');
  const sheet = grid.querySelector('canvas');
  const hash = data => data.reduce((a, b) => (a * 31 + b) | 0, 7);
  const look = () => hash(sheet.getContext('2d').getImageData(180, 180, 60, 4).data);
  const frame = () => new Promise(done => requestAnimationFrame(() => setTimeout(done, 0)));
  const before = look(), start = performance.now();
  document.querySelector(how).dispatchEvent(new MouseEvent('mousedown', {button: 0, bubbles: true}));
  document.dispatchEvent(new MouseEvent('mouseup', {button: 0, bubbles: true}));
  while (look() === before) { if (performance.now() - start > 9000) throw new Error('nothing changed'); await frame(); }
  return performance.now() - start;
}"""
PAINTED = """() => {
  const sheet = document.querySelector('[role=grid] canvas');
  return sheet?.getContext('2d').getImageData(180, 180, 60, 4).data.some(v => v);
}"""
SCROLLED = """async () => {
  const grid = document.querySelector('[role=grid]');
  const taken = [];
  let last = await new Promise(done => requestAnimationFrame(done));
  for (let n = 0; n < 150; n++) {
    grid.scrollTop = n * 24; grid.scrollLeft = n * 17;
    const now = await new Promise(done => requestAnimationFrame(done));
    taken.push(now - last); last = now;
  }
  return taken.sort((a, b) => a - b);
}"""
