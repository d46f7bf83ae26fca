// Stretches by the timer: each position its rounds, left and right, a few seconds to change in between.
import Alpine from "../../vendor/alpinejs-csp/alpine-csp.js";
import { Rest, wake } from "../parts/timer.js";

const CHANGE = 8;  // seconds to change side or position

// Every hold in its order: position, round, side.
function holds(list) {
  return [...list].flatMap((item) => {
    const rounds = Number(item.dataset.rounds);
    return Array.from({ length: rounds }, (_, n) =>
      ["left", "right"].map((side) => ({
        item,
        name: item.dataset.name,
        seconds: Number(item.dataset.hold),
        says: `round ${n + 1} of ${rounds}, ${side} side`,
      })),
    ).flat();
  });
}

Alpine.data("stretches", () => ({
  ready: false,
  at: -1,
  isChanging: false,
  seconds: 0,
  part: 0,
  running: false,

  init() {
    this.holds = holds(this.$root.querySelectorAll(".stretch[data-hold]"));
    this.rest = new Rest(
      (left, part) => Object.assign(this, { seconds: Math.ceil(left), part }),
      () => this.turn(),
    );
    this.ready = this.holds.length > 0;
  },
  get now() { return this.holds?.[this.at]; },
  get isOver() { return this.at >= (this.holds?.length ?? 0); },
  get what() {
    if (!this.running) return this.isOver ? "All held." : this.at < 0 ? "By the timer" : "Stopped";
    return `${this.isChanging ? "Next: " : ""}${this.now.name}, ${this.now.says}`;
  },
  get left() {
    if (!this.running) return "";
    return `${Math.floor(this.seconds / 60)}:${String(this.seconds % 60).padStart(2, "0")}`;
  },
  get ribbon() { return { transform: `scaleX(${this.running ? this.part : 0})` }; },
  get goWords() {
    if (this.running) return "Stop";
    return this.at < 0 || this.isOver ? "Begin" : "Go on";
  },
  go() {
    wake();
    if (this.running) {
      this.rest.stop();
      this.running = false;
      return;
    }
    this.running = true;
    if (this.at < 0 || this.isOver) {
      this.at = -1;
      this.change();
    } else this.hold();
  },
  change() {
    this.at += 1;
    if (this.isOver) {
      this.running = false;
      return;
    }
    this.show();
    this.isChanging = true;
    this.rest.start(CHANGE);
  },
  hold() {
    this.isChanging = false;
    this.rest.start(this.now.seconds);
  },
  turn() {
    if (this.isChanging) this.hold();
    else this.change();
  },
  skip() {
    this.rest.stop();
    this.turn();
  },
  show() {
    for (const { item } of this.holds) item.classList.toggle("now", item === this.now.item);
    this.now.item.scrollIntoView({ block: "nearest" });
  },
}));
Alpine.start();
