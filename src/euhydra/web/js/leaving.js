// A device that leaves takes nothing along: the pages that it kept for the garden are forgotten.

export function leaving() {
  return {
    forget() {
      if (!("caches" in window)) return; // there are none without a secure address
      caches.keys().then((names) => names.forEach((name) => caches.delete(name)));
    },
  };
}
