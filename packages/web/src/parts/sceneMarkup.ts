import type { ScenePage as Page } from '@chronicon/core/page';
import { createElement } from 'react';
import { renderToStaticMarkup } from 'react-dom/server';
import { ScenePage } from './ScenePage.tsx';

/** A sheet as the interface paints it, as markup: for holding paper beside the screen. */
export const markup = (page: Page, lang: string): string =>
  renderToStaticMarkup(createElement(ScenePage, { page, lang, pictures: '' }));
