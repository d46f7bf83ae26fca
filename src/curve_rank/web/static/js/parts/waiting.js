// On every page: how many sets still wait in this browser; and nobody signs out past them unawares.
import { waiting } from "./queue.js";

// What Today keeps to open without a connection is one person's: whoever comes next in this browser does not see it.
async function forgetOthers() {
  const here = document.querySelector('meta[name="person"]')?.content ?? "";
  const before = localStorage.getItem("curve-rank-person");
  localStorage.setItem("curve-rank-person", here);
  if (before !== null && before !== here) await globalThis.caches?.delete("curve-rank-today");
}

async function show() {
  const rows = await waiting().catch(() => []);
  const mark = document.querySelector("[data-waiting]");
  if (!mark) return rows;
  mark.hidden = !rows.length;
  mark.textContent = rows.length === 1 ? "1 set waits" : `${rows.length} sets wait`;
  return rows;
}

document.addEventListener("submit", async (event) => {
  const form = event.target;
  if (!form.action.endsWith("/sign-out") || form.dataset.sure) return;
  event.preventDefault();
  const rows = await show();
  const leave = async () => {
    for (const name of await (globalThis.caches?.keys() ?? [])) await caches.delete(name);
    form.dataset.sure = "yes";
    form.submit();
  };
  if (!rows.length) {
    await leave();
    return;
  }
  const warning = document.createElement("p");
  warning.className = "problem";
  warning.setAttribute("role", "alert");
  const count = rows.length === 1 ? "1 set has" : `${rows.length} sets have`;
  warning.textContent = `${count} not been sent yet. They stay in this browser until you sign in here again and open Today. `;
  const button = document.createElement("button");
  button.type = "button";
  button.className = "link";
  button.textContent = "Sign out all the same";
  button.addEventListener("click", leave);
  warning.append(button);
  form.replaceWith(warning, form);
  button.focus();
});
forgetOthers().catch(() => {});
show();
