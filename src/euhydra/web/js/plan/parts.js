// Parts of the garden as the drawing changes them: each function takes document parts and returns
// new ones. A part here is {collection, part}; places in it are {x_m, y_m}, y to the north. No DOM.

import { alongPath, lengthOf, tidy } from "./snap.js";

const LEAST_LENGTH = 0.2;
const LEAST_WIDTH = 0.1;

const CORNERED = { patches: "corners", beds: "corners", pipes: "path" };

const place = (p) => ({ x: p?.x_m ?? 0, y: p?.y_m ?? 0 });
const point = ({ x, y }) => ({ x_m: tidy(x), y_m: tidy(y) });

/** Places of a part that can be snapped to: its corners, ends or middle. */
export function endsOf({ collection, part }) {
  const corners = part[CORNERED[collection]];
  if (corners?.length) return corners.map(place);
  const at = place(part.at);
  if (collection === "beds" || collection === "roofs") {
    const width = part.length_m ?? 0;
    const depth = collection === "beds" && part.shape === "round" ? width : (part.width_m ?? 0);
    return [
      at,
      { x: at.x + width, y: at.y },
      { x: at.x + width, y: at.y + depth },
      { x: at.x, y: at.y + depth },
    ];
  }
  return [at];
}

const TURNED = ["pots", "wet_grounds"]; // that keep their measures and say how far they are turned
const PIECES = ["stores", "taps", "greywaters", "timers", "fittings", "pumps"];
const LEAST_REACH = 0.15; // metres: the sign of a piece is as large

/**
 * Where a pipe or a piece may join what is there: the nearest source or piece within `reach` that has room, else the
 * nearest pipe within `pipeReach`, and how far along it; its far end without a number. Where nothing has room, it
 * is the full piece, so that the refusal names it.
 */
export function jointAt(parts, goal, reach, pipeReach = reach) {
  const near = Object.entries(parts)
    .filter(([, { collection }]) => PIECES.includes(collection))
    .map(([id, { part, isFull }]) => ({ id, isFull, ...place(part.at) }))
    .map((piece) => ({ ...piece, away: Math.hypot(piece.x - goal.x, piece.y - goal.y) }))
    .filter(({ away }) => away <= Math.max(reach, LEAST_REACH))
    .sort((a, b) => a.away - b.away);
  const joined = ({ id, x, y }) => ({ x, y, begins_at: id });
  const free = near.find(({ isFull }) => !isFull);
  if (free) return joined(free);
  return pipeAt(parts, goal, reach, pipeReach) ?? (near.length > 0 ? joined(near[0]) : null);
}

function pipeAt(parts, goal, reach, pipeReach) {
  let best = null;
  for (const [id, entry] of Object.entries(parts)) {
    if (entry.collection !== "pipes") continue;
    const path = endsOf(entry);
    const found = alongPath(goal, path);
    if (found.away > pipeReach || (best && found.away >= best.away)) continue;
    const isEnd = lengthOf(path) - found.along < reach;
    best = { ...(isEnd ? path.at(-1) : found), away: found.away, begins_at: id, begins_along_m: isEnd ? null : found.along };
  }
  return best;
}

/** Middle of a part's extent. */
export function middleOf(entry) {
  const ends = endsOf(entry);
  const xs = ends.map((e) => e.x);
  const ys = ends.map((e) => e.y);
  return { x: (Math.min(...xs) + Math.max(...xs)) / 2, y: (Math.min(...ys) + Math.max(...ys)) / 2 };
}

function mapped(entry, change) {
  const { collection, part } = entry;
  const key = CORNERED[collection];
  const next = { ...part };
  if (part[key]?.length) next[key] = part[key].map((p) => point(change(place(p))));
  if (key !== "path" && collection !== "patches") next.at = point(change(place(part.at)));
  return { collection, part: next };
}

/** The part moved by so many metres. */
export function moved(entry, dx, dy) {
  return mapped(entry, ({ x, y }) => ({ x: x + dx, y: y + dy }));
}

