import type { Edition } from '@chronicon/core/contract';
import { momentOf } from './when.ts';

/** What became of each reader's mail. */
export function Deliveries({ of }: { of: Edition['deliveries'] }) {
  return of.map((d) => (
    <div key={d.email}>
      {d.name} <span className="muted">{d.email}</span> · {d.state}
      {d.reply && d.state !== 'accepted' && <span className="muted"> ({d.reply})</span>}
      {d.nextTry && <span className="muted"> next try {momentOf(d.nextTry)}</span>}
    </div>
  ));
}
