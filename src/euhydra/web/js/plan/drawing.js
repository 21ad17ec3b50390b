// Drawing something new on the plan, place by place.

import { SVG, north } from "./paper.js";
import * as parts from "./parts.js";
import { lengthOf, nearestEnd, onGrid } from "./snap.js";
import * as tools from "./tools.js";

const FAR = 4; // times the usual reach: a piece goes to the pipe that is nearest

function corners([a, b]) {
  return [a, { x: b.x, y: a.y }, b, { x: a.x, y: b.y }, a];
}

/** Methods of the plan about tools that draw. */
export const drawing = {
  take(kind) {
    this.choose([], false);
    this.tool = tools.begun(this.toolNamed(kind));
    this.isByKeys = false;
    this.toolsOpen = "";
    this.svg.classList.add("is-drawing");
    this.said = this.tool.record.hint;
    this.clearBeside();
    this.svg.focus({ preventScroll: true });
  },
  // Who takes it by key sees the cursor at once, in the middle of the paper.
  takeByKey(kind) {
    this.take(kind);
    this.cursor = null;
    this.nudgeCursor([0, 0], false);
    this.said = `${this.tool.record.hint} ${this.said}`;
  },
  snapped(paper) {
    const goal = north(paper);
    if (!this.isSnapping) return goal;
    const end = nearestEnd(goal, [...this.tool.places, ...this.endsButOf(new Set())], this.reach);
    return end ? { ...end } : onGrid(goal, this.grid / 5);
  },
  put(paper) {
    this.putAt(this.placeOf(paper));
  },
  putAt(place) {
    this.tool = tools.placed(this.tool, place, this.reach / 2);
    this.sketch();
    if (this.tool.isDone) return this.finish();
  },
  // The place before is taken back.
  takeBack() {
    this.tool = { ...this.tool, places: this.tool.places.slice(0, -1), isDone: false };
    this.sketch();
    this.said = `${this.tool.places.length} places. ${this.tool.record.hint}`;
  },
  toolNamed(kind) {
    return this.tools.find((tool) => tool.kind === kind);
  },
  // Where a click counts: a piece goes just there, a pipe begins on another, all else snaps.
  placeOf(paper) {
    const { kind, makes } = this.tool.record;
    if (kind === "piece") return north(paper);
    return (makes === "path" ? this.onPipe(north(paper)) : null) ?? this.snapped(paper);
  },
  // A place on a pipe that is there, where a new one may branch off.
  onPipe(goal) {
    if (this.tool.places.length > 0) return null;
    const at = this.joint(goal);
    return at ? { x: at.x, y: at.y } : null;
  },
  joint(goal) {
    return parts.jointAt(this.parts, goal, this.reach);
  },
  hover(paper, from) {
    this.cursor = paper;
    this.isByKeys = false;
    this.sketch(this.snapped(paper), from ? this.placeOf(from) : null);
  },
  // The cursor of who draws by keys: it stands on the grid, and the paper comes along.
  nudgeCursor([x, y], isFine) {
    const { view } = this;
    const step = isFine ? 0.01 : this.grid / 5;
    const middle = onGrid({ x: view.x + view.width / 2, y: view.y + view.height / 2 }, this.grid / 5);
    const now = this.isByKeys ? this.cursor : (this.cursor && onGrid(this.cursor, this.grid / 5)) ?? middle;
    this.isByKeys = true;
    this.cursor = { x: now.x + x * step, y: now.y - y * step };
    this.keepInView(this.cursor);
    this.sketch(north(this.cursor));
    this.said = `${this.metres(this.cursor.x)}, ${this.metres(-this.cursor.y)}${this.drawnLength(north(this.cursor))}`;
  },
  drawnLength(next) {
    const last = this.tool.places.at(-1);
    return last ? `: ${this.metres(Math.hypot(next.x - last.x, next.y - last.y))} from the place before` : "";
  },
  keepInView({ x, y }) {
    const { view } = this;
    const isIn = x > view.x && x < view.x + view.width && y > view.y && y < view.y + view.height;
    if (!isIn) this.show({ ...view, x: x - view.width / 2, y: y - view.height / 2 });
  },
  // Enter or Space puts a place where the cursor stands; where one stands already, it ends the drawing.
  pressPlace() {
    if (!this.isByKeys) return this.finish();
    const before = this.tool.places.length;
    const { record } = this.tool;
    this.putAt(before === 0 ? this.placeOf(this.cursor) : north(this.cursor)); // after the first just where it is said to be
    if (!this.tool) return;
    if (this.tool.places.length === before && before > 0) return this.finish();
    this.said = `Place ${this.tool.places.length} put. ${record.hint}`;
  },
  sketch(next, from = null) {
    const places = [...this.tool.places, ...(from ? [from] : []), ...(next ? [next] : [])];
    let line = this.svg.querySelector(".sketch");
    if (!line) {
      line = document.createElementNS(SVG, "path");
      line.setAttribute("class", "sketch");
      this.svg.append(line);
    }
    const { makes, hint } = this.tool.record;
    const isBox = makes === "rectangle";
    const shown = isBox && places.length === 2 ? corners(places) : places;
    const marks = places.map((place) => this.markAt(place)).join("");
    line.setAttribute("d", shown.map(({ x, y }, i) => `${i ? "L" : "M"}${x},${-y}`).join("") + marks);
    if (places.length > 1) this.said = `${this.metres(lengthOf(isBox ? places : shown))}${isBox ? " from corner to corner" : ""}. ${hint}`;
  },
  // A place, as a ring with a cross in it.
  markAt({ x, y }) {
    const r = this.reach / 2;
    return `M${x - r},${-y}a${r},${r} 0 1 0 ${2 * r},0a${r},${r} 0 1 0 ${-2 * r},0h${2 * r}M${x},${-y - r}v${2 * r}`;
  },
  finish() {
    if (!this.tool) return;
    const { record, places } = this.tool;
    if (record.kind === "piece") return this.setIn(places[0]);
    if (!record.makes) {
      this.said = `${this.metres(lengthOf(places))} from the first place to the last.`;
      this.tool = tools.begun(record);
      return;
    }
    if (!tools.isEnough(this.tool)) {
      this.said = record.hint;
      return;
    }
    const at = record.makes === "path" ? this.joint(places[0]) : null;
    const joints = at ? { begins_at: at.begins_at, begins_along_m: at.begins_along_m ?? null } : {};
    const fresh = parts.made(record, places, this.parts, joints);
    this.leave();
    return this.save([fresh], [], `${fresh.part.name}: drawn`, [fresh.part.id]);
  },
  // A piece belongs on a pipe, or at the source or piece that it follows.
  setIn(place) {
    const at = parts.jointAt(this.parts, place, this.reach, this.reach * FAR);
    const select = this.$refs.piece;
    this.leave();
    if (!at) {
      this.fault = "There is no pipe at that place: put the piece on one.";
      return;
    }
    const fresh = parts.madePiece(select.value, select.selectedOptions[0].dataset.noun, this.parts);
    if (this.parts[at.begins_at].collection !== "pipes") {
      fresh.part.begins_at = at.begins_at;
      fresh.part.at = { x_m: at.x, y_m: at.y - 0.4 };
      return this.save([fresh], [], `${fresh.part.name}: set down`, [fresh.part.id]);
    }
    const along = at.begins_along_m ?? lengthOf(parts.endsOf(this.parts[at.begins_at]));
    return this.save([], [], `${fresh.part.name}: set in`, [fresh.part.id], { ...fresh, pipe: at.begins_at, along_m: along });
  },
  leave() {
    this.tool = null;
    this.cursor = null;
    this.svg.classList.remove("is-drawing");
    this.svg.querySelector(".sketch")?.remove();
    this.choose([], false);
  },
};
