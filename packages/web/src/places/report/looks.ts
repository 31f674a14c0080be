import type { Look, ReportRun } from '@chronicon/core/contract';
import { shortDay } from '../../parts/when.ts';

/** For which dates a report is looked at, as it stands in the address: `own`, `run.sc_….2026-12-02`, `dates.from.to`. */
export function lookText(look: Look): string {
  if (look.kind === 'run') return `run.${look.schedule}.${look.nominal}`;
  return look.kind === 'dates' ? `dates.${look.from}.${look.to}` : 'own';
}

export function parseLook(text: string | null): Look | null {
  const [kind, first, second] = (text ?? '').split('.');
  if (kind === 'own') return { kind: 'own' };
  if (!first || !second) return null;
  if (kind === 'run') return { kind: 'run', schedule: first, nominal: second };
  return kind === 'dates' ? { kind: 'dates', from: first, to: second } : null;
}

/** The query of the PDF of what is looked at. */
export function lookQuery(look: Look): string {
  if (look.kind === 'run') return `?schedule=${look.schedule}&nominal=${look.nominal}`;
  return look.kind === 'dates' ? `?from=${look.from}&to=${look.to}` : '';
}

const same = (run: ReportRun, look: Look) =>
  look.kind === 'run' && run.schedule === look.schedule && run.nominal === look.nominal;

export const runWords = (run: ReportRun): string =>
  `sent on ${shortDay(run.local.date)}, ${run.local.time}: ${run.period.label}`;

/** What a look is called; a run that is over is called by its date. */
export function lookWords(look: Look, runs: readonly ReportRun[]): string {
  if (look.kind === 'own') return 'for its own dates';
  if (look.kind === 'dates') return `for ${look.from} to ${look.to}`;
  const run = runs.find((r) => same(r, look));
  return run ? runWords(run) : `as of ${look.nominal}`;
}
