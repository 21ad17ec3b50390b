// Writing into the log: on the device first, then to the garden's computer as soon as it answers.

import { forget, keep, localTime, newId, send, sendWaiting, waiting } from "./outbox.js";

const PHOTO_SIDE = 1600; // px
const LARGEST_PHOTO = 40e6; // bytes
const RETRY = 20_000; // ms
const KEPT = "kept";

export function logbook() {
  return {
    kind: "",
    kept: "",
    queue: [],
    busy: false,
    init() {
      this.kind = this.$root.dataset.kind;
      this.kept = sessionStorage.getItem(KEPT) ?? "";
      sessionStorage.removeItem(KEPT);
      for (const form of this.forms()) if (form.at.value === "") form.at.value = localTime(Date.now());
      addEventListener("online", () => this.flush());
      setInterval(() => this.flush(), RETRY);
      navigator.serviceWorker?.register("/sw.js").catch(() => {}); // only at a secure address
      this.flush();
    },
    forms() {
      return [...this.$root.querySelectorAll("form[data-kind]")];
    },
    shows(kind) {
      return this.kind === kind;
    },
    pick(event) {
      const { kind } = event.target.dataset;
      this.kind = this.kind === kind ? "" : kind;
      this.kept = "";
      const form = this.formOf(kind);
      form.at.value = localTime(Date.now());
      recall(form);
      this.$nextTick(() => form.querySelector("select, input:not([type=hidden])")?.focus());
    },
    formOf(kind) {
      return this.forms().find((form) => form.dataset.kind === kind);
    },
    async send(event) {
      const form = event.target;
      tell(form, {});
      const photo = await smaller(form.photo.files[0]).catch((error) => error);
      if (photo instanceof Error) {
        tell(form, { photo: photo.message });
        return;
      }
      const fields = [...new FormData(form)].filter(([name, value]) => name !== "photo" && value !== "");
      const { url, garden } = this.$root.dataset;
      const entry = { sentId: newId(), garden, url, fields, photo, refused: "", since: Date.now() };
      await keep(entry); // from here on nothing is lost, whatever happens to the page
      this.busy = true;
      const { state, faults } = await send(entry);
      this.busy = false;
      if (state === "refused") {
        await forget(entry.sentId); // it is still in the form
        tell(form, faults);
        return;
      }
      remember(form);
      form.reset();
      form.at.value = localTime(Date.now());
      this.kind = "";
      await this.look();
      if (state === "sent") {
        sessionStorage.setItem(KEPT, form.ariaLabel); // said once the page is back with it
        location.assign(location.pathname);
      } else this.$root.scrollIntoView(); // to the word that it waits here
    },
    async look() {
      this.queue = await waiting(this.$root.dataset.garden);
    },
    async flush() {
      if (this.busy) return;
      this.busy = true;
      const sent = await sendWaiting(this.$root.dataset.garden);
      await this.look();
      this.busy = false;
      if (sent > 0 && this.kind === "") location.assign(location.pathname);
    },
    reopen(event) {
      const entry = this.queue.find((one) => one.sentId === event.target.dataset.id);
      const fields = Object.fromEntries(entry.fields);
      const form = this.formOf(fields.kind);
      this.kind = fields.kind;
      for (const [name, value] of entry.fields) if (form.elements[name]) form.elements[name].value = value;
      tell(form, { note: entry.refused });
      return forget(entry.sentId).then(() => this.look());
    },
    discard(event) {
      return forget(event.target.dataset.id).then(() => this.look());
    },
    get pending() {
      return this.queue.filter((one) => one.refused === "");
    },
    get isWaiting() {
      return this.pending.length > 0;
    },
    get waitingSaid() {
      const count = this.pending.length;
      return `${count} ${count === 1 ? "entry waits" : "entries wait"} on this device for a connection. Nothing is lost.`;
    },
    get refused() {
      return this.queue
        .filter((one) => one.refused !== "")
        .map((one) => ({ sentId: one.sentId, said: `An entry of ${new Date(one.since).toLocaleString()} was refused. ${one.refused}` }));
    },
  };
}

// Says beside each field what is wrong with it; what is only asked about may be said to be so.
function tell(form, faults) {
  for (const asked of form.querySelectorAll("[data-sure]")) asked.hidden = faults.sure === undefined;
  for (const place of form.querySelectorAll("[data-fault]")) {
    const fault = faults[place.dataset.fault] ?? "";
    place.textContent = fault;
    place.id ||= `fault-${form.id}-${place.dataset.fault}`;
    const field = form.elements[place.dataset.fault];
    field?.setAttribute?.("aria-invalid", fault === "" ? "false" : "true");
    field?.setAttribute?.("aria-describedby", place.id);
  }
  form.querySelector('[aria-invalid="true"]')?.focus();
}

// The part that an entry of this kind was last about is the likeliest one.
function recall(form) {
  if (form.part?.value === "") form.part.value = localStorage.getItem(`about-${form.dataset.kind}`) ?? "";
  if (form.part?.selectedIndex === -1) form.part.selectedIndex = 0; // it is gone
}

function remember(form) {
  if (form.part?.value) localStorage.setItem(`about-${form.dataset.kind}`, form.part.value);
}

// A photo made small enough to wait on a phone and to be sent over a weak connection.
async function smaller(file) {
  if (!file || file.size === 0) return null;
  const megabytes = Math.round(file.size / 1e6);
  if (file.size > LARGEST_PHOTO) throw new Error(`This photo has ${megabytes} MB: choose one below 40 MB.`);
  const picture = await createImageBitmap(file).catch(() => null);
  if (picture === null) throw new Error("This is not a picture: choose a JPEG, PNG or WebP file.");
  const scale = Math.min(1, PHOTO_SIDE / Math.max(picture.width, picture.height));
  const canvas = document.createElement("canvas");
  canvas.width = Math.round(picture.width * scale);
  canvas.height = Math.round(picture.height * scale);
  canvas.getContext("2d").drawImage(picture, 0, 0, canvas.width, canvas.height);
  return new Promise((resolve) => canvas.toBlob(resolve, "image/jpeg", 0.85));
}
