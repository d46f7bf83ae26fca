// A lens that is being made: its list moves with every weight.
const PAUSE = 120;  // ms after the last change
const form = document.querySelector("[data-tries]");
const list = document.querySelector("#l-trial");
let asked = null;
let timer = 0;

const placesOf = () =>
  new Map([...list.querySelectorAll("[data-row]")].map((row) => [row.dataset.row, row.offsetTop]));

// Each row goes from where it stood to where it stands.
function move(before) {
  if (matchMedia("(prefers-reduced-motion: reduce)").matches) return;
  for (const row of list.querySelectorAll("[data-row]")) {
    const was = before.get(row.dataset.row);
    const from = was === undefined
      ? { opacity: 0 }
      : { transform: `translateY(${was - row.offsetTop}px)` };
    row.animate([from, {}], { duration: 260, easing: "ease-out" });
  }
}

async function tryOut() {
  asked?.abort();
  asked = new AbortController();
  const asks = { method: "POST", body: new FormData(form), headers: { "X-Part": "trial" } };
  try {
    const response = await fetch(form.dataset.tries, { ...asks, signal: asked.signal });
    const text = await response.text();
    if (!response.ok && response.status !== 400) throw new Error(String(response.status));
    const before = placesOf();
    list.innerHTML = text;
    move(before);
  } catch (error) {
    if (error.name === "AbortError") return;
    list.textContent = "The list cannot be had just now; your lens is not lost.";
  }
}

if (form) {
  document.querySelector("[data-asks-trial]").hidden = true;
  for (const slider of form.querySelectorAll("[data-slides]")) {
    const typed = form.elements[slider.dataset.slides];
    const follow = () => { slider.value = Number(typed.value.replace(",", ".")) || 0; };
    follow();
    slider.hidden = false;
    slider.addEventListener("input", () => { typed.value = slider.value; });
    typed.addEventListener("input", follow);
  }
  form.addEventListener("input", () => {
    clearTimeout(timer);
    timer = setTimeout(tryOut, PAUSE);
  });
  tryOut();
}
