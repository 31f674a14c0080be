import { documentSchema, type ReportDocument } from '@chronicon/core/report';
import { atField } from '../platform/refusal.ts';

/** An edited document held against its schema. @throws Refusal at the place of the first fault */
export function readEdited(edited: ReportDocument): ReportDocument {
  const parsed = documentSchema.safeParse(edited);
  if (parsed.success) return parsed.data;
  const [fault] = parsed.error.issues;
  throw atField(`document.${fault!.path.join('.')}`, fault!.message);
}
