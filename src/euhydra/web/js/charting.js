// Entry for pages with a chart: their components, and what draws charts.

import { drawBars, drawSizes, drawStacks, drawYear, nearest, rounded } from "./charts.js";

/** A chart of twelve months; its series stand in the script beside it. */
function bars() {
  return {
    init() {
      const series = seriesOf(this.$root);
      onWidth(this.$refs.paper, () => drawBars(this.$refs.paper, series));
    },
  };
}

/** Litres of every year by source. */
function stacks() {
  return {
    init() {
      const series = seriesOf(this.$root);
      onWidth(this.$refs.paper, () => drawStacks(this.$refs.paper, series));
    },
  };
}

/** A store through one year, a pointer on any day of it, and the way to other years. */
function levels() {
  return {
    series: null,
    first: 0,
    final: 0,
    day: 0,
    paper: null,
    init() {
      this.series = seriesOf(this.$root);
      this.first = this.series.first;
      this.final = this.series.last;
      this.day = driest(this.series);
      onWidth(this.$refs.paper, () => this.draw());
    },
    draw() {
      this.paper = drawYear(this.$refs.paper, this.series);
      this.paper.move(this.day);
    },
    async step(by) {
      const { url, at, plan = "" } = this.$root.dataset;
      const answer = await fetch(`${url}?${new URLSearchParams({ at, plan, year: this.year + by })}`);
      if (!answer.ok) return;
      this.series = await answer.json();
      this.day = driest(this.series);
      this.draw();
    },
    earlier() {
      return this.step(-1);
    },
    later() {
      return this.step(1);
    },
    pick(day) {
      this.day = Number(day);
      this.paper.move(this.day);
    },
    point(event) {
      if (this.paper !== null) this.pick(this.paper.dayAt(event.clientX));
    },
    get year() {
      return this.series === null ? "" : this.series.year;
    },
    get last() {
      return this.series === null ? 0 : this.series.level.length - 1;
    },
    get said() {
      return this.series === null ? "" : dayInWords(this.series, this.day);
    },
    get isFirst() {
      return this.year === "" || this.year <= this.first;
    },
    get isLast() {
      return this.year === "" || this.year >= this.final;
    },
  };
}

// The day on which the store stands lowest; of a bed, the first that is too dry, or the thirstiest.
function driest({ level, dry, need }) {
  if (dry === undefined) return level.indexOf(Math.min(...level));
  return dry.includes(true) ? dry.indexOf(true) : need.indexOf(Math.max(...need));
}

function dayInWords(series, i) {
  const date = new Date(Date.UTC(series.year, 0, 1 + series.start + i));
  const day = date.toLocaleDateString("en-GB", { day: "numeric", month: "long", timeZone: "UTC" });
  const { unit, rainUnit } = series;
  if (series.kind === "roots") {
    const came = series.given[i] > 0 ? `, watered ${rounded(series.given[i])}` : "";
    const lost = series.spill[i] > 0 ? `, ${rounded(series.spill[i])} ${unit} lost past the roots` : "";
    const dry = series.dry[i] ? ", too dry" : "";
    return `${day}: rain ${series.rain[i]} ${rainUnit}${came}, ${rounded(series.level[i])} ${unit} within reach${dry}${lost}`;
  }
  const given = series.need[i] > 0 ? `, gave ${rounded(series.given[i])} of ${rounded(series.need[i])} ${unit}` : "";
  const spilled = series.spill[i] > 0 ? `, spilled ${rounded(series.spill[i])} ${unit}` : "";
  return `${day}: rain ${series.rain[i]} ${rainUnit}, ${rounded(series.level[i])} ${unit} in the evening${given}${spilled}`;
}

/** The size curve: fetched when the page stands, then moved along by slider or finger. */
function sizes() {
  return {
    series: null,
    size: 0,
    failed: "",
    paper: null,
    async init() {
      const answer = await fetch(this.$root.dataset.url);
      if (!answer.ok) {
        this.failed = "The size curve could not be worked out. Reload the page to try again.";
        return;
      }
      this.series = await answer.json();
      this.size = nearest(this.series.volume, this.series.present);
      onWidth(this.$refs.paper, () => {
        this.paper = drawSizes(this.$refs.paper, this.series);
        this.paper.move(this.size);
      });
    },
    pick(size) {
      this.size = Number(size);
      this.paper?.move(this.size); // it is drawn as soon as its width is known
    },
    drag(event) {
      if (this.paper === null || event.buttons === 0) return;
      this.pick(this.paper.sizeAt(event.clientX));
    },
    grab(event) {
      this.$refs.paper.setPointerCapture(event.pointerId);
      this.pick(this.paper.sizeAt(event.clientX));
    },
    get isWorking() {
      return this.series === null && this.failed === "";
    },
    get last() {
      return this.series === null ? 0 : this.series.volume.length - 1;
    },
    get litres() {
      return this.series === null ? "" : `${rounded(this.series.volume[this.size])} ${this.series.unit}`;
    },
    get met() {
      return this.series === null ? "" : `${rounded(this.series.met[this.size])} %`;
    },
    get poorYears() {
      return this.series === null ? "" : `${rounded(this.series.low[this.size])} %`;
    },
    get cost() {
      if (this.series === null || this.series.price === null) return "";
      return rounded(this.series.volume[this.size] * this.series.price);
    },
    get dryDays() {
      return this.series === null ? "" : rounded(this.series.dryDays[this.size]);
    },
    get spill() {
      return this.series === null ? "" : `${rounded(this.series.spill[this.size])} ${this.series.unit}`;
    },
  };
}

function seriesOf(root) {
  return JSON.parse(root.querySelector("script[type='application/json']").textContent);
}

// Draws now, and again whenever the paper has another width.
function onWidth(paper, draw) {
  let width = 0;
  new ResizeObserver(() => {
    if (paper.clientWidth === width) return;
    width = paper.clientWidth;
    draw();
  }).observe(paper);
}


document.addEventListener("alpine:init", () => {
  for (const [name, component] of Object.entries({ bars, levels, sizes, stacks })) window.Alpine.data(name, component);
});