/** The part turned about a place, against the clock. [°] */
export function turned(entry, degrees, about) {
  const { collection, part } = entry;
  const c = Math.cos((degrees * Math.PI) / 180);
  const s = Math.sin((degrees * Math.PI) / 180);
  const turn = ({ x, y }) => ({
    x: about.x + (x - about.x) * c - (y - about.y) * s,
    y: about.y + (x - about.x) * s + (y - about.y) * c,
  });
  if (collection === "roofs" || (collection === "beds" && !part.corners?.length)) {
    // A rectangle keeps its measures and is turned about its own middle.
    const middle = middleOf(entry);
    const to = turn(middle);
    const shifted = moved(entry, to.x - middle.x, to.y - middle.y);
    shifted.part.turned_deg = heading((part.turned_deg ?? 0) + degrees);
    return shifted;
  }
  const done = mapped(entry, turn);
  if (TURNED.includes(collection)) done.part.turned_deg = heading((part.turned_deg ?? 0) + degrees);
  return done;
}

// So far from east, from 0 on and under 360.
function heading(degrees) {
  return tidy(((degrees % 360) + 360) % 360);
}

/** A rectangle made so long and wide, from its own corner; others stay as they are. [m] */
export function resized(entry, length, width) {
  const { collection, part } = entry;
  const measured = collection === "beds" ? !part.corners?.length : collection === "roofs" && !part.area_m2;
  if (!measured) return entry;
  const least = collection === "beds" ? [LEAST_LENGTH, LEAST_WIDTH] : [LEAST_WIDTH, LEAST_WIDTH];
  return {
    collection,
    part: { ...part, length_m: tidy(Math.max(length, least[0])), width_m: tidy(Math.max(width, least[1])) },
  };
}

const TURNED_BY = 0.5; // metres beside a rectangle: by what it is turned

/**
 * Places of a part that can be dragged one by one: `corner` its own, `middle` where one may be added, `size` and
 * `turn`, which stands at least `beside` metres off.
 */
export function gripsOf({ collection, part }, beside = 0) {
  const key = CORNERED[collection];
  const corners = part[key]?.map(place);
  if (corners?.length) {
    const isClosed = key === "corners";
    const next = (i) => corners[(i + 1) % corners.length];
    const middles = corners.slice(0, isClosed ? undefined : -1).map((c, i) => ({ x: (c.x + next(i).x) / 2, y: (c.y + next(i).y) / 2 }));
    return [
      ...corners.map((c, at) => ({ ...c, kind: "corner", at })),
      ...middles.map((c, at) => ({ ...c, kind: "middle", at })),
    ];
  }
  if ((collection === "beds" && part.shape !== "round") || (collection === "roofs" && !part.area_m2)) {
    const own = { collection, part };
    return [
      { ...fromOwn(own, part.length_m, part.width_m), kind: "size", at: 0 },
      { ...fromOwn(own, part.length_m / 2, part.width_m + Math.max(TURNED_BY, beside)), kind: "turn", at: 0 },
    ];
  }
  return [];
}

/** The part with one of its grips somewhere else. */
export function gripped(entry, { kind, at }, to) {
  const { collection, part } = entry;
  if (kind === "size") {
    const { x, y } = toOwn(entry, to);
    const grown = resized(entry, x, y);
    // The corner at its own beginning stays where it is, however the part is turned.
    const before = fromOwn(entry, 0, 0);
    const after = fromOwn(grown, 0, 0);
    return moved(grown, before.x - after.x, before.y - after.y);
  }
  if (kind === "turn") {
    const middle = middleOf(entry);
    const turned_deg = heading(Math.round((Math.atan2(to.y - middle.y, to.x - middle.x) * 180) / Math.PI - 90));
    return { collection, part: { ...part, turned_deg } };
  }
  const key = CORNERED[collection];
  const corners = part[key].slice();
  if (kind === "middle") corners.splice(at + 1, 0, point(to));
  else corners[at] = point(to);
  return { collection, part: { ...part, [key]: corners } };
}

