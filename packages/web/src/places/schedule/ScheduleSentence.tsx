import type { Client, ScheduleInput } from '@chronicon/core/contract';
import { Input, Radio, Select, Stack, TextInput } from '@mantine/core';
import type { ApiError, Reply } from '../../api/call.ts';
import { useGet } from '../../api/hooks.ts';
import { DateField } from '../../parts/DateField.tsx';
import { FilterPicker } from '../../parts/FilterPicker.tsx';
import { filterWords } from '../../parts/filterWords.ts';
import { fieldError } from '../../parts/Notice.tsx';
import { ComparisonPicker, PeriodPicker } from '../../parts/PeriodPicker.tsx';
import { comparisonWords, periodWords } from '../../parts/periods.ts';
import { SentencePart } from '../../parts/SentencePart.tsx';
import { plainDate, zoneWords } from '../../parts/when.ts';
import { AssumedPicker, assumedWords } from './AssumedPicker.tsx';
import { FilePart } from './FilePart.tsx';
import { withRhythm } from './fittingPeriod.ts';
import { NotifiedPart } from './NotifiedPart.tsx';
import { PatiencePart } from './PatiencePart.tsx';
import { ReadersPart } from './ReadersPart.tsx';
import { RhythmPicker } from './RhythmPicker.tsx';
import { ruleWords } from './ruleWords.ts';
import { SignOffPart } from './SignOffPart.tsx';

const ZONES = Intl.supportedValuesOf('timeZone');

interface Props {
  client: Client;
  reports: Reply<'GET /api/clients/:client/reports'>;
  /** It is not started yet: another report brings its own dates along. */
  isNew: boolean;
  input: ScheduleInput;
  error: ApiError | null;
  onChange: (patch: Partial<ScheduleInput>) => void;
}

/** The subject as it will read, with fields that are not known yet as their names. */
const subjectWords = (subject: string, title = 'report'): string =>
  subject.replace(/\{\{\s*([\w.]+)[^}]*\}\}/g, (_, field: string) =>
    field === 'report.title' ? title : `‹${field.split('.').at(-2) ?? field}›`,
  );

/** What a schedule counts: all that its report does, or a part of that alone. */
function countedWords(
  filter: ScheduleInput['filter'],
  own: ScheduleInput['filter'],
  named: Parameters<typeof filterWords>[1],
): string {
  // What the report counts by its own design counts in any case.
  const all = [...own, ...filter];
  return all.length === 0 ? 'everything the report counts' : `only ${filterWords(all, named)}`;
}

const MOVES: Record<ScheduleInput['workingDayRule'], string> = {
  'as is': 'whatever day that is',
  next: 'or the working day after',
  previous: 'or the working day before',
};

/** Whether it may fall on no working day at all, and be moved from it. */
const movesAt = ({ rule }: ScheduleInput): boolean =>
  rule.freq !== 'daily' && rule.freq !== 'workdays' && !('on' in rule && 'workday' in rule.on);

