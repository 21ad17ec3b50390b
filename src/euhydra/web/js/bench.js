// The bench: readings stream in, the plan lights up where water runs, buttons steer it.

/** The running bench; its first reading and its zones' parts stand in the scripts beside it. */
export function bench() {
  return {
    reading: null,
    failed: "",
    parts: {},
    source: null,
    watcher: null,
    init() {
      const [reading, parts] = this.$root.querySelectorAll("script[type='application/json']");
      this.parts = JSON.parse(parts.textContent);
      this.show(JSON.parse(reading.textContent));
      const paper = this.$root.querySelector(".paper");
      this.watcher = new ResizeObserver(() => sizeLetters(paper));
      this.watcher.observe(paper);
      this.listen();
    },
    destroy() {
      this.watcher.disconnect();
      this.source.close();
    },
    listen() {
      this.source = new EventSource(this.$root.dataset.stream);
      this.source.onmessage = (event) => {
        this.failed = "";
        this.show(JSON.parse(event.data));
      };
      this.source.onerror = () => {
        this.failed = "The bench does not answer. Is the program still running? It tries again by itself.";
      };
    },
    show(reading) {
      this.reading = reading;
      light(this.$root, this.parts, reading.zones);
    },
    async send(action, value) {
      const body = new URLSearchParams({ action, value: value ?? "" });
      const answer = await fetch(this.$root.dataset.control, { method: "POST", body });
      if (!answer.ok) this.failed = "The bench has been put away. Load the page again.";
      return answer.ok;
    },
    toggle() {
      return this.send(this.reading.playing ? "pause" : "play");
    },
    step() {
      return this.send("step");
    },
    async again() {
      if (await this.send("again")) window.location.reload();
    },
    speed(event) {
      return this.send("speed", event.target.value);
    },
    fault(event) {
      return this.send(event.target.checked ? "fault-on" : "fault-off", event.target.value);
    },
    get playWord() {
      return this.reading.playing ? "Pause" : "Run";
    },
    get hasLog() {
      return this.reading.log.length > 0;
    },
    get quiet() {
      return this.reading.notices.length === 0;
    },
  };
}

// Marks what water runs through. An outlet is not named for itself but by its zone.
function light(root, parts, zones) {
  for (const { id, open } of zones) {
    for (const part of parts[id] ?? []) {
      root.querySelector(`[data-part="${part}"]`)?.classList.toggle("running", open);
    }
    for (const outlet of root.querySelectorAll(`[data-zone="${id}"]`)) outlet.classList.toggle("running", open);
  }
}

/** Letters as large on every screen: how many metres a pixel is. */
function sizeLetters(paper) {
  const { width, height } = paper.viewBox.baseVal;
  paper.style.setProperty("--px", Math.max(width / paper.clientWidth, height / paper.clientHeight));
}
