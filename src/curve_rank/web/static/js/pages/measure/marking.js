// Marks on pictures: placed by pointer, touch or keys under a loupe, kept as they are placed, and read at
// once.
import Alpine from "../../../vendor/alpinejs-csp/alpine-csp.js";

const LOUPE = 14; // part of the picture's width that the loupe shows
const FAR = 4; // how far a hidden line of pull is drawn beyond, in levers
const POINTS = ["shoulder", "elbow", "grip", "hip", "pull", "scale_a", "scale_b", "level_a", "level_b",
  "plumb_a", "plumb_b"];
const FOR_ALL = /^(scale|level|plumb)_/; // what one picture shows counts for the others
const UNASKED = ["pull"]; // a hanging weight has none
const LINES = {
  known: ["scale_a", "scale_b"],
  level: ["level_a", "level_b"],
  plumb: ["plumb_a", "plumb_b"],
  trunk: ["hip", "shoulder"],
  limb: ["shoulder", "elbow", "grip"],
};

Alpine.data("marking", () => ({
  picture: 0, mark: "shoulder", held: false, isNew: false, told: "", stale: false, overlay: [], waiting: 0,
  sending: false, again: false,

  init() {
    this.overlay = JSON.parse(this.$root.dataset.overlay);
    addEventListener("keydown", (event) => this.number(event));
    this.mark = POINTS.find((name) => !this.at(name)) ?? "shoulder";
    this.lay();
  },
  input(name, axis, picture = this.picture) {
    return this.$refs.form.elements[`${picture}-${name}-${axis}`];
  },
  at(name, picture = this.picture) {
    const [x, y] = ["x", "y"].map((axis) => this.input(name, axis, picture).value.replace(",", "."));
    return x && y ? [Number(x), Number(y)] : null;
  },
  photos() { return [...this.$root.querySelectorAll(".photo")]; },
  photo() { return this.photos()[this.picture]; },
  size() { return this.photo().viewBox.baseVal; },

  lay() {
    this.photos().forEach((photo, n) => {
      photo.toggleAttribute("data-away", n !== this.picture);
      for (const dot of photo.querySelectorAll(".mk-dot")) {
        const at = this.at(dot.dataset.mark, n);
        dot.toggleAttribute("hidden", !at);
        dot.setAttribute("tabindex", at ? 0 : -1);
        dot.classList.toggle("chosen", n === this.picture && dot.dataset.mark === this.mark);
        if (at) [["cx", at[0]], ["cy", at[1]]].forEach(([name, value]) => dot.setAttribute(name, value));
      }
      for (const [line, names] of Object.entries(LINES))
        this.draw(
          photo,
          line,
          names.map((name) => this.at(name, n)),
        );
      const [grip, pull, elbow, foot] = [
        this.at("grip", n),
        this.at("pull", n),
        this.at("elbow", n),
        this.overlay[n],
      ];
      const end =
        pull ?? (grip && foot && [0, 1].map((axis) => foot[axis] + (foot[axis] - grip[axis]) / FAR));
      this.draw(photo, "pull", grip && end ? [grip, end] : []);
      this.draw(photo, "lever", elbow && foot && grip ? [elbow, foot] : []);
    });
    for (const button of this.$root.querySelectorAll(".mark-list button")) {
      const name = button.dataset.mark;
      button.setAttribute("aria-pressed", name === this.mark);
      button.querySelector(".placed").textContent = this.at(name) ? "✓" : "";
    }
    for (const button of this.$root.querySelectorAll("[data-show]"))
      button.setAttribute("aria-pressed", Number(button.dataset.show) === this.picture);
    this.look();
  },
  draw(photo, line, points) {
    const whole = points.length > 1 && points.every(Boolean);
    photo
      .querySelector(`.mk-${line}`)
      .setAttribute("d", whole ? `M${points.map((at) => at.join(" ")).join("L")}` : "");
  },
  look() {
    const { width, height } = this.size();
    const side = width / LOUPE;
    const [x, y] = this.at(this.mark) ?? [width / 2, height / 2];
    const loupe = this.$refs.loupe;
    loupe.setAttribute("viewBox", `${x - side / 2} ${y - side / 2} ${side} ${side}`);
    const image = loupe.querySelector("image");
    const source = this.photo().querySelector("image");
    for (const name of ["href", "width", "height"])
      if (image.getAttribute(name) !== source.getAttribute(name))
        image.setAttribute(name, source.getAttribute(name));
    loupe
      .querySelector("path")
      .setAttribute("d", `M${x - side} ${y}H${x + side}M${x} ${y - side}V${y + side}`);
  },

  turn(event) {
    this.picture = Number(event.currentTarget.dataset.show);
    this.mark = this.nextAfter("") ?? this.mark;
    this.lay();
  },
  choose(event) {
    const name = event.currentTarget.dataset.mark;
    if (name === this.mark && !this.at(name) && event.detail === 0) {
      // by key: into the middle, then by arrows
      const { width, height } = this.size();
      this.put(name, width / 2, height / 2);
    }
    this.mark = name;
    this.lay();
    if (this.at(name) && event.detail === 0) this.dot(name).focus();
  },
  choose_dot(event) { this.mark = event.currentTarget.dataset.mark; this.lay(); },
  dot(name) { return this.photo().querySelector(`.mk-dot[data-mark="${name}"]`); },
  number(event) {
    if (event.ctrlKey || event.metaKey || event.altKey || event.target.closest("input, select, textarea"))
      return;
    const name = POINTS[Number(event.key) - 1];
    if (!name) return;
    this.mark = name;
    this.lay();
    if (this.at(name)) this.dot(name).focus();
  },
  put(name, x, y) {
    const { width, height } = this.size();
    this.input(name, "x").value = Math.min(width, Math.max(0, x)).toFixed(1);
    this.input(name, "y").value = Math.min(height, Math.max(0, y)).toFixed(1);
  },
  pointed(event) {
    const photo = this.photo();
    const at = new DOMPoint(event.clientX, event.clientY).matrixTransform(photo.getScreenCTM().inverse());
    return [at.x, at.y];
  },
  press(event) {
    if (event.button > 0) return;
    event.preventDefault();
    event.currentTarget.setPointerCapture(event.pointerId);
    if (event.target.dataset.mark) this.mark = event.target.dataset.mark;
    this.held = true;
    this.isNew = !this.at(this.mark);
    this.put(this.mark, ...this.pointed(event));
    this.lay();
  },
  drag(event) {
    if (!this.held) return;
    this.put(this.mark, ...this.pointed(event));
    this.lay();
  },
  drop() {
    if (!this.held) return;
    this.held = false;
    if (this.isNew) this.mark = this.nextAfter(this.mark) ?? this.mark;
    this.lay();
    this.send();
  },
  // The mark that is placed next: the first after this one that this picture still lacks.
  nextAfter(name) {
    const isMarked = (one) =>
      FOR_ALL.test(one) ? this.photos().some((_, n) => this.at(one, n)) : this.at(one);
    const rest = POINTS.slice(POINTS.indexOf(name) + 1);
    return rest.find((one) => !UNASKED.includes(one) && !isMarked(one));
  },
  nudge(event) {
    const way = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] }[event.key];
    if (!way) return;
    event.preventDefault();
    const by = event.shiftKey ? 10 : 1;
    const [x, y] = this.at(this.mark);
    this.put(this.mark, x + by * way[0], y + by * way[1]);
    this.lay();
    this.send_soon();
  },
  clear() {
    for (const axis of ["x", "y"]) this.input(this.mark, axis).value = "";
    this.overlay[this.picture] = null;
    this.lay();
    this.send();
  },
  typed() { this.lay(); this.send(); },
  leave(event) { event.preventDefault(); this.send(); },
  send_soon() { clearTimeout(this.waiting); this.waiting = setTimeout(() => this.send(), 250); },
  // One after the other, so that what was set last is what is kept and read.
  async send() {
    this.again = true;
    if (this.sending) return;
    this.sending = true;
    try {
      while (this.again) {
        this.again = false;
        await this.sendNow();
      }
    } catch {
      this.told = "The server cannot be reached; move a mark again.";
    } finally {
      this.sending = false;
    }
  },
  async sendNow() {
    const form = this.$refs.form;
    const answer = await fetch(form.action, {
      method: "POST",
      body: new FormData(form),
      headers: { Accept: "application/json" },
    });
    const told = await answer.json();
    if (!answer.ok) { this.told = told.error; return; }
    this.told = "";
    this.stale = true;
    this.$refs.readings.innerHTML = told.readings;
    if (this.again) return;  // the marks have gone on meanwhile
    this.overlay = told.overlay;
    this.lay();
  },
}));

Alpine.start();
