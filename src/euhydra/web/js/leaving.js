// A device that leaves takes nothing along: the pages that it kept for the garden are forgotten first.

export function leaving() {
  return {
    async forget(event) {
      if (!("caches" in window)) return; // there are none without a secure address
      event.preventDefault();
      const names = await caches.keys();
      await Promise.all(names.map((name) => caches.delete(name)));
      event.target.submit();
    },
  };
}