/** The part without one of its corners; as it is where it needs them all. */
export function withoutCorner(entry, at) {
  const { collection, part } = entry;
  const key = CORNERED[collection];
  if (part[key].length <= (key === "path" ? 2 : 3)) return entry;
  return { collection, part: { ...part, [key]: part[key].filter((_, i) => i !== at) } };
}

// A rectangle's own axes: from its first corner along its length and its width, turned about its middle.
function fromOwn({ part }, u, v) {
  const at = place(part.at);
  const middle = { x: at.x + part.length_m / 2, y: at.y + part.width_m / 2 };
  const angle = ((part.turned_deg ?? 0) * Math.PI) / 180;
  const dx = at.x + u - middle.x;
  const dy = at.y + v - middle.y;
  return {
    x: middle.x + dx * Math.cos(angle) - dy * Math.sin(angle),
    y: middle.y + dx * Math.sin(angle) + dy * Math.cos(angle),
  };
}

function toOwn(entry, { x, y }) {
  const corner = fromOwn(entry, 0, 0);
  const angle = (-(entry.part.turned_deg ?? 0) * Math.PI) / 180;
  const dx = x - corner.x;
  const dy = y - corner.y;
  return { x: dx * Math.cos(angle) - dy * Math.sin(angle), y: dx * Math.sin(angle) + dy * Math.cos(angle) };
}

/** A copy with an id and a name that are free, joined to nothing. */
export function copied(entry, taken) {
  const { collection, part } = entry;
  const stem = part.id.replace(/-\d+$/, "").slice(0, 34);
  let number = 2;
  while (taken.has(`${stem}-${number}`)) number++;
  const copy = { ...part, id: `${stem}-${number}`, name: `${part.name.replace(/ \d+$/, "").slice(0, 54)} ${number}` };
  for (const link of ["begins_at", "begins_along_m", "ends_at", "ends_along_m", "linked_to"]) delete copy[link];
  return { collection, part: copy };
}

const PATH = 0.6; // metres between what is copied and its copy: room for a barrow
const MOST_TRIES = 40;

/** Copies of `ids` beside them, and not over anything that is there. */
export function copiesBeside(parts, ids) {
  const taken = new Set(Object.keys(parts));
  const copies = ids.map((id) => {
    const copy = copied(parts[id], taken);
    taken.add(copy.part.id);
    return copy;
  });
  const own = extentOf(ids.map((id) => parts[id]));
  const there = Object.values(parts).filter(({ collection }) => collection !== "pipes" && collection !== "patches");
  const step = own.right - own.left + PATH;
  let by = step;
  for (let i = 0; i < MOST_TRIES && there.some((entry) => isOver(own, by, extentOf([entry]))); i++) by += step;
  return copies.map((copy) => moved(copy, tidy(by), 0));
}

/** How far some parts reach. [m] */
export function extentOf(entries) {
  const places = entries.flatMap(endsOf);
  const xs = places.map((p) => p.x);
  const ys = places.map((p) => p.y);
  return { left: Math.min(...xs), right: Math.max(...xs), low: Math.min(...ys), high: Math.max(...ys) };
}

function isOver(own, by, other) {
  const beside = other.right <= own.left + by || other.left >= own.right + by;
  return !(beside || other.high <= own.low || other.low >= own.high);
}

/** Ids of everything that moves along with `ids`: what waters them, and what lies between. */
export function withCompanions(parts, ids) {
  const all = new Set(ids);
  for (const [id, { collection, part }] of Object.entries(parts)) {
    if (collection === "pipes" && all.has(part.waters)) all.add(id);
  }
  return all;
}

/** Parts of `ids` moved, and the pipes that feed them drawn out to where they have gone. */
export function allMoved(parts, ids, dx, dy) {
  return withFeeders(parts, withCompanions(parts, ids), (entry) => moved(entry, dx, dy));
}

