// A room on a phone: what is asked now, a hand or a sketch; nothing is kept here or there.
import { drawn, path, place } from "../parts/sketching.js";

const { url, answer } = document.body.dataset;
const part = (name) => document.querySelector(`[data-${name}]`);
const phone = crypto.getRandomValues(new Uint32Array(3)).join("-");
const LOOK = 1000;
let turn = -1;
let was = "";
let heights = [];
let last = null;

async function send(fields) {
  const body = new URLSearchParams({ phone, turn });
  for (const [name, values] of Object.entries(fields))
    for (const value of [values].flat()) body.append(name, value);
  const csrf = document.querySelector('meta[name="csrf"]').content;
  const headers = { "X-CSRFToken": csrf, Accept: "application/json" };
  try {
    const sent = await fetch(answer, { method: "POST", body, headers });
    part("says").textContent = sent.ok
      ? "It is counted. You may change it until it is revealed."
      : "That question is over.";
  } catch {
    part("says").textContent = "It could not be sent; try again.";
  }
}

function lay() {
  part("line").setAttribute("d", path(heights));
  [...part("heights").children].forEach((input, n) => {
    input.value = Math.round(100 * heights[n]);
  });
}

function show({ kind, asks, answers, places, shown, right, answered }) {
  part("asks").textContent = asks || "Look at the screen";
  part("sketch").hidden = kind !== "sketch" || shown;
  part("answers").replaceChildren(
    ...answers.map((words, n) => {
      const button = document.createElement("button");
      button.type = "button";
      button.textContent = words;
      button.disabled = shown;
      button.classList.toggle("right", shown && n === right);
      button.addEventListener("click", () => {
        for (const other of part("answers").children) other.setAttribute("aria-pressed", other === button);
        send({ hand: n });
      });
      return button;
    }),
  );
  if (kind === "sketch" && heights.length !== places) {
    heights = Array(places).fill(0.5);
    part("heights").replaceChildren(
      ...heights.map((_, n) => {
        const input = Object.assign(document.createElement("input"), { type: "range", min: 0, max: 100 });
        input.setAttribute("aria-label", `Height ${n + 1} of ${places}, from stretched to short`);
        input.addEventListener("input", () => {
          heights[n] = Number(input.value) / 100;
          lay();
        });
        return input;
      }),
    );
    lay();
  }
  if (shown) part("says").textContent = "It is on the screen.";
  else if (kind === "nothing") part("says").textContent = "Nothing is asked.";
  else if (!answered)
    part("says").textContent = kind === "hands" ? "Choose one." : "Draw with a finger, then send it.";
}

async function look() {
  try {
    const asked = await fetch(`${url}?phone=${phone}`, { headers: { Accept: "application/json" } });
    if (asked.ok) {
      const now = await asked.json();
      const state = `${now.turn} ${now.shown}`;
      if (state !== was) {
        if (now.turn !== turn) heights = [];
        [was, turn] = [state, now.turn];
        show(now);
      }
    } else {
      const closed = asked.status === 404;
      part("says").textContent = closed ? "The room is closed." : "The room is full; it is tried again.";
    }
  } catch {
    part("says").textContent = "The room cannot be reached; it is tried again.";
  }
  setTimeout(look, LOOK);
}

const paper = document.querySelector(".sketch svg");
function draw(event) {
  if (!last) return;
  const here = place(paper, event, heights.length);
  heights = drawn(heights, last, here);
  last = here;
  lay();
}
paper.addEventListener("pointerdown", (event) => {
  paper.setPointerCapture(event.pointerId);
  last = place(paper, event, heights.length);
  draw(event);
});
paper.addEventListener("pointermove", draw);
paper.addEventListener("pointerup", () => { last = null; });
part("send").addEventListener("click", () => send({ at: heights.map((height) => height.toFixed(3)) }));
look();
