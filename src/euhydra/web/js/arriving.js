// After a form was sent, the page that comes of it says what it came to, for those who hear it too: what is
// there when a page opens is not read out.

const SENT = "sent"; // kept by the window until the next page
const SOON_MS = 300; // a reader has to know of the place before words come into it

/** Tells what came of the form that led here, and remembers that one was sent from here. */
export function tellArrival() {
  window.addEventListener("submit", (event) => {
    if (!event.defaultPrevented) sessionStorage.setItem(SENT, new URL(event.target.action).hash);
  });
  const place = sessionStorage.getItem(SENT);
  if (place === null) return;
  sessionStorage.removeItem(SENT);
  openAgain(document.getElementById(place.slice(1)));
  const faults = [...document.querySelectorAll("main .fault-box")].filter((each) => each.offsetParent !== null);
  const answers = document.querySelectorAll("main [data-told], main .answer .verdict .summary");
  const words = (faults.length > 0 ? faults : [...answers]).map((each) => each.textContent.trim().replace(/\s+/g, " "));
  setTimeout(() => (document.getElementById("told").textContent = words.join(" ")), SOON_MS);
}

/** The form that was sent stays open, though the page is shown from its answer on. */
function openAgain(form) {
  const folded = form?.matches("details") ? form : form?.querySelector(":scope > details");
  folded?.setAttribute("open", "");
}

/** A page that was kept for when there is no connection says so, and since when it stands. */
export function tellLastSeen() {
  const { seen } = document.documentElement.dataset;
  if (seen === undefined) return;
  const day = new Date(seen).toLocaleString("en-GB", { day: "numeric", month: "long", hour: "numeric", minute: "2-digit" });
  const bar = document.getElementById("last-seen");
  bar.textContent = `As last seen on ${day}: the garden’s computer cannot be reached now.`;
  bar.hidden = false;
}
