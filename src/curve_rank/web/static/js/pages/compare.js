// Compare: figures and dots are scrubbed together; whatever is chosen is asked again, and the address is the
// state.
import Alpine from "../../vendor/alpinejs-csp/alpine-csp.js";
import * as figure from "../parts/figure.js";

const asks = {
  ask(event) {
    const form = this.$refs.question;
    const query = new URLSearchParams([...new FormData(form)].filter(([, value]) => value !== ""));
    if (event.target.dataset.restart !== undefined)
      for (const name of ["from", "to", "step"]) query.delete(name);
    location.assign(`${form.action}?${query}`);
  },
};

Alpine.data("oneThing", () => ({ ...asks }));

Alpine.data("compare", () => ({
  ...asks,
  now: JSON.parse(document.getElementById("compare-now")?.textContent ?? "null"),
  at: 0,

  init() {
    this.papers = [...this.$root.querySelectorAll("[data-figure]")].map((box) => box.querySelector("svg"));
    this.moveTo(this.now.hard[0]);
  },

  moveTo(at) {
    this.at = Math.min(at, this.now.along[0].angle.length - 1);
    this.papers.forEach((paper, n) => figure.show(paper, this.now.figures[n], this.at));
    for (const [key, points] of Object.entries(this.now.overlay.dots)) {
      const dot = this.$refs.overlay.querySelector(`[data-key="${key}"]`);
      dot.setAttribute("cx", points[this.at][0]);
      dot.setAttribute("cy", points[this.at][1]);
    }
    this.$refs.scrub.value = this.at;
    const last = this.now.along[0].angle.length - 1;
    this.$refs.scrub.setAttribute("aria-valuetext", `${Math.round((100 * this.at) / last)} % of the rep`);
  },

  words(n) {
    const { angle, demand, effort, length } = this.now.along[n];
    const asked = `${angle[this.at]}°: ${demand[this.at].toFixed(1)} N·m`;
    return `${asked}, effort ${effort[this.at]} %, ${length[this.at]} % long`;
  },

  scrubbed(event) { this.moveTo(Number(event.target.value)); },
  grab(event) { this.drag(event); },

  // The sample whose dot lies nearest to the pointer, on whatever curve.
  drag(event) {
    if (!event.buttons) return;
    const svg = event.target.closest("svg");
    if (!svg) return;
    const box = svg.getBoundingClientRect();
    const scale = svg.viewBox.baseVal.width / box.width;
    const [x, y] = [(event.clientX - box.left) * scale, (event.clientY - box.top) * scale];
    let [best, least] = [this.at, Infinity];
    for (const { dataset } of svg.querySelectorAll("circle")) {
      const points = this.now.overlay.dots[dataset.key];
      points.forEach(([px, py], at) => {
        const far = Math.hypot(px - x, 0.4 * (py - y));
        if (far < least) [best, least] = [at, far];
      });
    }
    this.moveTo(best);
  },
}));

Alpine.start();
