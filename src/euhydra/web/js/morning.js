// What was done this morning: written into the log, or kept on the device until the garden's computer answers.

import { forget, keep, newId, send, sendWaiting, waiting } from "./outbox.js";

const RETRY = 20_000; // ms

export function morning() {
  return {
    queue: [],
    busy: false,
    said: "",
    init() {
      addEventListener("online", () => this.flush());
      setInterval(() => this.flush(), RETRY);
      navigator.serviceWorker?.register("/sw.js").catch(() => {}); // only at a secure address
      this.flush();
    },
    get isWaiting() {
      return this.queue.length > 0;
    },
    get waitingSaid() {
      const count = this.queue.length;
      return `${count === 1 ? "What you did waits" : `${count} things you did wait`} on this device for a connection. Nothing is lost.`;
    },
    async done(event) {
      const form = event.target;
      const { garden } = this.$root.dataset;
      const fields = [...new FormData(form)]; // without a time: it is now, by the clock that this morning is told by
      const entry = { sentId: form.sent_id?.value ?? newId(), garden, url: form.action, fields, refused: "", since: Date.now() };
      form.querySelector("button").disabled = true;
      await keep(entry); // from here on nothing is lost, whatever happens to the page
      const { state, faults } = await send(entry);
      if (state === "refused") {
        await forget(entry.sentId);
        this.said = Object.values(faults).join(" ");
        form.querySelector("button").disabled = false;
        return;
      }
      if (state === "sent") location.reload();
      else await this.look();
    },
    async look() {
      const all = await waiting(this.$root.dataset.garden);
      this.queue = all.filter((one) => one.refused === "");
      if (this.queue.length < all.length) this.said = "Something that you did was refused: the log tells what, and lets you put it right.";
    },
    async flush() {
      if (this.busy) return;
      this.busy = true;
      const sent = await sendWaiting(this.$root.dataset.garden);
      this.busy = false;
      if (sent > 0) location.reload();
      else await this.look();
    },
  };
}
