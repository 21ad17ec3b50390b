// Of what is done one after another, the next one is open.
function openNext() {
  const next = document.querySelector("[data-step]:not(.is-done) > details");
  if (next) next.open = true;
}

/** Ticks that are kept at once; the verdict follows. */
export function ticks() {
  return {
    failed: false,
    changed: false,
    /** While something typed is not kept yet, the button to keep it stays in view. */
    get barClass() {
      return this.changed ? "is-waiting" : "";
    },
    touch(event) {
      this.changed ||= event.target.type !== "checkbox";
    },
    async save(event) {
      const box = event.target;
      const { url, list } = this.$root.dataset;
      const form = new FormData();
      form.set("list", list);
      form.set("item", box.dataset.item);
      form.set("on", box.checked ? "true" : "false");
      const answer = await fetch(url, { method: "POST", body: form }).catch(() => null);
      this.failed = answer === null || !answer.ok;
      if (this.failed) {
        box.checked = !box.checked; // what is shown is what is kept
        return;
      }
      box.closest("tr")?.classList.toggle("is-there", box.checked);
      box.closest("li")?.classList.toggle("is-done", box.checked);
      if (box.checked) openNext();
      const verdict = document.querySelector("[data-fresh-verdict]");
      verdict.innerHTML = (await answer.json()).verdict;
      document.getElementById("told").textContent = verdict.querySelector(".summary").textContent.trim();
    },
  };
}
