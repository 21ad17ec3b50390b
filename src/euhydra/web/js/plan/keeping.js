// Changes of the plan, by key or button, and how they are kept.

import { commandOf, keysOf, wantLetters } from "./keys.js";
import { untracked } from "./paper.js";
import * as parts from "./parts.js";
import * as server from "./server.js";

const GATHER = 250; // ms without a press after which what arrows moved is saved, as one change

const ON_CHOSEN = ["arrow", "remove", "copy", "turn"]; // what is done with it

/** Methods of the plan about commands and saving. */
export const keeping = {
  key(event) {
    if (event.target.closest("input, select, textarea") || !this.isOnPlan(event.target)) return;
    const isPress = event.key === "Enter" || event.key === " ";
    if (isPress && event.target.closest("button, a, summary")) return; // theirs to press
    if (this.gripKey(event)) return event.preventDefault();
    const found = commandOf(event, this.tools, this.hasLetters);
    if (!found) return;
    event.preventDefault();
    if (ON_CHOSEN.includes(found.command)) this.chooseFocused(event.target);
    if (found.command === "arrow") return this.arrow(found.argument, event.shiftKey);
    if (found.command === "press") return this.pressKey(event);
    if (found.command === "tool") return this.takeByKey(found.argument);
    return this[found.command](found.argument);
  },
  // Where something is chosen and the walk has gone on to another part, that is what is meant.
  chooseFocused(target) {
    const id = target.closest("g[data-part]")?.dataset.part;
    if (id && !this.tool && this.chosen.length > 0 && !this.chosen.includes(id)) this.choose([id], false);
  },
  // Keys are the plan's while it or its tools have the focus: nothing is deleted from a link or a form beside it.
  isOnPlan(target) {
    return this.svg.contains(target) || target.closest("[role=toolbar]") !== null;
  },
  arrow(way, isFine) {
    if (this.tool) return this.nudgeCursor(way, isFine);
    if (this.chosen.length > 0) return this.nudge(way, isFine);
    return isFine ? this.pan(way) : this.walk(way);
  },
  pressKey(event) {
    if (this.tool) return this.pressPlace();
    const id = event.target.closest("g[data-part]")?.dataset.part;
    if (id) this.choose([id], event.shiftKey);
  },
  setLetters(event) {
    this.hasLetters = event.target.checked;
    wantLetters(this.hasLetters);
  },
  get keys() {
    return keysOf(this.tools).filter(([, words]) => words).map(([key, words]) => ({ key: key.replace("ArrowLeft", "arrows").replace("Enter", "Enter, Space"), words }));
  },
  nudge([x, y], isFine) {
    const step = isFine ? 0.01 : this.grid / 5;
    if (this.nudged && this.nudged.ids.join() !== this.chosen.join()) this.settle();
    this.nudged ??= { ids: this.chosen, dx: 0, dy: 0, named: this.named() };
    this.nudged.dx += x * step;
    this.nudged.dy += y * step;
    const { ids, dx, dy } = this.nudged;
    this.showMoved(ids, dx, dy);
    clearTimeout(this.settling);
    this.settling = setTimeout(() => this.settle(), GATHER);
  },
  // Arrow presses are gathered and saved as one.
  settle() {
    clearTimeout(this.settling);
    if (!this.nudged) return;
    const { ids, dx, dy, named } = this.nudged;
    this.nudged = null;
    return this.inLine(() => this.send(parts.allMoved(this.parts, ids, dx, dy), [], `${named}: moved`));
  },
  // Changes wait for each other: each begins from what the one before left. The plan is busy until the last is kept.
  inLine(change) {
    this.isBusy = true;
    const line = (this.line ?? Promise.resolve()).then(change, change);
    const isDone = () => {
      if (this.line === line) this.isBusy = false;
    };
    this.line = line;
    line.then(isDone, isDone);
    return line;
  },
  change(how) {
    this.settle();
    return this.inLine(how);
  },
  turn(degrees) {
    if (this.chosen.length === 0) return;
    return this.change(() => this.send(this.turnedBy(degrees), [], `${this.named()}: turned`));
  },
  copy() {
    if (this.chosen.length === 0) return;
    return this.change(() => {
      const copies = parts.copiesBeside(this.parts, this.chosen);
      return this.send(copies, [], `${this.named()}: copied`, copies.map((copy) => copy.part.id));
    });
  },
  remove() {
    if (this.tool) return this.takeBack();
    if (this.chosen.length === 0) return;
    return this.change(() => this.send([], this.chosen, `${this.named()}: removed`, []));
  },
  alignBy(event) {
    const how = event.target.value;
    event.target.value = "";
    if (how === "" || this.chosen.length < 2) return;
    return this.change(() => this.send(parts.aligned(this.parts, this.chosen, how), [], `${this.named()}: aligned`));
  },
  toggleGrid() {
    this.isSnapping = !this.isSnapping;
  },
  toggleLayer(name) {
    this.layers = { ...this.layers, [name]: !this.layers[name] };
    for (const g of this.svg.querySelectorAll(`[data-layer="${name}"]`)) g.classList.toggle("is-hidden", Boolean(this.layers[name]));
  },
  step(way) {
    return this.change(async () => {
      const answer = await server.keep(`${this.$root.dataset.step}/${way}`, {});
      this.took(answer, this.chosen.filter((id) => id in (answer.parts ?? {})));
      if (answer.ok) this.said = `${way === "undo" ? "Taken back" : "Done again"}: ${answer.change} ${answer.told}`;
    });
  },
  named() {
    return this.chosen.length === 1 ? this.parts[this.chosen[0]].part.name : `${this.chosen.length} parts`;
  },

  save(...change) {
    return this.change(() => this.send(...change));
  },
  async send(puts, removes, change, choose = this.chosen, set_in = null) {
    const answer = await server.keep(this.$root.dataset.edit, { based_on: this.revision, change: change.slice(0, 120), puts, removes, set_in });
    this.took(answer, choose);
    if (answer.ok) this.said = `${change}${this.whereNow(puts, change.endsWith("moved") ? "to" : "at")}. ${answer.told}`;
  },
  // Where what was moved, turned or sized lies now, whatever pipes go with it.
  whereNow(puts, word) {
    const own = puts.filter(({ collection }) => collection !== "pipes" && collection !== "patches");
    if (own.length !== 1) return "";
    const { id, at, turned_deg: turned } = own[0].part;
    const place = at ? ` ${word} ${this.metres(at.x_m)}, ${this.metres(at.y_m)}` : "";
    return place + (turned ? `, turned by ${Math.round(turned)}°` : "") + this.measures(id);
  },
  took(answer, choose) {
    if (!answer.ok) {
      this.fault = answer.message;
      this.putBack();
      return;
    }
    this.fault = "";
    const hadFocus = this.svg.contains(document.activeElement);
    Object.assign(this, { parts: untracked(answer.parts), revision: answer.revision, canUndo: answer.canUndo, canRedo: answer.canRedo });
    this.$refs.drawing.innerHTML = answer.drawing;
    document.getElementById("verdict").innerHTML = answer.verdict;
    document.getElementById("next-step").innerHTML = answer.next;
    this.$refs.below.innerHTML = answer.below;
    this.askAgain(answer.wish);
    this.box = answer.box;
    for (const field of document.querySelectorAll("input[name=based_on]")) field.value = answer.revision;
    for (const name of Object.keys(this.layers)) if (this.layers[name]) this.hideAgain(name);
    this.choose(choose.filter((id) => id in this.parts), false);
    if (this.chosen.length > 0 && !this.isInView(this.chosen)) this.fitAll();
    if (hadFocus) (this.shapeOf(this.chosen[0] ?? "") ?? this.svg).focus({ preventScroll: true });
  },
  // What may be laid for which part, and from where, has changed with the drawing.
  askAgain(form) {
    const old = document.getElementById("for-me");
    const isOpen = old.open;
    old.outerHTML = form;
    document.getElementById("for-me").open = isOpen;
  },
  hideAgain(name) {
    for (const g of this.svg.querySelectorAll(`[data-layer="${name}"]`)) g.classList.add("is-hidden");
  },
};
