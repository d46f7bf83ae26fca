// A page that was kept: it says of which day it is, turns to the session that is due by the device's clock,
// and gives way to the fresh page once that has come.
import { dayNow, daysFrom, inWords } from "./day.js";
import { data } from "./sets.js";

export const addressOf = ({ week, session }) =>
  `/today?block=${data.plan}&week=${week + 1}&session=${session + 1}`;
export const isThis = (one) => one.week === data.week && one.session === data.session;

// The first session ahead that was neither begun before today nor ended or left out here.
export function due(rows, today) {
  const mine = rows.map((row) => row.message).filter(({ set, note }) => (set ?? note).plan === data.plan);
  const isPast = ({ day }) => day !== null && daysFrom(day, today) >= data.past;
  const isOver = ({ week, session }) => {
    const isIt = (what) => what?.week === week && what?.session === session;
    return mine.some(({ set, note, removed }) =>
      (isIt(set) && !removed && set.kind !== "warm_up" && set.day < today) ||
      (isIt(note) && ["skip", "done"].includes(note.kind)));
  };
  return data.ahead.find((one) => !isPast(one) && !isOver(one));
}

export const kept = {
  shownDay: "",
  fresh: false,  // a newer page has come

  startKept() {
    this.shownDay = dayNow(data);
    navigator.serviceWorker?.addEventListener("message", ({ data: said }) => {
      if (said === "fresh") this.freshCame();
    });
    navigator.serviceWorker?.startMessages?.();
    document.addEventListener("visibilitychange", () => {
      const isNew = document.visibilityState === "visible" && dayNow(data) !== this.shownDay;
      if (isNew && !this.isBusy) location.assign("/today");
    });
  },
  freshCame() {
    if (this.isBusy) this.fresh = true;
    else location.reload();
  },
  showFresh() { location.reload(); },
  // Where this page is of another day, the session that is due by now; true where it turns there.
  turn(rows) {
    if (data.plan === null || data.day === this.shownDay || location.search) return false;
    const next = due(rows, this.shownDay);
    if (!next || isThis(next)) return false;
    location.replace(addressOf(next));
    return true;
  },
  get isBusy() { return this.editing !== null || this.isOpen || this.isAsked; },
  get isKept() { return data.day !== this.shownDay; },
  get isElsewhere() {
    const asked = new URLSearchParams(location.search);
    return data.plan !== null && asked.has("session") &&
      (Number(asked.get("week")) !== data.week + 1 || Number(asked.get("session")) !== data.session + 1);
  },
  get keptWords() {
    if (!this.isKept) return "";
    const what = this.isElsewhere
      ? "The session that is due is not kept here and needs a connection. This one"
      : "This page";
    const days = [data.day, this.shownDay].map(inWords);
    return `${what} was kept on ${days[0]}; what you do now is written to ${days[1]}.`;
  },
};
