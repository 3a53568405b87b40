/** What the server computes from the text: headings, page edges, markers, tables. Kept level by small changes. */
export { applyChanges, EMPTY_VIEW, type Cited, type CrossReference, type Edge, type Heading, type Place, type Termed, type View } from "./apply";
export {
  EMPTY_RECIPE as RECIPE,
  readLine,
  type Changes,
  type Check,
  type Difference,
  type Face,
  type FaceRow,
  type Finding,
  type Kept,
  type Leftovers,
  type LevelLook,
  type Line as TableLine,
  type LineRow,
  type Marked as FoundLook,
  type Measures,
  type Recipe,
  type SetAside,
  type Standing as OwnWords,
  type Table,
} from "./described";
export * from "./queries";
