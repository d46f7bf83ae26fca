// On every page: how many sets still wait in this browser; and nobody signs out past them unawares.
import { forget, forgetOthers } from "./forget.js";
import { waiting } from "./queue.js";

async function show() {
  const here = document.querySelector('meta[name="person"]')?.content;
  const rows = here ? await waiting(here).catch(() => []) : [];
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
    await forget();
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
  warning.textContent =
    `${count} not been sent yet. They stay in this browser until you sign in here again and open Today. `;
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
