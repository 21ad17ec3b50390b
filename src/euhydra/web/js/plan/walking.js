// The way over the plan by keys: from part to part, from outlet to outlet, along a bar of tools; and the line at the
// foot, which says what the pointer or the walk is on.

import { north } from "./paper.js";
import * as parts from "./parts.js";
import * as views from "./view.js";

const PAN = 0.15; // of the paper that is shown

function towards({ x, y }, [wx, wy]) {
  const along = x * wx + y * wy;
  const aside = Math.abs(x * wy - y * wx);
  return along > 1e-9 && aside <= 2 * along ? along + 2 * aside : Infinity;
}

/** Methods of the plan about where one is on it. */
export const walking = {
  // The part that the walk is at: that which has the focus, else the first that is chosen.
  get at() {
    return document.activeElement?.closest?.("g[data-part]")?.dataset.part ?? this.chosen[0] ?? "";
  },
  // From part to part, to the nearest that way; from nowhere to the one nearest to the middle.
  walk(way) {
    const places = Object.entries(this.parts).filter(([id]) => this.shapeOf(id)).map(([id, entry]) => ({ id, ...parts.middleOf(entry) }));
    const here = places.find(({ id }) => id === this.at);
    const from = here ?? north({ x: this.view.x + this.view.width / 2, y: this.view.y + this.view.height / 2 });
    const far = ({ x, y }) => (here ? towards({ x: x - from.x, y: y - from.y }, way) : Math.hypot(x - from.x, y - from.y));
    const next = places.filter(({ id }) => id !== here?.id).map((place) => ({ ...place, far: far(place) })).sort((a, b) => a.far - b.far)[0];
    if (next && next.far < Infinity) this.goTo(next.id);
  },
  // One after another, in the order in which they lie on the paper.
  turnTo(step) {
    const all = [...this.svg.querySelectorAll("g[data-part]")].map((g) => g.dataset.part);
    const now = all.indexOf(this.at);
    this.goTo(all.at((now < 0 && step < 0 ? 0 : now) + step) ?? all[0]);
  },
  goTo(id) {
    if (!id) return;
    this.shapeOf(id).focus({ preventScroll: true });
    if (!this.isInView([id])) this.fitAll();
    this.said = this.told(id);
  },
  chooseNamed(event) {
    const { lies: part } = event.target.dataset;
    this.choose([part], false);
    this.goTo(part);
  },
  told(id) {
    return this.shapeOf(id)?.getAttribute("aria-label") ?? "";
  },
  lookUnder(target) {
    const outlet = target.closest(".outlet");
    const id = target.closest("g[data-part]")?.dataset.part;
    this.under = outlet ? outlet.querySelector("title").textContent : id ? this.told(id) : "";
  },
  // The next outlet of the zone that one is at, from the one nearest to there.
  lookAtOutlet(step) {
    const all = [...this.svg.querySelectorAll(".outlet[data-node]")];
    if (all.length === 0) return;
    const now = all.findIndex((circle) => circle.dataset.node === this.looked);
    const next = now < 0 ? this.nearestOutlet(all) : all.at((now + step) % all.length);
    this.svg.querySelector(".is-looked")?.classList.remove("is-looked");
    next.classList.add("is-looked");
    return this.askOutlet(next);
  },
  nearestOutlet(all) {
    const entry = this.parts[this.at];
    if (!entry) return all[0];
    const { x, y } = north(parts.middleOf(entry));
    const far = (circle) => Math.hypot(circle.cx.baseVal.value - x, circle.cy.baseVal.value - y);
    return all.reduce((best, circle) => (far(circle) < far(best) ? circle : best));
  },
  pan([x, y]) {
    const { width, height } = this.view;
    this.show(views.panned(this.view, -x * width * PAN, y * height * PAN));
  },
  openTools(group) {
    this.toolsOpen = this.toolsOpen === group ? "" : group;
  },
  // Within a bar of tools the arrows go from one to the next.
  barKey(event) {
    const way = { ArrowRight: 1, ArrowDown: 1, ArrowLeft: -1, ArrowUp: -1 }[event.key];
    const isList = event.target.matches("select") && ["ArrowUp", "ArrowDown"].includes(event.key);
    if (!way || isList) return;
    event.preventDefault();
    event.stopPropagation();
    const all = [...event.currentTarget.querySelectorAll("button, select")].filter((tool) => !tool.disabled && tool.offsetParent);
    all.at((all.indexOf(event.target) + way) % all.length).focus();
  },
};
