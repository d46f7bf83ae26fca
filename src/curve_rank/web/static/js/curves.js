// Four panels on one rep axis: demand against strength, effort, drive and length of each head.
const d3 = window.d3;
const WIDTH = 470;
const PANEL = 112;
const GAP = 30;
const LEFT = 40;
const RIGHT = 96;

const PANELS = [
  { title: "Moment [N·m]", top: null, series: (c) => [
    { css: "strength", name: "strength", values: c.strength },
    { css: "demand", name: "demand", values: c.demand }] },
  { title: "Effort [% of strength]", top: 100, series: (c) => [{ css: "effort", name: "effort", values: c.effort }] },
  { title: "Drive [%]", top: 100, series: (c) => c.heads.map((h) => ({ css: `head-${h.key}`, name: h.name, values: h.drive })) },
  { title: "Length [% of the head’s own range]", top: 100, series: (c) => c.heads.map((h) => ({ css: `head-${h.key}`, name: h.name, values: h.length })) },
];

export class Curves {
  constructor(holder, onMove) {
    this.holder = holder;
    this.height = PANELS.length * (PANEL + GAP) + 26;
    holder.replaceChildren();
    this.svg = d3.select(holder).append("svg").attr("viewBox", `0 0 ${WIDTH} ${this.height}`)
      .attr("role", "img").attr("aria-label", "Curves along the rep: elbow moment, effort, drive and length of each head. The numbers stand in the table below.");
    this.x = d3.scaleLinear([0, 1], [LEFT, WIDTH - RIGHT]);
    const move = (event) => {
      const [px] = d3.pointer(event, this.svg.node());
      onMove(Math.round(Math.min(1, Math.max(0, this.x.invert(px))) * (this.count - 1)));
    };
    this.svg.on("pointerdown", (event) => { this.svg.node().setPointerCapture(event.pointerId); move(event); })
      .on("pointermove", (event) => { if (event.buttons || event.pointerType === "mouse") move(event); });
  }

  draw(curves, joint, ghost) {
    this.curves = curves;
    this.count = curves.elbow.length;
    this.svg.selectAll("*").remove();
    this.panels = PANELS.map((panel, n) => this.panel(panel, n, curves, ghost));
    this.axis(curves, joint);
    this.cursor = this.svg.append("line").attr("class", "cursor").attr("y1", 14).attr("y2", this.height - GAP + 2);
    this.marks = this.svg.append("g");
  }

  panel({ title, top, series }, n, curves, ghost) {
    const y0 = 18 + n * (PANEL + GAP);
    const drawn = series(curves);
    const old = ghost ? series(ghost) : [];
    const largest = d3.max([...drawn, ...old].flatMap((s) => s.values));
    const lowest = d3.min([0, ...drawn.flatMap((s) => s.values)]);
    const y = d3.scaleLinear([top === null ? Math.min(0, lowest) : 0, Math.max(top ?? 0, largest)], [y0 + PANEL, y0]).nice(4);
    const g = this.svg.append("g");
    for (const [a, b] of curves.slack) {
      g.append("rect").attr("class", "slack-band").attr("x", this.x(a)).attr("width", this.x(b) - this.x(a)).attr("y", y0).attr("height", PANEL);
      if (n === 0) g.append("text").attr("x", this.x((a + b) / 2)).attr("y", y0 + 10).attr("text-anchor", "middle").text(b - a > 0.1 ? "slack" : "");
    }
    g.append("g").attr("class", "axis").attr("transform", `translate(${LEFT},0)`).call(d3.axisLeft(y).ticks(4).tickSizeOuter(0).tickSizeInner(-(WIDTH - RIGHT - LEFT)));
    g.append("text").attr("class", "title").attr("x", LEFT).attr("y", y0 - 6).text(title);
    const line = d3.line().x((_, i) => this.x(i / (this.count - 1))).y((v) => y(v)).curve(d3.curveMonotoneX);
    for (const s of old) g.append("path").attr("class", `curve ghosted ${s.css}`).attr("d", line(s.values)).attr("fill", "none");
    for (const s of drawn) g.append("path").attr("class", `curve ${s.css}`).attr("d", line(s.values)).attr("fill", "none");
    this.names(g, drawn, y, y0);
    return { drawn, y };
  }

  names(g, drawn, y, y0) {
    const places = drawn.map((s) => ({ s, at: y(s.values.at(-1)) })).sort((a, b) => a.at - b.at);
    for (let i = 1; i < places.length; i++) places[i].at = Math.max(places[i].at, places[i - 1].at + 12);
    const over = places.length ? places.at(-1).at - (y0 + PANEL - 4) : 0;
    for (const { s, at } of places) {
      g.append("text").attr("class", "label").attr("x", WIDTH - RIGHT + 6).attr("y", at - Math.max(0, over) + 4)
        .text(s.name.replace("Biceps ", "").replace("Triceps ", ""));
    }
  }

  axis(curves, joint) {
    const bottom = this.height - GAP + 2;
    const ticks = [0, 0.25, 0.5, 0.75, 1];
    const g = this.svg.append("g").attr("class", "axis").attr("transform", `translate(0,${bottom})`)
      .call(d3.axisBottom(this.x).tickValues(ticks).tickFormat((v) => `${Math.round(curves.angle[Math.round(v * (this.count - 1))])}°`));
    g.append("text").attr("x", LEFT).attr("y", 30).attr("text-anchor", "start").text("long");
    g.append("text").attr("x", WIDTH - RIGHT).attr("y", 30).attr("text-anchor", "end").text("short");
    g.append("text").attr("x", (LEFT + WIDTH - RIGHT) / 2).attr("y", 30).attr("text-anchor", "middle").text(`${joint} angle along the rep`);
  }

  moveTo(at) {
    const px = this.x(at / (this.count - 1));
    this.cursor.attr("x1", px).attr("x2", px);
    this.marks.selectAll("*").remove();
    for (const { drawn, y } of this.panels) {
      for (const s of drawn) {
        this.marks.append("circle").attr("class", `dot ${s.css}`).attr("cx", px).attr("cy", y(s.values[at])).attr("r", 3.4);
      }
      if (drawn.length <= 2) {
        for (const s of drawn) this.marks.append("text").attr("class", `value ${s.css}`).attr("x", px + 6).attr("y", y(s.values[at]) - 6).text(Math.round(s.values[at]));
      }
    }
  }
}
