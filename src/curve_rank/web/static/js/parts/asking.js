// What was left is only planned until somebody says so. It is asked once, after the last set of an exercise,
// or after each where a weight is to be found: one tap answers, and whoever goes on has not answered.
import { placeOf, plain } from "./sets.js";

export const asking = {
  asked: null,  // the set of which it is asked

  // Whether an exercise is over, and nothing was said of it yet.
  askAfter(set) {
    const steps = this.steps.filter((step) => step.place === set.place);
    const mine = steps.map((step) => this.done[placeOf(step)]);
    const isOpen = mine.every((one) => one?.as_planned);
    const { finds } = this.exercises.find((one) => one.place === set.place);
    this.asked = !set.pain && (finds ? set.as_planned : isOpen) ? set : null;
  },
  get isAsked() { return this.asked !== null; },
  get askedSet() { return [this.asked?.set, this.asked?.side].filter(Boolean).join(" "); },
  get askWords() {
    const name = this.exercises.find((one) => one.place === this.asked?.place)?.name ?? "";
    return `${name}, set ${this.askedSet}: how many more would have gone?`;
  },
  async answer(event) {
    if (!this.asked || this.isSameTap()) return;
    const before = this.done[placeOf(this.asked)];
    const said = { reserve: Number(event.currentTarget.dataset.left), as_planned: false };
    const set = { ...before, ...said, waits: true };
    this.asked = null;
    this.done[placeOf(set)] = set;
    this.said = `${set.reserve} left: kept.`;
    if (this.at && !this.editing) this.draft = this.planned(this.at);
    await this.add(plain(set), before.version);
  },
  // What was planned is what was left, and somebody says so.
  asItWas() { Object.assign(this.draft, { as_planned: false }); },
  get isPlanned() { return Boolean(this.draft?.as_planned); },
  passOver() { this.asked = null; },
};
