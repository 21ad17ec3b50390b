// What takes longer than a moment says so, how long already, and can be given up: a page that is asked for, a
// form that is sent.

const PATIENCE_MS = 700; // under this nobody wonders

/** Watches over what leads to another page. */
export function watchWaits() {
  const bar = document.getElementById("waiting");
  let timer = 0;
  let since = 0;

  const said = bar.querySelector("[aria-live]");
  const tell = () => {
    const seconds = Math.round((Date.now() - since) / 1000);
    bar.hidden = false;
    if (seconds % 5 === 0 || said.textContent === "") said.textContent = "Working it out…"; // read out now and then
    bar.querySelector("[data-seconds]").textContent = seconds < 2 ? "" : `${seconds} s`;
    timer = setTimeout(tell, 1000);
  };
  const begin = () => {
    end();
    since = Date.now();
    timer = setTimeout(tell, PATIENCE_MS);
  };
  const end = () => {
    clearTimeout(timer);
    bar.hidden = true;
    said.textContent = "";
  };

  // On the window, after all others: what they took over leads nowhere.
  window.addEventListener("submit", (event) => {
    if (!event.defaultPrevented) begin();
  });
  window.addEventListener("click", (event) => {
    const link = event.target.closest?.("a[href]");
    if (!event.defaultPrevented && link !== null && isPage(link, event)) begin();
  });
  window.addEventListener("pageshow", end); // a page that is come back to
  bar.querySelector("button").addEventListener("click", () => {
    window.stop();
    end();
  });
}

/** Whether a click leads to another page here: a file or another tab leaves this one where it is. */
function isPage(link, event) {
  const { origin, pathname, search, hash } = new URL(link.href);
  const isHere = pathname === location.pathname && search === location.search && hash !== "";
  const isPlain = !event.ctrlKey && !event.metaKey && !event.shiftKey && event.button === 0;
  const isFile = link.hasAttribute("download") || /\.\w+$/.test(pathname);
  return isPlain && origin === location.origin && !isHere && !isFile && link.target === "";
}
