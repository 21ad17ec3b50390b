"""Words in drawings: none lies on another, and none is cut off; and in sentences: none is set in columns."""

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


_IN_COLUMNS = """() => [...document.querySelectorAll("main *")].filter((each) => {
  const texts = [...each.childNodes].filter((n) => n.nodeType === Node.TEXT_NODE && n.textContent.trim());
  const figures = [...each.children].filter((child) => child.matches("span.whitespace-nowrap"));
  return (texts.length > 1 || (texts.length && figures.length)) && /flex|grid/.test(getComputedStyle(each).display);
}).map((each) => each.textContent.trim().replace(/\\s+/g, " ").slice(0, 80))"""


def sentences_in_columns(page: Page) -> list[str]:
    """Sentences of which a box that sets its children side by side makes columns: each figure one of its own."""
    found: list[str] = page.evaluate(_IN_COLUMNS)
    return found