/** As `allMoved`, turned about a place, against the clock. [°] */
export function allTurned(parts, ids, degrees, about) {
  return withFeeders(parts, withCompanions(parts, ids), (entry) => turned(entry, degrees, about));
}

function withFeeders(parts, all, change) {
  const found = new Map();
  for (const id of all) found.set(id, change(parts[id]));
  for (const id of all) {
    const { collection, part } = parts[id];
    const feeder = parts[part.begins_at];
    if (collection !== "pipes" || feeder?.collection !== "pipes" || all.has(part.begins_at)) continue;
    if (part.begins_along_m !== undefined && part.begins_along_m !== null) continue;
    const path = feeder.part.path.slice();
    path[path.length - 1] = found.get(id).part.path[0];
    found.set(part.begins_at, { collection: "pipes", part: { ...feeder.part, path } });
  }
  return [...found.values()];
}

/** Moves that bring parts into line along an edge or middle: `left`, `right`, `top`, `bottom`, `row`, `column`. */
export function aligned(parts, ids, how) {
  const extents = ids.map((id) => {
    const ends = endsOf(parts[id]);
    const xs = ends.map((e) => e.x);
    const ys = ends.map((e) => e.y);
    return { id, left: Math.min(...xs), right: Math.max(...xs), bottom: Math.min(...ys), top: Math.max(...ys) };
  });
  const mean = (list) => list.reduce((a, b) => a + b, 0) / list.length;
  const to = {
    left: () => Math.min(...extents.map((e) => e.left)),
    right: () => Math.max(...extents.map((e) => e.right)),
    top: () => Math.max(...extents.map((e) => e.top)),
    bottom: () => Math.min(...extents.map((e) => e.bottom)),
    column: () => mean(extents.map((e) => (e.left + e.right) / 2)),
    row: () => mean(extents.map((e) => (e.top + e.bottom) / 2)),
  }[how]();
  return extents.flatMap((e) => {
    const dx = how === "left" || how === "right" ? to - e[how] : how === "column" ? to - (e.left + e.right) / 2 : 0;
    const dy = how === "top" || how === "bottom" ? to - e[how] : how === "row" ? to - (e.top + e.bottom) / 2 : 0;
    return allMoved(parts, [e.id], dx, dy);
  });
}

/** A new part as a tool draws it; ids and names are free ones. */
export function made(tool, places, parts, joints = {}) {
  const [id, name] = freeName(tool.noun, parts);
  const part = { id, name, ...tool.fields, ...shaped(tool, places), ...joints };
  return { collection: tool.collection, part };
}

function shaped({ makes }, places) {
  if (makes === "path") return { path: places.map(point) };
  if (makes === "outline") return { corners: places.map(point) };
  if (makes === "place") return { at: point(places[0]) };
  const xs = places.map((p) => p.x);
  const ys = places.map((p) => p.y);
  const at = { x: Math.min(...xs), y: Math.min(...ys) };
  const extent = {
    at: point(at),
    length_m: tidy(Math.max(Math.max(...xs) - at.x, LEAST_LENGTH)),
    width_m: tidy(Math.max(Math.max(...ys) - at.y, LEAST_WIDTH)),
  };
  if (makes === "rectangle") return extent;
  return { corners: places.map(point), ...extent };
}

/** A piece to be set into a pipe; `choice` is its collection and kind, such as `fittings filter`. */
export function madePiece(choice, words, parts) {
  const [collection, kind] = choice.split(" ");
  let number = 1;
  while (`${kind}-${number}`.slice(0, 40) in parts) number++;
  return { collection, part: { id: `${kind}-${number}`.slice(0, 40), name: `${words} ${number}`.slice(0, 60), kind } };
}

function freeName(noun, parts) {
  let number = 1;
  while (`${noun.toLowerCase()}-${number}` in parts) number++;
  return [`${noun.toLowerCase()}-${number}`, `${noun} ${number}`];
}
