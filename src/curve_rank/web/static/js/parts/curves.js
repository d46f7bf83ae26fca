// Moves cursor and dots of curves that the server has drawn.

export function show(svg, curves, at) {
  const cursor = svg.querySelector('[data-key="cursor"]');
  const x = curves.x[at];
  cursor.setAttribute("d", cursor.getAttribute("d").replace(/([ML])[-\d.]+/g, `$1${x}`));
  for (const [key, row] of Object.entries(curves.dots)) {
    const dot = svg.querySelector(`circle[data-key="${key}"]`);
    dot.setAttribute("cx", x);
    dot.setAttribute("cy", row[at]);
  }
}

// The sample nearest to where a pointer is.
export function sampleAt(svg, curves, clientX) {
  const box = svg.getBoundingClientRect();
  const x = ((clientX - box.left) / box.width) * svg.viewBox.baseVal.width;
  const part = (x - curves.x[0]) / (curves.x.at(-1) - curves.x[0]);
  return Math.round(Math.min(1, Math.max(0, part)) * (curves.x.length - 1));
}
