// A curve drawn over the paper of a sketch: heights along the rep, each a part of the most there is.

const [LEFT, RIGHT, TOP, BASE, WIDTH, HEIGHT] = [14, 546, 30, 190, 560, 220];
const within = (value) => Math.min(1, Math.max(0, value));

export function path(heights) {
  const points = heights.map((height, n) => [
    LEFT + ((RIGHT - LEFT) * n) / (heights.length - 1),
    BASE - (BASE - TOP) * height,
  ]);
  return `M${points.map((at) => at.join(" ")).join("L")}`;
}

// Where on the paper a pointer is: which of so many heights, and how high.
export function place(svg, event, count) {
  const box = svg.getBoundingClientRect();
  const across = (WIDTH * (event.clientX - box.left)) / box.width;
  const down = (HEIGHT * (event.clientY - box.top)) / box.height;
  return [((across - LEFT) / (RIGHT - LEFT)) * (count - 1), within((BASE - down) / (BASE - TOP))];
}

// The heights after a pointer went from one place to the next.
export function drawn(heights, before, here) {
  const [from, to] = [Math.min(here[0], before[0]) - 0.5, Math.max(here[0], before[0]) + 0.5];
  return heights.map((height, n) => {
    if (n < from || n > to) return height;
    const way = here[0] - before[0];
    return before[1] + (way ? within((n - before[0]) / way) : 1) * (here[1] - before[1]);
  });
}
