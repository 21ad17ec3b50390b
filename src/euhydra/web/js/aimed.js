/** A link to `#open-` and a form's place opens the form where it is folded, the cursor in its first field. */

const AIMED = "#open-";

function open() {
  if (!location.hash.startsWith(AIMED)) {
    document.getElementById(location.hash.slice(1))?.querySelector(":scope > details")?.setAttribute("open", "");
    return;
  }
  const form = document.getElementById(location.hash.slice(AIMED.length));
  if (!form) return;
  form.open = true;
  form.scrollIntoView();
  form.querySelector("input:not([type=hidden]), select")?.focus({ preventScroll: true });
}

/** What was refused is shown: the cursor stands in the first field that is wrong. */
function showRefused() {
  const wrong = document.querySelector('main [aria-invalid="true"]');
  wrong?.closest("details")?.setAttribute("open", "");
  wrong?.focus();
}

export function aim() {
  window.addEventListener("hashchange", open);
  open();
  showRefused();
}
