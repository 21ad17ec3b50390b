// The plan's keys. Each is one command of the component; the page lists them from here.

export const KEYS = [
  ["b", "draw a bed", "tool", "bed"],
  ["n", "draw a bed of many corners", "tool", "corners"],
  ["w", "draw a pipe", "tool", "pipe"],
  ["o", "set down pots", "tool", "pots"],
  ["v", "set a piece into a pipe", "tool", "piece"],
  ["t", "draw a terrace", "tool", "terrace"],
  ["h", "draw a path", "tool", "path"],
  ["e", "mark a known height", "tool", "spot"],
  ["m", "measure", "tool", "measure"],
  ["Enter", "end what is being drawn", "finish"],
  ["Escape", "leave the tool, choose nothing", "leave"],
  ["Delete", "remove what is chosen", "remove"],
  ["Backspace", "remove what is chosen", "remove"],
  ["c", "make a copy", "copy"],
  [",", "turn by 15° against the clock", "turn", 15],
  [".", "turn by 15° with the clock", "turn", -15],
  ["ArrowLeft", "move by a grid step (with Shift: by a centimetre)", "nudge", [-1, 0]],
  ["ArrowRight", "", "nudge", [1, 0]],
  ["ArrowUp", "", "nudge", [0, 1]],
  ["ArrowDown", "", "nudge", [0, -1]],
  ["a", "choose everything (with Shift, drag a band round some)", "chooseAll"],
  ["g", "snap to the grid, or not", "toggleGrid"],
  ["+", "nearer", "zoom", 0.8],
  ["-", "farther", "zoom", 1.25],
  ["0", "show everything", "fitAll"],
  ["z", "undo", "step", "undo"],
  ["y", "redo", "step", "redo"],
];

/** Command and argument of a key, or null. Keys with Ctrl or Alt belong to the browser, but for undo and redo. */
export function commandOf(event) {
  const key = event.key.length === 1 ? event.key.toLowerCase() : event.key;
  if ((event.ctrlKey || event.metaKey) && key !== "z" && key !== "y") return null;
  if (event.altKey) return null;
  const found = KEYS.find(([name]) => name === (key === "=" ? "+" : key));
  return found ? { command: found[2], argument: found[3] } : null;
}
