// The fall: lift the store, a terrace or a pump by mouse, finger or slider, and see the head move.

import { attempt, keep } from "./plan/server.js";

/** A height to whole steps. [m] */
function rounded(height, step) {
  return Math.round(Math.round(height / step) * step * 1e6) / 1e6;
}

/** Alpine component of the side drawing. Handles and parts stand in the script beside it. */
export function fall() {
  return {
    handles: [],
    parts: {},
    heights: [],
    metre: 1,
    step: { m: 0.01, sign: "cm" },
    grabbed: null,
    said: "",
    fault: "",
    isTried: false,
    init() {
      const data = JSON.parse(this.$root.querySelector("script[type='application/json']").textContent);
      Object.assign(this, { handles: data.handles, parts: data.parts, metre: data.metre, step: data.step });
      this.heights = this.handles.map((handle) => handle.value);
      const { paper } = this.$refs;
      paper.addEventListener("pointerdown", (event) => this.grab(event));
      paper.addEventListener("pointermove", (event) => this.drag(event));
      for (const name of ["pointerup", "pointercancel"]) paper.addEventListener(name, () => this.let());
    },
    grab(event) {
      const number = event.target.dataset.drag;
      if (number === undefined) return;
      this.$refs.paper.setPointerCapture(event.pointerId);
      this.grabbed = { number: Number(number), y: event.clientY, height: this.heights[number] };
    },
    drag(event) {
      if (!this.grabbed) return;
      const svg = this.$refs.paper.querySelector("svg");
      const scale = svg.viewBox.baseVal.width / svg.getBoundingClientRect().width;
      const { number, y, height } = this.grabbed;
      this.lift(number, height + ((y - event.clientY) * scale) / this.metre);
    },
    let() {
      this.grabbed = null;
    },
    slide(event) {
      this.lift(Number(event.target.dataset.handle), Number(event.target.value) * this.step.m);
    },
    lift(number, height) {
      const { least, most } = this.handles[number];
      this.heights[number] = Math.min(Math.max(rounded(height, this.step.m), least), most);
      this.last = number;
      this.isTried = this.handles.some((handle, i) => Math.abs(handle.value - this.heights[i]) > 0.001);
      this.ask();
    },
    lifted() {
      return this.handles.map(({ collection, part_id, field }, i) => ({
        collection,
        part: { ...this.parts[part_id], [field]: this.heights[i] },
      }));
    },
    again() {
      this.ask();
    },
    // One question at a time: the latest height is asked for when the last answer is there.
    async ask() {
      if (this.isAsking) {
        this.isBehind = true;
        return;
      }
      this.isAsking = true;
      const { url, zone } = this.$root.dataset;
      const answer = await attempt(url, { puts: this.lifted(), zone, node: this.$refs.to.value });
      this.isAsking = false;
      this.show(answer);
      if (this.isBehind) {
        this.isBehind = false;
        this.ask();
      }
    },
    show(answer) {
      this.fault = answer.ok ? "" : answer.message;
      if (!answer.ok) return;
      this.$refs.paper.innerHTML = answer.drawing;
      if (!this.grabbed) this.metre = answer.metre;
      const where = this.last === undefined ? "" : `${this.handles[this.last].label} ${Math.round(this.heights[this.last] / this.step.m)} ${this.step.sign}: `;
      this.said = `${where}${answer.flow} in all, evenness ${answer.even}`;
    },
    async keep() {
      const { save, revision } = this.$root.dataset;
      const answer = await keep(save, { based_on: Number(revision), change: "Heights: changed", puts: this.lifted() });
      if (answer.ok) location.reload();
      else this.fault = answer.message;
    },
    leave() {
      this.heights = this.handles.map((handle) => handle.value);
      this.isTried = false;
      this.ask();
    },
  };
}
