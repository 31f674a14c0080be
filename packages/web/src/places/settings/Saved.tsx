/** Says that what was changed is kept. */
export function Saved({ when, children = 'Saved.' }: { when: boolean; children?: string }) {
  return (
    <span className="tone-good small" role="status">
      {when ? children : ''}
    </span>
  );
}
