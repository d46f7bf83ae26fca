// The board asks again whenever the sentence changes; the address is always the question.
const form = document.getElementById("question");
const answer = document.getElementById("answer");
let latest = 0;

function address() {
  const query = new URLSearchParams(new FormData(form));
  if (!query.get("for")) query.delete("for");
  if (query.get("reps") === "10") query.delete("reps");
  return `${form.action}?${query}`;
}

async function ask({ remember = true } = {}) {
  const turn = ++latest;
  answer.setAttribute("aria-busy", "true");
  const url = address();
  try {
    const response = await fetch(url, { headers: { "X-Part": "answer" } });
    if (!response.ok) throw new Error(String(response.status));
    const page = await response.text();
    if (turn !== latest) return;
    answer.innerHTML = page;
    document.dispatchEvent(new Event("answered"));
    if (remember) history.pushState(null, "", url);
  } catch {
    location.assign(url);
  } finally {
    if (turn === latest) answer.removeAttribute("aria-busy");
  }
}

function words(name, nothing) {
  const ticked = [...form.querySelectorAll(`input[name="${name}"]:checked`)].map((box) => box.parentElement.textContent.trim());
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
document.addEventListener("keydown", (event) => {
  if (event.key !== "Escape") return;
  const open = form.querySelector("details[open]");
  if (open) {
    open.open = false;
    open.querySelector("summary").focus();
  }
});
document.addEventListener("click", (event) => {
  for (const choice of form.querySelectorAll("details[open]")) if (!choice.contains(event.target)) choice.open = false;
});
addEventListener("popstate", () => location.reload());
