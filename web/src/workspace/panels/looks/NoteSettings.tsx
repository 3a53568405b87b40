/** How the notes of a report are counted, and where endnotes stand. */
import type { PageShown } from "../../../api/client";
import { Choice } from "../../controls/Figure";
import { Press, Row } from "../../controls/parts";

const FOOTNOTES_COUNTED = [
  ["report", "counted through the report"],
  ["section", "from 1 in each main section"],
  ["page", "from 1 on each page"],
] as const;

const ENDNOTES_AT = [
  ["report", "endnotes at the end of the report"],
  ["section", "endnotes at the end of main sections"],
] as const;

const ENDNOTES_COUNTED = [
  ["report", "counted through the report"],
  ["section", "from 1 in each main section"],
] as const;

const SIGNS = [
  ["decimal", "1, 2, 3"],
  ["lower-letter", "a, b, c"],
  ["lower-roman", "i, ii, iii"],
  ["signs", "*, †, ‡"],
] as const;

/** What can be chosen, by name of the setting. */
export const NOTE_CHOICES = { footnotes_counted: FOOTNOTES_COUNTED, footnote_signs: SIGNS, endnotes_at: ENDNOTES_AT, endnotes_counted: ENDNOTES_COUNTED, endnote_signs: SIGNS } as const;

const NAMES: Record<keyof typeof NOTE_CHOICES, string> = {
  footnotes_counted: "How footnotes are counted",
  footnote_signs: "Signs of footnotes",
  endnotes_at: "Where endnotes stand",
  endnotes_counted: "How endnotes are counted",
  endnote_signs: "Signs of endnotes",
};

interface Props {
  page: PageShown;
  mayWrite: boolean;
  change: (values: Partial<PageShown>) => void;
  /** Leads to the style in which notes are set, if the report has one. */
  toStyle: { name: string; go: () => void } | null;
}

export function NoteSettings({ page, mayWrite, change, toStyle }: Props) {
  const choice = (name: keyof typeof NOTE_CHOICES) => (
    <Choice name={NAMES[name]} value={page[name]} choices={NOTE_CHOICES[name]} disabled={!mayWrite} set={(value) => change({ [name]: value })} />
  );
  return (
    <>
      <Row label="Footnotes">
        {choice("footnote_signs")}
        {choice("footnotes_counted")}
        {toStyle && (
          <Press type="button" onClick={toStyle.go}>
            Set in “{toStyle.name}”
          </Press>
        )}
      </Row>
      <Row label="Endnotes">
        {choice("endnote_signs")}
        {choice("endnotes_counted")}
        {choice("endnotes_at")}
      </Row>
    </>
  );
}
