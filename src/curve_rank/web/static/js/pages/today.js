// Today: a set is a sentence, its words are the controls, one tap keeps it. What is kept goes into the queue
// first, and from there to the server; the page shows the queue's state and needs no connection.
import Alpine from "../../vendor/alpinejs-csp/alpine-csp.js";
import { asking } from "../parts/asking.js";
import { bending } from "../parts/bending.js";
import { dayNow } from "../parts/day.js";
import { besideOf, instead } from "../parts/instead.js";
import { addressOf, isThis, kept } from "../parts/kept.js";
import { mixed } from "../parts/mixed.js";
import { notes } from "../parts/notes.js";
import { pain } from "../parts/pain.js";
import { Queue } from "../parts/queue.js";
import { resting } from "../parts/resting.js";
import {
  GAVE,
  HELPED,
  KINDS,
  SORE,
  aimed,
  data,
  hurting,
  newKey,
  placeOf,
  plain,
  plannedSet,
  plural,
  steps,
  weight,
  written,
} from "../parts/sets.js";
import { wake } from "../parts/timer.js";

const ONE_TAP = 400;
const OF_SETUP = ["variant", "name", "steps", "sides", "sets", "finds", "strains"];
// Whether this page came through the worker, which has kept it then; one that took over on the way has not.
const BY_WORKER = Boolean(performance.getEntriesByType("navigation")[0]?.workerStart);

