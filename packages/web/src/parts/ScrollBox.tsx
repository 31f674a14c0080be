import type { ReactNode } from 'react';

/** A wide or long table that scrolls within itself; it takes the focus, so that keys can scroll it (WCAG 2.1.1). */
export function ScrollBox({ label, short, children }: { label: string; short?: boolean; children: ReactNode }) {
  return (
    // biome-ignore lint/a11y/noNoninteractiveTabindex: what scrolls has to be reached by keys
    <section className={`scroll-table${short ? ' rows' : ''}`} aria-label={label} tabIndex={0}>
      {children}
    </section>
  );
}
