// How sure the ranking is: asks for the draws, shows what is known so far, and can be stopped.
const PAUSE = 700;
const token = document.querySelector('meta[name="csrf"]').content;
let run = null;
let turn = 0;

async function post(path, query, values = {}) {
  const response = await fetch(`${path}?${query}`, {
    method: "POST", headers: { "X-CSRFToken": token, Accept: "application/json" }, body: new URLSearchParams(values),
  });
  return response.json();
}

async function look(query) {
  const response = await fetch(`/certainty.json?${query}${run ? `&run=${run}` : ""}`, { headers: { Accept: "application/json" } });
  return response.json();
}

function show(panel, told) {
  const bar = panel.querySelector("progress");
  const going = told.state === "running";
  bar.hidden = !going;
  bar.max = told.total;
  bar.value = told.done;
  panel.querySelector("[data-stop]").hidden = !going;
  panel.querySelector("[data-begin]").hidden = going || told.state === "finished";
  panel.querySelector("[data-sure-words]").textContent = words(told);
  panel.querySelector("[data-hangs]").textContent = told.certainty ? hangs(told.certainty) : "";
  if (told.whiskers) whiskers(told);
  if (told.certainty && told.state !== "running") offer(panel);
}

function words(told) {
  if (told.error) return told.error;
  if (told.state === "failed") return told.problem;
  if (told.state === "finished") return `From ${told.total} draws of the arm and the set-up.`;
  if (told.state === "cancelled") return `Stopped after ${told.done} of ${told.total} draws.`;
  return told.done ? `${told.done} of ${told.total} draws.` : "Drawing arms and set-ups…";
}

function hangs(certainty) {
  const parts = certainty.hangs_on.map((h) => `${h.words} (${Math.round(100 * h.part)} %)`);
  return parts.length ? `The order of the first ten hangs most on ${parts.join(", ")}.` : "";
}

function whiskers(told) {
  const sizes = new Map();
  for (const row of told.certainty.rows) sizes.set(row.band, (sizes.get(row.band) ?? 0) + 1);
  let before = 0;
  for (const row of told.certainty.rows) {
    const entry = document.getElementById(row.variant);
    if (!entry) continue;
    entry.querySelector("[data-whisker]").innerHTML = told.whiskers[row.variant];
    entry.classList.toggle("close", sizes.get(row.band) > 1);
    entry.classList.toggle("band-start", row.band !== before);
    entry.querySelector("[data-beats]").textContent =
      `Ranks ${row.rank_interval[0]}–${row.rank_interval[1]} in eight draws of ten, score ${Math.round(row.score_interval[0])}–${Math.round(row.score_interval[1])}; above the next with ${Math.round(100 * row.beats_next)} %.`;
    before = row.band;
  }
}

function offer(panel) {
  const versus = panel.querySelector("[data-versus]");
  const entries = [...document.querySelectorAll(".rows > li")];
  if (entries.length < 2) return;
  const [first, second] = ["[data-first]", "[data-second]"].map((name) => versus.querySelector(name));
  if (!first.options.length) {
    for (const select of [first, second]) {
      for (const entry of entries) select.add(new Option(entry.querySelector(".name").textContent.trim(), entry.id));
      select.addEventListener("change", () => compare(panel));
    }
    second.selectedIndex = 1;
  }
  versus.hidden = false;
  compare(panel);
}

async function compare(panel) {
  const [first, second] = ["[data-first]", "[data-second]"].map((name) => panel.querySelector(name).value);
  const query = `${panel.dataset.query}&first=${encodeURIComponent(first)}&second=${encodeURIComponent(second)}`;
  const told = await look(query);
  const chance = told.chance?.chance;
  panel.querySelector("[data-chance]").textContent = chance === undefined ? "" : `${Math.round(100 * chance)} %${told.state === "finished" ? "" : " so far"}.`;
}

async function follow(panel, mine) {
  const query = panel.dataset.query;
  for (;;) {
    const told = await look(query);
    if (mine !== turn) return;
    show(panel, told);
    if (told.state !== "running") return;
    await new Promise((done) => setTimeout(done, PAUSE));
    if (mine !== turn) return;
  }
}

async function begin(panel, { unasked = false } = {}) {
  const mine = ++turn;
  run = null;
  const query = panel.dataset.query;
  try {
    const known = await look(query);
    if (mine !== turn) return;
    show(panel, known);
    if (known.state !== "none" || (unasked && panel.dataset.rows === "0")) return;
    const started = await post("/certainty/start", query);
    if (mine !== turn) return;
    if (started.error) { show(panel, { ...known, error: started.error }); return; }
    run = started.run;
    await follow(panel, mine);
  } catch {
    if (mine === turn) panel.querySelector("[data-sure-words]").textContent = "The server cannot be reached; the ranking above still stands.";
  }
}

function attach() {
  const panel = document.querySelector("[data-certainty]");
  if (!panel) return;
  panel.hidden = false;
  panel.querySelector("[data-stop]").addEventListener("click", async () => {
    if (run) await post("/certainty/cancel", panel.dataset.query, { run });
  });
  panel.querySelector("[data-begin]").addEventListener("click", () => begin(panel));
  begin(panel, { unasked: true });
}

document.addEventListener("answered", attach);
attach();
