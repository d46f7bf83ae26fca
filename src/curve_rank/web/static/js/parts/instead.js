// What may stand instead of each exercise is sent beside the page: it is most of what there is to draw.
// Without a connection it is what was kept with the page, else a name.
export const besideOf = (page) => {
  const { pathname, search } = new URL(page, location.origin);
  return `${pathname}/instead${search}`;
};

let drawn = null;

async function load() {
  const box = document.createElement("template");
  const response = await fetch(besideOf(location.href), { headers: { Accept: "text/html" } });
  if (!response.ok || !response.headers.has("X-Signed-In-Until")) throw new Error("not now");
  box.innerHTML = await response.text();
  return box.content;
}

export const instead = {
  beside() {
    drawn ??= load().catch(() => { drawn = null; });
    return drawn;
  },
  // In an exercise's section, what stands for it now; asked again, nothing is put there twice.
  async stand(one) {
    const all = await this.beside(), { place, variant, name } = one;
    const section = document.querySelector(`.do[data-place="${place}"]`);
    const of = (parts) => [...parts].filter((part) => part.dataset.of === variant);
    if (!of(section.querySelectorAll("[data-of]")).length) {
      const parts = of(all?.querySelector(`[data-beside="${place}"]`)?.children ?? []);
      if (!parts.length) parts.push(named(variant, name));
      for (const part of parts) this.put(section, part.cloneNode(true));
    }
    for (const part of section.querySelectorAll("[data-of]")) part.hidden = part.dataset.of !== variant;
    section.classList.toggle("swapped", variant !== one.planned);  // its aim was the other exercise's
  },
  put(section, part) {
    const like = part.matches(".care-of") ? ".care-of" : "[data-of]:not(.care-of)";
    [...section.querySelectorAll(`:scope > ${like}`)].at(-1).after(part);
  },
};

function named(variant, name) {
  const part = document.createElement("div"), heading = document.createElement("h2");
  part.dataset.of = variant;
  heading.textContent = name;
  part.append(heading);
  return part;
}
