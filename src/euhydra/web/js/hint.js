/** A hint that a page gives on the first visit from this device, and never again. */
export function hint() {
  return {
    shown: false,
    init() {
      const seen = `hint-${this.$root.dataset.page}`;
      try {
        this.shown = localStorage.getItem(seen) === null;
        localStorage.setItem(seen, "seen");
      } catch {
        this.shown = false; // where nothing may be kept it would come each time
      }
    },
    close() {
      this.shown = false;
    },
  };
}