/** The whole schedule as one sentence; each underlined part opens its choices. */
export function ScheduleSentence({ client, reports, isNew, input, error, onChange }: Props) {
  const report = reports.find((r) => r.id === input.reportId);
  const assumptions = report?.released?.assumptions ?? [];
  const assuming = { currency: client.currency, assumptions, assumed: input.assumed };
  const known = useGet('GET /api/clients/:client/metrics', { params: { client: client.id } });
  const segments = useGet('GET /api/clients/:client/segments', { params: { client: client.id } });
  const people = useGet('GET /api/colleagues');
  const colleagues = people.data ?? [];
  const askable = colleagues.filter((m) => m.role === 'owner' || m.role === 'manager');
  const dimensions = known.data?.dimensions ?? [];
  /** Another report assumes other things, and has other pages and blocks. */
  const ofReport = (other: Props['reports'][number] | undefined): Partial<ScheduleInput> => ({
    assumed: {},
    pages: null,
    leftOut: [],
    ...(isNew && other && { period: other.design.period, comparison: other.design.comparison }),
  });
  const noDay = input.rule.freq === 'weekly' && input.rule.weekdays.length === 0;
  const wrong = (...fields: string[]) =>
    fields.some((f) => Object.keys(error?.fields ?? {}).some((k) => k.startsWith(f)));
  return (
    <p className="sentence">
      Send{' '}
      <SentencePart about="Report" text={report?.title ?? 'a report'} missing={!report || wrong('reportId')}>
        {(close) => (
          <Select
            label="Report"
            data={reports.map((r) => ({ value: r.id, label: r.title }))}
            value={input.reportId}
            comboboxProps={{ withinPortal: false }}
            onChange={(id) => {
              if (id && id !== input.reportId)
                onChange({ reportId: id, ...ofReport(reports.find((r) => r.id === id)) });
              close();
            }}
          />
        )}
      </SentencePart>{' '}
      on{' '}
      <SentencePart about="Rhythm" text={ruleWords(input.rule)} missing={noDay || wrong('rule')} width={400}>
        {() => (
          <RhythmPicker
            rule={input.rule}
            today={input.firstDate}
            // What runs every day stays on its day.
            onChange={(rule) =>
              onChange({ ...withRhythm(input, rule), ...(rule.freq === 'daily' && { workingDayRule: 'as is' }) })
            }
          />
        )}
      </SentencePart>
      {movesAt(input) && (
        <>
          ,{' '}
          <SentencePart
            about="Working days"
            text={MOVES[input.workingDayRule]}
            missing={wrong('workingDayRule')}
            width={360}
          >
            {() => (
              <Radio.Group
                label="If it’s not a working day"
                description={`By ${client.name}’s own week and holidays; what it covers stays the same`}
                value={input.workingDayRule}
                onChange={(rule) => onChange({ workingDayRule: rule as ScheduleInput['workingDayRule'] })}
              >
                <Stack gap={7} mt={8}>
                  <Radio value="as is" label="send anyway" />
                  <Radio value="next" label="send on the next working day" />
                  <Radio value="previous" label="send on the previous working day" />
                </Stack>
              </Radio.Group>
            )}
          </SentencePart>
          ,
        </>
      )}{' '}
      at{' '}
      <SentencePart about="Time" text={`${input.time} ${zoneWords(input.zone)}`} missing={wrong('time', 'zone')}>
        {() => (
          <Stack gap={8}>
            <TextInput
              type="time"
              label="Time"
              value={input.time}
              onChange={(e) => e.currentTarget.value && onChange({ time: e.currentTarget.value })}
            />
            <Select
              label="Time zone"
              searchable
              data={ZONES}
              value={input.zone}
              comboboxProps={{ withinPortal: false }}
              onChange={(zone) => zone && onChange({ zone })}
            />
          </Stack>
        )}
      </SentencePart>
      , covering{' '}
      <SentencePart about="Period" text={periodWords(input.period)} missing={wrong('period')}>
        {() => (
          <PeriodPicker
            fiscalStart={client.fiscalStart}
            value={input.period}
            onChange={(period) => onChange({ period })}
          />
        )}
      </SentencePart>
      , compared with{' '}
      <SentencePart about="Comparison" text={comparisonWords(input.comparison)} missing={wrong('comparison')}>
        {() => <ComparisonPicker value={input.comparison} onChange={(comparison) => onChange({ comparison })} />}
      </SentencePart>
      , counting{' '}
      <SentencePart
        about="Filter of the schedule"
        text={countedWords(input.filter, report?.design.filter ?? [], { dimensions, segments: segments.data ?? [] })}
        missing={wrong('filter')}
        width={360}
      >
        {() => (
          <Stack gap={8}>
            <FilterPicker
              client={client.id}
              dimensions={dimensions}
              parts={input.filter}
              opensFirst
              onChange={(filter) => onChange({ filter })}
            />
            <span className="small muted">
              Applied on top of the report’s own filter. Readers see it under the dates.
            </span>
            {wrong('filter') && <Input.Error>{fieldError(error, 'filter')}</Input.Error>}
          </Stack>
        )}
      </SentencePart>
      {assumptions.length > 0 && (
        <>
          , with{' '}
          <SentencePart about="Assumptions" text={assumedWords(assuming)} missing={wrong('assumed')}>
            {() => <AssumedPicker {...assuming} onChange={(assumed) => onChange({ assumed })} />}
          </SentencePart>
        </>
      )}
      <FilePart client={client} report={report} input={input} error={error} wrong={wrong} onChange={onChange} />,{' '}
      <SignOffPart
        client={client}
        askable={askable}
        input={input}
        error={error}
        wrong={wrong('signOff')}
        onChange={onChange}
      />
      {input.signOff.rule === 'none' && (
        <>
          , <PatiencePart input={input} wrong={wrong('patience')} onChange={onChange} />
        </>
      )}
      , to{' '}
      <ReadersPart
        client={client}
        colleagues={colleagues}
        input={input}
        error={error}
        wrong={wrong('readers')}
        onChange={onChange}
      />
      , with{' '}
      <button
        type="button"
        className={`part${wrong('subject', 'message', 'mail') ? ' missing' : ''}`}
        aria-label={`Mail: “${subjectWords(input.subject, report?.title)}”`}
        // It is made further down the page, where there is room to see it.
        onClick={() => document.querySelector<HTMLElement>('.mail-room input')?.focus()}
      >
        “{subjectWords(input.subject, report?.title)}”
      </button>
      . Starts{' '}
      <SentencePart about="First date" text={plainDate(input.firstDate)} missing={wrong('firstDate')}>
        {() => (
          <DateField label="First date" value={input.firstDate} onChange={(date) => onChange({ firstDate: date })} />
        )}
      </SentencePart>
      ,{' '}
      <SentencePart
        about="Last date"
        text={input.lastDate ? `ends ${plainDate(input.lastDate)}` : 'no end'}
        missing={wrong('lastDate')}
      >
        {() => (
          <DateField
            label="Last date (empty: no end)"
            value={input.lastDate ?? ''}
            onChange={(date) => onChange({ lastDate: date || null })}
            error={fieldError(error, 'lastDate')}
            optional
          />
        )}
      </SentencePart>
      . Notified:{' '}
      <NotifiedPart
        colleagues={colleagues}
        notified={input.notified}
        wrong={wrong('notified')}
        onChange={(notified) => onChange({ notified })}
      />
      .
    </p>
  );
}
