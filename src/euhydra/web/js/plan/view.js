// The view on the plan: which stretch of paper is shown. A value; metres, y downwards. No DOM.

/** Least and greatest width of paper that is shown. [m] */
export const LEAST = 0.5;
export const MOST = 500;

/** A view {x, y, width, height} that shows all of `box` in a frame of that shape. */
export function fit([x, y, width, height], frame) {
  const shape = frame.width / Math.max(frame.height, 1);
  const wide = Math.max(width, height * shape);
  const high = wide / shape;
  return { x: x - (wide - width) / 2, y: y - (high - height) / 2, width: wide, height: high };
}

/** The view moved by so many metres. */
export function panned(view, dx, dy) {
  return { ...view, x: view.x - dx, y: view.y - dy };
}

/** The view drawn nearer (factor under 1) or farther about a place that stays where it is. */
export function zoomed(view, factor, at) {
  const width = Math.min(Math.max(view.width * factor, LEAST), MOST);
  const by = width / view.width;
  return {
    x: at.x - (at.x - view.x) * by,
    y: at.y - (at.y - view.y) * by,
    width,
    height: view.height * by,
  };
}

/** Where on the paper a pointer is, from its place in the frame. */
export function toPaper(view, frame, clientX, clientY) {
  return {
    x: view.x + ((clientX - frame.left) / frame.width) * view.width,
    y: view.y + ((clientY - frame.top) / frame.height) * view.height,
  };
}

/** How a drawing of `shown` has to be moved and scaled to stand for `view`, in a frame so wide. [px] */
export function standIn(shown, view, frameWidth) {
  const px = frameWidth / view.width;
  return { x: (shown.x - view.x) * px, y: (shown.y - view.y) * px, scale: shown.width / view.width };
}

/** As the attribute of an <svg>. */
export function viewBox({ x, y, width, height }) {
  return [x, y, width, height].map((v) => v.toFixed(4)).join(" ");
}
