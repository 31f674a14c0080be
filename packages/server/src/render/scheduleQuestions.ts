import type { CivilDate } from '@chronicon/core/calendar';
import type { Knowledge, Question } from '@chronicon/core/figures';
import { metricsNamed, ownOfSchedule, type ReportDocument, settleReport } from '@chronicon/core/report';
import { knowledgeOf } from '../figures/reading.ts';
import type { StoredClient } from '../store/clients.ts';
import type { StoredSchedule } from '../store/schedules.ts';
import type { Store } from '../store/store.ts';
import { questionsFor } from './draw.ts';
import { orderBasis } from './orderBasis.ts';

/** What a schedule asks of a report's pages and of its mail. */
export type Asking = Pick<StoredSchedule, 'period' | 'comparison' | 'assumed' | 'filter' | 'subject' | 'message'>;

/** The questions of a schedule's pages and mail, as of a day. */
export async function scheduleQuestions(
  db: Store,
  client: StoredClient,
  document: ReportDocument,
  schedule: Asking,
  asOf: CivilDate,
): Promise<{ questions: Question[]; knowledge: Knowledge }> {
  const basis = await orderBasis(db, client);
  const knowledge = knowledgeOf(basis);
  const named = [...metricsNamed(schedule.subject), ...metricsNamed(schedule.message)];
  const questions = questionsFor({
    ...basis,
    document,
    commentary: {},
    ...settleReport(document, schedule, asOf, { ...client, excluded: basis.excluded }),
    ...ownOfSchedule(schedule),
    mailMetrics: named.filter((key) => knowledge.book.has(key)),
  });
  return { questions, knowledge };
}
