// Heads: the value under the pointer or the sliders, the cross, and the cuts through it.
import Alpine from "../../vendor/alpinejs-csp/alpine-csp.js";

const between = (list, value) => {
  const after = list.findIndex((one) => one >= value);
  const at = after <= 0 ? 0 : after - 1;
  return [at, (value - list[at]) / (list[at + 1] - list[at])];
};
const degrees = (value) => `${value}°`.replace("-", "−");

Alpine.data("heads", () => ({
  now: JSON.parse(document.getElementById("heads-now").textContent),
  words: "",

  init() {
    this.joint = this.now.across === "shoulder" ? "upper arm" : "forearm";
    this.show(Number(this.$refs.elbow.value), Number(this.$refs.other.value));
  },

  value(elbow, other) {
    const { values } = this.now;
    const [column, right] = between(this.now.elbow, elbow);
    const [row, up] = between(this.now.other, other);
    const along = (line) => line[column] * (1 - right) + line[column + 1] * right;
    return along(values[row]) * (1 - up) + along(values[row + 1]) * up;
  },

  show(elbow, other) {
    const { x, y, name, unit } = this.now;
    const [first, last] = [this.now.elbow[0], this.now.elbow.at(-1)];
    const [low, high] = [this.now.other[0], this.now.other.at(-1)];
    const across = x[0] + ((x[1] - x[0]) * (elbow - first)) / (last - first);
    const down = y[0] + ((y[1] - y[0]) * (other - low)) / (high - low);
    // A head that one joint alone moves has a curve, without a cross.
    this.$refs.map
      .querySelector('[data-key="cross"]')
      ?.setAttribute("d", `M${across} ${y[1]}V${y[0]}M${x[0]} ${down}H${x[1]}`);
    const told = this.value(elbow, other)
      .toFixed(unit === "% of range" ? 0 : 1)
      .replace("-", "−");
    const { alone } = this.now;
    const both = `Elbow ${degrees(elbow)}, ${this.joint} ${degrees(other)}`;
    const one = alone === "elbow" ? `Elbow ${degrees(elbow)}` : `Forearm ${degrees(other)}`;
    const at = alone ? one : both;
    this.words = `${at}: ${name.toLowerCase()} ${told} ${unit}`;
    this.$refs.elbow.value = elbow;
    this.$refs.other.value = other;
    this.cut("elbow", this.now.elbow, (angle) => this.value(angle, other));
    this.cut("other", this.now.other, (angle) => this.value(elbow, angle));
  },

  // A cut keeps its place on the paper: its scale is the one the server drew it on.
  cut(key, angles, value) {
    const path = this.$refs.cuts.querySelector(`[data-key="cut-${key}"]`);
    if (!path) return;
    const drawn = (this.drawn ??= {});
    drawn[key] ??= this.scaleOf(path, angles, value);
    const { x, y } = drawn[key];
    path.setAttribute("d", `M${angles.map((angle) => `${x(angle)} ${y(value(angle))}`).join("L")}`);
  },
  scaleOf(path, angles, value) {
    const points = path.getAttribute("d").slice(1).split("L").map((pair) => pair.split(" ").map(Number));
    const known = angles.map(value);
    const [a, b] = [known.indexOf(Math.min(...known)), known.indexOf(Math.max(...known))];
    const slope = known[b] === known[a] ? 0 : (points[b][1] - points[a][1]) / (known[b] - known[a]);
    const wide = (points.at(-1)[0] - points[0][0]) / (angles.at(-1) - angles[0]);
    return {
      x: (angle) => (points[0][0] + wide * (angle - angles[0])).toFixed(1),
      y: (told) => (points[a][1] + slope * (told - known[a])).toFixed(1),
    };
  },

  point(event) {
    if (event.pointerType !== "mouse" && !event.isPrimary) return;
    const svg = this.$refs.map.querySelector("svg");
    if (!svg.querySelector('[data-key="cross"]')) return;
    const box = svg.getBoundingClientRect();
    const scale = svg.viewBox.baseVal.width / box.width;
    const { x, y } = this.now;
    const part = (value, [from, to]) => Math.min(1, Math.max(0, (value - from) / (to - from)));
    const angle = (list, at) => Math.round(list[0] + at * (list.at(-1) - list[0]));
    this.show(
      angle(this.now.elbow, part((event.clientX - box.left) * scale, x)),
      angle(this.now.other, part((event.clientY - box.top) * scale, y)),
    );
    if (event.type === "pointerdown") this.settle();
  },
  slide() { this.show(Number(this.$refs.elbow.value), Number(this.$refs.other.value)); },
  settle() {
    const query = new URLSearchParams(location.search);
    query.set("elbow", this.$refs.elbow.value);
    query.set("other", this.$refs.other.value);
    history.replaceState(null, "", `?${query}`);
    for (const name of ["elbow", "other"]) this.$refs.walks.elements[name].value = this.$refs[name].value;
    this.pose(query);
  },

  // ---- the plate: at the posture under the cross, layers peeled off

  async pose(query) {
    const wanted = `${location.pathname}/arm.json?${query}`;
    this.posed = wanted;
    try {
      const answer = await fetch(wanted, { headers: { Accept: "application/json" } });
      const drawn = await answer.json();
      if (this.posed !== wanted || !answer.ok) return;
      for (const figure of this.$refs.plates.children)
        figure.firstElementChild.innerHTML = drawn[figure.dataset.view];
      this.peel();
    } catch {
      // the map goes on without it
    }
  },
  peel() {
    const off = [...this.$root.querySelectorAll(".layers input:checked")].map((one) => one.value);
    this.$refs.plates.dataset.off = off.join(" ");
    for (const layer of this.$refs.plates.querySelectorAll('[data-key^="layer-"]'))
      layer.toggleAttribute("hidden", off.includes(layer.dataset.key.slice(6)));
  },
  ask() {
    const query = new URLSearchParams(
      [...new FormData(this.$refs.walks)].filter(([, value]) => value !== ""),
    );
    location.assign(`?${query}`);
  },
}));

Alpine.start();
