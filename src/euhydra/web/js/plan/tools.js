// Tools that draw on the plan: each collects places until it is done. No DOM.
//
// A tool in use is {record, places}; `record` is a tool as the server gives it (see plan_tools.py):
// how many places it takes, whether the first or the last of them again ends it, what it makes.

/** A tool with nothing drawn yet. */
export function begun(record) {
  return { record, places: [] };
}

/** The tool after one more place; `isDone` when that was the last. */
export function placed(inUse, place, reach) {
  const { record, places } = inUse;
  const first = places[0];
  const last = places.at(-1);
  const isAt = (p) => p && Math.hypot(p.x - place.x, p.y - place.y) < reach;
  if (record.outlines && places.length >= record.least && isAt(first)) return { ...inUse, isDone: true };
  if (record.makes === "path" && places.length >= record.least && isAt(last)) return { ...inUse, isDone: true };
  if (isAt(last)) return inUse;
  const next = { record, places: [...places, place] };
  return { ...next, isDone: next.places.length === record.most };
}

/** Whether what is drawn is enough to be kept. */
export function isEnough({ record, places }) {
  return places.length >= record.least;
}
