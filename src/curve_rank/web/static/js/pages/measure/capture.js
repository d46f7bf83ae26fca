// A capture under way: what the device sends, drawn as it comes, and the three steps in place.
import Alpine from "../../../vendor/alpinejs-csp/alpine-csp.js";

const EVERY = 80, FONT = "24px Atkinson, system-ui, sans-serif";
const [LEFT, RIGHT, TOP, BASE] = [92, 1250, 46, 590];

const scale = ([from, to], [start, end]) => (value) => start + ((value - from) / (to - from)) * (end - start);

/** Round numbers, about five, that hold low and high. */
function ticks(low, high) {
  const rough = (high - low) / 5;
  const power = 10 ** Math.floor(Math.log10(rough));
  const step = power * [1, 2, 5, 10].find((one) => one * power >= rough);
  const first = Math.floor(low / step);
  return Array.from({ length: Math.ceil(high / step) - first + 1 }, (_, n) =>
    Number(((first + n) * step).toPrecision(10)),
  );
}

const ink = (name) => getComputedStyle(document.documentElement).getPropertyValue(name).trim();

Alpine.data("capture", () => ({
  points: [],
  total: 0,
  calibratedAt: null,
  problem: "",
  angle: "",
  samples: "",
  lost: "",
  garbled: "",
  doubled: "",
  reconnected: "",
  now: "",
  zeroed: "",
  calibrated: "",
  swept: "",

  init() { this.look(); },
  async look() {
    const began = performance.now();
    try {
      const answer = await fetch(`${this.$root.dataset.live}?since=${this.total}`, {
        headers: { Accept: "application/json" },
      });
      const live = answer.ok ? await answer.json() : null;
      // What it folds into takes its time: asked for again and again, it would never come.
      if (live?.state === "ended") return location.reload();
      if (live) this.take(live);
    } catch {
      this.now = "no answer from here; trying again";
    }
    setTimeout(() => this.look(), Math.max(0, EVERY - (performance.now() - began)));
  },
  take(live) {
    // other units: from the start
    const another = this.calibratedAt !== null && live.calibrated !== this.calibratedAt;
    this.calibratedAt = live.calibrated;
    if (another) [this.points, this.total] = [[], 0];
    else {
      this.points.push(...live.points);
      this.total = live.total;
    }
    for (const name of ["samples", "lost", "garbled", "doubled", "reconnected"])
      this[name] = String(live[name]);
    this.angle = `${live.angle.toFixed(1)}°`;
    this.problem = live.problem;
    const words = { empty: "reading the zero …", weight: "reading the weight …", sweep: "sweeping" };
    this.now =
      live.state === "reconnecting"
        ? "the connection broke; trying again"
        : (words[live.phase] ?? "waiting for you");
    this.zeroed = live.phase === "empty" ? words.empty : live.zeroed ? "✓ read" : "";
    this.calibrated = live.phase === "weight" ? words.weight : live.calibrated ? "✓ read" : "";
    this.swept = this.points.length ? `${this.points.length} points` : "";
    this.draw(live.calibrated);
  },
  draw(known) {
    const paper = this.$refs.plot.getContext("2d");
    paper.clearRect(0, 0, paper.canvas.width, paper.canvas.height);
    paper.font = FONT;
    paper.fillStyle = ink("--ink-soft");
    paper.fillText(known ? "moment [N·m]" : "cell [counts]", 8, 26);
    paper.fillText("elbow angle [°]", RIGHT - 170, BASE + 62);
    let [low, high] = [0, 10];
    for (const [, torque] of this.points) [low, high] = [Math.min(low, torque), Math.max(high, torque)];
    const heights = ticks(low, high);
    const [across, down] = [scale([0, 145], [LEFT, RIGHT]), scale([heights[0], heights.at(-1)], [BASE, TOP])];
    paper.strokeStyle = ink("--hair");
    paper.lineWidth = 1.5;
    for (const tick of heights) {
      paper.beginPath(); paper.moveTo(LEFT, down(tick)); paper.lineTo(RIGHT, down(tick)); paper.stroke();
      paper.fillText(String(tick).replace("-", "−"), 8, down(tick) + 8);
    }
    for (let tick = 0; tick <= 140; tick += 20) paper.fillText(String(tick), across(tick) - 12, BASE + 32);
    paper.fillStyle = ink("--ink");
    paper.globalAlpha = 0.45;
    for (const [angle, torque] of this.points) paper.fillRect(across(angle) - 2, down(torque) - 2, 4, 4);
    paper.globalAlpha = 1;
    const newest = this.points.at(-1);
    if (newest) {
      paper.fillStyle = ink("--force");
      paper.beginPath(); paper.arc(across(newest[0]), down(newest[1]), 9, 0, 2 * Math.PI); paper.fill();
    }
  },
  async send(event) {
    const form = event.target;
    const answer = await fetch(form.action, {
      method: "POST",
      body: new FormData(form),
      headers: { Accept: "application/json" },
      redirect: "manual",
    });
    if (answer.status >= 400) this.problem = (await answer.json()).error;
    else this.problem = "";
  },
}));

Alpine.start();
