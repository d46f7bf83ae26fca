// Sketch: draw over the paper, answer with keys, and count hands in a room.
import Alpine from "../../vendor/alpinejs-csp/alpine-csp.js";

const [LEFT, RIGHT, TOP, BASE] = [14, 546, 30, 190];

Alpine.data("sketch", () => ({
  last: null,

  init() { this.lay(); },
  heights() { return [...this.$refs.heights.querySelectorAll("input")]; },
  lay() {
    const inputs = this.heights();
    const points = inputs.map((one, n) => [
      LEFT + ((RIGHT - LEFT) * n) / (inputs.length - 1),
      BASE - ((BASE - TOP) * Number(one.value)) / 100,
    ]);
    this.$refs.paper
      .querySelector('[data-key="sketch-line"]')
      .setAttribute("d", `M${points.map((at) => at.join(" ")).join("L")}`);
  },
  place(event) {
    const box = this.$refs.paper.querySelector("svg").getBoundingClientRect();
    const [across, down] = [
      (560 * (event.clientX - box.left)) / box.width,
      (220 * (event.clientY - box.top)) / box.height,
    ];
    const count = this.heights().length - 1;
    return [
      ((across - LEFT) / (RIGHT - LEFT)) * count,
      Math.min(100, Math.max(0, (100 * (BASE - down)) / (BASE - TOP))),
    ];
  },
  begin(event) {
    event.currentTarget.setPointerCapture(event.pointerId);
    this.last = this.place(event);
    this.draw(event);
  },
  draw(event) {
    if (!this.last) return;
    const [here, before] = [this.place(event), this.last];
    const [from, to] = [Math.min(here[0], before[0]) - 0.5, Math.max(here[0], before[0]) + 0.5];
    this.heights().forEach((input, n) => {
      if (n < from || n > to) return;
      const part =
        here[0] === before[0] ? 1 : Math.min(1, Math.max(0, (n - before[0]) / (here[0] - before[0])));
      input.value = before[1] + part * (here[1] - before[1]);
    });
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
