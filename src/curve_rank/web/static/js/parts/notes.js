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
    await this.moveOn(this.$refs.moveTo.value);
  },
  async moveTo(event) {
    await this.moveOn(event.currentTarget.dataset.day);
  },
  async moveOn(day) {
    if (!day) return;
    await this.note("move", { to_day: day });
    this.said = `Moved to ${day}.`;
  },
  // What is sore is noted for the coach, then the session bends to it.
  async sayBefore(event) {
    event.preventDefault();
    const form = event.currentTarget;
    const ticked = [...form.querySelectorAll("[name=sore]:checked")];
    if (!ticked.length) return;
    const side = form.querySelector("[name=side]:checked").value;
    const named = ticked.map((box) => box.parentElement.textContent.trim()).join(", ");
    await this.note("note", { text: `Sore before: ${side ? `${side} ` : ""}${named}.` });
    form.submit();
  },
  async say() {
    const text = this.$refs.noteText.value.slice(0, 600);
    if (!text.trim()) return;
    await this.note("note", { text });
    this.$refs.noteText.value = "";
    this.said = "Note kept.";
  },
};
