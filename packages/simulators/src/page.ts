const ENTITIES: Record<string, string> = { '&': '&amp;', '<': '&lt;', '>': '&gt;', '"': '&quot;', "'": '&#39;' };

export const escapeHtml = (text: string): string => text.replace(/[&<>"']/g, (c) => ENTITIES[c]!);

/** A page of the simulators: plain, and plainly not Chronicon itself. */
export const page = (title: string, body: string): string => `<!doctype html>
<html lang="en"><head><meta charset="utf-8"><title>${escapeHtml(title)}</title>
<meta name="viewport" content="width=device-width, initial-scale=1">
<style>
body { font: 15px/1.5 system-ui, sans-serif; margin: 0; color: #22272e; background: #eef0f2; }
header { background: #39424e; color: #fff; padding: 10px 20px; display: flex; gap: 20px; align-items: baseline; }
header a { color: #fff; }
header small { opacity: .8; }
main { max-width: 940px; margin: 20px auto; padding: 0 20px; }
table { border-collapse: collapse; width: 100%; background: #fff; }
th, td { text-align: left; padding: 8px 12px; border-bottom: 1px solid #dde1e5; vertical-align: top; }
th { font-size: 13px; color: #59636e; }
.mail { background: #fff; padding: 16px 20px; }
.mail dl { display: grid; grid-template-columns: 90px 1fr; gap: 2px 12px; margin: 0 0 12px; }
.mail dt { color: #59636e; }
.mail dd { margin: 0; }
iframe { width: 100%; height: 430px; border: 1px solid #dde1e5; background: #fff; }
select, button { font: inherit; padding: 3px 8px; }
</style></head><body>
<header><strong>Simulators</strong><a href="/mailbox">Mailbox</a><a href="/admin">Services</a>
<small>Simulated services for the demonstration; nothing leaves this machine.</small></header>
<main>${body}</main></body></html>`;
