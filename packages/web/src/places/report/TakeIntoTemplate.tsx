import { useState } from 'react';
import { call } from '../../api/call.ts';
import { useChange } from '../../api/hooks.ts';
import { FormEnd } from '../../parts/FormEnd.tsx';
import { type ActProps, settleFirst } from './settleFirst.ts';
import { TypedTexts } from './TypedTexts.tsx';

/** The draft as the next version of the template that it follows. */
export function TakeIntoTemplate({ report, client, settle, onDone }: ActProps & { onDone: (said: string) => void }) {
  const { id, name } = report.template!;
  const [texts, setTexts] = useState<string[]>([]);
  const take = useChange(async () => {
    await settleFirst(settle);
    await call('POST /api/templates/:template/take', {
      params: { template: id },
      body: { report: report.id, texts },
    });
  });
  return (
    <form
      className="stack"
      onSubmit={(e) => {
        e.preventDefault();
        take.mutate(undefined, {
          onSuccess: () => onDone(`“${name}” is updated. Update the other reports on its page.`),
        });
      }}
    >
      <span className="muted small">
        Everyone in the agency can see templates. Linked reports change only when someone updates them.
      </span>
      <TypedTexts settle={settle} report={report} clientName={client.name} chosen={texts} onChoose={setTexts} />
      <FormEnd error={take.error} fields={[]} pending={take.isPending} save="Update template" />
    </form>
  );
}
