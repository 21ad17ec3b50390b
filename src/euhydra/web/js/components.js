// Alpine components. Attributes in the templates hold a name, a path or one method call.

import { pieces } from "./pieces.js";
import { released } from "./press.js";

/** A strip of days that is wider than a phone: its newest days are shown. */
export function newest() {
  return {
    init() {
      this.$root.scrollLeft = this.$root.scrollWidth;
    },
  };
}

/** Cures of what a page tells, shown as they are found: each is tried on the whole garden. */
export function cures() {
  return {
    seen: 0,
    async init() {
      const { url, at, after } = this.$root.dataset;
      await new Promise((resolve) => setTimeout(resolve, Number(after))); // who only passes by asks for none
      const answer = await fetch(`${url}?${new URLSearchParams({ at })}`).catch(() => null);
      if (answer === null || !answer.ok) return;
      for await (const html of pieces(answer)) {
        await released();
        this.show(html);
      }
    },
    show(html) {
      const place = this.seen === 0 ? this.$refs.first : this.$refs.others;
      this.seen += 1;
      place.insertAdjacentHTML("beforeend", html);
      this.$refs.others.hidden = this.$refs.others.childElementCount < 2;
    },
  };
}

/**
 * What takes a while to work out, asked for when it is opened, once; it may grow meanwhile. Closed before
 * it is whole, it is given up.
 */
export function opened() {
  return {
    said: "",
    asked: null,
    async look() {
      if (!this.$root.open) return this.asked?.abort();
      if (this.said !== "") return;
      this.said = "Trying it on the whole garden… Close this to stop.";
      const asked = (this.asked = new AbortController());
      const isWhole = await this.grow(asked.signal);
      if (this.asked !== asked) return; // opened again meanwhile
      this.asked = null;
      this.said = isWhole ? " " : "";
    },
    async grow(signal) {
      const answer = await fetch(this.$root.dataset.url, { signal }).catch(() => null);
      if (answer === null || !answer.ok) return false;
      for await (const html of pieces(answer)) this.$refs.list.innerHTML = html;
      return !signal.aborted;
    },
  };
}

/** What comes after the page, since it takes longer than the rest. */
export function later() {
  return {
    async init() {
      const answer = await fetch(this.$root.dataset.url).catch(() => null);
      if (!answer?.ok) return this.$root.querySelector("[data-awaited]")?.remove(); // without a connection nothing comes
      const html = await answer.text();
      await released(); // it may take another line, above what is being pressed
      this.$root.innerHTML = html;
    },
  };
}

/** Says under a quantity's field how it is understood while it is typed. */
export function echo() {
  return {
    said: "",
    async look() {
      const { kind, system } = this.$root.dataset;
      const text = this.$refs.input.value;
      if (text.trim() === "") {
        this.said = "";
        return;
      }
      const query = new URLSearchParams({ kind, system, text });
      const answer = await fetch(`/quantity?${query}`);
      if (!answer.ok || text !== this.$refs.input.value) return; // typed on meanwhile
      const { understood, error } = await answer.json();
      await released(); // what is said takes up a line, above the button that may be pressed
      this.said = understood ?? error;
    },
  };
}

/** Which level of the barrel the outlets are shown at. */
export function outlets() {
  return {
    level: "",
    init() {
      this.level = this.$root.dataset.level;
    },
    show(level) {
      this.level = level;
    },
  };
}

/** The form that asks for lines: only the fields that the chosen way needs. */
export function wish() {
  return {
    method: "rows",
    target: "",
    pots: [],
    fresh: {},
    there: {},
    init() {
      const { method, target, pots, fresh, there } = this.$root.dataset;
      this.fresh = JSON.parse(fresh);
      this.there = JSON.parse(there);
      this.method = method;
      this.target = target;
      this.pots = pots.split(" ");
    },
    // Where what is chosen has lines they are laid anew as they are, but for what is asked otherwise; else as usual.
    asThere() {
      const { method, ...fields } = { ...this.fresh, ...this.there[this.target] };
      if (method && !this.isPots) this.method = method;
      for (const [name, value] of Object.entries(fields)) this.$root.elements[name].value = value;
    },
    get isPots() {
      return this.pots.includes(this.target);
    },
    get isBed() {
      return !this.isPots;
    },
    get asksLine() {
      return this.isBed && this.method === "rows";
    },
    get asksSoaker() {
      return this.isBed && this.method === "soaker";
    },
    get asksDripper() {
      return this.isPots || this.method === "stems";
    },
  };
}
