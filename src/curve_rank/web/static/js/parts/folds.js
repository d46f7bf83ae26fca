// What is folded out over a page folds in again: by Escape, or by a click elsewhere.
const folds = () => document.querySelectorAll(".question details[open], .fold[open]");
document.addEventListener("keydown", (event) => {
  if (event.key !== "Escape") return;
  for (const open of folds()) {
    open.open = false;
    open.querySelector("summary").focus();
  }
});
document.addEventListener("click", (event) => {
  for (const open of folds()) if (!open.contains(event.target)) open.open = false;
});
