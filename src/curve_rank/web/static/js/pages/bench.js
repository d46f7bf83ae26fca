// The bench: whatever is moved, by handle, slider, key or typing, goes to the server as one address.
import Alpine from "../../vendor/alpinejs-csp/alpine-csp.js";
import * as curves from "../parts/curves.js";
import * as figure from "../parts/figure.js";
import { pulling } from "../parts/pulling.js";
import { search } from "../parts/search.js";
import { stepsBack } from "../parts/steps_back.js";

const TYPED_REST = 500;
const BEHIND = 160; // ms that curves and numbers may lag behind the figure while something moves
const FRAMING = ["box", "whole", "text", "whole_text", "words"];

const inTwo = (text) => [text.slice(0, text.indexOf("=")), text.slice(text.indexOf("=") + 1)];

Alpine.data("search", search);

Alpine.data("bench", () => ({
  ...stepsBack,
  ...pulling,
  now: JSON.parse(document.getElementById("bench-now").textContent),
  at: 0,
  read: {},
  problem: "",
  plain: false,
  whole: false,
  busy: false,
  moving: false,
  dirty: false,
  waiting: null,
  rest: 0,
  turn: 0,
  wholeAt: 0,
  worked: null,
  width: 0,
  ghostName: "",

  init() {
    this.at = this.now.hard;
    this.worked = this.now;
    this.whole = this.$root.dataset.frame === "whole";
    this.take(this.now);
    this.begin();
    new ResizeObserver(([{ contentRect }]) => {
      this.width = contentRect.width;
      this.placeHandles();
    }).observe(this.$refs.figure);
    this.moveTo(this.at);
  },

  paper() { return this.$refs.figure.querySelector("svg"); },
  graph() { return this.$refs.curves.querySelector("svg"); },
  control(field) { return this.$refs.setup.querySelector(`[data-field="${field}"]`); },

  // ---- moving along the rep

  moveTo(at) {
    const { along, joint, heads } = this.now;
    this.at = Math.min(at, along.angle.length - 1);
    figure.show(this.paper(), this.now.figure, this.at, this.now.ghosts);
    curves.show(this.graph(), this.now.curves, this.at);
    const [angle, effort, lever] = [
      Math.round(along.angle[this.at]),
      Math.round(along.effort[this.at]),
      along.lever[this.at],
    ];
    this.read = {
      angle: `${angle}°`,
      demand: `${along.demand[this.at].toFixed(1)} N·m`,
      lever: lever === null ? "none" : `${lever.toFixed(1)} cm`,
      effort: `${effort} %`,
    };
    heads.forEach((head, n) => {
      this.$root.querySelector(`[data-drive="${n}"]`).textContent = `${Math.round(head.drive[this.at])} %`;
      this.$root.querySelector(`[data-length="${n}"]`).textContent = `${Math.round(head.length[this.at])} %`;
    });
    this.$refs.scrub.value = this.at;
    this.$refs.scrub.setAttribute("aria-valuetext", `${joint} ${angle}°, effort ${effort} %`);
    this.placeHandles();
  },

  scrubbed(event) { this.moveTo(Number(event.target.value)); },
  grab(event) {
    if (event.target.closest(".handle")) return;
    event.currentTarget.setPointerCapture(event.pointerId);
    this.drag(event);
  },
  drag(event) {
    if (!event.buttons || event.target.closest(".handle")) return;
    const box = this.paper().getBoundingClientRect();
    const part = Math.min(1, Math.max(0, (event.clientX - box.left) / box.width));
    this.moveTo(Math.round(part * (this.now.along.angle.length - 1)));
  },
  point(event) {
    if (event.buttons || event.pointerType === "mouse")
      this.moveTo(curves.sampleAt(this.graph(), this.now.curves, event.clientX));
  },

  // ---- changing the set-up

  nudge(field, sign, fine) {
    const input = this.control(field);
    const step = Number(fine ? input.step : input.closest(".control").dataset.gym);
    const wanted = (Math.round(this.now.controls[field] / step) + sign) * step;
    const kept = Math.min(Number(input.max), Math.max(Number(input.min), wanted));
    this.dirty = true;
    this.remember(input.closest(".control"), input, String(Math.round(kept * 1e4) / 1e4));
    this.ask({ keep: true });
  },

  // Input asks at once; what is let go of, chosen or typed to its end is kept as a step that can be undone.
  // Half a tempo says nothing: text is asked when typing rests.
  changed(event) {
    clearTimeout(this.rest);
    if (event.target.matches('[type="text"]')) {
      this.dirty = true;
      this.rest = setTimeout(() => this.ask({ keep: true }), event.type === "change" ? 0 : TYPED_REST);
      return;
    }
    if (event.type === "change") return void this.keepSoon();
    this.dirty = true;
    const box = event.target.closest(".control");
    const field = box?.querySelector("[data-field]");
    if (field && event.target.value === "") return;
    if (field) this.remember(box, field, event.target.value);
    if (event.target.matches('[type="number"]')) this.rest = setTimeout(() => this.keepSoon(), TYPED_REST);
    this.ask({ moving: true });
  },
  // What is let go of is kept; the frames that were left out while it moved are asked for.
  keepSoon() {
    const alone = this.now.figure.alone || this.waiting?.moving || this.moving;
    if (this.busy && alone) this.waiting = { keep: true, only: false };
    else if (this.busy)
      this.waiting = { ...this.waiting, keep: true, only: this.waiting?.only ?? !this.waiting };
    else if (alone) this.ask({ keep: true });
    else this.keep();
  },

  remember(box, field, value) {
    const { offset = "0", sign = "1", scale = "1" } = box.dataset;
    const isChoice = field.tagName === "SELECT";
    const sent = isChoice
      ? value
      : String(Math.round(((Number(sign) * (Number(value) - Number(offset))) / Number(scale)) * 1e4) / 1e4);
    this.sets.delete(field.dataset.field); // what was moved last stands last
    this.sets.set(field.dataset.field, sent);
    if (!isChoice) this.now.controls[field.dataset.field] = Number(value);
    this.showValue(field, value);
  },
  showValue(field, value, force = false) {
    const box = field.closest(".control");
    for (const twin of [field, box.querySelector(".typed")]) {
      if (twin && twin.value !== String(value) && (force || document.activeElement !== twin))
        twin.value = value;
    }
    if (field.getAttribute("aria-valuetext") !== String(value)) field.setAttribute("aria-valuetext", value);
    box.classList.toggle("moved", String(value) !== field.dataset.saved);
  },

  query({ pull, moving }, more = {}) {
    const query = new URLSearchParams();
    for (const input of this.$refs.setup.querySelectorAll("[name]:not([data-noscript])")) {
      if (input.type === "checkbox" ? input.checked : input.value !== "")
        query.append(input.name, input.value);
    }
    for (const [field, value] of this.sets) query.append("set", `${field}=${value}`);
    for (const ghost of this.ghosts) query.append("ghost", ghost);
    query.set("view", this.view);
    if (this.whole) query.set("frame", "whole");
    query.set("part", "bench");
    for (const [name, value] of Object.entries({ ...pull, ...more })) query.set(name, value);
    if (moving) {
      query.set("moving", 1);
      query.set("place", this.place());
    }
    return query;
  },

  // One question at a time; of those that wait the last pull counts, and that something is to be kept.
  async ask(wish = {}) {
    if (this.busy) {
      const pull = wish.keep ? this.waiting?.pull : wish.pull;
      const keep = wish.keep || this.waiting?.keep;
      const whole = wish.whole || this.waiting?.whole;
      this.waiting = { pull, keep, whole, moving: wish.moving && !keep, only: false };
      return;
    }
    this.busy = true;
    this.moving = wish.moving;
    await this.answerOf(wish);
    this.busy = this.moving = false;
    const next = this.waiting;
    this.waiting = null;
    if (next?.only) this.keep();
    else if (next?.pull && next.keep)
      await this.ask({ pull: next.pull }).then(() => this.ask({ keep: true }));
    else if (next) this.ask(next);
  },
  // The figure comes first, at one place of the rep; then curves and numbers, at once where something is
  // kept, else as soon as nothing newer waits, and never far behind; what stands still gets its other
  // frames at last.
  async answerOf(wish) {
    const from = this.turn;
    const stands = wish.keep && !this.dirty && this.now.figure.alone && this.worked === this.now;
    this.dirty = false;
    if (wish.whole) return this.fetchAndLay(this.query(wish), wish.keep);
    if (stands) this.keep();
    else {
      const one = { ...wish, moving: true };
      const posed = await this.fetchAndLay(this.query(one, { held: this.now.load }));
      if (this.turn > from + 1) return; // a step back was asked meanwhile
      const newer = this.waiting?.pull || this.waiting?.moving;
      if (!wish.keep && newer && performance.now() - this.wholeAt < BEHIND) return;
      await this.fetchAndLay(this.query(one, posed ? { follows: 1 } : {}), wish.keep);
      if (this.turn > from + 2) return;
      this.wholeAt = performance.now();
    }
    const isLast = wish.keep && (!this.waiting || this.waiting.only);
    if (isLast && this.now.figure.alone) await this.fetchAndLay(this.query({}, { frames: 1 }));
  },
  async fetchAndLay(query, keep, force = false) {
    this.turn += 1;
    const { turn } = this;
    try {
      const response = await fetch(`${this.$root.dataset.url}?${query}`, {
        headers: { Accept: "application/json" },
      });
      const answer = await response.json();
      if (turn !== this.turn) return; // something later was asked meanwhile
      if (!response.ok) {
        if (this.worked !== this.now) this.lay({ ...this.worked }, force); // posed, and cannot be lifted from
        this.problem = `${answer.error} The figure still shows the last set-up that works.`;
        return;
      }
      const again = query.has("frames") || (keep && !query.has("pull"));
      const stands = again && answer.address === this.now.address;
      if (answer.problem) this.problem = `As far as it goes: ${answer.problem}.`;
      else if (!stands) this.problem = "";
      this.lay(answer, force);
      if (keep) this.keep();
      return true;
    } catch {
      this.problem = "The server cannot be reached. What you set is kept here; move anything to try again.";
    }
  },

  lay(answer, force) {
    const there = !answer.figure; // it was posed before
    answer.figure ??= this.now.figure;
    answer.handles ??= this.now.handles;
    const other = this.now.figure.view !== answer.figure.view;
    if (this.dirty) answer.controls = this.now.controls;
    // steady while held
    if (answer.figure.alone && !other)
      for (const name of FRAMING) answer.figure[name] = this.now.figure[name];
    const posed = !answer.curves;
    // frozen, and so not watched within: it is read far more often than replaced
    this.now = Object.freeze(posed ? { ...this.now, ...answer } : answer);
    if (!posed || !answer.figure.alone) this.worked = this.now;
    this.take(answer, force);
    if (!there) {
      figure.build(this.paper(), answer.figure);
      figure.frame(this.paper(), answer.figure, this.whole);
    }
    if (posed) {
      figure.show(this.paper(), this.now.figure, this.at, this.now.ghosts);
      this.placeHandles();
      return;
    }
    if (other) this.choose(this.$root.querySelector(`[data-view="${this.view}"]`));
    this.$refs.curves.innerHTML = answer.curves.svg;
    this.$refs.strip.innerHTML = answer.strip;
    this.$refs.setup.querySelector('[name="load"]').placeholder = answer.load_alone.split(" ")[0];
    const hidden = ([name, value]) =>
      Object.assign(document.createElement("input"), { type: "hidden", name, value });
    const sets = answer.settings.map((text) => ["set", text]);
    this.$refs.settings.replaceChildren(
      ...sets.map(hidden),
      ...answer.faults.map((key) => hidden(["fault", key])),
    );
    this.$refs.faultSettings.replaceChildren(...sets.map(hidden));
    for (const link of this.$root.querySelectorAll("[data-file]")) link.search = answer.address;
    this.moveTo(this.at);
  },

  // What the server says is set is set: sliders, choices, faults and ghosts follow; unless more was set
  // meanwhile.
  take(answer, force = false) {
    this.layHandles();
    if (this.dirty) return;
    this.view = answer.figure.view;
    // What is only posed may be more than can be lifted: pulls go on from what can.
    if (answer.curves) this.sets = new Map(answer.settings.map(inTwo));
    this.ghosts = new URLSearchParams(answer.address).getAll("ghost");
    for (const [field, value] of Object.entries(answer.controls)) {
      const input = this.control(field);
      if (input) this.showValue(input, value, force);
    }
    const handle = this.control("equipment.handle");
    if (document.activeElement !== handle) handle.value = answer.handle;
    for (const box of this.$root.querySelectorAll('[name="fault"][type="checkbox"]'))
      box.checked = answer.faults.includes(box.value);
    this.layGhosts();
  },

  // ---- ghosts

  ghostLetter(n) { return "PQR"[n]; },

  layGhosts() {
    const compare = this.$refs.compare;
    const beside = [this.now.setup, ...this.ghosts].map((text) => `with=${encodeURIComponent(text)}`);
    if (!this.ghosts.length) beside.push(`with=${encodeURIComponent(this.$root.dataset.id)}`);
    compare.href = `${compare.dataset.page}?${[...new Set(beside)].join("&")}`;
  },
  addGhost() {
    const name =
      this.ghostName.replaceAll("~", " ").trim() || `as at ${new Date().toTimeString().slice(0, 5)}`;
    this.ghosts = [...this.ghosts, `${this.now.setup}~name=${name}`].slice(-3);
    this.ghostName = "";
    this.dirty = true;
    this.ask({ keep: true, whole: true });
  },
  dropGhost(event) {
    const dropped = Number(event.currentTarget.dataset.ghost);
    this.ghosts = this.ghosts.filter((_, n) => n !== dropped);
    this.dirty = true;
    this.ask({ keep: true, whole: true });
  },

  // ---- looking at it

  look(event) {
    this.view = event.currentTarget.dataset.view;
    this.dirty = true;
    this.choose(event.currentTarget);
    this.ask({ keep: true, whole: true });
  },
  closer(event) {
    this.whole = event.currentTarget.dataset.frame === "whole";
    this.choose(event.currentTarget);
    this.ask({ keep: true, whole: true });
  },
  choose(link) {
    for (const other of link.parentElement.children) other.removeAttribute("aria-current");
    link.setAttribute("aria-current", "true");
  },
  jump(event) { location.assign(event.target.value); },
}));

Alpine.start();
