// Snapping to ends and to the grid. Places are {x, y} in metres, y to the north. No DOM.

/** The nearest of `ends` within `reach`, or null. */
export function nearestEnd(place, ends, reach) {
  let best = null;
  let least = reach;
  for (const end of ends) {
    const away = Math.hypot(end.x - place.x, end.y - place.y);
    if (away <= least) {
      least = away;
      best = end;
    }
  }
  return best;
}

/** The place on a grid of that step; as it is if there is none. */
export function onGrid(place, step) {
  if (!step) return { ...place };
  return { x: tidy(Math.round(place.x / step) * step), y: tidy(Math.round(place.y / step) * step) };
}

/** Where on a polyline a place is nearest: how far along, and how far away. */
export function alongPath(place, path) {
  let best = { along: 0, away: Infinity, x: path[0].x, y: path[0].y };
  let before = 0;
  for (let i = 1; i < path.length; i++) {
    const a = path[i - 1];
    const b = path[i];
    const length = Math.hypot(b.x - a.x, b.y - a.y);
    const share =
      length === 0
        ? 0
        : Math.min(1, Math.max(0, ((place.x - a.x) * (b.x - a.x) + (place.y - a.y) * (b.y - a.y)) / length ** 2));
    const x = a.x + share * (b.x - a.x);
    const y = a.y + share * (b.y - a.y);
    const away = Math.hypot(place.x - x, place.y - y);
    if (away < best.away) best = { along: before + share * length, away, x, y };
    before += length;
  }
  return best;
}

/** Length of a polyline. [m] */
export function lengthOf(path) {
  let length = 0;
  for (let i = 1; i < path.length; i++) length += Math.hypot(path[i].x - path[i - 1].x, path[i].y - path[i - 1].y);
  return length;
}

// Keeps 0.30000000000000004 out of saved drawings.
export function tidy(metres) {
  return Math.round(metres * 10000) / 10000;
}
