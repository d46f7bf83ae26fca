// Shows one frame of a figure that the server has made: only path data changes hands.
const SVG = "http://www.w3.org/2000/svg";

// Path data in pieces: what stands between numbers at even places, numbers at odd ones.
const MOST_PIECES = 6000;
const taken = new Map();
function pieces(data) {
  if (taken.size > MOST_PIECES) taken.clear();
  if (!taken.has(data)) taken.set(data, data.split(/(-?\d+)/));
  return taken.get(data);
}

function mixed(one, other, part) {
  if (one === other) return one;
  const ahead = pieces(other);
  return pieces(one)
    .map((piece, n) => (n % 2 ? Math.round(Number(piece) + (ahead[n] - piece) * part) : piece))
    .join("");
}

// A smooth curve is told by its points: SVG's own path data through them, as the server draws it.
const MOST_CURVED = 0.36;
const CURVE = { "@": true, "~": false };
function drawn(data) {
  const closed = CURVE[data[0]];
  if (closed === undefined) return data;
  const numbers = data.slice(1).split(" ").map(Number);
  const points = numbers.filter((_, n) => n % 2 === 0).map((x, n) => [x, numbers[2 * n + 1]]);
  const around = closed
    ? [points.at(-1), ...points, points[0], points[1]]
    : [points[0], ...points, points.at(-1)];
  const near = ([x, y], to, beyond) => {
    const [across, down] = [(to[0] - beyond[0]) / 6, (to[1] - beyond[1]) / 6];
    const [most, long] = [MOST_CURVED * Math.hypot(to[0] - x, to[1] - y), Math.hypot(across, down)];
    const by = long > most ? most / long : 1;
    return [Math.floor(x + by * across + 0.5), Math.floor(y + by * down + 0.5)];
  };
  let path = `M${points[0].join(" ")}`;
  for (let n = 1; n < around.length - 2; n += 1) {
    const [before, start, end, after] = around.slice(n - 1, n + 3);
    path += `C${[...near(start, end, before), ...near(end, start, after), ...end].join(" ")}`;
  }
  return closed ? `${path}Z` : path;
}

// All path data in one frame: some frames are known, the others lie evenly between two of them.
function between(frames, at) {
  if (frames[at]) return frames[at];
  const known = Object.keys(frames).map(Number).sort((a, b) => a - b);
  const after = known.find((n) => n > at) ?? known.at(-1);
  const before = known.findLast((n) => n < at) ?? known[0];
  const part = after === before ? 0 : (at - before) / (after - before);
  return Object.fromEntries(
    Object.entries(frames[before]).map(([key, data]) => [key, mixed(data, frames[after][key], part)]),
  );
}

// A new set-up or view: the shapes are laid anew, unless they are the same ones.
export function build(svg, figure) {
  const ghost = svg.querySelector('[data-key="ghost"]');
  const there = [...svg.querySelectorAll(":scope > path")];
  if (
    there.length === figure.shapes.length &&
    there.every((one, n) => one.dataset.key === figure.shapes[n].key)
  ) {
    for (const one of there)
      if (figure.fixed[one.dataset.key]) one.setAttribute("d", drawn(figure.fixed[one.dataset.key]));
    return;
  }
  for (const old of svg.querySelectorAll(":scope > path")) old.remove();
  for (const { key, role } of figure.shapes) {
    const element = document.createElementNS(SVG, "path");
    element.setAttribute("class", role);
    element.dataset.key = key;
    if (figure.fixed[key]) element.setAttribute("d", drawn(figure.fixed[key]));
    svg.insertBefore(element, ghost);
  }
}

export function frame(svg, figure, whole) {
  svg.setAttribute("viewBox", (whole ? figure.whole : figure.box).join(" "));
  svg
    .querySelector('[data-key="lever-text"]')
    .setAttribute("font-size", whole ? figure.whole_text : figure.text);
}

export function show(svg, figure, at, ghosts = []) {
  // What has an outline of its own stands twice: its ink, and over all ink its fill.
  const now = between(figure.frames, at);
  for (const part of svg.querySelectorAll(":scope > path")) {
    const { key } = part.dataset;
    const data = now[key] ?? figure.exact[key]?.[at];
    if (data) part.setAttribute("d", drawn(data));
  }
  const there = at in figure.lever ? at : Object.keys(figure.lever)[0]; // its other frames are on their way
  for (const [key, row] of Object.entries(figure.opacity))
    svg.querySelector(`[data-key="${key}"]`)?.setAttribute("fill-opacity", row[there]);
  const [x, y, centimetres] = figure.lever[there];
  const text = svg.querySelector('[data-key="lever-text"]');
  const size = Number(text.getAttribute("font-size"));
  text.setAttribute("text-anchor", figure.words.anchor);
  text.setAttribute("x", x + figure.words.across * size);
  text.setAttribute("y", y + figure.words.down * size);
  text.textContent = centimetres === null ? "" : `lever ${centimetres} cm`;
  const outlines = ghosts
    .filter((ghost) => ghost.view === figure.view)
    .flatMap((ghost) => Object.values(between(ghost.frames, at)));
  svg.querySelector('[data-key="ghost"]').replaceChildren(
    ...outlines.map((data) => {
      const element = document.createElementNS(SVG, "path");
      element.setAttribute("class", "fig-ghost");
      element.setAttribute("d", drawn(data));
      return element;
    }),
  );
}
