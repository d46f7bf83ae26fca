// A variant's page: its folds fill when they are opened.
import "../parts/inside.js";

// While a booklet is drawn: how far it is, and the file when it is there.
const LOOK = 500;
const drawing = document.querySelector("[data-booklet]");

async function look() {
  const told = await (
    await fetch(drawing.dataset.booklet, { headers: { Accept: "application/json" } })
  ).json();
  const bar = drawing.querySelector("progress");
  [bar.max, bar.value] = [told.total ?? 1, told.done ?? 0];
  if (told.state === "running") return void setTimeout(look, LOOK);
  drawing.firstChild.textContent =
    told.state === "finished"
      ? "It is drawn. "
      : `${told.problem || told.error || "It was stopped."} `;
  bar.remove();
  drawing.querySelector("a").hidden = told.state !== "finished";
  drawing.querySelector("a").nextSibling.textContent = "";
}

if (drawing) {
  drawing.querySelector("a").hidden = true;
  setTimeout(look, LOOK);
}
