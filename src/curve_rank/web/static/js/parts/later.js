// The later rows of a list wait as text until somebody comes near them, prints, seeks a word or asks for
// them: half of a long page is not made before it is read. Without scripts they stand there from the start.
const NEAR = "800px 0px";
let put = () => {};

export function later(within) {
  put = () => {};
  const kept = within.querySelector("noscript[data-later]");
  if (!kept) return;
  const line = document.createElement("p"), button = document.createElement("button");
  line.className = "later-rows";
  const textContent = `Show the other ${kept.dataset.later}`;
  Object.assign(button, { type: "button", className: "link", textContent });
  line.append(button);
  const seen = new IntersectionObserver((all) => { if (all.some((one) => one.isIntersecting)) put(); }, {
    rootMargin: NEAR,
  });
  put = () => {
    put = () => {};
    seen.disconnect();
    const box = document.createElement("div");
    box.innerHTML = kept.textContent;
    const rows = [...box.querySelector("ol").children], asked = line.contains(document.activeElement);
    within.querySelector(".rows").append(...rows);
    kept.remove();
    line.remove();
    if (asked) rows[0].querySelector("summary").focus();
    dispatchEvent(new Event("later-rows"));
  };
  kept.after(line);
  button.addEventListener("click", () => put());
  seen.observe(line);
  if (location.hash && !document.getElementById(location.hash.slice(1))) put();
}

addEventListener("beforeprint", () => put());
addEventListener("keydown", (event) => {
  if (event.key.toLowerCase() === "f" && (event.ctrlKey || event.metaKey)) put();
});
