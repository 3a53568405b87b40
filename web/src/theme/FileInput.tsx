import type { Ref } from "react";

interface Props {
  ref: Ref<HTMLInputElement>;
  label: string;
  /** Endings or types of file, as in HTML. */
  accept: string;
  take: (file: File | undefined) => void;
}

/** The browser's own choice of a file, opened by pressing something else; the same file can be chosen twice. */
export const FileInput = ({ ref, label, accept, take }: Props) => (
  <input
    ref={ref}
    type="file"
    aria-label={label}
    accept={accept}
    style={{ display: "none" }}
    onChange={(event) => {
      take(event.target.files?.[0]);
      event.target.value = "";
    }}
  />
);