Alpine.data("today", () => mixed(notes, asking, bending, instead, kept, pain, resting, {
  exercises: data.exercises.map((one) => ({ ...one, planned: one.variant })),
  order: data.order,
  done: {},
  draft: null,
  editing: null,
  lastPlace: null,  // of what was done last
  open: "",
  waits: null,  // not known before the queue was asked
  keptAt: 0,
  aside: false,
  queueSays: "",
  refused: [],
  said: "",
  online: navigator.onLine,
  ready: false,  // the sentence is shown once it is whole

  async init() {
    this.queue = new Queue(data, ({ waits, says, aside, problems }) =>
      Object.assign(this, { waits, queueSays: says, aside, refused: problems, online: navigator.onLine }),
    );
    this.startClocks();
    this.startKept();
    this.queue.stranger = () => location.reload();
    for (const set of data.kept) this.take(set, set.version);
    const rows = await this.queue.rows().catch(() => []);
    if (this.turn(rows)) return;
    for (const row of rows)
      if (row.message.set) this.take(row.message.set, row.version ?? row.message.seen, row);
    for (const name of ["online", "offline"])
      addEventListener(name, () => {
        this.online = navigator.onLine;
      });
    this.next();
    this.restOn();
    await this.queue.tell();
    await this.queue.ask().catch(() => {});
    this.queue.send();
    this.beside();
    this.standAlone().catch(() => {});
  },

  // From here on the page opens without a connection.
  async standAlone() {
    if (!navigator.serviceWorker) return;
    await navigator.serviceWorker.register("/today/worker.js", { scope: "/today" });
    const { active } = await navigator.serviceWorker.ready;
    navigator.serviceWorker.addEventListener("message", ({ data: said }) => {
      if (said === "kept") this.$root.dataset.standsAlone = "yes";
    });
    const own = (url) => url.startsWith(location.origin) && /\/static\/|\/palette\.css/.test(url);
    const parts = performance.getEntriesByType("resource").map((one) => one.name).filter(own);
    const page = location.href.split("#")[0];
    await this.beside();  // through a worker it is kept by that
    active.postMessage({ page, beside: besideOf(page), parts, isKept: BY_WORKER });
    const ahead = data.ahead.map(addressOf);
    if (data.plan !== null && !this.isKept) active.postMessage({ ahead: [...ahead, ...ahead.map(besideOf)] });
  },

  take(set, version, row = {}) {
    if (set.kind === "warm_up" || set.plan !== data.plan) return;
    if (data.plan === null ? set.day !== this.shownDay : !isThis(set)) return;
    const one = this.exercises.find((e) => e.place === set.place);
    const swap = one?.swaps.find((s) => s.variant === set.variant);
    if (swap && set.instead_of === one.planned) this.become(one, swap);
    if (one?.variant !== set.variant) return;  // the block was changed since
    this.growTo(one, set);
    const before = this.done[placeOf(set)];
    if (before && before.version > (version ?? 0) && !row.waits) return;
    if (row.message?.removed) delete this.done[placeOf(set)];
    else this.done[placeOf(set)] = { ...set, version: version ?? 0, waits: Boolean(row.waits) };
  },

  get steps() {
    const { off } = this;
    const isOpen = (step) => this.done[placeOf(step)] || !(off.has(step.place) || this.isLeftOut(step));
    return steps(this.exercises, this.order).filter(isOpen);
  },
  get at() {
    const open = this.steps.filter((step) => !this.done[placeOf(step)]);
    const next = open.find((step) => placeOf(step) === this.extra)
      ?? open.find((step) => step.place === this.first);
    return this.editing ?? next ?? open[0] ?? null;
  },
  get exercise() {
    return (
      this.exercises.find((one) => one.place === (this.at ?? this.steps.at(-1) ?? { place: 0 }).place) ??
      this.exercises[0]
    );
  },
  get over() {
    return !this.at;
  },
  get overWords() {
    return this.steps.length ? "All done." : "Nothing of this is for today.";
  },
  get going() {
    return Boolean(this.at);
  },
  get counted() {
    const left = this.steps.length - Object.keys(this.done).length;
    return left ? `${plural(left, "set", "sets")} to go` : "All done";
  },

  next() {
    this.editing = null;
    this.open = "";
    this.draft = this.at ? this.planned(this.at) : null;
    this.ready = true;
    if (this.at) this.show(this.at.place);
  },
  show(place) {
    for (const section of document.querySelectorAll(".do"))
      section.classList.toggle("now", Number(section.dataset.place) === place);
  },
  planned(step) {
    return plannedSet(this.exercises.find((e) => e.place === step.place), step, this.done);
  },

  // The sentence.
  get name() { return this.exercise?.name ?? ""; },
  get place() {
    if (!this.at) return "";
    const side = this.at.side ? `, ${this.at.side} side` : "";
    return `Set ${this.at.set} of ${this.exercise.sets.length}${side}:`;
  },
  get load() {
    return this.draft ? weight(this.draft.load_kg) : "";
  },
  get reps() {
    return this.draft ? plural(this.draft.reps, "repetition", "repetitions") : "";
  },
  get left() {
    return this.draft
      ? this.draft.reserve === null
        ? "left unsaid"
        : `${this.draft.reserve} left ${this.draft.as_planned ? "as planned" : "in me"}`
      : "";
  },
  get hurts() {
    if (!this.draft?.pain_joint) return "nothing hurts";
    return hurting(this.draft) + (this.draft.sharp ? ", sharp" : "");
  },
  get how() {
    const told = [];
    if (this.draft?.kind !== "working") told.push(KINDS[this.draft?.kind]);
    if (HELPED[this.draft?.done]) told.push(HELPED[this.draft.done]);
    if (this.draft?.gave_out) told.push(`${GAVE[this.draft.gave_out]} gave out first`);
    if (this.draft?.soreness) told.push(SORE[this.draft.soreness]);
    if (this.draft?.note) told.push("a note");
    return told.join(", ") || "more";
  },
  get takeWords() {
    const found = this.draft && this.stepsNow.find(([load]) => Math.abs(load - this.draft.load_kg) < 0.01);
    return found?.[1] ?? "";
  },
  get stepsNow() { return this.exercise?.steps ?? []; },
  get isWriting() { return this.ready && !this.draft; },
  get keepWords() { return this.editing ? "Correct it" : "Keep it"; },
  get sharpWords() { return this.draft?.sharp ? "Sharp or sudden: yes" : "Sharp or sudden: no"; },
  get stopWords() {
    if (!this.draft?.pain_joint) return "";
    if (this.draft.sharp || this.draft.pain >= data.stopAt)
      return "Stop this exercise now, and see a licensed clinician. Keep the set so that your coach sees it.";
    return "One report warns, two pause the exercise. Soreness is not pain: say that under “more”.";
  },

  tap(event) {
    const what = event.currentTarget.dataset.word;
    this.open = this.open === what ? "" : what;
    this.keptAt = 0;  // what is tapped after this is meant
    wake();
  },
  get isLoad() { return this.open === "load"; },
  get isReps() { return this.open === "reps"; },
  get isLeft() { return this.open === "left"; },
  get isHurts() { return this.open === "hurts"; },
  get isHow() { return this.open === "how"; },
  get isSwap() { return this.open === "swap"; },
  get isBend() { return this.open === "bend"; },
  get isOpen() { return this.open !== ""; },

  change(event) {
    const { field, by } = event.currentTarget.dataset;
    const step = Number(by);
    if (field === "load_kg") {
      const loads = this.stepsNow.map(([load]) => load);
      const now = this.draft.load_kg;
      this.draft.load_kg =
        (step > 0
          ? loads.find((load) => load > now + 0.001)
          : loads.findLast((load) => load < now - 0.001)) ?? now;
    } else if (field === "reps") this.draft.reps = Math.min(200, Math.max(0, this.draft.reps + step));
    else if (field === "reserve") {
      this.draft.reserve = Math.min(10, Math.max(0, (this.draft.reserve ?? 0) + step));
      this.draft.as_planned = false;
    }
    else if (field === "pain") this.draft.pain = Math.min(10, Math.max(0, this.draft.pain + step));
  },
  choose(event) {
    const { field, value } = event.currentTarget.dataset;
    if (field === "pain_joint")
      Object.assign(this.draft, {
        pain_joint: value,
        pain: value ? Math.max(1, this.draft.pain) : 0,
        sharp: value ? this.draft.sharp : false,
      });
    else if (field === "soreness") this.draft.soreness = Number(value);
    else if (field === "sharp") this.draft.sharp = !this.draft.sharp;
    else this.draft[field] = value;
    this.mark();
  },
  mark() {
    for (const button of this.$root.querySelectorAll("[data-field][data-value]")) {
      button.setAttribute(
        "aria-pressed",
        String(String(this.draft?.[button.dataset.field] ?? "") === button.dataset.value),
      );
    }
  },
  write(event) { this.draft.note = event.target.value.slice(0, 300); },

  // It waits from the tap on, not only once the browser has written it down.
  async add(...what) {
    this.waits += 1;
    await this.queue.add(...what);
  },
  // A double tap keeps one set, and touches nothing that has come in its place.
  isSameTap() { return Date.now() - this.keptAt < ONE_TAP; },
  async keep() {
    const { draft, exercise: one } = this;
    if (!draft || (!this.editing && this.isSameTap())) return;
    Object.assign(this, { draft: null, keptAt: Date.now() });
    wake();
    const before = this.editing ? this.done[placeOf(this.editing)] : null;
    const set = {
      ...plain(draft),
      key: before?.key ?? newKey(draft.place, draft.set, draft.side),
      day: before?.day ?? dayNow(data),
      variant: one.variant, plan: data.plan, week: data.week, session: data.session,
      instead_of: one.variant === one.planned ? "" : one.planned, guessed: false,
    };
    this.done[placeOf(set)] = { ...set, version: before?.version ?? 0, waits: true };
    this.lastPlace = set.place;
    await this.add(set, before?.version ?? 0);
    this.said = `${one.name}, set ${set.set}: ${weight(set.load_kg)} × ${set.reps} kept.`;
    if (!before) {
      this.pauseAfter(set);
      this.askAfter(this.done[placeOf(set)]);
    }
    this.next();
    if (!before && this.over) this.finish();
  },
  correct(event) {
    const { place, set, side } = event.currentTarget.dataset;
    const step = { place: Number(place), set: Number(set), side };
    this.editing = step;
    this.draft = { ...this.done[placeOf(step)] };
    this.open = "";
    this.show(step.place);
    this.$refs.sentence.scrollIntoView({ block: "nearest" });
  },
  stopCorrecting() { this.next(); },
  async remove() {
    const set = this.done[placeOf(this.editing)];
    delete this.done[placeOf(this.editing)];
    await this.add(plain(set), set.version, true);
    this.said = "Taken back.";
    this.next();
  },
  get correcting() { return this.editing !== null; },

  // Where a joint is sore, something of another kind that spares it.
  get swaps() {
    const sore = this.draft?.pain_joint;
    return (this.exercise?.swaps ?? []).filter(
      (one) => !sore || (!one.strains.includes(sore) && one.family !== this.exercise.family),
    );
  },
  get noSwap() { return !this.swaps.length; },
  swap(event) {
    const one = this.exercise;
    const swap = one.swaps.find((s) => s.variant === event.currentTarget.dataset.variant);
    this.become(one, swap);
    this.said = `${swap.name} instead: ${weight(swap.load)}, ${swap.reason}.`;
    this.next();
  },
  // In place of an exercise that is paused.
  instead(event) {
    const { place, variant } = event.currentTarget.dataset;
    const one = this.exercises.find((e) => e.place === Number(place));
    this.become(one, one.swaps.find((s) => s.variant === variant));
    event.currentTarget.closest(".instead").hidden = true;
    this.next();
  },
  become(one, swap) {
    const isNew = !one.sets.length;
    for (const part of OF_SETUP) one[part] = swap[part];
    if (isNew) this.order.push(...one.sets.map((_, n) => [one.place, n + 1]));
    this.stand(one);
  },

  get lines() {
    return this.steps.map((step) => {
      const set = this.done[placeOf(step)];
      const one = this.exercises.find((e) => e.place === step.place);
      const aim = one.sets[step.set - 1];
      return {
        id: placeOf(step),
        name: one.name,
        place: step.place,
        set: step.set,
        side: step.side,
        isDone: Boolean(set),
        canBeFirst: !set && step.place !== this.at?.place,
        firstWords: `${one.name} now`,
        says: set ? written(step, set) : aimed(step, aim),
        state: set ? (set.waits && this.waits !== 0 ? "waits" : "kept") : "",
      };
    });
  },
  get waitWords() {
    if (this.waits === null) return "Looking what waits here";
    if (!this.waits) return this.online ? "Everything is sent" : "No connection; everything is sent";
    const count = plural(this.waits, "entry waits", "entries wait");
    return this.queueSays || !this.online
      ? `${count} here: ${this.online ? this.queueSays : "no connection"}`
      : `${count} to be sent`;
  },
  get hasRefused() { return this.refused.length > 0; },
  async dropRefused(event) { await this.queue.drop(event.currentTarget.dataset.key); },
}));

Alpine.start();
