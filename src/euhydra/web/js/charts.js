// The charts of Catch, Store and Time. Series come from the page, in the units they are shown in;
// nothing is computed here but positions on paper.

import { axisBottom, axisLeft } from "d3-axis";
import { scaleBand, scaleLinear } from "d3-scale";
import { create } from "d3-selection";
import { area, line } from "d3-shape";

const MARGIN = { top: 22, right: 16, bottom: 26, left: 52 };
const HALF_A_NUMBER = 28; // of the widest under an axis, so that it ends within the paper
const KNEE_WORDS = 110; // px, of what is said at the knee
const HEIGHT = 300;
const WORD = 48; // a short word beside a dot

const MONTH_STARTS = [0, 31, 59, 90, 120, 151, 181, 212, 243, 273, 304, 334];

/** Bars of what is given, and a stepped line of what is needed, for twelve months. */
export function drawBars(holder, { unit, labels, given, need, low, high }) {
  const width = paperWidth(holder);
  const x = scaleBand(labels, [MARGIN.left, width - MARGIN.right]).paddingInner(0.3);
  const y = scaleLinear([0, Math.max(1e-9, ...given, ...need, ...high)], [HEIGHT - MARGIN.bottom, MARGIN.top]).nice();
  const svg = paper(width);

  svg.append("g").selectAll("rect").data(given).join("rect")
    .attr("class", "water")
    .attr("x", (_, i) => x(labels[i])).attr("width", x.bandwidth())
    .attr("y", y).attr("height", (v) => y(0) - y(v));

  // Whiskers: where eight years of ten lie.
  svg.append("path").attr("class", "ink")
    .attr("d", low.map((v, i) => {
      const middle = x(labels[i]) + x.bandwidth() / 2;
      return `M${middle},${y(v)}V${y(high[i])}M${middle - 5},${y(high[i])}h10M${middle - 5},${y(v)}h10`;
    }).join(""));

  // The need stands as a bar's own lid, so that each month is read against its bar.
  const overhang = x.step() * 0.12;
  svg.append("g").selectAll("line").data(need).join("line")
    .attr("class", "clay")
    .attr("visibility", (v) => (v > 0 ? "visible" : "hidden"))
    .attr("x1", (_, i) => x(labels[i]) - overhang)
    .attr("x2", (_, i) => x(labels[i]) + x.bandwidth() + overhang)
    .attr("y1", y).attr("y2", y);

  const everyMonth = width > 480 ? labels : labels.filter((_, i) => i % 2 === 0);
  axes(svg, axisBottom(x).tickValues(everyMonth).tickSizeOuter(0), axisLeft(y).ticks(5), unit);
  holder.replaceChildren(svg.node());
}

const MONTH_NAMES = ["Jan", "Feb", "Mar", "Apr", "May", "Jun", "Jul", "Aug", "Sep", "Oct", "Nov", "Dec"];
const STRIP = { rainTop: 12, rainBottom: 46, top: 60, bottom: 226, needTop: 238, needBottom: 270, height: 296 };

const SIDES = {
  store: { floor: "nothing comes out below", low: "needed and given" },
  roots: { floor: "refill point: too dry below", low: "drunk and given" },
};

/**
 * One year of a store: rain from above, the level between tap and overflow, spill on top of it,
 * and below what was needed and given. Returns how to move the pointer and to find a day.
 */
