// @vitest-environment happy-dom
import type { PeriodSpec } from '@chronicon/core/calendar';
import { MantineProvider } from '@mantine/core';
import { cleanup, fireEvent, render, screen } from '@testing-library/react';
import { afterEach, describe, expect, it } from 'vitest';
import { PeriodPicker } from './PeriodPicker.tsx';
import { comparisonWords, periodWords } from './periods.ts';

afterEach(cleanup);

describe('periods', () => {
  it('are said in words, whatever they are', () => {
    expect(periodWords({ kind: 'unit', unit: 'month', offset: -1 })).toBe('last month');
    expect(periodWords({ kind: 'unit', unit: 'month', offset: 0 })).toBe('the whole of this month');
    expect(periodWords({ kind: 'unit', unit: 'week', offset: -3 })).toBe('the week 3 before');
    expect(periodWords({ kind: 'unit', unit: 'quarter', offset: -2, fiscal: true })).toBe(
      'the fiscal quarter 2 before',
    );
    expect(periodWords({ kind: 'rolling', days: 14 })).toBe('the last 14 days');
    expect(periodWords({ kind: 'fixed', from: '2026-10-01', to: '2026-10-15' })).toBe('1 Oct 2026 to 15 Oct 2026');
    expect(comparisonWords({ kind: 'fixed', from: '2025-10-01', to: '2025-10-01' })).toBe('1 Oct 2025');
    expect(comparisonWords({ kind: 'typical', k: 4 })).toBe('the typical level (last 4 periods)');
    expect(comparisonWords({ kind: 'lastYear', align: 'date' })).toBe('the same period last year');
  });

  it('of a fiscal year are offered to clients that have one', () => {
    const chosen: PeriodSpec[] = [];
    const show = (fiscalStart: number) =>
      render(
        <MantineProvider>
          <PeriodPicker
            fiscalStart={fiscalStart}
            value={{ kind: 'unit', unit: 'month', offset: -1 }}
            onChange={(p) => chosen.push(p)}
          />
        </MantineProvider>,
      );
    show(1);
    expect(screen.queryByLabelText('last fiscal year')).toBeNull();
    cleanup();
    show(4);
    fireEvent.click(screen.getByLabelText('last fiscal year'));
    expect(chosen).toEqual([{ kind: 'unit', unit: 'year', offset: -1, fiscal: true }]);
  });
});
