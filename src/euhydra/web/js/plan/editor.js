// The plan on the page: pointer, touch and keys become changes of the garden's parts. It paints
// nothing by itself but what is being dragged or drawn; the server paints the plan.

import { choosing } from "./choosing.js";
import { dragging } from "./dragging.js";
import { drawing } from "./drawing.js";
import { grips } from "./grips.js";
import { keeping } from "./keeping.js";
import { lettersWanted } from "./keys.js";
import { composed, untracked } from "./paper.js";
import { pointing } from "./pointing.js";
import { viewing } from "./viewing.js";
import { walking } from "./walking.js";

/** Alpine component of the plan. Its data stand in the script beside the drawing. */
export function plan() {
  return composed(state(), viewing, pointing, walking, choosing, grips, dragging, drawing, keeping);
}

function state() {
  return {
    parts: {},
    tools: [],
    revision: 0,
    chosen: [],
    grips: [],
    tool: null,
    view: null,
    drag: null,
    press: null,
    pinch: null,
    pointers: new Map(),
    isSnapping: true,
    layers: {},
    said: "",
    under: "",
    looked: "", // the outlet that is looked at
    fault: "",
    toolsOpen: "",
    hasLetters: true,
    canUndo: false,
    canRedo: false,
    isBusy: false,

    init() {
      const data = JSON.parse(this.$root.querySelector("script[type='application/json']").textContent);
      Object.assign(this, { parts: untracked(data.parts), revision: data.revision, canUndo: data.canUndo, canRedo: data.canRedo });
      this.box = data.box;
      this.tools = data.tools;
      this.grid = data.step;
      this.unit = data.unit;
      this.svg = this.$refs.paper;
      this.frame = this.svg.parentElement;
      this.fitAll();
      new ResizeObserver(() => this.fitAll()).observe(this.frame);
      this.hasLetters = lettersWanted();
      for (const kind of ["touchstart", "touchmove"]) this.svg.addEventListener(kind, (event) => this.holdTouch(event), { passive: false });
      this.svg.addEventListener("wheel", (event) => this.wheel(event), { passive: false });
      const at = new URLSearchParams(location.search).get("at");
      if (at in this.parts) {
        this.chosen = [at]; // its form came with the page
        this.markChosen();
      }
    },

    get drawsWith() {
      return this.tool === null ? "" : this.tool.record.kind;
    },
    get isDrawing() {
      return this.tool !== null;
    },
    get isQuiet() {
      return this.said === "";
    },
    get isSheet() {
      return this.chosen.length > 0 || this.looked !== "";
    },
    get isOne() {
      return this.chosen.length === 1;
    },
    get hasNone() {
      return this.chosen.length === 0;
    },
    get isOneOrNone() {
      return this.chosen.length < 2;
    },
    get noUndo() {
      return !this.canUndo;
    },
    get noRedo() {
      return !this.canRedo;
    },
  };
}
