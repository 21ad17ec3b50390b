// The plan's view: panned, zoomed, pinched; drawn anew when it rests.

import { extentOf } from "./parts.js";
import * as views from "./view.js";

const REACH_PX = 12;
const REST_MS = 120;
const FAR = 1.6; // times the paper on which all is shown: from there on names have no room

/** Methods of the plan about what stretch of paper is shown. */
export const viewing = {
  // While the view travels, the drawing that is there is moved as a picture; it is drawn anew
  // when the view has come to rest.
  show(view) {
    this.view = view;
    const { x, y, scale } = views.standIn(this.shown, view, this.frame.clientWidth);
    this.svg.style.willChange = "transform";
    this.svg.style.transform = `translate(${x}px, ${y}px) scale(${scale})`;
    clearTimeout(this.resting);
    this.resting = setTimeout(() => this.rest(), REST_MS);
  },
  rest() {
    clearTimeout(this.resting);
    this.shown = this.view;
    this.svg.style.transform = "none";
    this.svg.style.willChange = "auto";
    this.svg.setAttribute("viewBox", views.viewBox(this.view));
    // Letters keep their size on the screen: a pixel in metres, for the style sheet.
    this.svg.style.setProperty("--px", this.view.width / Math.max(this.frame.clientWidth, 1));
    const whole = views.fit(this.box, this.frame.getBoundingClientRect());
    this.svg.classList.toggle("is-far", this.view.width > FAR * whole.width);
    this.placeGrips();
  },
  fitAll() {
    const frame = this.frame.getBoundingClientRect();
    if (frame.width === 0) return;
    this.view = views.fit(this.box, frame);
    this.rest();
  },
  // Whether the middle of some parts is on the paper that is shown.
  isInView(ids) {
    const { left, right, low, high } = extentOf(ids.map((id) => this.parts[id]));
    const [x, y] = [(left + right) / 2, -(low + high) / 2];
    const { view } = this;
    return x >= view.x && x <= view.x + view.width && y >= view.y && y <= view.y + view.height;
  },
  zoom(factor) {
    const { x, y, width, height } = this.view;
    this.show(views.zoomed(this.view, factor, { x: x + width / 2, y: y + height / 2 }));
  },
  // The wheel scrolls the page, unless the plan is held: by Ctrl, which a pinch on a pad is too, or by a press.
  wheel(event) {
    if (!event.ctrlKey && event.buttons === 0) return;
    event.preventDefault();
    this.show(views.zoomed(this.view, event.deltaY > 0 ? 1.12 : 0.89, this.paperAt(event)));
  },
  paperAt({ clientX, clientY }) {
    return views.toPaper(this.view, this.frame.getBoundingClientRect(), clientX, clientY);
  },
  get reach() {
    return (REACH_PX * this.view.width) / Math.max(this.frame.clientWidth, 1);
  },

  beginPinch() {
    this.drag = this.press = null;
    this.putBack();
    const [a, b] = [...this.pointers.values()];
    this.pinch = { view: this.view, far: Math.hypot(a.clientX - b.clientX, a.clientY - b.clientY), at: this.between(a, b) };
  },
  between(a, b) {
    return this.paperAt({ clientX: (a.clientX + b.clientX) / 2, clientY: (a.clientY + b.clientY) / 2 });
  },
  pinchTo() {
    const [a, b] = [...this.pointers.values()];
    if (!b) return;
    const far = Math.max(Math.hypot(a.clientX - b.clientX, a.clientY - b.clientY), 1);
    this.show(views.zoomed(this.pinch.view, this.pinch.far / far, this.pinch.at));
    const now = this.between(a, b);
    this.show(views.panned(this.view, now.x - this.pinch.at.x, now.y - this.pinch.at.y));
  },
};
