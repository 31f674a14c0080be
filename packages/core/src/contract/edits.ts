/** What a screen needs to edit a report at once, as the server will: the edits, and what they come to. */
export {
  applyEdit,
  applyEdits,
  blockIn,
  type Draft,
  type Edit,
  editsBetween,
  type ReportRow,
  replaces,
  withEdit,
} from '../report/edit/index.ts';
