// A block is edited by forms; here they are sent without leaving the page, and days and exercises are dragged
// or moved by keys.
const root = () => document.getElementById("block");
let busy = false;

async function send(form, body, to = form.action) {
  if (busy) return;
  busy = true;
  const focused = document.activeElement?.id;
  try {
    const response = await fetch(to, { method: "POST", body, headers: { Accept: "text/html" } });
    const page = new DOMParser().parseFromString(await response.text(), "text/html");
    const fresh = page.getElementById("block");
    if (!fresh) {
      form.submit();
      return;
    }
    root().replaceWith(document.importNode(fresh, true));
    const said = page.getElementById("notices");
    document.getElementById("notices").replaceWith(document.importNode(said, true));
    if (response.redirected) history.replaceState(null, "", response.url);
    if (focused) document.getElementById(focused)?.focus();
    const problem = document.querySelector("#block [role=alert], #notices [role=status]");
    problem?.scrollIntoView({ block: "nearest" });
  } finally {
    busy = false;
  }
}

document.addEventListener("submit", (event) => {
  const form = event.target;
  if (!form.matches("[data-edit], [data-own], form[action$='/undo'], form[action$='/redo']")) return;
  event.preventDefault();
  send(form, new FormData(form), event.submitter?.getAttribute("formaction") ?? form.action);
});

function edit(fields) {
  const form = root().querySelector("[data-edit]");
  const body = new FormData();
  for (const name of ["csrf_token", "seen", "for", "at"]) body.set(name, form.elements[name].value);
  body.set("edit", JSON.stringify({ week: Number(root().dataset.week), everywhere: true, ...fields }));
  return send(form, body);
}

const sessionOf = (element) => Number(element.closest("[data-session]").dataset.session);
const typing = (element) => element.matches("input, select, textarea");

document.addEventListener("keydown", (event) => {
  const at = event.target;
  if ((event.ctrlKey || event.metaKey) && event.key.toLowerCase() === "z" && !typing(at)) {
    const form = root().querySelector(`form[action$='/${event.shiftKey ? "redo" : "undo"}']`);
    if (form) send(form, new FormData(form));
    event.preventDefault();
  } else if (at.matches(".session-day") && ["ArrowLeft", "ArrowRight"].includes(event.key)) {
    const day = Number(at.dataset.day) + (event.key === "ArrowLeft" ? -1 : 1);
    if (day >= 0 && day <= 6) edit({ do: "move_session", session: sessionOf(at), day });
    event.preventDefault();
  } else if (at.matches(".exercise") && event.altKey && ["ArrowUp", "ArrowDown"].includes(event.key)) {
    const place = Number(at.dataset.exercise);
    const to = place + (event.key === "ArrowUp" ? -1 : 1);
    const session = sessionOf(at);
    if (to >= 0) edit({ do: "move_exercise", session, exercise: place, to_session: session, to });
    event.preventDefault();
  }
});

let held = null;
document.addEventListener("dragstart", (event) => {
  held = event.target.closest(".session-day, .exercise");
  if (held) event.dataTransfer.effectAllowed = "move";
});
document.addEventListener("dragover", (event) => {
  if (held && event.target.closest(held.matches(".exercise") ? "[data-session]" : "[data-drop-day]"))
    event.preventDefault();
});
document.addEventListener("drop", (event) => {
  if (!held) return;
  event.preventDefault();
  const day = event.target.closest("[data-drop-day]");
  const there = event.target.closest("[data-session]");
  const from = sessionOf(held);
  if (held.matches(".exercise") && there) {
    const over = event.target.closest(".exercise");
    const place = over ? Number(over.dataset.exercise) : there.querySelectorAll(".exercise").length;
    const exercise = Number(held.dataset.exercise);
    edit({
      do: "move_exercise",
      session: from,
      exercise,
      to_session: Number(there.dataset.session),
      to: place,
    });
  } else if (held.matches(".session-day") && day) {
    edit({ do: "move_session", session: from, day: Number(day.dataset.dropDay) });
  }
  held = null;
});
