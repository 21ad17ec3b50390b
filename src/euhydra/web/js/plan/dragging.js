// Dragging what is chosen, and what every outlet would get meanwhile.

import * as parts from "./parts.js";
import * as server from "./server.js";
import { nearestEnd, onGrid } from "./snap.js";
import { untracked } from "./paper.js";

/** Methods of the plan about dragging. */
export const dragging = {
  dragTo(to) {
    const { dx, dy } = this.shift(this.drag, to);
    for (const id of parts.withCompanions(this.parts, this.chosen)) this.shapeOf(id)?.setAttribute("transform", `translate(${dx} ${-dy})`);
    this.drag.dx = dx;
    this.drag.dy = dy;
    this.lookAhead(() => parts.allMoved(this.parts, this.chosen, dx, dy));
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
  },
  // Asks what every outlet would get while something is dragged, one question at a time.
  async lookAhead(puts) {
    if (this.isAsking) {
      this.waiting = puts;
      return;
    }
    this.isAsking = true;
    const answer = await server.attempt(this.$root.dataset.try, { puts: puts() });
    this.isAsking = false;
    if (answer.ok && this.drag) this.recolour(answer.outlets);
    const next = this.waiting;
    this.waiting = null;
    if (next && this.drag) this.lookAhead(next);
  },
  recolour(outlets) {
    const circles = this.circles();
    for (const [node, due, r, x, y] of outlets) {
      const circle = circles.get(node);
      if (!circle) continue;
      for (const [name, value] of [["class", `outlet ${due}`], ["r", r], ["cx", x], ["cy", y]]) {
        if (circle.getAttribute(name) !== String(value)) circle.setAttribute(name, value);
      }
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
