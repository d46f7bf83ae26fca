// What is said of a whole session: done, left out, moved, a note. It goes into the queue as sets do.
import { dayNow } from "./day.js";
import { data } from "./sets.js";

export const notes = {
  async note(kind, more = {}) {
    await this.add({
      key: `${kind}-${crypto.randomUUID()}`,
      kind,
      day: dayNow(data),
      plan: data.plan,
      week: data.week,
      session: data.session,
      text: "",
      ...more,
    });
  },
  async finish() {
    await this.note("done");
    this.said = "Session done.";
  },
  async leaveOut() {
    await this.note("skip", { text: this.$refs.noteText.value.slice(0, 600) });
    this.said = "Left out; your coach sees it.";
  },
  async move() {
    const day = this.$refs.moveTo.value;
    if (!day) return;
    await this.note("move", { to_day: day });
    this.said = `Moved to ${day}.`;
  },
  async say() {
    const text = this.$refs.noteText.value.slice(0, 600);
    if (!text.trim()) return;
    await this.note("note", { text });
    this.$refs.noteText.value = "";
    this.said = "Note kept.";
  },
};
