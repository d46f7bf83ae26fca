// Sketch: draw over the paper, answer with keys, and count hands in a room.
import Alpine from "../../vendor/alpinejs-csp/alpine-csp.js";
import { drawn, path, place } from "../parts/sketching.js";

Alpine.data("sketch", () => ({
  last: null,

  init() { this.lay(); },
  inputs() { return [...this.$refs.heights.querySelectorAll("input")]; },
  heights() { return this.inputs().map((one) => Number(one.value) / 100); },
  lay() {
    const line = this.$refs.paper.querySelector('[data-key="sketch-line"]');
    line.setAttribute("d", path(this.heights()));
  },
  place(event) { return place(this.$refs.paper.querySelector("svg"), event, this.inputs().length); },
  begin(event) {
    event.currentTarget.setPointerCapture(event.pointerId);
    this.last = this.place(event);
    this.draw(event);
  },
  draw(event) {
    if (!this.last) return;
    const here = this.place(event);
    const heights = drawn(this.heights(), this.last, here);
    this.inputs().forEach((input, n) => { input.value = 100 * heights[n]; });
    this.last = here;
    this.lay();
  },
  end() { this.last = null; },
}));

Alpine.data("room", () => ({
  open: false,
  told: "",

  output(n) { return this.$root.querySelector(`[data-hands="${n}"]`); },
  count(n, by) { this.output(n).textContent = Math.max(0, Number(this.output(n).textContent) + by); },
  more(event) { this.count(event.currentTarget.dataset.n, 1); },
  fewer(event) { this.count(event.currentTarget.dataset.n, -1); },
  mark() { return this.open && this.$el.dataset.right === "1" ? "right" : ""; },
  reveal() {
    this.open = true;
    const right = [...this.$root.querySelectorAll(".quiz-answer")].findIndex(
      (one) => one.dataset.right === "1",
    );
    const hands = [0, 1].map((n) => Number(this.output(n).textContent));
    const all = hands[0] + hands[1];
    this.told = all ? `${hands[right]} of ${all} hands were right.` : "";
  },
  key(event) {
    if (event.ctrlKey || event.metaKey || event.altKey) return;
    if (event.code === "Digit1" || event.code === "Digit2")
      return this.count(event.code === "Digit1" ? 0 : 1, event.shiftKey ? -1 : 1);
    const space = event.key === " " && !event.target.closest("button, a, input");
    if (!space && event.key.toLowerCase() !== "r") return;
    event.preventDefault();
    if (this.open) this.$root.querySelector("[data-next]").click();
    else this.reveal();
  },
}));

addEventListener("keydown", (event) => {
  const form = document.querySelector("form[data-answers]");
  if (!form || event.ctrlKey || event.metaKey || event.altKey) return;
  const button = { 1: 0, 2: 1 }[event.key];
  if (button !== undefined) form.querySelectorAll("button")[button].click();
  if (event.key === " " && event.target === document.body) {
    event.preventDefault();
    document.querySelector("[data-next]")?.click();
  }
});

Alpine.start();