export function drawYear(holder, year) {
  const width = paperWidth(holder);
  const { start, level, rain, given, need, spill, full, dead } = year;
  const x = scaleLinear([0, 366], [MARGIN.left, width - MARGIN.right]);
  const at = (i) => x(start + i);
  const y = scaleLinear([0, full], [STRIP.bottom, STRIP.top]);
  const down = scaleLinear([0, Math.max(1, ...rain)], [STRIP.rainTop, STRIP.rainBottom]);
  const low = scaleLinear([0, Math.max(1e-9, ...need, ...given)], [STRIP.needBottom, STRIP.needTop]);
  const svg = paper(width, STRIP.height);

  svg.append("path").attr("class", "rain").attr("d", strokes(rain, at, () => STRIP.rainTop, down));
  svg.append("path").attr("class", "water-pale")
    .attr("d", area().x((_, i) => at(i)).y0(y(0)).y1((v) => y(v))(level));
  svg.append("path").attr("class", "head-line").attr("d", line().x((_, i) => at(i)).y((v) => y(v))(level));
  svg.append("path").attr("class", "spill")
    .attr("d", strokes(spill, at, () => STRIP.top, () => STRIP.top - 8));
  svg.append("path").attr("class", "clay thin").attr("d", strokes(need, at, () => low(0), low));
  svg.append("path").attr("class", "head-line").attr("d", strokes(given, at, () => low(0), low));
  // A store's tap lies at one height; a bed's refill point follows its roots.
  const floor = Array.isArray(dead) ? dead : level.map(() => dead);
  svg.append("path").attr("class", "dead")
    .attr("d", line().x((_, i) => at(i)).y((v) => y(v)).defined((v) => v > 0 || !Array.isArray(dead))(floor));

  const side = (text, height) => svg.append("text").attr("class", "soft-text over").attr("text-anchor", "end")
    .attr("x", width - MARGIN.right).attr("y", height).text(text);
  side("rain", STRIP.rainBottom);
  const words = SIDES[year.kind ?? "store"];
  // Over its line, or under it where the rain's word stands.
  const highest = y(Math.max(...floor));
  side(words.floor, highest - 5 > STRIP.rainBottom + 14 ? highest - 5 : highest + 14);
  side(words.low, STRIP.needTop + 2);

  const pointer = svg.append("line").attr("class", "clay")
    .attr("y1", STRIP.rainTop).attr("y2", STRIP.needBottom);
  const shown = MONTH_STARTS.filter((_, i) => width > 480 || i % 2 === 0);
  const bottom = axisBottom(x).tickValues(shown).tickFormat((d) => MONTH_NAMES[MONTH_STARTS.indexOf(d)]);
  axes(svg, bottom.tickSizeOuter(0), axisLeft(y).ticks(4), year.unit, STRIP.needBottom + 2);
  holder.replaceChildren(svg.node());

  const move = (i) => pointer.attr("x1", at(i)).attr("x2", at(i));
  const dayAt = (clientX) => {
    const box = svg.node().getBoundingClientRect();
    const day = Math.round(x.invert(((clientX - box.left) / box.width) * width)) - start;
    return Math.min(Math.max(day, 0), level.length - 1);
  };
  return { move, dayAt };
}

// One upright stroke a day with anything on it.
function strokes(values, at, from, to) {
  return values.map((v, i) => (v > 0 ? `M${at(i).toFixed(1)},${from(v).toFixed(1)}V${to(v).toFixed(1)}` : "")).join("");
}

/** Bars of every year, one source upon the other. */
export function drawStacks(holder, { unit, labels, parts }) {
  const width = paperWidth(holder);
  const height = 240;
  const totals = labels.map((_, i) => parts.reduce((sum, part) => sum + part[i], 0));
  const x = scaleBand(labels, [MARGIN.left, width - MARGIN.right]).paddingInner(0.25);
  const y = scaleLinear([0, Math.max(1e-9, ...totals)], [height - MARGIN.bottom, MARGIN.top]).nice();
  const svg = paper(width, height);
  const base = labels.map(() => 0);
  parts.forEach((part, source) => {
    part.forEach((value, i) => {
      svg.append("rect").attr("class", ["water", "hatched", "water-pale"][source])
        .attr("x", x(labels[i])).attr("width", x.bandwidth())
        .attr("y", y(base[i] + value)).attr("height", y(base[i]) - y(base[i] + value));
      base[i] += value;
    });
  });
  const every = Math.ceil(labels.length / (width / 60));
  const years = axisBottom(x).tickValues(labels.filter((_, i) => i % every === 0)).tickSizeOuter(0);
  axes(svg, years, axisLeft(y).ticks(4), unit, height - MARGIN.bottom);
  holder.replaceChildren(svg.node());
}

/**
 * Share of need met against size, with the band of the years, the knee and the present store.
 * Returns how to move the marker and how to find the size under a point on the paper.
 */
