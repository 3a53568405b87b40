/**
 * What this browser cannot show is nobody's to lose: the binding takes it for what two people left behind who wrote at once, and
 * deletes it from the shared text. Whoever asks hears of it before that happens.
 */
import { Extension } from "@tiptap/core";

interface Options {
  /** Some of the text could not be made into what the editor knows. */
  onFailure: () => void;
}

export const Unshown = Extension.create<Options>({
  name: "unshown",
  addOptions: () => ({ onFailure: () => undefined }),
  onBeforeCreate() {
    const { schema } = this.editor;
    const { onFailure } = this.options;
    /** The same function, which tells when it fails. */
    const watched =
      <Given extends unknown[], Made>(make: (...given: Given) => Made) =>
      (...given: Given): Made => {
        try {
          return make(...given);
        } catch (error) {
          onFailure();
          throw error;
        }
      };
    schema.node = watched(schema.node.bind(schema));
    schema.text = watched(schema.text.bind(schema));
    schema.mark = watched(schema.mark.bind(schema));
  },
});
