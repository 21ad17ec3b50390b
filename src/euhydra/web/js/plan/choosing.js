// Choosing parts on the plan, and what is shown of them beside it.

import * as server from "./server.js";
import { SVG, north } from "./paper.js";
import * as parts from "./parts.js";
import { lengthOf } from "./snap.js";

const IS_SHEET = "(width < 62rem)"; // as in plan.css
const SHEET = 0.46; // of the window
const MOST_ASKED = 40; // more are no longer one form, but a mistake

// Where the chosen part's form stands, beside the drawing.
function beside() {
  return document.getElementById("chosen");
}

function bandOf({ from, to }) {
  return {
    left: Math.min(from.x, to.x),
    top: Math.min(from.y, to.y),
    width: Math.abs(to.x - from.x),
    height: Math.abs(to.y - from.y),
  };
}

/** Methods of the plan about what is chosen. */
export const choosing = {
  choose(ids, isMore) {
    this.looked = "";
    this.chosen = isMore ? [...new Set([...this.chosen.filter((id) => !ids.includes(id)), ...ids.filter((id) => !this.chosen.includes(id))])] : ids;
    this.markChosen();
    const kinds = new Set(this.chosen.map((id) => this.parts[id].collection));
    if (kinds.size === 1 && this.chosen.length <= MOST_ASKED) this.askPart(this.chosen.join(" "));
    else this.clearBeside();
    this.showAboveSheet();
  },
  clearBeside() {
    this.asked = "";
    beside().replaceChildren();
  },
  // On a phone the form comes up from below: what is chosen stays in sight above it.
  showAboveSheet() {
    const shape = this.shapeOf(this.chosen[0] ?? "");
    if (!shape || !matchMedia(IS_SHEET).matches) return;
    const { top, bottom } = shape.getBoundingClientRect();
    const room = innerHeight * (1 - SHEET);
    if (top < 0 || bottom > room) scrollBy({ top: (top + bottom - room) / 2, behavior: "smooth" });
  },
  // A band drawn with Shift over the paper chooses what has its middle in it, besides what is chosen.
  bandTo(drag, to) {
    drag.to = to;
    let band = this.svg.querySelector(".band");
    if (!band) {
      band = document.createElementNS(SVG, "rect");
      band.setAttribute("class", "sketch band");
      this.svg.append(band);
    }
    const { left, top, width, height } = bandOf(drag);
    for (const [name, value] of [["x", left], ["y", top], ["width", width], ["height", height]]) band.setAttribute(name, value);
  },
  letBand(drag) {
    this.svg.querySelector(".band")?.remove();
    const { left, top, width, height } = bandOf(drag);
    const inside = Object.keys(this.parts).filter((id) => {
      const { x, y } = north(parts.middleOf(this.parts[id]));
      return x >= left && x <= left + width && y >= top && y <= top + height;
    });
    this.choose([...new Set([...this.chosen, ...inside])], false);
  },
  chooseAll() {
    this.chosen = Object.keys(this.parts);
    this.markChosen();
  },
  markChosen() {
    for (const g of this.svg.querySelectorAll("[data-part]")) {
      const isChosen = this.chosen.includes(g.dataset.part);
      g.classList.toggle("is-chosen", isChosen);
      g.setAttribute("aria-pressed", isChosen);
    }
    this.svg.querySelector(".is-looked")?.classList.remove("is-looked");
    this.showGrips();
    this.showPlace();
    const names = this.chosen.slice(0, 3).map((id) => this.parts[id].part.name);
    if (this.chosen.length === 1) this.said = `Chosen: ${this.told(this.chosen[0])}`;
    else this.said = this.chosen.length === 0 ? "" : `Chosen: ${names.join(", ")}${this.chosen.length > 3 ? ` and ${this.chosen.length - 3} more` : ""}`;
  },
  // Where the one that is chosen lies, to be typed.
  showPlace() {
    const isOne = this.chosen.length === 1;
    if (!isOne || !this.$refs.east) return;
    const { x, y } = parts.middleOf(this.parts[this.chosen[0]]);
    this.$refs.east.value = this.number(x);
    this.$refs.north.value = this.number(y);
  },
  moveTyped() {
    const [x, y] = [this.$refs.east.value, this.$refs.north.value].map((text) => parseFloat(text.replace(",", ".")) * this.unitM);
    if (!Number.isFinite(x) || !Number.isFinite(y)) {
      this.fault = `Type where it shall lie as numbers of ${this.unit === "ft" ? "feet" : "metres"}, such as 3.2.`;
      return;
    }
    const now = parts.middleOf(this.parts[this.chosen[0]]);
    return this.save(parts.allMoved(this.parts, this.chosen, x - now.x, y - now.y), [], `${this.named()}: moved`);
  },
  get unitM() {
    return this.unit === "ft" ? 0.3048 : 1;
  },
  number(m) {
    return String(Math.round((m / this.unitM) * 100) / 100);
  },
  chooseZone(event) {
    this.choose(event.target.dataset.parts.split(" ").filter((id) => id in this.parts), false);
  },
  measures(id) {
    const { collection, part } = this.parts[id];
    if (collection === "pipes") return `, ${this.metres(lengthOf(parts.endsOf(this.parts[id])))} as drawn`;
    return part.width_m && part.length_m ? `, ${this.metres(part.length_m)} × ${this.metres(part.width_m)}` : "";
  },
  metres(m) {
    return this.unit === "ft" ? `${(m / 0.3048).toFixed(1)} ft` : `${m.toFixed(2)} m`;
  },
  // The form of one part, or one form for several of a kind: ids with blanks between.
  async askPart(ids) {
    await this.showBeside(`${this.$root.dataset.about}?${new URLSearchParams({ at: ids })}`);
  },
  async askOutlet(circle) {
    const { zone, node } = circle.dataset;
    this.looked = node;
    this.said = circle.querySelector("title").textContent;
    await this.showBeside(`${this.$root.dataset.outlet}?${new URLSearchParams({ zone, node })}`);
  },
  async showBeside(url) {
    this.asked = url;
    const html = await server.fragment(url);
    // The program's own markup, made by its own templates; an answer that comes late is not shown over a later one.
    if (this.asked === url) beside().innerHTML = html;
  },
};
