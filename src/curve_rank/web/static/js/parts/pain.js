// Pain that is sharp, sudden or strong: the exercise is off at once, and with it whatever strains that joint.
// What comes next spares it, or nothing does.
import { data, hurting } from "./sets.js";

const stops = (set) => Boolean(set.pain_joint) && (set.sharp || set.pain >= data.stopAt);

export const pain = {
  // Sets of this session that say stop, with what each takes off.
  get stopped() { return Object.values(this.done).filter(stops); },
  get off() {
    const places = new Set(this.stopped.map((set) => set.place));
    const joints = this.stopped.map((set) => set.pain_joint);
    for (const one of this.exercises)
      if (one.strains.some((joint) => joints.includes(joint))) places.add(one.place);
    return places;
  },
  get isStopped() { return this.stopped.length > 0; },
  get stoppedWords() {
    const names = this.exercises.filter((one) => this.off.has(one.place)).map((one) => one.name);
    const said = (set) => hurting(set) + (set.sharp ? ", sharp" : "");
    const what = this.stopped.map(said).join("; ");
    const next = this.over ? "Nothing that is planned spares it: end here." : "What follows spares it.";
    return `Stop: ${what}. Off today: ${names.join(", ")}. ${next} See a licensed clinician.`;
  },
};
