"""Words in drawings: none lies on another, and none is cut off by the edge of its drawing."""

from playwright.sync_api import Page

_FIND = """() => {
  const found = [];
  for (const svg of document.querySelectorAll("main svg")) {
    const frame = svg.getBoundingClientRect();
    const words = [...svg.querySelectorAll("text")].filter((each) => each.textContent.trim()
      && each.getBoundingClientRect().width && getComputedStyle(each).visibility !== "hidden");
    const boxes = words.map((each) => {
      const { left, right, top, bottom } = each.getBoundingClientRect();
      const room = (bottom - top) / 5;  // over capitals and under the line
      return { left: left + 2, right: right - 2, top: top + room, bottom: bottom - room };
    });
    const said = (i) => words[i].textContent.trim().replace(/\\s+/g, " ").slice(0, 40);
    boxes.forEach((a, i) => {
      if (a.left < frame.left || a.right > frame.right || a.top < frame.top || a.bottom > frame.bottom) {
        found.push(`${said(i)}: cut off`);
      }
      boxes.slice(i + 1).forEach((b, j) => {
        if (a.left < b.right && b.left < a.right && a.top < b.bottom && b.top < a.bottom) {
          found.push(`${said(i)} on ${said(i + 1 + j)}`);
        }
      });
    });
  }
  return found;
}"""


def crowded_words(page: Page) -> list[str]:
    """What lies on what, or is cut off, in the drawings that are shown."""
    found: list[str] = page.evaluate(_FIND)
    return found
