// Corners of the one part that is chosen: dragged, moved by key, added, taken out.

import * as parts from "./parts.js";
import { nearestEnd, onGrid } from "./snap.js";
import { SVG, north } from "./paper.js";

const BESIDE = 2.5; // times what a pointer reaches: the handle that turns never lies over what it turns

/** Methods of the plan about corners. */
export const grips = {
  // Corners of the one part that is chosen, each to be dragged or moved by key.
  showGrips() {
    this.svg.querySelector(".grips")?.remove();
    this.grips = this.gripsNow();
    if (this.grips.length === 0 || this.grips.length > 200) return;
    const g = document.createElementNS(SVG, "g");
    g.setAttribute("class", "grips");
    this.grips.forEach(({ x, y, kind, at }, i) => {
      const circle = document.createElementNS(SVG, "circle");
      const words = { corner: `Corner ${at + 1}`, middle: `New corner after ${at + 1}`, size: "Far corner", turn: "Turn it: arrows by 5°, with Shift by 1°" }[kind];
      for (const [name, value] of Object.entries({ class: `grip ${kind}`, cx: x, cy: -y, "data-grip": i, tabindex: 0, role: "button", "aria-label": words })) circle.setAttribute(name, value);
      g.append(circle);
    });
    this.svg.append(g);
  },
  gripsNow() {
    return this.chosen.length === 1 ? parts.gripsOf(this.parts[this.chosen[0]], this.reach * BESIDE) : [];
  },
  // Beside what is chosen, at whatever scale it is shown.
  placeGrips() {
    if (this.drag || this.grips.length === 0) return;
    this.grips = this.gripsNow();
    const circles = this.svg.querySelectorAll(".grip");
    this.grips.forEach(({ x, y }, i) => {
      circles[i]?.setAttribute("cx", x);
      circles[i]?.setAttribute("cy", -y);
    });
  },
  gripTo(paper) {
    const goal = north(paper);
    const id = this.chosen[0];
    const isFree = !this.isSnapping || this.drag.grip.kind === "turn";
    const to = isFree ? goal : (nearestEnd(goal, this.endsButOf(new Set([id])), this.reach) ?? onGrid(goal, this.grid / 5));
    this.drag.to = to;
    const circle = this.svg.querySelectorAll(".grip")[this.grips.indexOf(this.drag.grip)];
    circle?.setAttribute("cx", to.x);
    circle?.setAttribute("cy", -to.y);
    const { grip } = this.drag;
    this.lookAhead(() => this.gripped(grip, to));
  },
  letGrip({ grip, to }) {
    if (!to) return;
    return this.save(this.gripped(grip, to), [], `${this.named()}: ${grip.kind === "turn" ? "turned" : "reshaped"}`);
  },
  // What is chosen with one of its grips somewhere else; what is turned takes its lines along.
  gripped(grip, to) {
    const now = this.parts[this.chosen[0]];
    const then = parts.gripped(now, grip, to);
    return grip.kind === "turn" ? this.turnedBy(then.part.turned_deg - (now.part.turned_deg ?? 0)) : [then];
  },
  turnedBy(degrees) {
    return parts.allTurned(this.parts, this.chosen, degrees, parts.middleOf(this.parts[this.chosen[0]]));
  },
  // A focused corner is moved by the arrows and taken out by Delete.
  gripKey(event) {
    const number = event.target.closest?.(".grip")?.dataset.grip;
    if (number === undefined) return false;
    const grip = this.grips[number];
    const way = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, 1], ArrowDown: [0, -1] }[event.key];
    const id = this.chosen[0];
    if (way && grip.kind === "turn") {
      const by = (event.shiftKey ? 1 : 5) * -(way[0] || -way[1]);
      this.change(() => this.send(this.turnedBy(by), [], `${this.named()}: turned`)).then(() => this.focusGrip(number));
      return true;
    }
    if (way) {
      const step = event.shiftKey ? 0.01 : this.grid / 5;
      this.change(() => {
        const now = this.grips[number]; // as the change before left it
        const to = { x: now.x + way[0] * step, y: now.y + way[1] * step };
        return this.send([parts.gripped(this.parts[id], now, to)], [], `${this.named()}: reshaped`);
      }).then(() => this.focusGrip(number));
      return true;
    }
    if ((event.key === "Delete" || event.key === "Backspace") && grip.kind === "corner") {
      this.save([parts.withoutCorner(this.parts[id], grip.at)], [], `${this.named()}: reshaped`);
      return true;
    }
    return false;
  },
  focusGrip(number) {
    this.svg.querySelectorAll(".grip")[number]?.focus({ preventScroll: true });
  },
};
