// How sure the ranking is: asks for the draws, shows what is known so far, and can be stopped.
const PAUSE = 700;
const SETTLED = 1500;
// Once somebody has asked how sure a ranking is, the next sentences on the page are drawn for too, when they
// have settled.
let wanted = false;
const token = () => document.querySelector('meta[name="csrf"]').content;
const percent = (part) => `${Math.round(100 * part)} %`;

async function fetched(url, options = {}) {
  const response = await fetch(url, {
    ...options,
    headers: { Accept: "application/json", "X-CSRFToken": token() },
  });
  return response.json();
}

export const certainty = () => ({
  told: { state: "none", done: 0, total: 500 },
  run: "",
  first: "",
  second: "",
  chance: "",
  gone: false,
  stopped: false,
  opened: false,
  before: "",

  get going() {
    return this.told.state === "running";
  },
  get idle() {
    return !this.going && this.told.state !== "finished";
  },
  get comparable() {
    return this.opened && Boolean(this.told.certainty) && !this.going && Number(this.$root.dataset.rows) > 1;
  },
  get done() {
    return this.told.done;
  },
  get total() {
    return this.told.total;
  },
  get words() {
    const { state, done, total, error, problem } = this.told;
    if (error) return error;
    if (state === "failed") return problem;
    if (state === "finished") return `From ${total} draws of the arm and the set-up.`;
    if (state === "cancelled") return `Stopped after ${done} of ${total} draws.`;
    if (state === "none") return "";
    if (this.told.waiting) return "Others are drawn for first; yours begin then.";
    return done ? `${done} of ${total} draws.` : "Drawing arms and set-ups…";
  },
  get hangs() {
    const parts = (this.told.certainty?.hangs_on ?? []).map((one) => `${one.words} (${percent(one.part)})`);
    return parts.length ? `The order of the first ten hangs most on ${parts.join(", ")}.` : this.before;
  },

  init() {
    const rows = document.querySelectorAll(".rows > li");
    this.before = this.$root.querySelector(".hangs").textContent;
    [this.first, this.second] = [rows[0]?.id ?? "", rows[1]?.id ?? ""];
    if (rows.length) this.look();
  },
  destroy() { this.gone = true; },

  open() {
    this.opened = true;
    if (this.comparable && !this.chance) this.compare();
  },
  again() { if (this.told.whiskers) this.mark(this.told); },

  ask(path, more = {}, options = {}) {
    const query = new URLSearchParams(this.$root.dataset.query);
    for (const [name, value] of Object.entries({ run: this.run, ...more })) if (value) query.set(name, value);
    return fetched(`${path}?${query}`, options);
  },

  // Shows what has been drawn already; asks for draws only where somebody wants them.
  async look() {
    try {
      this.take(await this.ask("/certainty.json"));
    } catch {
      return;
    }
    if (this.told.state !== "none" || !wanted) return;
    await new Promise((done) => setTimeout(done, SETTLED));
    if (!this.gone) this.begin();
  },

  async begin() {
    wanted = true;
    this.run = "";
    this.stopped = false;
    this.told = { ...this.told, state: "running", done: 0, error: "" };
    try {
      const started = await this.ask("/certainty/start", {}, { method: "POST" });
      if (started.error) { this.told = { ...this.told, state: "none", error: started.error }; return; }
      this.run = started.run;
      if (this.stopped) await this.stop(); // before the run had a name
      do {
        this.take(await this.ask("/certainty.json"));
        if (this.going) await new Promise((done) => setTimeout(done, PAUSE));
      } while (this.going && !this.gone);
    } catch {
      this.told = {
        ...this.told,
        state: "none",
        error: "The server cannot be reached; the ranking still stands.",
      };
    }
  },

  async stop() {
    this.stopped = true;
    if (this.run) await this.ask("/certainty/cancel", {}, { method: "POST" });
  },

  take(told) {
    if (this.gone) return;
    this.told = told;
    if (told.whiskers) this.mark(told);
    if (this.comparable && !this.chance) this.compare();
  },

  mark({ certainty: { rows }, whiskers }) {
    const sizes = new Map();
    for (const row of rows) sizes.set(row.band, (sizes.get(row.band) ?? 0) + 1);
    let before = 0;
    for (const row of rows) {
      const entry = document.getElementById(row.variant), starts = row.band !== before;
      before = row.band;
      if (!entry) continue;
      const [[low, high], [least, most]] = [row.rank_interval, row.score_interval.map(Math.round)];
      entry.querySelector("[data-whisker]").innerHTML = whiskers[row.variant];
      entry.classList.toggle("tied", sizes.get(row.band) > 1);
      entry.classList.toggle("tie-start", starts);
      entry.querySelector("[data-beats]").textContent =
        `Ranks ${low}–${high} in eight draws of ten, score ${least}–${most}; ` +
        `above the next with ${percent(row.beats_next)}.`;
    }
  },

  async compare() {
    const told = await this.ask("/certainty.json", { first: this.first, second: this.second });
    const chance = told.chance?.chance;
    this.chance =
      chance === undefined ? "" : `${percent(chance)}${told.state === "finished" ? "" : " so far"}.`;
  },
});
