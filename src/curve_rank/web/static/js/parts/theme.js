// Light or dark: follows the device until someone chooses; the choice is a cookie, so pages arrive right.
const button = document.querySelector("[data-theme-button]");
const root = document.documentElement;
const isDark = () =>
  (root.dataset.theme ?? (matchMedia("(prefers-color-scheme: dark)").matches ? "dark" : "light")) === "dark";

function name() {
  button.textContent = isDark() ? "Light" : "Dark";
}

button.hidden = false;
button.addEventListener("click", () => {
  root.dataset.theme = isDark() ? "light" : "dark";
  document.cookie = `theme=${root.dataset.theme}; path=/; max-age=31536000; samesite=strict`;
  name();
});
name();
