// “Take with you” takes what stands on the page now: where the page keeps its address in a link, that one.
document.addEventListener(
  "toggle",
  ({ target }) => {
    const live = document.querySelector("[data-file]");
    if (!live || !target.matches?.(".take[data-page]") || !target.open) return;
    const page = `${new URL(target.dataset.page, location.href).pathname}${live.search}`;
    for (const link of target.querySelectorAll("a[href*='page=']")) {
      const address = new URL(link.href);
      address.searchParams.set("page", page);
      link.href = address;
    }
    for (const input of target.querySelectorAll("input[name=page]")) input.value = page;
  },
  true,
);
