// Shows one frame of a figure that the server has made: only path data changes hands.
const SVG = "http://www.w3.org/2000/svg";

// A new set-up or view: the shapes are laid anew, unless they are the same ones.
export function build(svg, figure) {
  const ghost = svg.querySelector('[data-key="ghost"]');
  const there = [...svg.querySelectorAll(":scope > path")];
  if (
    there.length === figure.shapes.length &&
    there.every((one, n) => one.dataset.key === figure.shapes[n].key)
  ) {
    for (const one of there)
      if (figure.fixed[one.dataset.key]) one.setAttribute("d", figure.fixed[one.dataset.key]);
    return;
  }
  for (const old of svg.querySelectorAll(":scope > path")) old.remove();
  for (const { key, role } of figure.shapes) {
    const element = document.createElementNS(SVG, "path");
    element.setAttribute("class", role);
    element.dataset.key = key;
    if (figure.fixed[key]) element.setAttribute("d", figure.fixed[key]);
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
  for (const [key, data] of Object.entries(figure.frames[at]))
    svg.querySelector(`[data-key="${key}"]`)?.setAttribute("d", data);
  for (const [key, row] of Object.entries(figure.opacity))
    svg.querySelector(`[data-key="${key}"]`)?.setAttribute("fill-opacity", row[at]);
  const [x, y, centimetres] = figure.lever[at];
  const text = svg.querySelector('[data-key="lever-text"]');
  text.setAttribute("x", x);
  text.setAttribute("y", y - 0.7 * Number(text.getAttribute("font-size")));
  text.textContent = centimetres === null ? "" : `lever ${centimetres} cm`;
  const outlines = ghosts
    .filter((ghost) => ghost.view === figure.view)
    .flatMap((ghost) => ghost.frames[Math.min(at, ghost.frames.length - 1)]);
  svg.querySelector('[data-key="ghost"]').replaceChildren(
    ...outlines.map((data) => {
      const element = document.createElementNS(SVG, "path");
      element.setAttribute("class", "fig-ghost");
      element.setAttribute("d", data);
      return element;
    }),
  );
}
