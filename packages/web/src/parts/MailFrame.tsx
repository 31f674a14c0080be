import type { MailShown } from '@chronicon/core/contract';
import { useEffect, useRef, useState } from 'react';
import { Choice } from './Choice.tsx';

/** How wide a mail is looked at: in a window on a desk, or on a phone, in CSS pixels. */
const WIDTHS = { desk: 640, phone: 390 } as const;
type Width = keyof typeof WIDTHS;

export type Scheme = 'light' | 'dark';

/** What is looked at of a mail: the HTML by day or by night, or its plain text. */
export interface MailView {
  scheme: Scheme;
  width: Width;
  plain: boolean;
}

export const FIRST_VIEW: MailView = { scheme: 'light', width: 'desk', plain: false };

/** Chooses how a mail is looked at. */
export function MailViewChoice({ view, onChange }: { view: MailView; onChange: (view: MailView) => void }) {
  const form = view.plain ? 'plain' : view.scheme;
  return (
    <div className="row">
      <Choice
        label="View"
        options={[
          { value: 'light', label: 'By day' },
          { value: 'dark', label: 'Dark mode' },
          { value: 'plain', label: 'Plain text' },
        ]}
        value={form}
        onChange={(f) => onChange(f === 'plain' ? { ...view, plain: true } : { ...view, plain: false, scheme: f })}
      />
      <Choice
        label="Width"
        options={[
          { value: 'desk', label: 'Desktop' },
          { value: 'phone', label: 'Phone' },
        ]}
        value={view.width}
        onChange={(width) => onChange({ ...view, width })}
      />
    </div>
  );
}

/** As high as what is in it, once it has been laid out. */
const HEIGHT = { least: 240, most: 2400 };

/** A mail as a program shows it: nothing in it runs, nothing is fetched, no link is followed. */
export function MailFrame({ mail, view, busy = false }: { mail: MailShown; view: MailView; busy?: boolean }) {
  const frame = useRef<HTMLIFrameElement>(null);
  const [height, setHeight] = useState<number>(HEIGHT.least);
  const width = WIDTHS[view.width];
  const measure = () => {
    const body = frame.current?.contentDocument?.documentElement;
    if (body) setHeight(Math.min(HEIGHT.most, Math.max(HEIGHT.least, body.scrollHeight)));
  };
  // biome-ignore lint/correctness/useExhaustiveDependencies: another width breaks its lines elsewhere
  useEffect(measure, [view.width]);
  return (
    <div className="mail-frame" style={{ maxWidth: width }} aria-busy={busy}>
      <div className="mail-lines">
        <div>
          <span className="muted">From</span> {mail.from.name} <span className="muted">{mail.from.address}</span>
        </div>
        {mail.to && (
          <div>
            <span className="muted">To</span> {mail.to.name} <span className="muted">{mail.to.email}</span>
          </div>
        )}
        <b>{mail.subject}</b>
        {mail.preview !== '' && <div className="muted small mail-preview">{mail.preview}</div>}
      </div>
      {view.plain ? (
        <pre className="mail-plain">{mail.text}</pre>
      ) : (
        <iframe
          ref={frame}
          title="Email"
          // Its height is read from here; what it holds runs nothing.
          sandbox="allow-same-origin"
          srcDoc={mail.html}
          style={{ height }}
          onLoad={measure}
        />
      )}
      <div className="mail-files small">
        <span className="muted">Attached:</span> {mail.files.join(', ')}
      </div>
    </div>
  );
}
