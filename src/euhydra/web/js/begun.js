// A garden in the making: its answers follow what is typed, and what was only assumed is drawn so.

import { pieces } from "./pieces.js";

const PAUSE_MS = 250; // between two letters of one number

export function begun() {
  return {
    waiting: 0,
    turn: 0,
    init() {
      this.ask();
    },
    typed(event) {
      const field = event.target;
      if (field.name === "units" || field.name === "feed") {
        this.anew();
        return;
      }
      if ("usual" in field.dataset) {
        field.classList.toggle("border-dashed", field.value.trim() === field.dataset.usual);
      }
      this.spellOut(field);
      clearTimeout(this.waiting);
      this.waiting = setTimeout(() => this.ask(), PAUSE_MS);
    },
    /** What is chosen in whole, where its list is too narrow for it. */
    spellOut(field) {
      const words = this.$root.querySelector(`[data-chosen="${field.id}"]`);
      if (words === null) return;
      words.textContent = field.selectedOptions[0].text;
      words.hidden = words.textContent.length <= Number(words.dataset.narrow);
    },
    async ask() {
      this.turn += 1;
      const turn = this.turn;
      const answer = await fetch(`${this.$root.dataset.url}?${this.said()}`).catch(() => null);
      if (answer === null || !answer.ok || turn !== this.turn) return;
      for await (const html of pieces(answer)) {
        if (turn !== this.turn) return;
        this.$refs.glance.innerHTML = html;
      }
    },
    /** The page again: in other units, or with fewer fields; what was typed stays. */
    anew() {
      window.location = `${this.$root.dataset.page}?${this.said()}`;
    },
    /** What was typed, and what was chosen otherwise; the usual is the server's. */
    said() {
      const said = new URLSearchParams(new FormData(this.$root));
      for (const field of this.$root.querySelectorAll("[data-usual]")) {
        if (field.value.trim() === field.dataset.usual) said.delete(field.name);
      }
      return said;
    },
  };
}
