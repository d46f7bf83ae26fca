// Clients: the list shortens while a name is typed; what is sent says to how many it goes.
import Alpine from "../../vendor/alpinejs-csp/alpine-csp.js";

Alpine.data("clients", () => ({
  q: "",
  ticked: 0,
  shown: 0,

  init() { this.q = this.$refs.q?.value ?? ""; this.sift(); },
  sift() {
    const part = this.q.trim().toLowerCase();
    this.shown = 0;
    for (const row of this.$root.querySelectorAll("[data-name]")) {
      row.hidden = !row.dataset.name.includes(part);
      this.shown += row.hidden ? 0 : 1;
    }
  },
  // A name sifts as it is typed; everything else is asked for.
  ask(event) { if (event.target !== this.$refs.q) this.$refs.sift.submit(); },
  count() { this.ticked = this.$root.querySelectorAll("[name=to]:checked").length; },
  tickShown() {
    for (const row of this.$root.querySelectorAll("[data-name]"))
      row.querySelector("[name=to]").checked = !row.hidden && !this.ticked;
    this.count();
  },
  get some() { return this.ticked > 0; },
  get tickWords() { return this.ticked ? "tick none" : `tick all ${this.shown} shown`; },
  get sendWords() {
    const count = this.ticked || this.shown;
    return count === 1 ? "Send to 1 client" : `Send to ${count} clients`;
  },
}));

Alpine.start();
