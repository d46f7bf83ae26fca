// A lecture on the screen: slides by keys, what is right on R, a room on phones on P.
const stage = document.querySelector(".podium");
const part = (name) => stage.querySelector(`[data-${name}]`);
const { count, slide, room, lead, told, close } = stage.dataset;
const kept = new Map();
const LOOK = 700;
let at = Math.min(Number(location.hash.slice(1) || 1), Number(count)) - 1;
let shown = false;
let open = false;
let line = Promise.resolve();
let timer;

const post = (address, fields = {}) =>
  fetch(address, {
    method: "POST",
    body: new URLSearchParams(fields),
    headers: {
      "X-CSRFToken": document.querySelector('meta[name="csrf"]').content,
      Accept: "application/json",
    },
  }).then((answer) => (answer.ok ? answer.json() : Promise.reject(answer)));

// What is asked of the room goes one after the other: a closed one is asked nothing more.
const inTurn = (ask) => (line = line.then(ask).catch(lost));
const tell = () => inTurn(() => open && post(lead, { slide: at, shown: Number(shown) }));

const fetched = (n) => {
  if (!kept.has(n))
    kept.set(
      n,
      fetch(`${slide}?slide=${n}`, { headers: { Accept: "application/json" } }).then((answer) =>
        answer.json(),
      ),
    );
  return kept.get(n);
};

async function lay(n) {
  at = Math.min(Math.max(n, 0), Number(count) - 1);
  shown = false;
  const wanted = at;
  part("place").textContent = `${at + 1} of ${count}`;
  history.replaceState(null, "", `#${at + 1}`);
  try {
    const { html } = await fetched(wanted);
    if (wanted !== at) return;
    part("stage").innerHTML = html;
  } catch {
    kept.delete(wanted);
    part("stage").textContent = "The server cannot be reached; press the arrow again.";
    return;
  }
  tell();
  if (at + 1 < Number(count)) fetched(at + 1).catch(() => kept.delete(at + 1));
}

function reveal() {
  const truth = part("truth");
  if (!truth?.textContent.trim()) return;
  shown = !shown;
  truth.hidden = !shown;
  for (const one of stage.querySelectorAll("[data-right]"))
    one.classList.toggle("right", shown && one.dataset.right === "1");
  tell();
}

function lost() { part("code").textContent = "The room cannot be reached."; }

async function openOrClose() {
  clearTimeout(timer);
  if (open) {
    open = false;
    await post(close);
    part("code").textContent = "";
    return;
  }
  const { code, address } = await post(room);
  open = true;
  part("code").dataset.address = `${code} · ${address.replace(/^https?:\/\//, "")}`;
  await post(lead, { slide: at, shown: Number(shown) });
  look();
}

async function look() {
  await inTurn(hear);
  clearTimeout(timer);
  if (open) timer = setTimeout(look, LOOK);
}

async function hear() {
  if (!open) return;
  const answer = await fetch(`${told}?slide=${at}`, { headers: { Accept: "application/json" } });
  const { here, hands, sketches, drawn } = await answer.json();
  const drew = sketches ? `, ${sketches} drawn` : "";
  part("code").textContent = `${part("code").dataset.address} · ${here} here${drew}`;
  hands.forEach((n, which) => {
    const place = stage.querySelector(`[data-hands="${which}"]`);
    if (place) place.textContent = n;
  });
  if (drawn) part("drawn").innerHTML = drawn;
}

const DOES = {
  on: () => lay(at + 1),
  back: () => lay(at - 1),
  reveal,
  full: () => (document.fullscreenElement ? document.exitFullscreen() : stage.requestFullscreen()),
  room: () => inTurn(openOrClose),
};
const KEYS = {
  ArrowRight: "on", PageDown: "on", " ": "on", ArrowLeft: "back", PageUp: "back",
  r: "reveal", f: "full", p: "room",
}; // prettier-ignore

addEventListener("keydown", (event) => {
  if (event.ctrlKey || event.metaKey || event.altKey) return;
  if (event.key === " " && event.target.closest("button, a")) return;
  const does = KEYS[event.key.length === 1 ? event.key.toLowerCase() : event.key];
  if (!does) return;
  event.preventDefault();
  DOES[does]();
});
stage.addEventListener("click", (event) => DOES[event.target.closest("[data-key]")?.dataset.key]?.());
lay(at);
