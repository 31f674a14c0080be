import { guessNumbers, type NumberStyle, readNumber } from '@chronicon/core/contract/fileStyles';
import { Button } from '@mantine/core';
import { type ClipboardEvent, type KeyboardEvent, useRef, useState } from 'react';
import { Link, useParams, useSearchParams } from 'react-router';
import { call, type Reply } from '../../api/call.ts';
import { useChange, useGet } from '../../api/hooks.ts';
import { Loading } from '../../parts/Loading.tsx';
import { Notice } from '../../parts/Notice.tsx';
import { PageTitle } from '../../parts/PageTitle.tsx';
import { Unsaved } from '../../parts/Unsaved.tsx';
import { plural } from '../../parts/when.ts';

type Grid = Reply<'GET /api/clients/:client/feeds/:feed/grid'>;

const keyOf = (row: number, column: number) => `${row} ${column}`;

/** How a language writes the decimals of a number. */
const styleOf = (language: string): NumberStyle =>
  new Intl.NumberFormat(language).formatToParts(1.5).some((p) => p.type === 'decimal' && p.value === ',')
    ? 'comma'
    : 'point';

const shown = (value: number | null, style: NumberStyle): string =>
  value === null ? '' : style === 'comma' ? String(value).replace('.', ',') : String(value);

/** What stands in a cell as a number; null for nothing, undefined for what is no number. */
function read(text: string, usual: NumberStyle): number | null | undefined {
  if (text.trim() === '') return null;
  const guess = guessNumbers([text], usual);
  return guess ? (readNumber(text, guess.style) ?? undefined) : undefined;
}

/** Whether a text is one number with a decimal point and another with a decimal comma. */
const isDoubtful = (text: string): boolean => (guessNumbers([text])?.unlike ?? 0) > 0;

/** A block of cells from a spreadsheet, its numbers read in the style that all of them share. */
function readBlock(text: string, usual: NumberStyle): string[][] {
  const rows = text.replace(/\r\n?/g, '\n').replace(/\n$/, '').split('\n');
  const cells = rows.map((r) => r.split('\t'));
  const style =
    guessNumbers(
      cells.flat().filter((c) => c.trim() !== ''),
      usual,
    )?.style ?? usual;
  return cells.map((r) =>
    r.map((c) => {
      const value = readNumber(c, style);
      return value === null ? c.trim() : shown(value, usual);
    }),
  );
}

interface CellsProps {
  grid: Grid;
  params: { client: string; feed: string };
  language: string;
}

