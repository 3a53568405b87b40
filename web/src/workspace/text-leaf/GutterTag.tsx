/** The gutter tag: names the style of a paragraph, and is the place to choose another, for one or for all that look alike. */
import { Box, chakra, Menu, Portal } from "@chakra-ui/react";
import { forwardRef, useImperativeHandle, useRef, useState, type Ref } from "react";
import { api } from "../../api/client";
import { counted } from "../../words";
import { giveStyle, setOnParagraphs } from "./commands";
import type { InMargin } from "./inMargin";
import { carryOut } from "./plan";
import { MarginMenu, type MarginMenuHandle } from "./MarginMenu";
import { tagOf } from "./styleRules";

const Tag = chakra("button");

/** The menu item that is no style: whether to change all paragraphs that look alike. */
const ALL = "/all";

const OUT = "/out";

/** A box that is ticked or not, in front of what a menu offers. */
const Ticked = ({ ticked }: { ticked: boolean }) => (
  <Box
    as="span"
    aria-hidden
    w="16px"
    h="16px"
    mr="4"
    flexShrink="0"
    borderWidth="1px"
    borderColor={ticked ? "iris" : "quiet"}
    bg={ticked ? "iris" : "raised"}
    color="leaf"
    rounded="xs"
    fontSize="12px"
    lineHeight="14px"
    textAlign="center"
  >
    {ticked && "✓"}
  </Box>
);

/** The address of a place: opening it leads there. */
async function copyAddress(id: string, notify: (notice: string) => void): Promise<void> {
  const address = `${window.location.origin}${window.location.pathname}#${id}`;
  try {
    await navigator.clipboard.writeText(address);
    notify("The address of this place is copied; it leads everybody here who may read the report.");
  } catch {
    notify(`Copy the address of this place: ${address}`);
  }
}

export interface GutterTagHandle {
  /** Opens the menu for all paragraphs that look like the one at hand. */
  openForAll: () => void;
}

export const GutterTag = forwardRef(function GutterTag({ editor, report, room, at, opened, notify }: InMargin, ref: Ref<GutterTagHandle>) {
  const menu = useRef<MarginMenuHandle>(null);
  const [alike, setAlike] = useState<readonly string[] | null>(null);
  const [all, setAll] = useState(false);
  const style = report.styles.find((one) => one.id === at.style) ?? report.styles[0];
  const others = alike !== null && alike.length > 1;

  useImperativeHandle(ref, () => ({
    openForAll: () => {
      menu.current?.open();
      setAll(true);
    },
  }));

  const change = (open: boolean) => {
    opened(open);
    setAll(false);
    setAlike(null);
    if (open) void api.alike(report.key, at.id).then(({ ids }) => setAlike(ids), () => setAlike([]));
  };

  const markAlike = async (value: string) => {
    try {
      await room.caughtUp();
      const plan = await api.planToMarkAlike(report.key, at.id, value);
      if (carryOut(editor, plan)) notify(`${counted(plan.length, "paragraph")} changed. Undo (Ctrl+Z) takes it back.`);
    } catch (error) {
      notify((error as Error).message);
    }
  };

  /** For all that look alike, or the whole selection if it holds the paragraph, or that alone. */
  const choose = (value: string) => {
    if (value === ALL || !report.styles.some((one) => one.id === value)) return false;
    if (all && others) {
      void markAlike(value);
      return true;
    }
    const { from, to } = editor.state.selection;
    let inside = false;
    editor.state.doc.nodesBetween(from, to, (node) => {
      if (node.attrs.id === at.id) inside = true;
    });
    const changed = giveStyle(editor, value, inside ? undefined : [at.id]);
    if (changed > 1) notify(`${counted(changed, "paragraph")} changed. Undo (Ctrl+Z) takes it back.`);
    return true;
  };

  const list = (level: number | null) => {
    setOnParagraphs(editor, "listed", level, [at.id]);
    menu.current?.close();
  };

  if (!style) return null;
  const sign = at.listed ? `⇥${at.listed}` : tagOf(style);
  const tag = (
    <Tag
      type="button"
      aria-label={`${sign}: style ${style.name}${at.listed === 0 ? ", kept out of tables" : at.listed ? `, in tables at level ${at.listed}` : ""}. Press to choose another`}
      title={style.name}
      textDecoration={at.listed === 0 ? "line-through" : undefined}
      position="absolute"
      left="8px"
      minW="30px"
      h="24px"
      px="5px"
      fontSize="11px"
      fontWeight="600"
      lineHeight="20px"
      rounded="3px 9px 9px 3px"
      borderWidth="1px"
      borderColor="iris"
      bg="raised"
      color="iris"
      cursor="pointer"
      _hover={{ bg: "irisWash" }}
      style={{ top: at.top }}
    >
      {sign}
    </Tag>
  );
  return (
    <MarginMenu
      ref={menu}
      editor={editor}
      trigger={tag}
      opened={change}
      choose={choose}
      maxH="min(480px, 70vh, var(--available-height, 70vh))"
      overflowY="auto"
      minW="230px"
    >
      {/* There from the beginning, so that nothing slides away under the pointer when the answer comes. */}
      <Menu.CheckboxItem
        value={ALL}
        disabled={!others}
        checked={all && others}
        onCheckedChange={setAll}
        closeOnSelect={false}
        fontWeight="600"
        ps="2"
      >
        <Ticked ticked={all && others} />
        {others ? `All ${alike.length} that look like this one` : alike ? "No other looks like this one" : "All that look like this one"}
      </Menu.CheckboxItem>
      <Menu.Separator />
      <Menu.Item value="/address" disabled={!room.state.view.reaches(at.id)} onClick={() => void copyAddress(at.id, notify)} ps="2">
        Copy the address of this place
      </Menu.Item>
      {style.outline_level ? (
        <Menu.CheckboxItem value={OUT} checked={at.listed === 0} onCheckedChange={(out) => list(out ? 0 : null)} ps="2">
          <Ticked ticked={at.listed === 0} />
          Keep this heading out of all tables
        </Menu.CheckboxItem>
      ) : (
        <Menu.Root positioning={{ placement: "right-start" }} onSelect={({ value }) => list(Number(value) || null)} lazyMount unmountOnExit>
          <Menu.TriggerItem>
            {at.listed ? `In tables at level ${at.listed}` : "Into the tables, looking as it does"}
            <Box as="span" ms="auto" aria-hidden>
              ▸
            </Box>
          </Menu.TriggerItem>
          <Portal>
            <Menu.Positioner>
              <Menu.Content bg="raised">
                {[1, 2, 3, 4, 5, 6, 7, 8, 9].map((level) => (
                  <Menu.Item key={level} value={String(level)} fontWeight={at.listed === level ? "700" : undefined}>
                    At level {level}
                  </Menu.Item>
                ))}
                <Menu.Item value="0" disabled={at.listed === null}>
                  In no table
                </Menu.Item>
              </Menu.Content>
            </Menu.Positioner>
          </Portal>
        </Menu.Root>
      )}
      <Menu.Separator />
      {report.styles.filter((one) => !one.put_away || one.id === style.id).map((one) => (
        <Menu.Item key={one.id} value={one.id} fontWeight={one.id === style.id ? "700" : undefined}>
          <Box as="span" w="32px" color="quiet" fontSize="12px" aria-hidden>
            {tagOf(one)}
          </Box>
          <Box flex="1">{one.name}</Box>
          {one.id === style.id && (
            <Box as="span" aria-label="now">
              ✓
            </Box>
          )}
        </Menu.Item>
      ))}
    </MarginMenu>
  );
});
