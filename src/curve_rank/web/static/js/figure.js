// Shows one frame of a figure that the server has drawn: only path data changes hands.

export function build(svg, figure) {
  const text = svg.querySelector("[data-lever-text]");
  for (const old of svg.querySelectorAll("path[data-key]")) old.remove();
  for (const shape of figure.shapes) {
    const path = document.createElementNS("http://www.w3.org/2000/svg", "path");
    path.setAttribute("class", shape.css);
    path.dataset.key = shape.key;
    if (figure.fixed[shape.key]) path.setAttribute("d", figure.fixed[shape.key]);
    svg.insertBefore(path, text);
  }
}

export function show(svg, figure, at) {
  for (const [key, data] of Object.entries(figure.frames[at])) {
    svg.querySelector(`[data-key="${key}"]`)?.setAttribute("d", data);
  }
  for (const [key, row] of Object.entries(figure.opacity)) {
    svg.querySelector(`[data-key="${key}"]`)?.setAttribute("fill-opacity", row[at]);
  }
  const [x, y, centimetres] = figure.lever[at];
  const text = svg.querySelector("[data-lever-text]");
  text.setAttribute("font-size", figure.text);
  text.setAttribute("x", x);
  text.setAttribute("y", y - 0.7 * figure.text);
  text.textContent = centimetres === null ? "" : `lever ${centimetres} cm`;
}

const OUTLINED = ["trunk", "upper", "fore"];

export function showGhost(svg, ghost, at) {
  const group = svg.querySelector("[data-ghost]");
  group.replaceChildren();
  if (!ghost) return;
  for (const key of OUTLINED) {
    const path = document.createElementNS("http://www.w3.org/2000/svg", "path");
    path.setAttribute("d", ghost.frames[at][key] ?? ghost.fixed[key] ?? "");
    group.append(path);
  }
  svg.append(group);
}
