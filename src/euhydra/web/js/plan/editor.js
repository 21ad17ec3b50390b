// The plan on the page: pointer, touch and keys become changes of the garden's parts. It paints
// nothing by itself but what is being dragged or drawn; the server paints the plan.

import { choosing } from "./choosing.js";
import { dragging } from "./dragging.js";
import { drawing } from "./drawing.js";
import { grips } from "./grips.js";
import { keeping } from "./keeping.js";
import { composed, untracked } from "./paper.js";
import { viewing } from "./viewing.js";
import * as views from "./view.js";

const DRAG_PX = 4;

/** Alpine component of the plan. Its data stand in the script beside the drawing. */
export function plan() {
  return composed(state(), viewing, pointer, choosing, grips, dragging, drawing, keeping);
}

function state() {
  return {
    parts: {},
    tools: [],
    revision: 0,
    chosen: [],
    tool: null,
    view: null,
    drag: null,
    press: null,
    pinch: null,
    pointers: new Map(),
    isSnapping: true,
    layers: {},
    said: "",
    fault: "",
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

function isFar(a, b) {
  return Math.hypot(b.clientX - a.clientX, b.clientY - a.clientY) >= DRAG_PX;
}

// One finger draws, chooses or drags; two move the paper.
const pointer = {
  down(event) {
    if (event.button > 1) return;
    this.pointers.set(event.pointerId, event);
    if (this.pointers.size === 2) return this.beginPinch();
    this.svg.setPointerCapture(event.pointerId);
    const from = this.paperAt(event);
    if (this.tool) {
      this.press = event;
      return this.put(from);
    }
    const grip = event.target.closest(".grip");
    if (grip) {
      this.drag = { from, event, grip: this.grips[grip.dataset.grip], view: this.view, isMoving: false };
      return;
    }
    const top = event.target.closest("g[data-part]")?.dataset.part;
    const outlet = event.target.closest(".outlet");
    const held = this.chosenUnder(event); // what is chosen is dragged by whatever lies on it
    const isBand = !top && !outlet && event.shiftKey;
    this.drag = { from, event, id: held ?? top, top, outlet, isBand, view: this.view, isMoving: false };
    if (top && !held) this.drag.pick = top;
  },
  move(event) {
    if (this.pointers.has(event.pointerId)) this.pointers.set(event.pointerId, event);
    if (this.pinch) return this.pinchTo();
    if (this.tool) return this.hover(this.paperAt(event));
    const drag = this.drag;
    if (!drag) return;
    if (!drag.isMoving && !isFar(drag.event, event)) return;
    if (!drag.isMoving && drag.pick) this.choose([drag.pick], event.shiftKey);
    drag.isMoving = true;
    if (drag.grip) return this.gripTo(this.paperAt(event));
    if (drag.isBand) return this.bandTo(drag, this.paperAt(event));
    if (drag.id) return this.dragTo(this.paperAt(event));
    const metre = drag.view.width / this.frame.clientWidth;
    this.show(views.panned(drag.view, (event.clientX - drag.event.clientX) * metre, (event.clientY - drag.event.clientY) * metre));
  },
  up(event) {
    this.pointers.delete(event.pointerId);
    if (this.pinch) {
      this.pinch = null;
      this.drag = null;
      return;
    }
    const { drag, press } = this;
    this.drag = this.press = null;
    if (this.tool && press && this.wantsRelease() && isFar(press, event)) return this.put(this.paperAt(event));
    if (!drag) return;
    if (drag.grip) return drag.isMoving ? this.letGrip(drag) : undefined;
    if (drag.isBand && drag.isMoving) return this.letBand(drag);
    if (drag.isMoving && drag.id) return this.drop(drag);
    if (drag.isMoving) return;
    if (drag.outlet) return this.askOutlet(drag.outlet);
    if (drag.top) this.choose([drag.top], event.shiftKey);
    else if (!event.shiftKey) this.choose([], false);
  },
  chosenUnder({ clientX, clientY }) {
    const parts = document.elementsFromPoint(clientX, clientY).map((e) => e.closest("g[data-part]")?.dataset.part);
    return parts.find((id) => this.chosen.includes(id));
  },
  cancelPointer(event) {
    this.pointers.delete(event.pointerId);
    this.drag = this.press = this.pinch = null;
    this.putBack();
  },
};
