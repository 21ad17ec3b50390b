// Dragging what is chosen, and what every outlet would get meanwhile.

import * as parts from "./parts.js";
import * as server from "./server.js";
import { nearestEnd, onGrid } from "./snap.js";
import { untracked } from "./paper.js";

const STILL = { ids: new Set(), dx: 0, dy: 0 };
const SEEN = 0.002; // metres: answers are to the millimetre

/** Methods of the plan about dragging. */
export const dragging = {
  dragTo(to) {
    const { dx, dy } = this.shift(this.drag, to);
    const ids = this.showMoved(this.chosen, dx, dy);
    this.drag.dx = dx;
    this.drag.dy = dy;
    this.lookAhead(() => parts.allMoved(this.parts, this.chosen, dx, dy), { ids, dx, dy });
  },
  // Parts, what moves along with them, their outlets and grips shown so far from where they are drawn, and what feeds
  // them drawn out to there; the ids of all that moves.
  showMoved(chosen, dx, dy) {
    const ids = parts.withCompanions(this.parts, chosen);
    const own = [...ids].map((id) => CSS.escape(id)).flatMap((name) => [`[data-part="${name}"]`, `[data-moves-with="${name}"]`]);
    for (const g of this.svg.querySelectorAll([".grips", ...own].join())) g.setAttribute("transform", `translate(${dx} ${-dy})`);
    for (const { part } of parts.allMoved(this.parts, chosen, dx, dy)) if (!ids.has(part.id)) this.drawOut(part);
    return ids;
  },
  drawOut({ id, path }) {
    const line = this.shapeOf(id)?.querySelector("path");
    if (!line) return;
    line.dataset.drawn ??= line.getAttribute("d");
    line.setAttribute("d", path.map(({ x_m = 0, y_m = 0 }, i) => `${i ? "L" : "M"}${x_m},${-y_m}`).join(""));
  },
  shift({ from, id }, to) {
    const free = { x: to.x - from.x, y: -(to.y - from.y) };
    if (!this.isSnapping) return { dx: free.x, dy: free.y };
    const anchor = parts.endsOf(this.parts[id])[0];
    const goal = { x: anchor.x + free.x, y: anchor.y + free.y };
    const others = this.chosen.length > 20 ? [] : this.endsButOf(parts.withCompanions(this.parts, this.chosen));
    const snapped = nearestEnd(goal, others, this.reach) ?? onGrid(goal, this.grid / 5);
    return { dx: snapped.x - anchor.x, dy: snapped.y - anchor.y };
  },
  endsButOf(ids) {
    return Object.entries(this.parts).filter(([id]) => !ids.has(id)).flatMap(([, entry]) => parts.endsOf(entry));
  },
  drop({ dx = 0, dy = 0 }) {
    if (dx === 0 && dy === 0) return this.putBack();
    return this.change(() => this.send(parts.allMoved(this.parts, this.chosen, dx, dy), [], `${this.named()}: moved`));
  },
  putBack() {
    this.showGrips();
    for (const g of this.svg.querySelectorAll("[transform]")) g.removeAttribute("transform");
    for (const line of this.svg.querySelectorAll("[data-drawn]")) {
      line.setAttribute("d", line.dataset.drawn);
      delete line.dataset.drawn;
    }
  },
  // Asks what every outlet would get while something is dragged, one question at a time. What is shown moved as a whole
  // says how far: its outlets stand where they stood in it.
  async lookAhead(puts, moved = STILL) {
    if (this.isAsking) {
      this.waiting = [puts, moved];
      return;
    }
    this.isAsking = true;
    const answer = await server.attempt(this.$root.dataset.try, { puts: puts() });
    this.isAsking = false;
    if (answer.ok && this.drag) this.recolour(answer.outlets, moved);
    const next = this.waiting;
    this.waiting = null;
    if (next && this.drag) this.lookAhead(...next);
  },
  recolour(outlets, moved) {
    const circles = this.circles();
    for (const [node, due, x, y] of outlets) {
      const circle = circles.get(node);
      if (!circle) continue;
      const { dx, dy } = moved.ids.has(circle.parentNode.dataset.movesWith) ? moved : STILL;
      if (circle.getAttribute("class") !== `outlet ${due}`) circle.setAttribute("class", `outlet ${due}`);
      place(circle, "cx", x - dx);
      place(circle, "cy", y + dy);
    }
    this.painted = (this.painted ?? 0) + 1;
  },
  // Outlets by node, looked up once for each drawing.
  circles() {
    if (this.circlesOf !== this.revision) {
      this.circlesOf = this.revision;
      this.byNode = untracked(new Map([...this.svg.querySelectorAll(".outlet[data-node]")].map((c) => [c.dataset.node, c])));
    }
    return this.byNode;
  },
  shapeOf(id) {
    return this.svg.querySelector(`[data-part="${CSS.escape(id)}"]`);
  },
};

// Only what has moved is set: every set place is drawn anew.
function place(circle, name, value) {
  if (Math.abs(Number(circle.getAttribute(name)) - value) > SEEN) circle.setAttribute(name, value);
}
