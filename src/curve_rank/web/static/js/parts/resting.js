// Rest after a set, and the tempo of one. A rest that was begun goes on after a reload.
import { placeOf } from "./sets.js";
import { Metronome, Rest, wake } from "./timer.js";

const REST = "curve-rank-rest";

export const resting = {
  restLeft: 0,
  restPart: 0,
  beat: { name: "", left: 0, count: 0 },

  startClocks() {
    this.rest = new Rest(
      (left, part) => Object.assign(this, { restLeft: Math.ceil(left), restPart: part }),
      () => this.restOver(),
    );
    this.metronome = new Metronome((beat) => {
      this.beat = beat;
    });
  },
  restOn() {
    const until = Number(localStorage.getItem(REST));
    if (until > Date.now()) this.rest.start(this.exercise.rest || 90, until);
  },
  // Rest comes after a set, inside a pair after the round; between the sides of a set there is none.
  pauseAfter(set) {
    const after = this.steps.find((step) => !this.done[placeOf(step)]);
    if (!after) return;
    const one = this.exercises.find((e) => e.place === set.place);
    const same = after.place === set.place && after.set === set.set;
    const together =
      one.letter &&
      after.place !== set.place &&
      this.exercises.find((e) => e.place === after.place).letter === one.letter &&
      after.set === set.set;
    if (same || together || !one.rest) return;
    this.rest.start(one.rest);
    localStorage.setItem(REST, String(this.rest.until));
  },
  restOver() {
    Object.assign(this, { restLeft: 0, restPart: 0 });
    localStorage.removeItem(REST);
  },
  skipRest() {
    this.rest.stop();
    this.restOver();
  },
  longer() {
    this.rest.start(this.rest.whole + 30, this.rest.until + 30000);
    localStorage.setItem(REST, String(this.rest.until));
  },
  get resting() {
    return this.restLeft > 0;
  },
  get restWords() {
    return `${Math.floor(this.restLeft / 60)}:${String(this.restLeft % 60).padStart(2, "0")}`;
  },
  get ribbon() {
    return { transform: `scaleX(${this.restPart})` };
  },

  tempo() {
    wake();
    if (this.metronome.timer) this.metronome.stop();
    else this.metronome.start(this.exercise.tempo);
  },
  get tempoWords() {
    if (!this.beat.name) return `Tempo ${this.exercise?.tempo.join("-") ?? ""}`;
    return this.beat.name === "ready"
      ? `Ready in ${this.beat.left}`
      : `${this.beat.name} ${this.beat.left} · repetition ${this.beat.count}`;
  },
};
