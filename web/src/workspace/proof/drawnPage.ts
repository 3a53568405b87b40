/** A page as SVG: its words are text, set in the very faces and as wide as the core has measured them. */
import { familyOf } from "../controls/fonts";
import type { Loaded } from "./pages";

const SVG = "http://www.w3.org/2000/svg";

function made<Name extends keyof SVGElementTagNameMap>(name: Name, attributes: Readonly<Record<string, string | number>>): SVGElementTagNameMap[Name] {
  const element = document.createElementNS(SVG, name);
  for (const [attribute, value] of Object.entries(attributes)) element.setAttribute(attribute, String(value));
  return element;
}

export interface Around {
  width: number;
  height: number;
  /** The address of a picture. */
  picture: (source: string) => string;
}

export function drawnPage({ page, faces }: Loaded, { width, height, picture }: Around): SVGSVGElement {
  // What stands in it is read as text of the page, not as a picture.
  const svg = made("svg", { viewBox: `0 0 ${width} ${height}`, role: "none" });
  for (const [x, y, across, down, weight, colour, fill, dash] of page.rules) {
    svg.append(
      across && down
        ? made("rect", { x, y, width: across, height: down, stroke: colour, "stroke-width": weight, fill: fill ?? "none" })
        : made("line", { x1: x, y1: y, x2: x + across, y2: y + down, stroke: colour, "stroke-width": weight, ...(dash && { "stroke-dasharray": dash }) }),
    );
  }
  for (const [x, y, across, down, source] of page.pictures) {
    svg.append(made("image", { x, y, width: across, height: down, href: picture(source), preserveAspectRatio: "none" }));
  }
  for (const [x, y, words, at, size, colour, across] of page.words) {
    const face = faces[at];
    if (!face) continue;
    const text = made("text", { x, y, fill: colour });
    // As styles: what the application says of the type of all elements would go before attributes.
    const { style } = text;
    style.whiteSpace = "pre"; // as a style of each: it does not come down from what they stand in
    style.fontFamily = familyOf(face.font);
    style.fontSize = `${size}px`;
    style.fontWeight = face.bold ? "700" : "400";
    style.fontStyle = face.italic ? "italic" : "normal";
    if (face.tabular) text.classList.add("tabular");
    if (words.length > 1) {
      text.setAttribute("textLength", String(across));
      text.setAttribute("lengthAdjust", "spacing");
    }
    text.textContent = words;
    svg.append(text);
  }
  for (const [x, baseline, size, colour, across, d, says] of page.curves) {
    svg.append(made("path", { d, fill: colour, transform: `translate(${x} ${baseline}) scale(${size})` }));
    // Its words, where it stands: what is looked for and copied.
    const text = made("text", { x, y: baseline, fill: "transparent", textLength: across, lengthAdjust: "spacingAndGlyphs" });
    text.style.fontSize = `${size}px`;
    text.textContent = says;
    svg.append(text);
  }
  const areas = new Map(page.blocks.map(([id, ...area]) => [id, area]));
  for (const [id, words] of page.headings) {
    const area = areas.get(id);
    if (area) svg.append(link(area, { "data-text": id, href: "#", "aria-label": `“${words}” in the text` }));
  }
  for (const [x, y, across, down, to, name] of page.links) {
    svg.append(link([x, y, across, down], name ? { "data-place": to, href: "#", "aria-label": name } : { href: to, target: "_blank", rel: "noopener noreferrer", "aria-label": to }));
  }
  return svg;
}

function link([x, y, width, height]: readonly [number, number, number, number], attributes: Readonly<Record<string, string>>): SVGAElement {
  const found = made("a", attributes);
  found.append(made("rect", { x, y, width, height, fill: "transparent", rx: 2 }));
  return found;
}
