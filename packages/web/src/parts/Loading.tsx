import { Skeleton } from '@mantine/core';

/** The shape of what comes. */
export function Loading({ lines = 6 }: { lines?: number }) {
  return (
    <div className="stack" role="status" aria-busy="true" aria-label="Loading">
      {Array.from({ length: lines }, (_, i) => (
        <Skeleton key={i} height={22} width={`${92 - ((i * 17) % 40)}%`} />
      ))}
    </div>
  );
}
