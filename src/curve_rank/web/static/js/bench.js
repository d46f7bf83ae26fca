// The bench: sliders ask the server to model the set-up anew; scrubbing moves figure, cursor and read-outs together.
import Alpine from "../vendor/alpinejs-csp/alpine-csp.js";
import { build, show, showGhost } from "./figure.js";
import { Curves } from "./curves.js";

const read = (id) => JSON.parse(document.getElementById(id).textContent);

Alpine.data("bench", () => ({
  now: read("bench-now"),
  ghost: read("bench-ghost"),
  at: 0,
  view: "side",
  turn: 0,
  busy: false,
  again: false,

  init() {
    const root = this.$root;
    this.svg = root.querySelector("[data-figure]");
    this.scrub = root.querySelector("[data-scrub]");
    this.form = root.querySelector("[data-setup]");
    this.view = this.now.figure.view;
    this.at = this.now.curves.hard;
    this.moved = new Map(settingsOf(new URLSearchParams(location.search)));
    this.curves = new Curves(root.querySelector("[data-curves]"), (at) => this.moveTo(at));
    root.querySelector("[data-recalculate]").hidden = true;
    this.listen(root);
    this.draw();
  },

  listen(root) {
    this.scrub.addEventListener("input", () => this.moveTo(Number(this.scrub.value)));
    this.svg.addEventListener("pointerdown", (event) => { this.svg.setPointerCapture(event.pointerId); this.drag(event); });
    this.svg.addEventListener("pointermove", (event) => { if (event.buttons) this.drag(event); });
    this.form.addEventListener("input", (event) => this.changed(event.target));
    this.form.addEventListener("submit", (event) => { event.preventDefault(); this.ask(); });
    root.querySelector("[data-jump]").addEventListener("change", (event) => location.assign(event.target.value));
    for (const link of root.querySelectorAll("[data-view]")) {
      link.addEventListener("click", (event) => { event.preventDefault(); this.view = link.dataset.view; this.ask({ ghost: true }); });
    }
    root.querySelector("[data-reset]").addEventListener("click", (event) => { event.preventDefault(); this.reset(); });
  },

  drag(event) {
    const box = this.svg.getBoundingClientRect();
    const part = Math.min(1, Math.max(0, (event.clientX - box.left) / box.width));
    this.moveTo(Math.round(part * (this.now.curves.elbow.length - 1)));
  },

  changed(input) {
    if (input.id === "c-load") return this.ask();
    const control = input.closest(".control");
    const slider = control.querySelector("[data-field]");
    if (input.classList.contains("typed")) slider.value = input.value;
    this.remember(slider, input.value);
    this.ask();
  },

  remember(slider, value) {
    const { field, saved, offset = "0", sign = "1", scale = "1" } = slider.dataset;
    const control = slider.closest(".control");
    if (value === "") return;
    const shown = Number(value);
    const sent = slider.tagName === "SELECT" ? value : String(Math.round(Number(sign) * (shown - Number(offset)) / Number(scale) * 1e4) / 1e4);
    this.moved.set(field, sent);
    const typed = control.querySelector(".typed");
    if (typed && document.activeElement !== typed) typed.value = value;
    slider.setAttribute("aria-valuetext", String(value));
    control.classList.toggle("moved", String(value) !== saved);
  },

  reset() {
    this.moved.clear();
    this.form.querySelector("#c-load").value = "";
    location.assign(`${this.$root.dataset.page}?${this.query({ settings: false })}`);
  },

  query({ settings = true, part = false } = {}) {
    const query = new URLSearchParams();
    for (const name of ["target", "for"]) {
      const value = this.form.querySelector(`input[name="${name}"]`)?.value;
      if (value) query.set(name, value);
    }
    const reps = new URLSearchParams(location.search).get("reps");
    if (reps) query.set("reps", reps);
    if (settings) for (const [field, value] of this.moved) query.append("set", `${field}=${value}`);
    const load = this.form.querySelector("#c-load").value;
    if (settings && load) query.set("load", load);
    query.set("view", this.view);
    if (part) query.set("part", "bench");
    return query;
  },

  async ask({ ghost = false } = {}) {
    if (this.busy) { this.again = { ghost }; return; }
    this.busy = true;
    const problem = this.$root.querySelector("[data-problem]");
    try {
      const url = this.$root.dataset.url;
      const response = await fetch(`${url}?${this.query({ part: true })}`, { headers: { Accept: "application/json" } });
      const answer = await response.json();
      problem.hidden = response.ok;
      if (response.ok) {
        if (ghost) this.ghost = await (await fetch(`${url}?${this.query({ settings: false, part: true })}`)).json();
        this.now = answer;
        history.replaceState(null, "", `${this.$root.dataset.page}?${this.query()}`);
        this.draw();
      } else {
        problem.textContent = `${answer.error} The drawing still shows the last set-up that works.`;
      }
    } catch {
      problem.hidden = false;
      problem.textContent = "The server cannot be reached. What you set is kept here; move anything to try again.";
    } finally {
      this.busy = false;
      if (this.again) { const next = this.again; this.again = false; this.ask(next); }
    }
  },

  draw() {
    const root = this.$root;
    const { figure, curves } = this.now;
    const changed = this.moved.size > 0 || this.now.fixed_load;
    if (this.drawnView !== figure.view) this.svg.setAttribute("viewBox", figure.box.join(" "));
    this.drawnView = figure.view;
    build(this.svg, figure);
    this.curves.draw(curves, this.now.joint, changed ? this.ghost.curves : null);
    root.querySelector("[data-strip]").innerHTML = this.now.strip;
    for (const [name, value] of [["why", this.now.why], ["load", this.now.load_words], ["limit", this.now.limit], ["evenness", this.now.evenness], ["slack", this.now.slack_share]]) {
      root.querySelector(`[data-${name}]`).textContent = value;
    }
    for (const link of root.querySelectorAll("[data-view]")) {
      if (link.dataset.view === figure.view) link.setAttribute("aria-current", "true");
      else link.removeAttribute("aria-current");
    }
    const holder = root.querySelector("[data-settings]");
    holder.replaceChildren(...[...this.moved].map(([field, value]) => hidden("set", `${field}=${value}`)));
    for (const link of root.querySelectorAll("[data-file]")) link.search = this.query().toString();
    this.moveTo(this.at);
  },

  moveTo(at) {
    this.at = Math.min(at, this.now.curves.elbow.length - 1);
    const { figure, curves } = this.now;
    const changed = this.moved.size > 0;
    show(this.svg, figure, this.at);
    showGhost(this.svg, changed && this.ghost.figure.view === figure.view ? this.ghost.figure : null, this.at);
    this.curves.moveTo(this.at);
    this.scrub.value = this.at;
    this.scrub.setAttribute("aria-valuetext", `${this.now.joint} ${Math.round(curves.angle[this.at])}°, effort ${Math.round(curves.effort[this.at])} %`);
    this.read(curves);
  },

  read(curves) {
    const root = this.$root;
    const say = (name, text) => { root.querySelector(`[data-read="${name}"]`).textContent = text; };
    say("elbow", `${Math.round(curves.angle[this.at])}°`);
    say("demand", `${curves.demand[this.at].toFixed(1)} N·m`);
    say("lever", curves.lever[this.at] === null ? "none" : `${curves.lever[this.at].toFixed(1)} cm`);
    say("effort", `${Math.round(curves.effort[this.at])} %`);
    for (const head of curves.heads) {
      root.querySelector(`[data-drive="${head.key}"]`).textContent = `${Math.round(head.drive[this.at])} %`;
      root.querySelector(`[data-length="${head.key}"]`).textContent = `${Math.round(head.length[this.at])} %`;
    }
  },
}));

function settingsOf(query) {
  return query.getAll("set").map((text) => {
    const cut = text.indexOf("=");
    return [text.slice(0, cut), text.slice(cut + 1)];
  });
}

function hidden(name, value) {
  const input = document.createElement("input");
  input.type = "hidden";
  input.name = name;
  input.value = value;
  return input;
}

Alpine.start();
