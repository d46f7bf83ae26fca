// The figure's handles: laid over it, taken hold of, or stepped with the arrow keys.
const ARROWS = { ArrowRight: [0, 1], ArrowLeft: [0, -1], ArrowUp: [1, 1], ArrowDown: [1, -1] };
const APART = 24;

export const pulling = {
  layHandles() {
    const layer = this.$refs.handles;
    const there = new Map([...layer.children].map((button) => [button.dataset.key, button]));
    for (const handle of this.now.handles) {
      const button = there.get(handle.key) ?? document.createElement("button");
      there.delete(handle.key);
      button.type = "button";
      button.className = "handle";
      button.dataset.key = handle.key;
      const values = handle.fields.map((field) => this.told(field)).join(", ");
      const says = `${handle.label} ${values}`;
      if (button.dataset.says !== says) {
        button.setAttribute("aria-label", `${handle.label}: ${values}`);
        button.dataset.says = says;
      }
      if (!button.parentElement) layer.append(button);
    }
    for (const [, gone] of there) gone.remove();
  },
  told(field) {
    const unit = this.control(field)?.closest(".control").dataset.unit ?? "";
    return `${this.now.controls[field]}${unit === "°" ? "" : " "}${unit}`.replace("-", "−");
  },
  placeHandles() {
    const [left, top, width, height] = this.paper().getAttribute("viewBox").split(" ").map(Number);
    const room = (APART * width) / Math.max(1, this.width); // asking the page would have it laid out anew
    const taken = [];
    for (const { key, at } of this.now.handles) {
      const button = this.$refs.handles.querySelector(`[data-key="${key}"]`);
      let [x, y] = at[Math.min(this.at, at.length - 1)];
      while (taken.some(([a, b]) => Math.hypot(a - x, b - y) < room)) [x, y] = [x + room, y - room / 3];
      taken.push([x, y]);
      const [across, down] = [(100 * (x - left)) / width, (100 * (y - top)) / height];
      button.style.left = `${across}%`;
      button.style.top = `${down}%`;
      button.hidden = across < 0 || across > 100 || down < 0 || down > 100;
    }
  },
  placeOf(event) {
    const [left, top, width, height] = this.paper().getAttribute("viewBox").split(" ").map(Number);
    const box = this.paper().getBoundingClientRect();
    return [
      left + ((event.clientX - box.left) * width) / box.width,
      top + ((event.clientY - box.top) * height) / box.height,
    ];
  },
  hold(event) {
    const button = event.target.closest(".handle");
    if (!button) return;
    event.stopPropagation();
    button.setPointerCapture(event.pointerId);
    const { at } = this.now.handles.find((one) => one.key === button.dataset.key);
    const [x, y] = this.placeOf(event);
    const [there, below] = at[Math.min(this.at, at.length - 1)];
    this.held = { key: button.dataset.key, off: [there - x, below - y] };
    this.moved = false;
  },
  pull(event) {
    if (!this.held || !event.buttons) return;
    event.stopPropagation();
    this.moved = true;
    const { key, off } = this.held;
    const [x, y] = this.placeOf(event).map((value, n) => value + off[n]);
    this.ask({
      pull: {
        pull: key,
        x: x.toFixed(1),
        y: y.toFixed(1),
        place: this.place(),
        snap: event.altKey ? 0 : 1,
      },
    });
  },
  place() { return (this.at / (this.now.along.angle.length - 1)).toFixed(4); },
  letGo() {
    if (this.held && this.moved) this.ask({ keep: true }); // all frames, now that it stands still
    this.held = null;
  },
  stepHandle(event) {
    const arrow = ARROWS[event.key];
    const handle = this.now.handles.find((one) => one.key === event.target.dataset.key);
    if (!arrow || !handle) return;
    event.preventDefault();
    const [axis, sign] = arrow;
    const { view } = this.now.figure;
    const turned =
      handle.fields.length > 1 && ((axis === 0 && view === "front") || (axis === 1 && view === "top"));
    this.nudge(
      handle.fields[Math.min(axis, handle.fields.length - 1)],
      turned ? -sign : sign,
      event.shiftKey,
    );
  },
};
