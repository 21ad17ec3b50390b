// The plan's keys. Each is one command of the component; the page lists them from here, after those
// of the tools that draw, which come with the page.

const KEYS = [
  ["Enter", "choose; while drawing, put a place (twice there: end)", "press"],
  [" ", "", "press"],
  ["f", "end what is being drawn", "finish"],
  ["Escape", "leave the tool, choose nothing", "leave"],
  ["Delete", "remove what is chosen; while drawing, the last place", "remove"],
  ["Backspace", "", "remove"],
  ["c", "make a copy", "copy"],
  [",", "turn by 15° against the clock", "turn", 15],
  [".", "turn by 15° with the clock", "turn", -15],
  ["ArrowLeft", "move what is chosen by a grid step (with Shift: a little); else go from part to part (with Shift: over the paper)", "arrow", [-1, 0]],
  ["ArrowRight", "", "arrow", [1, 0]],
  ["ArrowUp", "", "arrow", [0, 1]],
  ["ArrowDown", "", "arrow", [0, -1]],
  ["PageDown", "the next part (PageUp: the one before)", "turnTo", 1],
  ["PageUp", "", "turnTo", -1],
  ["i", "look at the next outlet (with Shift: the one before)", "lookAtOutlet", 1],
  ["a", "choose everything (with Shift, drag a band round some)", "chooseAll"],
  ["g", "snap to the grid, or not", "toggleGrid"],
  ["+", "nearer", "zoom", 0.8],
  ["-", "farther", "zoom", 1.25],
  ["0", "show everything", "fitAll"],
  ["z", "undo", "step", "undo"],
  ["y", "redo (with Shift, z too)", "step", "redo"],
];

const LETTERS = "euhydra-plan-letters";

/** Whether single letters are commands: who speaks to the machine, or types with a stick, may not want it. */
export function lettersWanted() {
  return localStorage.getItem(LETTERS) !== "off";
}

export function wantLetters(isWanted) {
  localStorage.setItem(LETTERS, isWanted ? "on" : "off");
}

/** Every key: the tools' own, then the others. */
export function keysOf(tools) {
  return [...tools.map(({ key, does, kind }) => [key, does, "tool", kind]), ...KEYS];
}

/** Command and argument of a key, or null. Keys with Ctrl or Alt belong to the browser, but for undo and redo. */
export function commandOf(event, tools, hasLetters = true) {
  const key = event.key.length === 1 ? event.key.toLowerCase() : event.key;
  const isWithCtrl = event.ctrlKey || event.metaKey;
  if (isWithCtrl && key !== "z" && key !== "y") return null;
  if (event.altKey) return null;
  if (key.length === 1 && key !== " " && !isWithCtrl && !hasLetters) return null;
  if (key === "z" && event.shiftKey) return { command: "step", argument: "redo" };
  if (key === "i" && event.shiftKey) return { command: "lookAtOutlet", argument: -1 };
  const found = keysOf(tools).find(([name]) => name === (key === "=" ? "+" : key));
  return found ? { command: found[2], argument: found[3] } : null;
}
