/** A menu in the margin of the text. Whoever came to it from the text, or changes the text with it, goes on in the text. */
import { Menu, Portal } from "@chakra-ui/react";
import type { Editor } from "@tiptap/core";
import { forwardRef, useEffect, useImperativeHandle, useRef, useState, type ComponentProps, type ReactElement, type Ref } from "react";

export interface MarginMenuHandle {
  /** Opens it for somebody who is in the text. */
  open: () => void;
  /** Closes it for somebody who goes on in the text. */
  close: () => void;
}

interface Props extends ComponentProps<typeof Menu.Content> {
  editor: Editor;
  trigger: ReactElement;
  opened: (open: boolean) => void;
  /** Does what was chosen; whether that was something about the text. */
  choose: (value: string) => boolean;
}

/** What a menu offers. It has the focus from its first moment: keys that follow at once are not meant for the text. */
function Choices(props: ComponentProps<typeof Menu.Content>) {
  const menu = useRef<HTMLDivElement>(null);
  useEffect(() => menu.current?.focus({ preventScroll: true }), []);
  return <Menu.Content ref={menu} bg="raised" {...props} />;
}

export const MarginMenu = forwardRef(function MarginMenu(
  { editor, trigger, opened, choose, ...choices }: Props,
  ref: Ref<MarginMenuHandle>,
) {
  const [open, setOpen] = useState(false);
  const toText = useRef(false);

  const change = (now: boolean) => {
    setOpen(now);
    opened(now);
    if (!now && toText.current) editor.view.focus();
  };

  useImperativeHandle(ref, () => ({
    open: () => {
      toText.current = true;
      change(true);
    },
    close: () => {
      toText.current = true;
      change(false);
    },
  }));

  return (
    <Menu.Root
      open={open}
      onOpenChange={(now) => change(now.open)}
      onInteractOutside={() => {
        toText.current = false;
      }}
      onSelect={({ value }) => {
        if (choose(value)) toText.current = true;
      }}
      positioning={{ placement: "right-start", fitViewport: true }}
      lazyMount
      unmountOnExit
    >
      <span
        onFocus={() => {
          // A menu that closes gives the focus to its button.
          if (toText.current) editor.view.focus();
          toText.current = false;
        }}
      >
        <Menu.Trigger asChild>{trigger}</Menu.Trigger>
      </span>
      <Portal>
        <Menu.Positioner>
          <Choices inert={!open} {...choices} />
        </Menu.Positioner>
      </Portal>
    </Menu.Root>
  );
});
