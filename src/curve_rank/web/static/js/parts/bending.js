// A session bends: another exercise first, a set or an exercise left out, one set more, a drop set or
// rest-pause. What was left out stays so after a reload, on this device.
import { data, placeOf } from "./sets.js";

const LEFT_OUT = "curve-rank-left-out";
const DROPS_TO = 0.8;
const BREATHS = 15;  // of a rest-pause [s]
const NAMES = { working: "One more set", drop: "A drop set", rest_pause: "Rest-pause" };
const here = `${data.plan}-${data.week}-${data.session}-${data.plan === null ? data.day : ""}`;
const read = () => JSON.parse(localStorage.getItem(LEFT_OUT) ?? "{}");

export const bending = {
  leftOut: read()[here] ?? [],  // sets by their places
  first: null,  // the exercise that was taken first
  extra: "",  // the set that goes on from the one before it

  isLeftOut(step) { return this.leftOut.includes(placeOf(step)); },
  leave(steps) {
    this.leftOut = [...this.leftOut, ...steps.map(placeOf)];
    localStorage.setItem(LEFT_OUT, JSON.stringify({ [here]: this.leftOut }));
    this.next();
    if (this.over) this.finish();
  },
  leaveSet() {
    this.said = `Set ${this.at.set} is left out.`;
    this.leave([this.at]);
  },
  leaveExercise() {
    this.said = `${this.exercise.name} is left out.`;
    this.leave(this.steps.filter((step) => step.place === this.at.place && !this.done[placeOf(step)]));
  },
  takeFirst(event) {
    this.first = Number(event.currentTarget.dataset.place);
    this.next();
  },

  // A set that nobody planned, straight after what was done last of its exercise.
  more(event) {
    const { kind } = event.currentTarget.dataset;
    const place = this.lastPlace ?? this.exercise.place;
    const one = this.exercises.find((e) => e.place === place);
    const planned = one.sets.at(-1);
    const before = this.lastOf(one) ?? { load: planned.load, reps: planned.reps, sides: one.sides };
    const lighter = one.steps.map(([load]) => load).findLast((load) => load <= DROPS_TO * before.load);
    const load = kind === "drop" ? lighter ?? before.load : before.load;
    const goesOn = kind !== "working";
    const sides = goesOn ? before.sides : one.sides;
    this.grow(one, { load, reps: before.reps, reserve: goesOn ? null : planned.reserve, kind, sides });
    this.extra = placeOf({ place: one.place, set: one.sets.length, side: sides[0] });
    this.said = `${NAMES[kind]} of ${one.name}.`;
    if (kind === "drop") this.skipRest();
    if (kind === "rest_pause") this.rest.start(BREATHS);
    this.next();
  },
  lastOf(one) {
    const mine = Object.values(this.done).filter((set) => set.place === one.place);
    const last = mine.sort((a, b) => a.set - b.set).at(-1);
    return last && { load: last.load_kg, reps: last.reps, sides: [last.side] };
  },
  grow(one, aim) {
    const at = this.order.findLastIndex(([place]) => place === one.place);
    one.sets = [...one.sets, aim];
    this.order = this.order.toSpliced(at + 1, 0, [one.place, one.sets.length]);
  },
  // What was kept of sets that were not planned, after a reload.
  growTo(one, set) {
    while (one.sets.length && one.sets.length < set.set) {
      const { load_kg: load, reps, reserve, kind, side } = set;
      this.grow(one, { load, reps, reserve, kind, sides: kind === "working" ? one.sides : [side] });
    }
  },
  failed() { Object.assign(this.draft, { reserve: 0, as_planned: false }); },
};
