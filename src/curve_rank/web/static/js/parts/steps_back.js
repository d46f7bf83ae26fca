// Undo and redo on the bench: every kept state is an address, and the browser's history goes through them.
const LAST = "bench-last";

export const stepsBack = {
  step: 0,
  last: 0,

  begin() {
    if (history.state?.bench === undefined) history.replaceState({ bench: 0 }, "");
    else this.last = Math.max(history.state.bench, Number(sessionStorage.getItem(LAST) ?? 0));
    this.step = history.state.bench;
    addEventListener("popstate", (event) => this.restore(event.state?.bench ?? 0));
    addEventListener("keydown", (event) => this.undoKey(event));
  },
  keep() {
    const address = `${this.$root.dataset.page}${this.now.address ? `?${this.now.address}` : ""}`;
    if (address === location.pathname + location.search) return;
    this.step += 1;
    this.last = this.step;
    sessionStorage.setItem(LAST, this.last);
    history.pushState({ bench: this.step }, "", address);
  },
  async restore(step) {
    this.step = step;
    this.dirty = false;
    this.waiting = null;
    const query = new URLSearchParams(location.search);
    const setup = this.$refs.setup;
    for (const name of ["load", "reps", "for", "tempo"]) {
      const input = setup.querySelector(`[name="${name}"]:not([data-noscript])`);
      if (input) input.value = query.get(name) ?? input.dataset.default ?? "";
    }
    this.whole = query.get("frame") === "whole";
    this.choose(this.$root.querySelector(`[data-frame="${this.whole ? "whole" : "arm"}"].frame-link`));
    query.set("part", "bench");
    await this.fetchAndLay(query, false, true);
  },
  undo() { if (this.canUndo()) history.back(); },
  redo() { if (this.canRedo()) history.forward(); },
  canUndo() { return this.step > 0; },
  canRedo() { return this.step < this.last; },
  undoKey(event) {
    if (!(event.ctrlKey || event.metaKey) || event.target.closest?.("input[type=text], input[type=number]"))
      return;
    const key = event.key.toLowerCase();
    if (key === "z" || key === "y") {
      event.preventDefault();
      if (key === "y" || event.shiftKey) this.redo();
      else this.undo();
    }
  },
};
