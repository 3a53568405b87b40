/** A picture on a line of its own, in the text or in a cell. */
import { mergeAttributes, Node, type Editor } from "@tiptap/core";
import { api, type StoredPicture } from "../../../api/client";
import { newId } from "../ids";
import { insertAfter, insertBlock } from "../insert";
import { ALIGNS, id, numberWithin, plain } from "./attributes";
import type { BlockKind } from "./kind";

const Image = Node.create<{ address: (source: string) => string }>({
  name: "image",
  group: "block",
  atom: true,
  draggable: true,
  addOptions: () => ({ address: () => "" }),
  addAttributes: () => ({
    id,
    source: { default: "", parseHTML: (element) => /^[0-9a-f]{32}\.(png|jpg|gif|webp)$/.exec(element.getAttribute("data-source") ?? "")?.[0] ?? "", rendered: false },
    width: { ...plain(200), parseHTML: (element) => numberWithin(element.getAttribute("data-width"), 1, 5000) ?? 200 },
    height: { ...plain(150), parseHTML: (element) => numberWithin(element.getAttribute("data-height"), 1, 5000) ?? 150 },
    alt: { ...plain(""), parseHTML: (element) => (element.getAttribute("data-alt") ?? "").slice(0, 500) },
    decorative: { ...plain(null), parseHTML: (element) => (element.hasAttribute("data-decorative") ? true : null) },
    align: plain("center"),
    beside: plain(),
  }),
  parseHTML: () => [{ tag: "figure[data-source]" }],
  renderHTML({ node, HTMLAttributes }) {
    const { source, width, height, alt, align } = node.attrs as Record<string, string>;
    const beside = node.attrs.beside === true && (align === "left" || align === "right");
    return [
      "figure",
      mergeAttributes(HTMLAttributes, {
        "data-source": source,
        "data-width": width,
        "data-height": height,
        "data-alt": alt,
        ...(beside && { "data-beside": align }),
        ...(node.attrs.decorative === true && { "data-decorative": "" }),
        style: `text-align: ${ALIGNS.includes(align ?? "") ? align : "center"}`,
      }),
      [
        "img",
        {
          src: this.options.address(source ?? ""),
          alt: alt ?? "",
          draggable: "false",
          style: `--width: ${Number(width)}pt; width: ${Number(width)}pt; aspect-ratio: ${Number(width)} / ${Number(height)}`,
        },
      ],
    ];
  },
});

/** The kinds of file that are pictures. */
export const PICTURES = "image/png,image/jpeg,image/gif,image/webp";

/**
 * Puts a picture behind the block for which it was asked; at the cursor if somebody has taken that block out meanwhile. Returns
 * its id.
 */
export function insertPicture(editor: Editor, after: string, { source, width, height }: StoredPicture): string {
  const attributes = { id: newId(), source, width, height, alt: "" };
  if (!insertAfter(editor, after, "image", attributes)) insertBlock(editor, "image", attributes);
  return attributes.id;
}

export const picture: BlockKind = {
  name: "image",
  nodes: ({ report }) => [Image.configure({ address: (source) => api.picture(report, source) })],
  puts: [
    {
      key: "picture",
      label: "Picture …",
      accept: PICTURES,
      insertFile: async (editor, after, report, file) => void insertPicture(editor, after, await api.addPicture(report, file)),
    },
  ],
};
