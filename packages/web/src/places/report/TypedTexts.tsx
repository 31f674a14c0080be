import { Checkbox, Stack } from '@mantine/core';
import { useQuery } from '@tanstack/react-query';
import { type ApiError, call, type Reply } from '../../api/call.ts';
import { Loading } from '../../parts/Loading.tsx';
import { Notice } from '../../parts/Notice.tsx';
import { plural } from '../../parts/when.ts';
import { type ActProps, settleFirst } from './settleFirst.ts';

type Lost = Reply<'GET /api/reports/:report/typed-texts'>['lost'];

/** What stays behind of a report, in words. */
function lossesOf({ filters, pictures, commentaries }: Lost): string {
  const parts = [
    commentaries > 0 && plural(commentaries, 'commentary', 'commentaries'),
    pictures > 0 && plural(pictures, 'picture'),
    filters > 0 && plural(filters, 'filter'),
  ].filter((p) => p !== false);
  return parts.length === 0 ? '' : `Not included: ${parts.join(', ')}.`;
}

interface Props extends Pick<ActProps, 'report' | 'settle'> {
  clientName: string;
  chosen: string[];
  onChoose: (texts: string[]) => void;
}

/** The texts that somebody typed into a report, to tick those that others may read. */
export function TypedTexts({ report, settle, clientName, chosen, onChoose }: Props) {
  const typed = useQuery<Reply<'GET /api/reports/:report/typed-texts'>, ApiError>({
    queryKey: ['typed-texts', report.id],
    queryFn: async () => {
      await settleFirst(settle);
      return call('GET /api/reports/:report/typed-texts', { params: { report: report.id } });
    },
    // What is listed is what is ticked: it does not change under the reader.
    staleTime: Number.POSITIVE_INFINITY,
    gcTime: 0,
    refetchOnWindowFocus: false,
  });
  if (typed.error) return <Notice error={typed.error} />;
  if (!typed.data) return <Loading lines={3} />;
  const { texts, lost } = typed.data;
  const all = texts.map((t) => t.text);
  const losses = lossesOf(lost);
  return (
    <>
      {losses !== '' && <span className="small">{losses}</span>}
      {texts.length > 0 && (
        <fieldset className="page-choices">
          <legend>Which texts should be included?</legend>
          <span className="muted small">
            Unticked texts are not included. The name “{clientName}” is replaced by each client’s own.
          </span>
          <Checkbox
            label="All texts"
            checked={chosen.length === all.length}
            indeterminate={chosen.length > 0 && chosen.length < all.length}
            onChange={() => onChoose(chosen.length === all.length ? [] : all)}
          />
          <Checkbox.Group value={chosen} onChange={onChoose} aria-label="Texts">
            <Stack gap={6} className="long-list">
              {texts.map(({ text, where, namesClient }) => (
                <Checkbox
                  key={text}
                  value={text}
                  label={text}
                  description={namesClient ? `${where} · names the client` : where}
                />
              ))}
            </Stack>
          </Checkbox.Group>
        </fieldset>
      )}
    </>
  );
}
