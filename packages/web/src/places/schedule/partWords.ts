import type { Client, ScheduleInput } from '@chronicon/core/contract';
import { comparisonWords, periodWords } from '../../parts/periods.ts';
import { plainDate, plural, zoneWords } from '../../parts/when.ts';
import { patienceWords } from './patienceWords.ts';
import { type Colleague, readersWords } from './readersText.ts';
import { ruleWords } from './ruleWords.ts';

/** What parts of a schedule are called in its history and in lists. */
const LABELS: Record<keyof ScheduleInput, string> = {
  reportId: 'Report',
  rule: 'Rhythm',
  time: 'Time',
  zone: 'Time zone',
  firstDate: 'First date',
  lastDate: 'Last date',
  workingDayRule: 'Working days',
  exceptions: 'Single runs',
  period: 'Covers',
  comparison: 'Compared with',
  assumed: 'Assumptions',
  filter: 'Filter',
  pages: 'Pages',
  leftOut: 'Hidden blocks',
  language: 'Language',
  formats: 'Files',
  fileName: 'File name',
  signOff: 'Approval',
  patience: 'Late figures',
  readers: 'Readers',
  archive: 'Archive only',
  mailing: 'Emails',
  groups: 'Groups',
  notified: 'Notified',
  mail: 'Email content',
  subject: 'Subject',
  message: 'Message',
};
export const partLabel = (part: string): string => LABELS[part as keyof ScheduleInput] ?? part;

export const SIGN_OFF_WORDS: Record<ScheduleInput['signOff']['rule'], string> = {
  none: 'automatic',
  first: 'asks first',
  until: 'asks, then sends anyway',
};

/** Single runs that are otherwise, in words. */
function exceptionsWords(exceptions: ScheduleInput['exceptions']): string {
  const said = Object.entries(exceptions).map(([date, e]) => {
    const what = [
      e.skipped && 'skipped',
      e.moved && `moved to ${plainDate(e.moved.date)}, ${e.moved.time}`,
      e.covers && `covers ${plainDate(e.covers.from)} – ${plainDate(e.covers.to)}`,
    ].filter((w) => w);
    return `${plainDate(date)} ${what.join(', ')}`;
  });
  return said.length === 0 ? 'none' : said.join('; ');
}

/** A part of a schedule as the history says it, by what things are called now. */
export function partWords(
  part: string,
  value: unknown,
  {
    client,
    colleagues,
    reports,
  }: {
    client: Client;
    colleagues: readonly Colleague[];
    reports: readonly { id: string; title: string }[];
  },
): string {
  const input = { [part]: value } as ScheduleInput;
  switch (part as keyof ScheduleInput) {
    case 'reportId':
      return reports.find((r) => r.id === value)?.title ?? 'a deleted report';
    case 'rule':
      return ruleWords(input.rule);
    case 'zone':
      return zoneWords(input.zone);
    case 'firstDate':
      return plainDate(input.firstDate);
    case 'lastDate':
      return input.lastDate ? plainDate(input.lastDate) : 'no end';
    case 'period':
      return periodWords(input.period);
    case 'comparison':
      return comparisonWords(input.comparison);
    case 'exceptions':
      return exceptionsWords(input.exceptions);
    case 'readers':
      return readersWords(client, colleagues, input.readers) || 'nobody';
    case 'groups':
      return input.groups ? plural(input.groups.groups.length, 'group') : 'none';
    case 'signOff':
      return SIGN_OFF_WORDS[input.signOff.rule];
    case 'patience':
      return patienceWords(input.patience);
    case 'pages':
      return input.pages ? plural(input.pages.length, 'page') : 'all';
    case 'leftOut':
      return input.leftOut.length === 0 ? 'nothing' : plural(input.leftOut.length, 'block');
    case 'mailing':
      return input.mailing === 'each' ? 'one for each' : 'one for all';
    default:
      if (typeof value === 'string') return value.length > 80 ? `${value.slice(0, 80)}…` : value || 'as usual';
      if (typeof value === 'boolean') return value ? 'yes' : 'no';
      return Array.isArray(value) && value.length === 0 ? 'none' : value === null ? 'as usual' : 'other ones';
  }
}