export function drawSizes(holder, { unit, volume, met, low, high, knee, present }) {
  const width = paperWidth(holder);
  const ends = [volume[0], volume[volume.length - 1]];
  const x = scaleLinear(ends, [MARGIN.left, width - HALF_A_NUMBER]);
  const y = scaleLinear([0, 100], [HEIGHT - MARGIN.bottom, MARGIN.top]);
  const svg = paper(width);

  svg.append("path").attr("class", "water-faint")
    .attr("d", area().x((_, i) => x(volume[i])).y0((_, i) => y(low[i])).y1((_, i) => y(high[i]))(met));
  svg.append("path").attr("class", "head-line")
    .attr("d", line().x((_, i) => x(volume[i])).y((v) => y(v))(met));

  // The curve rises to the right: one stands under it, the other over it.
  const now = [x(present), y(met[nearest(volume, present)])];
  const at = x(volume[knee]);
  const to = now[0] - at; // the marker's line, which should not stand in the words
  const fitsRight = width - at > KNEE_WORDS + 8;
  const isLeft = at > width / 2 && !(to < 0 && to > -KNEE_WORDS && fitsRight);
  const isCrossed = !isLeft && to > 0 && to < KNEE_WORDS && at + to + 10 + KNEE_WORDS < width;
  note(svg, "ink-dot", [at, y(met[knee])], [isLeft ? -4 : isCrossed ? to + 10 : 8, 22],
    `knee: ${rounded(volume[knee])} ${unit}`, isLeft ? "end" : "start");
  const hasRoom = now[0] - MARGIN.left > WORD; // else it would lie on the numbers of the axis
  note(svg, "clay-dot", now, [hasRoom ? -8 : 8, -8], "yours", hasRoom ? "end" : "start");
  const marker = svg.append("g").attr("class", "marker");
  marker.append("line").attr("class", "clay").attr("y1", MARGIN.top).attr("y2", HEIGHT - MARGIN.bottom);
  marker.append("circle").attr("class", "clay-fill").attr("r", 6);

  axes(svg, axisBottom(x).ticks(width > 480 ? 8 : 4).tickSizeOuter(0), axisLeft(y).ticks(5), "%");
  holder.replaceChildren(svg.node());

  const move = (i) => {
    marker.attr("transform", `translate(${x(volume[i])},0)`);
    marker.select("circle").attr("cy", y(met[i]));
  };
  const sizeAt = (clientX) => {
    const box = svg.node().getBoundingClientRect();
    return nearest(volume, x.invert(((clientX - box.left) / box.width) * width));
  };
  return { move, sizeAt };
}

/** Position of the value nearest to `wanted`. */
export function nearest(values, wanted) {
  let best = 0;
  values.forEach((v, i) => {
    if (Math.abs(v - wanted) < Math.abs(values[best] - wanted)) best = i;
  });
  return best;
}

/** A number as people read it, to the unit. */
export function rounded(value) {
  return Math.round(value).toLocaleString("en");
}

/** A point with words so far off, which begin or end there. */
function note(svg, dot, [x, y], [dx, dy], words, anchor) {
  svg.append("circle").attr("class", dot).attr("cx", x).attr("cy", y).attr("r", 4.5);
  svg.append("text").attr("class", "over").attr("text-anchor", anchor).attr("x", x + dx).attr("y", y + dy).text(words);
}

function paperWidth(holder) {
  return Math.max(280, holder.clientWidth);
}

function paper(width, height = HEIGHT) {
  return create("svg").attr("class", "drawing").attr("viewBox", `0 0 ${width} ${height}`)
    .attr("aria-hidden", "true");
}

function axes(svg, bottom, left, unit, foot = HEIGHT - MARGIN.bottom) {
  svg.append("g").attr("class", "axis").attr("transform", `translate(0,${foot})`).call(bottom);
  svg.append("g").attr("class", "axis").attr("transform", `translate(${MARGIN.left - 6},0)`).call(left)
    .call((g) => g.select(".domain").remove());
  // d3 sets its own small type; the sheet has one size for drawings.
  svg.selectAll(".axis").attr("font-size", null).attr("font-family", null);
  svg.append("text").attr("class", "soft-text").attr("x", 0).attr("y", 11).text(unit);
}
