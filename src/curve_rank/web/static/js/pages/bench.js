// The bench: sliders ask the server to model the set-up anew; scrubbing moves figure, cursor and read-outs together.
import Alpine from "../../vendor/alpinejs-csp/alpine-csp.js";
import * as curves from "../parts/curves.js";
import * as figure from "../parts/figure.js";

Alpine.data("bench", () => ({
  now: JSON.parse(document.getElementById("bench-now").textContent),
  at: 0,
  read: {},
  problem: "",
  plain: false,
  view: "",
  whole: false,
  busy: false,
  again: false,

  init() {
    this.at = this.now.hard;
    this.ghost = this.now.ghost ?? this.now.figure;
    this.view = this.now.figure.view;
    this.whole = this.$root.dataset.frame === "whole";
    this.moved = new Map(new URLSearchParams(location.search).getAll("set").map((text) => {
      const cut = text.indexOf("=");
      return [text.slice(0, cut), text.slice(cut + 1)];
    }));
    this.moveTo(this.at);
  },

  paper() { return this.$refs.figure.querySelector("svg"); },
  graph() { return this.$refs.curves.querySelector("svg"); },

  // ---- moving along the rep

  moveTo(at) {
    const { along, joint, heads } = this.now;
    this.at = Math.min(at, along.angle.length - 1);
    figure.show(this.paper(), this.now.figure, this.at, this.isChanged() ? this.ghost : null);
    curves.show(this.graph(), this.now.curves, this.at);
    const [angle, effort, lever] = [Math.round(along.angle[this.at]), Math.round(along.effort[this.at]), along.lever[this.at]];
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
  },

  scrubbed(event) { this.moveTo(Number(event.target.value)); },
  grab(event) { event.currentTarget.setPointerCapture(event.pointerId); this.drag(event); },
  drag(event) {
    if (!event.buttons) return;
    const box = this.paper().getBoundingClientRect();
    const part = Math.min(1, Math.max(0, (event.clientX - box.left) / box.width));
    this.moveTo(Math.round(part * (this.now.along.angle.length - 1)));
  },
  point(event) {
    if (event.buttons || event.pointerType === "mouse") this.moveTo(curves.sampleAt(this.graph(), this.now.curves, event.clientX));
  },

  // ---- changing the set-up

  changed(event) {
    const control = event.target.closest(".control");
    const field = control?.querySelector("[data-field]");
    if (field && event.target.value !== "") this.remember(control, field, event.target.value);
    this.ask();
  },

  remember(control, field, value) {
    const { offset = "0", sign = "1", scale = "1" } = control.dataset;
    const typed = control.querySelector(".typed");
    const isChoice = field.tagName === "SELECT";
    const sent = isChoice ? value : String(Math.round(Number(sign) * (Number(value) - Number(offset)) / Number(scale) * 1e4) / 1e4);
    this.moved.set(field.dataset.field, sent);
    for (const twin of [field, typed]) if (twin && document.activeElement !== twin) twin.value = value;
    field.setAttribute("aria-valuetext", value);
    control.classList.toggle("moved", value !== field.dataset.saved);
  },

  query({ part = false } = {}) {
    const query = new URLSearchParams();
    const set = this.$refs.setup;
    for (const name of ["target", "for"]) {
      const value = set.querySelector(`input[name="${name}"]`)?.value;
      if (value) query.set(name, value);
    }
    const reps = new URLSearchParams(location.search).get("reps");
    if (reps) query.set("reps", reps);
    for (const [field, value] of this.moved) query.append("set", `${field}=${value}`);
    const load = set.querySelector("#c-load").value;
    if (load) query.set("load", load);
    query.set("view", this.view);
    if (this.whole) query.set("frame", "whole");
    if (part) query.set("part", "bench");
    if (part && this.view !== this.ghost.view) query.set("ghost", "1");
    return query;
  },

  isChanged() { return this.moved.size > 0 || this.$refs.setup.querySelector("#c-load").value !== ""; },

  async ask() {
    if (this.busy) { this.again = true; return; }
    this.busy = true;
    try {
      const response = await fetch(`${this.$root.dataset.url}?${this.query({ part: true })}`, { headers: { Accept: "application/json" } });
      const answer = await response.json();
      this.problem = response.ok ? "" : `${answer.error} The figure still shows the last set-up that works.`;
      if (response.ok) this.lay(answer);
    } catch {
      this.problem = "The server cannot be reached. What you set is kept here; move anything to try again.";
    } finally {
      this.busy = false;
      if (this.again) { this.again = false; this.ask(); }
    }
  },

  lay(answer) {
    const other = this.now.figure.view !== answer.figure.view;
    this.now = answer;
    if (answer.ghost) this.ghost = answer.ghost;
    else if (other) this.ghost = answer.figure;
    history.replaceState(null, "", `${this.$root.dataset.page}?${this.query()}`);
    figure.build(this.paper(), answer.figure);
    if (other) figure.frame(this.paper(), answer.figure, this.whole);
    this.$refs.curves.innerHTML = answer.curves.svg;
    this.$refs.strip.innerHTML = answer.strip;
    this.$refs.settings.replaceChildren(...[...this.moved].map(([field, value]) => {
      const input = document.createElement("input");
      Object.assign(input, { type: "hidden", name: "set", value: `${field}=${value}` });
      return input;
    }));
    for (const link of this.$root.querySelectorAll("[data-file]")) link.search = this.query().toString();
    this.moveTo(this.at);
  },

  // ---- looking at it

  look(event) {
    this.view = event.currentTarget.dataset.view;
    this.choose(event.currentTarget);
    this.ask();
  },
  closer(event) {
    this.whole = event.currentTarget.dataset.frame === "whole";
    this.choose(event.currentTarget);
    figure.frame(this.paper(), this.now.figure, this.whole);
    this.moveTo(this.at);
    history.replaceState(null, "", `${this.$root.dataset.page}?${this.query()}`);
  },
  choose(link) {
    for (const other of link.parentElement.children) other.removeAttribute("aria-current");
    link.setAttribute("aria-current", "true");
  },
  jump(event) { location.assign(event.target.value); },
}));

Alpine.start();
