import { useEffect } from 'react';

/**
 * Names the page in the browser’s tab and history, before the product’s name. Nothing changes while a part of it is not known yet.
 *
 * @example <PageTitle of={['Contacts', client.name]} /> // “Contacts – Mosswick – Chronicon”
 */
export function PageTitle({ of }: { of: readonly (string | undefined)[] }) {
  const title = of.includes(undefined) ? null : [...of, 'Chronicon'].join(' – ');
  useEffect(() => {
    if (title !== null) document.title = title;
  }, [title]);
  return null;
}
