// While a file is kept: how far it is, and the record once it is there.
const LOOK = 400;
const bar = document.querySelector("[data-bringing]");

async function look() {
  const answer = await fetch(bar.dataset.bringing, { headers: { Accept: "application/json" } });
  const said = answer.ok ? await answer.json() : {};
  if (said.state !== "running") return location.reload();
  [bar.max, bar.value] = [said.total, said.done];
  setTimeout(look, LOOK);
}

if (bar) setTimeout(look, LOOK);
