// While the draws are made that a page stands on: look again until they are there.
const LOOK = 1000;
if (document.querySelector("[data-drawing]")) setTimeout(() => location.reload(), LOOK);
