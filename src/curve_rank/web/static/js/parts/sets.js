// Sets of today's session in words, and what they are called.
import { dayNow } from "./day.js";

export const data = JSON.parse(document.getElementById("today-data").textContent);
export const KINDS = {
  working: "whole, alone",
  assisted: "with help",
  lowering: "lowering only",
  drop: "a drop set",
  rest_pause: "rest-pause",
  partial: "part of the range",
};
export const GAVE = {
  "": "nothing yet",
  target: "the target",
  other_muscle: "another muscle",
  grip: "the grip",
  wrist: "the wrist",
  breath: "the breath",
};
export const SORE = ["no soreness", "a little sore", "sore", "very sore"];

export const HELPED = { little_help: "with a little help", loosely: "loosely" };

const PLAIN = { done: "strictly", gave_out: "", soreness: 0, note: "" };
const ENOUGH = 2;  // where so few were left, the weight is found

export const number = (value) => Number(value.toFixed(2)).toString().replace("-", "−");
export function weight(kilograms) {
  if (!kilograms) return "no weight";
  const shown =
    data.unit === "lb" ? Math.round(2 * Math.abs(kilograms) * data.perKg) / 2 : Math.abs(kilograms);
  return `${number(shown)} ${data.unit}${kilograms < 0 ? " of help" : ""}`;
}
export const plural = (count, one, many) => `${count} ${count === 1 ? one : many}`;
// A set without what only this page knows of it.
export const plain = ({ version: _version, waits: _waits, ...set }) => set;
export const placeOf = (set) => `${set.place}|${set.set}|${set.side}`;

export function newKey(place, set, side) {
  return `${dayNow(data)}-${place}-${set}${side ? `-${side}` : ""}-${crypto.randomUUID().slice(0, 8)}`;
}

// The order in which sets are done: pairs and triples in turn, of one-arm work the weaker side first.
export function steps(exercises, order) {
  const by = new Map(exercises.map((one) => [one.place, one]));
  const sidesOf = ({ sets, sides }, set) => sets[set - 1]?.sides ?? sides;
  return order.flatMap(([place, set]) => sidesOf(by.get(place), set).map((side) => ({ place, set, side })));
}

// A set as it is planned: the load is what was taken before, and the stronger side only matches.
export function plannedSet(one, step, done) {
  const aim = one.sets[step.set - 1];
  const pain = { pain: 0, pain_joint: "", sharp: false };
  const nothing = { ...pain, kind: aim.kind ?? "working", ...PLAIN };
  const left = { reserve: aim.reserve, as_planned: aim.reserve !== null };
  const set = { ...step, load_kg: aim.load, reps: aim.reps, ...left, ...nothing };
  const earlier = done[placeOf({ ...step, set: step.set - 1 })];
  const isSame = earlier && one.sets[step.set - 2].load === aim.load;
  const isEnough = earlier && one.finds && !earlier.as_planned && earlier.reserve <= ENOUGH;
  if (isSame || isEnough) set.load_kg = earlier.load_kg;
  const isOther = step.side && step.side !== one.sides[0];
  const other = isOther ? done[placeOf({ ...step, side: one.sides[0] })] : null;
  if (other) Object.assign(set, { load_kg: other.load_kg, reps: other.reps });
  return set;
}

export const hurting = (set) => `${data.joints[set.pain_joint]} ${set.pain} of 10`;
const called = ({ set, side }) => `Set ${set}${side ? ` ${side}` : ""}`;

// A set that was written down, and one that is to be done.
export function written(step, set) {
  const left = set.reserve === null || set.as_planned ? "" : `, ${set.reserve} left`;
  const hurts = set.pain ? `, ${hurting(set)}` : "";
  const help = HELPED[set.done] ? `, ${HELPED[set.done]}` : "";
  return `${called(step)}: ${weight(set.load_kg)} × ${set.reps}${left}${help}${hurts}`;
}
export const aimed = (step, aim) => `${called(step)}: ${weight(aim.load)} × ${aim.reps}`;
