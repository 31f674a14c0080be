import { NativeSelect } from '@mantine/core';
import { useSearchParams } from 'react-router';
import { useGet } from '../../api/hooks.ts';
import { Loading } from '../../parts/Loading.tsx';
import { Notice } from '../../parts/Notice.tsx';
import { PageTitle } from '../../parts/PageTitle.tsx';
import { ScenePage } from '../../parts/ScenePage.tsx';

/** Every kind of block as the renderer lays it out, alone and abreast: for whoever writes one. Not linked from anywhere. */
export function Gallery() {
  const [search, setSearch] = useSearchParams();
  const language = search.get('language') ?? 'en-GB';
  const state = search.get('state') ?? 'full';
  const { data, error } = useGet('GET /api/gallery', { query: { language, state } }, { keep: true });
  const set = (key: string, value: string) =>
    setSearch((old) => new URLSearchParams({ ...Object.fromEntries(old), [key]: value }), { replace: true });
  return (
    <main className="place wide">
      <PageTitle of={['Gallery']} />
      <h1>Block gallery</h1>
      <div className="row">
        <NativeSelect
          label="Language"
          data={data?.languages ?? [language]}
          value={language}
          onChange={(e) => set('language', e.currentTarget.value)}
        />
        <NativeSelect
          label="Figures"
          data={data?.states ?? [state]}
          value={state}
          onChange={(e) => set('state', e.currentTarget.value)}
        />
      </div>
      <Notice error={error} />
      {!data && !error && <Loading />}
      <div className="gallery">
        {data?.pages.map(({ page, faults }) => (
          <figure key={`${page.title} ${page.blocks[0]?.id}`}>
            <ScenePage page={page} lang={data.lang} pictures="" />
            <figcaption>
              {page.title}
              {faults.length > 0 && (
                <details>
                  <summary className="tone-wrong">{faults.length} faults</summary>
                  <ul>
                    {[...new Set(faults)].map((fault) => (
                      <li key={fault}>{fault}</li>
                    ))}
                  </ul>
                </details>
              )}
            </figcaption>
          </figure>
        ))}
      </div>
    </main>
  );
}
