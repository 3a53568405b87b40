/** The product's mark: an open book with a stitched spine. */
export function Mark({ size = 26 }: { size?: number }) {
  return <img src="/static/mark.svg" alt="" width={size} height={size} style={{ flexShrink: 0, minWidth: size }} />;
}
