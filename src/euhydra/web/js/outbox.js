// Entries of the log that wait on this device until they have been taken, each under its own id.

import { createStore, del, set, values } from "idb-keyval";

const store = createStore("euhydra-outbox", "entries");

/** A new id; made without randomUUID, which needs a secure address. */
export function newId() {
  return Array.from(crypto.getRandomValues(new Uint8Array(16)), (b) => b.toString(16).padStart(2, "0")).join("");
}

/** A moment on this device's clock, such as 2026-06-21T07:30. */
export function localTime(milliseconds) {
  const zone = new Date(milliseconds).getTimezoneOffset() * 60_000;
  return new Date(milliseconds - zone).toISOString().slice(0, 16);
}

/** Keep an entry: {sentId, garden, url, fields, photo, refused, since}. */
export function keep(entry) {
  return set(entry.sentId, entry, store);
}

export function forget(sentId) {
  return del(sentId, store);
}

/** What waits for a garden, oldest first. */
export async function waiting(garden) {
  const all = await values(store);
  return all.filter((entry) => entry.garden === garden).sort((a, b) => a.since - b.since);
}

/**
 * Send one entry. Answers "sent", "refused" with its faults, or "unreachable"; it is forgotten only
 * when the other side has said that it is kept.
 */
export async function send(entry) {
  const form = new FormData();
  for (const [name, value] of entry.fields) form.append(name, value);
  form.set("sent_id", entry.sentId);
  form.set("made_at", localTime(entry.since)); // by this device's clock, which may be the right one
  form.set("ago_s", Math.round((Date.now() - entry.since) / 1000)); // which a clock that is wrong tells all the same
  if (entry.photo) form.set("photo", entry.photo, "photo.jpg");
  const headers = { accept: "application/json" };
  const answer = await fetch(entry.url, { method: "POST", body: form, headers }).catch(() => null);
  const isAway = answer === null || answer.status >= 500 || answer.status === 401; // asks for the passphrase first
  if (isAway) return { state: "unreachable", faults: {} };
  if (answer.ok) {
    await forget(entry.sentId);
    return { state: "sent", faults: {} };
  }
  const told = answer.headers.get("content-type")?.includes("json") ? await answer.json() : {};
  const refused = { note: `It was refused (${answer.status}): check it and send it again.` };
  return { state: "refused", faults: told.faults ?? refused };
}

/** Send what waits for a garden, oldest first; answers how many were taken. What is refused stays, marked so. */
export async function sendWaiting(garden) {
  let sent = 0;
  for (const entry of (await waiting(garden)).filter((one) => one.refused === "")) {
    const { state, faults } = await send(entry);
    if (state === "unreachable") break;
    if (state === "sent") sent += 1;
    if (state === "refused") await keep({ ...entry, refused: Object.values(faults).join(" ") });
  }
  return sent;
}
