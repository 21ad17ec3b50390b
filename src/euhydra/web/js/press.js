// Whether a finger or a mouse button is down: what moves then, takes the click away from what was pressed.

let isDown = false;

addEventListener("pointerdown", () => (isDown = true), true);
for (const end of ["pointerup", "pointercancel"]) addEventListener(end, () => (isDown = false), true);

/** Resolves when nothing is pressed, after the click that a press ends in. */
export async function released() {
  while (isDown) {
    await new Promise((resolve) => {
      for (const end of ["pointerup", "pointercancel"]) {
        addEventListener(end, () => setTimeout(resolve), { capture: true, once: true });
      }
    });
  }
}
