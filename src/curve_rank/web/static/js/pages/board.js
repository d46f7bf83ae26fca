// The board asks again whenever the sentence changes; the address is always the question.
import Alpine from "../../vendor/alpinejs-csp/alpine-csp.js";
import { certainty } from "../parts/certainty.js";
import "../parts/folds.js";
import { later } from "../parts/later.js";

const form = document.getElementById("question");
const answer = document.getElementById("answer");
let latest = 0;

function address() {
  const query = new URLSearchParams(new FormData(form));
  if (!query.get("for")) query.delete("for");
  if (query.get("reps") === "10") query.delete("reps");
  return `${form.action}?${query}`;
}

async function ask() {
  const turn = ++latest;
  answer.setAttribute("aria-busy", "true");
  const url = address();
  try {
    const response = await fetch(url, { headers: { "X-Part": "answer" } });
    if (!response.ok) throw new Error(String(response.status));
    const page = await response.text();
    if (turn !== latest) return;
    answer.innerHTML = page;
    later(answer);
    if (url !== location.href) history.pushState(null, "", url);
  } catch {
    if (turn === latest) location.assign(url);
  } finally {
    if (turn === latest) answer.removeAttribute("aria-busy");
  }
}

function words(name, nothing) {
  const ticked = [...form.querySelectorAll(`input[name="${name}"]:checked`)].map((box) =>
    box.parentElement.textContent.trim(),
  );
  if (!ticked.length) return nothing;
  return ticked.length === 1 ? ticked[0] : `${ticked.slice(0, -1).join(", ")} and ${ticked.at(-1)}`;
}

function tick(name, values) {
  for (const box of form.querySelectorAll(`input[name="${name}"]`)) box.checked = values.includes(box.value);
}

function tell() {
  form.querySelector('[data-words="with"]').textContent = words("with", "anything");
  form.querySelector('[data-words="spare"]').textContent = words("spare", "nothing");
}

form.addEventListener("change", (event) => {
  if (event.target.name === "for") {
    const sore = event.target.selectedOptions[0].dataset.sore;
    if (sore !== undefined) tick("spare", sore.split(",").filter(Boolean));
  }
  tell();
  ask();
});
form.addEventListener("submit", (event) => {
  event.preventDefault();
  for (const choice of form.querySelectorAll("details[open]")) choice.open = false;
  ask();
});
form.addEventListener("click", (event) => {
  const room = event.target.closest("[data-room]");
  if (!room) return;
  tick("with", room.dataset.room.split(","));
  tell();
  ask();
});

// Ticked rows are compared; the bar comes up with the first.
const MOST_TICKED = 4;
answer.addEventListener("change", (event) => {
  if (!event.target.matches(".tick")) return;
  const ticked = answer.querySelectorAll(".tick:checked").length;
  if (ticked > MOST_TICKED) event.target.checked = false;
  const bar = document.getElementById("ticked");
  bar.classList.toggle("up", ticked > 0);
  const more = ticked === 1 ? "One ticked; tick another." : `${ticked} ticked.`;
  bar.querySelector("[data-ticked]").textContent =
    ticked > MOST_TICKED ? "Four stand side by side at most." : more;
});

// A row's inside is fetched when it is first opened.
answer.addEventListener("toggle", async (event) => {
  const row = event.target;
  if (!row.open || !row.matches(".row-entry") || row.dataset.filled) return;
  const { inside, query } = row.closest(".rows").dataset;
  row.dataset.filled = "yes";
  try {
    const response = await fetch(`${inside}${row.parentElement.id}?${query}`);
    if (!response.ok) throw new Error(String(response.status));
    row.querySelector(".row-inside").innerHTML = await response.text();
  } catch {
    delete row.dataset.filled;
  }
}, true);

addEventListener("popstate", () => location.reload());

// While the draws are made that an answer stands on: how far they are, then the answer.
const LOOK = 400;
const drawing = () => ({
  done: 0,
  gone: false,
  async init() {
    const { query } = this.$root.dataset;
    while (!this.gone) {
      await new Promise((soon) => setTimeout(soon, LOOK));
      try {
        const told = await (await fetch(`/board/drawing.json?${query}`)).json();
        if (told.finished || told.error) return void (this.gone || ask());
        this.done = told.done;
      } catch {
        return;
      }
    }
  },
  destroy() { this.gone = true; },
});

later(answer);
Alpine.data("drawing", drawing);

Alpine.data("certainty", certainty);
Alpine.start();
