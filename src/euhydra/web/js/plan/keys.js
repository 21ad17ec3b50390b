// The plan's keys. Each is one command of the component; the page lists them from here, after those
// of the tools that draw, which come with the page.

const KEYS = [
  ["Enter", "end what is being drawn", "finish"],
  ["Escape", "leave the tool, choose nothing", "leave"],
  ["Delete", "remove what is chosen", "remove"],
  ["Backspace", "remove what is chosen", "remove"],
  ["c", "make a copy", "copy"],
  [",", "turn by 15° against the clock", "turn", 15],
  [".", "turn by 15° with the clock", "turn", -15],
  ["ArrowLeft", "move by a grid step (with Shift: a little)", "nudge", [-1, 0]],
  ["ArrowRight", "", "nudge", [1, 0]],
  ["ArrowUp", "", "nudge", [0, 1]],
  ["ArrowDown", "", "nudge", [0, -1]],
  ["a", "choose everything (with Shift, drag a band round some)", "chooseAll"],
  ["g", "snap to the grid, or not", "toggleGrid"],
  ["+", "nearer", "zoom", 0.8],
  ["-", "farther", "zoom", 1.25],
  ["0", "show everything", "fitAll"],
  ["z", "undo", "step", "undo"],
  ["y", "redo (with Shift, z too)", "step", "redo"],
];

/** Every key: the tools' own, then the others. */
export function keysOf(tools) {
  return [...tools.map(({ key, does, kind }) => [key, does, "tool", kind]), ...KEYS];
}

/** Command and argument of a key, or null. Keys with Ctrl or Alt belong to the browser, but for undo and redo. */
export function commandOf(event, tools) {
  const key = event.key.length === 1 ? event.key.toLowerCase() : event.key;
  if ((event.ctrlKey || event.metaKey) && key !== "z" && key !== "y") return null;
  if (event.altKey) return null;
  if (key === "z" && event.shiftKey) return { command: "step", argument: "redo" };
  const found = keysOf(tools).find(([name]) => name === (key === "=" ? "+" : key));
  return found ? { command: found[2], argument: found[3] } : null;
}
