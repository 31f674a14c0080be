import type { RouteName } from '@chronicon/core/contract';
import { GALLERY_STATES } from '@chronicon/core/page/gallery';
import { LOCALES } from '@chronicon/core/words';
import { atField, notFound } from '../platform/refusal.ts';
import type { Handlers } from './context.ts';

export const galleryHandlers: Handlers<Extract<RouteName, `${string}/gallery`>> = {
  'GET /api/gallery': async ({ api, query }) => {
    if (api.config.mode === 'production') throw notFound('page');
    const { language, state } = query;
    if (!LOCALES.some((l) => l.value === language)) throw atField('language', 'Reports do not speak this language.');
    return { languages: LOCALES, states: [...GALLERY_STATES], ...(await api.workers.gallery(language, state)) };
  },
};
