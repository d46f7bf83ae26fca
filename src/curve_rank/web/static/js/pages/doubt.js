// Doubt a number: the answer comes anew whenever the sentence or the dial changes; claims come after it.
const form = document.getElementById("doubt");
const answer = document.getElementById("answer");
const dial = form.querySelector(".dial");
const SETTLED = 60;
let latest = 0;
let timer = 0;

function address() {
  const query = new URLSearchParams(new FormData(form));
  for (const name of ["number", "for"]) if (!query.get(name)) query.delete(name);
  if (!query.get("number")) query.delete("spreads");
  if (query.get("reps") === "10") query.delete("reps");
  return `${form.action}?${query}`;
}

async function goThrough() {
  const place = answer.querySelector("[data-claims]");
  if (!place) return;
  const turn = latest;
  const told = await fetch(place.dataset.claims);
  if (told.ok && turn === latest) place.innerHTML = await told.text();
}

async function ask() {
  const turn = ++latest;
  const url = address();
  answer.setAttribute("aria-busy", "true");
  try {
    const response = await fetch(url, { headers: { "X-Part": "answer" } });
    const page = await response.text();
    if (turn !== latest) return;
    // Arms are still being drawn, or something is wrong: that page says so.
    if (!response.ok || page.includes("data-drawing")) return void location.assign(url);
    answer.innerHTML = page;
    history.replaceState(null, "", url);
    await goThrough();
  } catch {
    if (turn === latest) location.assign(url);
  } finally {
    if (turn === latest) answer.removeAttribute("aria-busy");
  }
}

form.addEventListener("input", () => {
  dial.hidden = !form.elements.number.value;
  clearTimeout(timer);
  timer = setTimeout(ask, SETTLED);
});
form.addEventListener("submit", (event) => {
  event.preventDefault();
  ask();
});
goThrough();
