/** What a report on a delivery says of one recipient (RFC 3464 §2.3). */
export interface RecipientStatus {
  /** The address that it is about, in small letters; empty where none is given. */
  recipient: string;
  action: 'failed' | 'delayed' | 'delivered' | 'relayed' | 'expanded';
  /** Class, subject and detail (RFC 3463), as `5.1.1`; empty where none is given. */
  status: string;
  /** In the other server's words. */
  said: string;
}

const ACTIONS = ['failed', 'delayed', 'delivered', 'relayed', 'expanded'] as const;

/** The fields of a group of lines, by their names in small letters; what is folded is one line (RFC 5322 §2.2.3). */
function fieldsOf(group: string): Map<string, string> {
  const fields = new Map<string, string>();
  for (const line of group.replace(/\r?\n[ \t]+/g, ' ').split(/\r?\n/)) {
    const colon = line.indexOf(':');
    if (colon < 1) continue;
    const name = line.slice(0, colon).trim().toLowerCase();
    if (!fields.has(name)) fields.set(name, line.slice(colon + 1).trim());
  }
  return fields;
}

/** A value after its type, as `rfc822; ada@tarn.example` (RFC 3464 §2.1.2). */
const typed = (value: string | undefined): string => (value ?? '').replace(/^[^;]*;/, '').trim();

/** What a part of type message/delivery-status says, recipient by recipient; nothing where it is none. */
export function readDeliveryStatus(text: string): RecipientStatus[] {
  return text
    .split(/(?:\r?\n[ \t]*){2,}/)
    .map(fieldsOf)
    .flatMap((fields): RecipientStatus[] => {
      const action = ACTIONS.find((a) => a === (fields.get('action') ?? '').toLowerCase().split(/[\s(]/)[0]);
      if (!action) return [];
      const recipient = typed(fields.get('original-recipient')) || typed(fields.get('final-recipient'));
      const status = /\d\.\d{1,3}\.\d{1,3}/.exec(fields.get('status') ?? '')?.[0] ?? '';
      const said = typed(fields.get('diagnostic-code')) || (fields.get('status') ?? '');
      return [{ recipient: recipient.replace(/^<|>$/g, '').toLowerCase(), action, status, said: said.slice(0, 500) }];
    });
}

/** Whether a failure is the address's own and lasts: no such box, no such domain, or one that is closed (RFC 3463 §3.2, §3.3). */
export const isDeadAddress = (status: string): boolean => /^5\.(1\.\d+|2\.1|4\.4)$/.test(status);

/** What a failure means, for whoever has to mend it. */
export function bounceWords({ status }: Pick<RecipientStatus, 'status'>): string {
  if (/^5\.1\./.test(status)) return 'This address doesn’t exist.';
  if (status === '5.2.1') return 'This mailbox is closed.';
  if (status === '5.2.2' || status === '4.2.2') return 'The mailbox is full.';
  if (/^[45]\.(3\.4|2\.3)$/.test(status)) return 'The email is too large for their server.';
  if (/^5\.4\./.test(status)) return 'Can’t reach their mail server.';
  if (/^5\.7\./.test(status)) return 'Their mail server rejects our emails.';
  return 'Their mail server rejected it.';
}
