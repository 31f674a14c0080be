import type { Client, Report, ScheduleInput } from '@chronicon/core/contract';
import { Checkbox, NativeSelect, Stack, TextInput } from '@mantine/core';
import type { ApiError } from '../../api/call.ts';
import { useGet } from '../../api/hooks.ts';
import { fieldError } from '../../parts/Notice.tsx';
import { SentencePart } from '../../parts/SentencePart.tsx';
import { plural } from '../../parts/when.ts';
import { withLanguage } from './mailLanguage.ts';

interface Props {
  client: Client;
  report: Pick<Report, 'released'> | undefined;
  input: ScheduleInput;
  error: ApiError | null;
  wrong: (...fields: string[]) => boolean;
  onChange: (patch: Partial<ScheduleInput>) => void;
}

const FORMATS = [
  { value: 'csv', label: 'CSV', description: 'a table for any program' },
  { value: 'xlsx', label: 'Workbook', description: 'a table for spreadsheets' },
];

/** What of the report goes, and as which files: pages, language, formats, name. */
export function FilePart({ client, report, input, error, wrong, onChange }: Props) {
  const settings = useGet('GET /api/clients/settings');
  const language = settings.data?.settings.find((s) => s.key === 'language')?.field;
  const languages = language?.kind === 'choice' ? language.options : [];
  const spoken = languages.find((l) => l.value === (input.language ?? client.language))?.label ?? client.language;
  const pages = report?.released?.pages ?? [];
  const chosen = input.pages ?? pages.map((p) => p.id);
  const files = ['PDF', ...FORMATS.filter((f) => (input.formats as string[]).includes(f.value)).map((f) => f.label)];
  const named = files.length === 1 ? files[0]! : `${files.slice(0, -1).join(', ')} and ${files.at(-1)}`;
  return (
    <>
      {pages.length > 1 && (
        <>
          {' '}
          with{' '}
          <SentencePart
            about="Pages"
            text={input.pages === null ? 'all its pages' : `${plural(input.pages.length, 'page')} of ${pages.length}`}
            missing={wrong('pages')}
          >
            {() => (
              <Checkbox.Group
                label="Pages"
                description="Pages added later are only included if you choose all pages"
                value={chosen}
                error={fieldError(error, 'pages')}
                onChange={(ids) => {
                  const kept = pages.map((p) => p.id).filter((id) => ids.includes(id));
                  if (kept.length > 0) onChange({ pages: kept.length === pages.length ? null : kept });
                }}
              >
                <Stack gap={7} mt={8}>
                  {pages.map((p) => (
                    <Checkbox key={p.id} value={p.id} label={p.title} />
                  ))}
                </Stack>
              </Checkbox.Group>
            )}
          </SentencePart>
        </>
      )}
      , in{' '}
      <SentencePart about="Language" text={String(spoken)} missing={wrong('language')}>
        {(close) => (
          <NativeSelect
            label="Language of pages and emails"
            data={[
              { value: '', label: 'the client’s language' },
              ...languages.map((l) => ({ value: String(l.value), label: l.label })),
            ]}
            value={input.language ?? ''}
            onChange={(e) => {
              onChange(withLanguage(client, input, e.currentTarget.value || null));
              close();
            }}
          />
        )}
      </SentencePart>
      , as{' '}
      <SentencePart about="Files" text={`${named} attached`} missing={wrong('fileName', 'formats')} width={400}>
        {() => (
          <Stack gap={10}>
            <Checkbox.Group
              label="Also attach the data"
              value={input.formats}
              onChange={(formats) => onChange({ formats: formats as ScheduleInput['formats'] })}
            >
              <Stack gap={7} mt={6}>
                {FORMATS.map((f) => (
                  <Checkbox key={f.value} {...f} />
                ))}
              </Stack>
            </Checkbox.Group>
            <TextInput
              label="File name"
              description="Leave empty for client, report and dates. Fields as in the email: {{client.name}}, {{period.label}}"
              placeholder="{{client.name}} {{report.title}} {{period.label}}"
              value={input.fileName}
              error={fieldError(error, 'fileName')}
              onChange={(e) => onChange({ fileName: e.currentTarget.value })}
            />
          </Stack>
        )}
      </SentencePart>
    </>
  );
}
