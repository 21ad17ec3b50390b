// Draws the icons that a phone puts on its home screen from the one drop that is the program's sign.
// Usage: icons.mjs ICON_SVG FOLDER
import { readFileSync, writeFileSync } from "node:fs";
import { Resvg } from "@resvg/resvg-js";

const [source, folder] = process.argv.slice(2);
const drop = readFileSync(source, "utf8").replace(/<\/?svg[^>]*>/g, "");
const PAPER = "#f6f1e4";

// A phone may cut a maskable icon to any shape within its middle four fifths.
const ICONS = [
  { name: "icon-180.png", size: 180, margin: 3 },
  { name: "icon-192.png", size: 192, margin: 2 },
  { name: "icon-512.png", size: 512, margin: 2 },
  { name: "icon-maskable-512.png", size: 512, margin: 9 },
];

for (const { name, size, margin } of ICONS) {
  const box = `${-margin} ${-margin} ${32 + 2 * margin} ${32 + 2 * margin}`;
  const svg = `<svg xmlns="http://www.w3.org/2000/svg" viewBox="${box}">
    <rect x="${-margin}" y="${-margin}" width="100%" height="100%" fill="${PAPER}"/>${drop}</svg>`;
  writeFileSync(`${folder}/${name}`, new Resvg(svg, { fitTo: { mode: "width", value: size } }).render().asPng());
}
