// Mouse, pen and fingers on the plan. One finger draws, chooses, or drags what is chosen; on anything else it
// scrolls the page, as everywhere. Two fingers move and zoom the paper.

import * as views from "./view.js";

const DRAG_PX = 4;
const SIGN_PX = 10; // from the middle of a grip to its edge, with a little more

function isFar(a, b) {
  return Math.hypot(b.clientX - a.clientX, b.clientY - a.clientY) >= DRAG_PX;
}

/** Methods of the plan about what is under a pointer. */
export const pointing = {
  // Two fingers are the plan's, and one on what is chosen; any other scrolls the page, as everywhere.
  holdTouch(event) {
    const [first] = event.touches;
    const isHeld = event.touches.length > 1 || this.tool || this.drag?.grip || this.drag?.id || event.target.closest(".grip");
    if (isHeld || this.chosenUnder(first)) event.preventDefault();
  },
  down(event) {
    if (event.button > 1) return;
    this.pointers.set(event.pointerId, event);
    if (this.pointers.size === 2) return this.beginPinch();
    if (this.pointers.size > 2) return;
    this.svg.setPointerCapture(event.pointerId);
    const from = this.paperAt(event);
    if (this.tool) {
      this.press = { event, from };
      return;
    }
    const grip = event.target.closest(".grip");
    if (grip && !this.isOnBody(event, grip)) {
      this.drag = { from, event, grip: this.grips[grip.dataset.grip], view: this.view, isMoving: false };
      return;
    }
    const top = event.target.closest("g[data-part]")?.dataset.part;
    const outlet = event.target.closest(".outlet");
    const id = this.chosenUnder(event); // only what is chosen is dragged, by whatever lies on it
    this.drag = { from, event, id, top, outlet, isBand: !top && !outlet && event.shiftKey, view: this.view, isMoving: false };
  },
  move(event) {
    if (this.pointers.has(event.pointerId)) this.pointers.set(event.pointerId, event);
    if (this.pinch) return this.pinchTo();
    if (this.tool) return this.hover(this.paperAt(event), this.press && isFar(this.press.event, event) ? this.press.from : null);
    const drag = this.drag;
    if (!drag) return this.lookUnder(event.target);
    if (!drag.isMoving && !isFar(drag.event, event)) return;
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
    if (this.tool && press) return this.drawn(press, event);
    if (!drag) return;
    if (drag.grip) return drag.isMoving ? this.letGrip(drag) : undefined;
    if (drag.isBand && drag.isMoving) return this.letBand(drag);
    if (drag.isMoving && drag.id) return this.drop(drag);
    if (drag.isMoving) return;
    if (drag.outlet) return this.askOutlet(drag.outlet);
    if (drag.top) this.choose([drag.top], event.shiftKey);
    else if (!event.shiftKey) this.choose([], false);
  },
  // A tap chooses before the browser looks what to give the focus to: that is not the handle which has come under it.
  keepFocus(event) {
    if (!event.target.closest(".grip") || this.drag?.grip) return;
    event.preventDefault();
    this.svg.focus({ preventScroll: true });
  },
  // A place is put when the finger or button is let go, so that a second finger may still make it a pinch; a press
  // that is drawn out puts both its ends.
  drawn(press, event) {
    if (isFar(press.event, event) && this.tool.record.most !== 1) {
      this.put(press.from);
      if (!this.tool) return;
    }
    this.put(this.paperAt(event));
  },
  away() {
    this.under = "";
  },
  // Round a grip a finger has 44 px; as far as they lie over what is chosen, and off the sign, that is dragged.
  isOnBody(event, grip) {
    const { left, top, width, height } = grip.getBoundingClientRect();
    const away = Math.hypot(event.clientX - left - width / 2, event.clientY - top - height / 2);
    return away > SIGN_PX && this.chosenUnder(event) !== undefined;
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
