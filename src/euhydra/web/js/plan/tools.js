// Tools that draw on the plan: each collects places until it is done. No DOM.
//
//   tool      places            done by
//   bed       two corners       the second
//   corners   three or more     Enter, or a place at the first
//   path      three or more     Enter, or a place at the first
//   terrace   three or more     Enter, or a place at the first
//   pipe      two or more       Enter, or the last place again
//   pots      one               the first
//   spot      one               the first
//   piece     one, on a pipe      the first
//   measure   two or more       Enter (and then nothing is made)

const CLOSED = new Set(["corners", "path", "terrace"]);
const COUNT = { bed: 2, pots: 1, spot: 1, piece: 1 };

/** What each tool asks for, in words. */
export const HINTS = {
  bed: "Two opposite corners of the bed.",
  corners: "The bed's corners in order; Enter or the first corner again ends it.",
  path: "The path's corners in order; Enter or the first corner again ends it.",
  terrace: "The terrace's corners in order; Enter or the first corner again ends it.",
  pipe: "From where water comes, bend by bend; Enter or the last place again ends it.",
  pots: "Where the first pot stands.",
  spot: "The place whose height you know.",
  piece: "The place on a pipe where the piece goes.",
  measure: "From place to place; Enter begins anew.",
};

/** A tool with nothing drawn yet. */
export function begun(kind) {
  return { kind, places: [] };
}

/** The tool after one more place; `isDone` when that was the last. */
export function placed(tool, place, reach) {
  const { kind, places } = tool;
  const first = places[0];
  const last = places.at(-1);
  const isAt = (p) => p && Math.hypot(p.x - place.x, p.y - place.y) < reach;
  if (CLOSED.has(kind) && places.length >= 3 && isAt(first)) return { ...tool, isDone: true };
  if (kind === "pipe" && places.length >= 2 && isAt(last)) return { ...tool, isDone: true };
  if (isAt(last)) return tool;
  const next = { kind, places: [...places, place] };
  return { ...next, isDone: next.places.length === COUNT[kind] };
}

/** Whether what is drawn is enough to be kept. */
export function isEnough({ kind, places }) {
  return places.length >= (CLOSED.has(kind) ? 3 : (COUNT[kind] ?? 2));
}
