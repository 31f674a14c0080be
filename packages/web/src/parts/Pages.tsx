import { Pagination } from '@mantine/core';

interface Props {
  of: { total: number; pageSize: number };
  /** As it stands in the address; empty for the first. */
  page: string;
  /** Empty for the first. */
  onPage: (page: string) => void;
}

/** The pages of a list that the server pages; nothing where there is one. */
export function Pages({ of: { total, pageSize }, page, onPage }: Props) {
  if (total <= pageSize) return null;
  return (
    <Pagination
      mt={16}
      getControlProps={(control) => ({ 'aria-label': `${control} page` })}
      getItemProps={(n) => ({ 'aria-label': `Page ${n}` })}
      total={Math.ceil(total / pageSize)}
      value={Number(page || '1')}
      onChange={(n) => onPage(n === 1 ? '' : String(n))}
    />
  );
}
