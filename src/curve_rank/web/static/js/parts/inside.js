// What stands in a fold is fetched when the fold is first opened; until then it holds a link to the same.
addEventListener("toggle", async (event) => {
  const fold = event.target;
  if (!fold.open || !fold.dataset?.inside || fold.dataset.filled) return;
  fold.dataset.filled = "yes";
  try {
    const response = await fetch(fold.dataset.inside, { headers: { "X-Part": "inside" } });
    if (!response.ok) throw new Error(String(response.status));
    fold.querySelector("[aria-live]").innerHTML = await response.text();
  } catch {
    delete fold.dataset.filled;
  }
}, true);
