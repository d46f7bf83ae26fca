// A question that is asked again whenever the sentence changes.
for (const form of document.querySelectorAll("[data-asks]")) form.addEventListener("change", () => form.requestSubmit());

// While the draws are made that the prices stand on: look again until they are there.
const LOOK = 1000;
if (document.querySelector("[data-drawing]")) setTimeout(() => location.reload(), LOOK);
