// A question that is asked again whenever the sentence changes.
for (const form of document.querySelectorAll("[data-asks]"))
  form.addEventListener("change", () => form.requestSubmit());
