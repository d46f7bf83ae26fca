// While verdicts are worked out: how far they are, and the page anew when they are there.
const LOOK = 600;
const working = document.querySelector("[data-working]");

async function look() {
  try {
    const told = await (
      await fetch(working.dataset.working, { headers: { Accept: "application/json" } })
    ).json();
    if (told.state !== "running") return void location.reload();
    const bar = working.querySelector("progress");
    [bar.max, bar.value] = [told.total, told.done];
  } catch {
    // the server cannot be reached just now; it is asked again
  }
  setTimeout(look, LOOK);
}

if (working) setTimeout(look, LOOK);
