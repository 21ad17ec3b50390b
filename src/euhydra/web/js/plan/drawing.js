// Drawing something new on the plan, place by place.

import { beside } from "./choosing.js";
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
    this.said = this.tool.record.hint;
    beside().replaceChildren();
    this.svg.focus({ preventScroll: true });
  },
  snapped(paper) {
    const goal = north(paper);
    if (!this.isSnapping) return goal;
    const end = nearestEnd(goal, [...this.tool.places, ...this.endsButOf(new Set())], this.reach);
    return end ? { ...end } : onGrid(goal, this.grid / 5);
  },
  put(paper) {
    const place = this.placeOf(paper);
    this.tool = tools.placed(this.tool, place, this.reach / 2);
    this.sketch();
    if (this.tool.isDone) return this.finish();
  },
  // What has two corners may be drawn in one go: press, drag, let go.
  wantsRelease() {
    return this.tool.record.most === 2 && this.tool.places.length === 1;
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
  hover(paper) {
    this.cursor = paper;
    this.sketch(this.snapped(paper));
  },
  nudgeCursor(x, y, isFine) {
    const { view } = this;
    const step = isFine ? 0.01 : this.grid / 5;
    const now = this.cursor ?? { x: view.x + view.width / 2, y: view.y + view.height / 2 };
    this.cursor = { x: now.x + x * step, y: now.y - y * step };
    this.sketch(north(this.cursor));
  },
  sketch(next) {
    const places = next ? [...this.tool.places, next] : this.tool.places;
    let line = this.svg.querySelector(".sketch");
    if (!line) {
      line = document.createElementNS(SVG, "path");
      line.setAttribute("class", "sketch");
      this.svg.append(line);
    }
    const { makes, hint } = this.tool.record;
    const isBox = makes === "rectangle";
    const shown = isBox && places.length === 2 ? corners(places) : places;
    line.setAttribute("d", shown.map(({ x, y }, i) => `${i ? "L" : "M"}${x},${-y}`).join("") + (shown.length === 1 ? "h0.001" : ""));
    if (places.length > 1) this.said = `${this.metres(lengthOf(isBox ? places : shown))}${isBox ? " from corner to corner" : ""}. ${hint}`;
  },
  finish() {
    if (!this.tool) return;
    if (this.cursor && !this.tool.isDone && !tools.isEnough(this.tool)) {
      const place = this.cursor;
      this.tool = tools.placed(this.tool, north(place), 0);
      this.sketch();
      if (!this.tool.isDone) return;
    }
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
    this.svg.querySelector(".sketch")?.remove();
    this.choose([], false);
  },
};