function Cells({ grid, params, language }: CellsProps) {
  const [style, setStyle] = useState(styleOf(language));
  const [typed, setTyped] = useState<Record<string, string>>({});
  const table = useRef<HTMLTableElement>(null);
  const at = (r: number, c: number) => typed[keyOf(r, c)] ?? shown(grid.rows[r]!.values[c]!, style);
  const changes = Object.entries(typed).flatMap(([key, text]) => {
    const [r, c] = key.split(' ').map(Number) as [number, number];
    return text === shown(grid.rows[r]!.values[c]!, style) ? [] : [{ r, c, text, value: read(text, style) }];
  });
  const doubtful = changes.find((x) => isDoubtful(x.text));
  const faults = changes.filter((x) => x.value === undefined);
  const save = useChange(() =>
    call('PUT /api/clients/:client/feeds/:feed/grid', {
      params,
      body: {
        cells: changes.map(({ r, c, value }) => ({
          start: grid.rows[r]!.start,
          metric: grid.columns[c]!.metric,
          value: value ?? null,
        })),
      },
    }),
  );
  const paste = (e: ClipboardEvent, r: number, c: number) => {
    const block = readBlock(e.clipboardData.getData('text/plain'), style);
    if (block.length === 1 && block[0]!.length === 1) return;
    e.preventDefault();
    const next = { ...typed };
    block.forEach((line, i) => {
      line.forEach((text, j) => {
        if (grid.rows[r + i]?.over && c + j < grid.columns.length) next[keyOf(r + i, c + j)] = text;
      });
    });
    setTyped(next);
  };
  const step = (e: KeyboardEvent, r: number, c: number) => {
    const by = { ArrowDown: 1, Enter: 1, ArrowUp: -1 }[e.key];
    if (by === undefined) return;
    e.preventDefault();
    table.current?.querySelector<HTMLInputElement>(`[data-at="${keyOf(r + by, c)}"]`)?.focus();
  };
  return (
    <form
      className="stack"
      onSubmit={(e) => {
        e.preventDefault();
        save.mutate(undefined, { onSuccess: () => setTyped({}) });
      }}
    >
      <table className="list grid" ref={table}>
        <thead>
          <tr>
            <th>{grid.grain === 'month' ? 'Month' : 'Week'}</th>
            {grid.columns.map((c) => (
              <th key={c.metric} className="num">
                {c.label}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {grid.rows.map((row, r) => (
            <tr key={row.start}>
              <td className={row.over ? '' : 'muted'}>{row.label}</td>
              {grid.columns.map((c, i) => {
                const text = at(r, i);
                const wrong = read(text, style) === undefined;
                return (
                  <td key={c.metric} className="num">
                    {row.over ? (
                      <input
                        data-at={keyOf(r, i)}
                        aria-label={`${c.label}, ${row.label}`}
                        aria-invalid={wrong}
                        className={keyOf(r, i) in typed ? 'changed' : ''}
                        inputMode="decimal"
                        value={text}
                        onPaste={(e) => paste(e, r, i)}
                        onKeyDown={(e) => step(e, r, i)}
                        onChange={(e) => setTyped({ ...typed, [keyOf(r, i)]: e.currentTarget.value })}
                      />
                    ) : (
                      <span className="muted small">in progress</span>
                    )}
                  </td>
                );
              })}
            </tr>
          ))}
        </tbody>
      </table>
      {faults.length > 0 && (
        <Notice>
          {plural(faults.length, 'cell')} {faults.length === 1 ? 'is' : 'are'} not a number: “
          {at(faults[0]!.r, faults[0]!.c).slice(0, 40)}” at {grid.rows[faults[0]!.r]!.label}.
        </Notice>
      )}
      {doubtful && (
        <div className="note small row">
          “{doubtful.text.trim()}” is read as{' '}
          {(doubtful.value ?? 0).toLocaleString('en-GB', { maximumFractionDigits: 10 })}.
          <Button size="compact-xs" variant="default" onClick={() => setStyle(style === 'comma' ? 'point' : 'comma')}>
            Read it as{' '}
            {(readNumber(doubtful.text, style === 'comma' ? 'point' : 'comma') ?? 0).toLocaleString('en-GB', {
              maximumFractionDigits: 10,
            })}
          </Button>
        </div>
      )}
      <Unsaved when={changes.length > 0} what={plural(changes.length, 'figure')} />
      <Notice error={save.error} />
      <div className="row">
        <Button type="submit" disabled={changes.length === 0 || faults.length > 0} loading={save.isPending}>
          Save {changes.length > 0 ? plural(changes.length, 'figure') : ''}
        </Button>
        {changes.length > 0 && (
          <Button variant="subtle" onClick={() => setTyped({})}>
            Restore
          </Button>
        )}
        {save.isSuccess && changes.length === 0 && <span className="tone-good">Saved</span>}
      </div>
    </form>
  );
}

/** Figures that no service knows, filled in by month or week; a block from a spreadsheet can be pasted. */
export function TypedPlace() {
  const { client = '', feed = '' } = useParams();
  const [search, setSearch] = useSearchParams();
  const params = { client, feed };
  const year = search.get('year') ?? undefined;
  const grid = useGet('GET /api/clients/:client/feeds/:feed/grid', { params, query: { year } });
  const feeds = useGet('GET /api/clients/:client/feeds', { params: { client } });
  const owner = useGet('GET /api/clients/:client', { params: { client } });
  const name = feeds.data?.find((f) => f.id === feed)?.name;
  return (
    <main className="place">
      <div className="place-head">
        <PageTitle of={[name]} />
        <h1>{name ?? ' '}</h1>
        <Link className="small" to={`/clients/${client}/feeds`}>
          all feeds
        </Link>
        {grid.data && (
          <div className="acts" style={{ alignItems: 'center' }}>
            <Button variant="subtle" onClick={() => setSearch({ year: String(grid.data.year - 1) })}>
              {grid.data.year - 1}
            </Button>
            <b>{grid.data.year}</b>
            <Button variant="subtle" onClick={() => setSearch({ year: String(grid.data.year + 1) })}>
              {grid.data.year + 1}
            </Button>
          </div>
        )}
      </div>
      <p className="muted small" style={{ marginTop: 0 }}>
        Type, or paste from a spreadsheet. Leave a cell empty if unknown; enter 0 for zero.
      </p>
      <Notice error={grid.error} />
      {grid.data && owner.data ? (
        <Cells key={grid.data.year} grid={grid.data} params={params} language={owner.data.language} />
      ) : (
        <Loading />
      )}
    </main>
  );
}
