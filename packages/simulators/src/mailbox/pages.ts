import { Router, urlencoded } from 'express';
import sanitizeHtml from 'sanitize-html';
import { escapeHtml, page } from '../page.ts';
import { attachedTo, type MailStore, type StoredMail } from './mailStore.ts';

const when = (iso: string) => iso.slice(0, 16).replace('T', ' ');

function listPage(mails: StoredMail[], address: string | undefined): string {
  const rows = mails.map(
    (m) => `<tr><td>${when(m.receivedAt)}</td><td>${escapeHtml(m.to)}</td>
<td><a href="/mailbox/${m.id}">${escapeHtml(m.subject)}</a></td><td>${m.attachments.map(escapeHtml).join('<br>')}</td></tr>`,
  );
  const title = address ? `Mails for ${address}` : 'All mails';
  return page(
    title,
    `<h1>${escapeHtml(title)}</h1>${address ? '<p><a href="/mailbox">All mails</a></p>' : ''}
<table><thead><tr><th>Received (UTC)</th><th>To</th><th>Subject</th><th>Attached</th></tr></thead>
<tbody>${rows.join('') || '<tr><td colspan="4">No mail has come yet.</td></tr>'}</tbody></table>`,
  );
}

/** The mailbox as a reader sees it: lists, mails, attachments; and the same as JSON for tests. */
export function mailboxPages(store: MailStore): Router {
  const router = Router();
  router.use(urlencoded({ extended: false }));
  router.get('/mailbox', (req, res) => {
    const to = typeof req.query.to === 'string' ? req.query.to : undefined;
    res.send(listPage(store.list(to), to));
  });
  router.get('/api/mails', (req, res) => {
    res.json(store.list(typeof req.query.to === 'string' ? req.query.to : undefined));
  });
  router.get('/mailbox/:id', async (req, res) => {
    const found = await store.read(req.params.id);
    if (!found) {
      res.status(404).send(page('No such mail', '<h1>No such mail</h1>'));
      return;
    }
    const { mail, parsed } = found;
    const attachments = attachedTo(parsed).map(
      (a, i) =>
        `<a href="/mailbox/${mail.id}/attachments/${i}" class="attachment">${escapeHtml(a.filename ?? 'attachment')}</a> (${Math.ceil(a.size / 1024)} kB)`,
    );
    res.send(
      page(
        mail.subject,
        `<div class="mail"><h1>${escapeHtml(mail.subject)}</h1>
<dl><dt>From</dt><dd>${escapeHtml(mail.from)}</dd><dt>To</dt><dd>${escapeHtml(mail.to)}</dd>
<dt>Received</dt><dd>${when(mail.receivedAt)} UTC${mail.times > 1 ? ` (came ${mail.times} times, shown once)` : ''}</dd>
<dt>Attached</dt><dd>${attachments.join('<br>') || 'nothing'}</dd></dl>
<iframe title="The mail" sandbox src="/mailbox/${mail.id}/body"></iframe>
<details><summary>Plain text</summary><pre>${escapeHtml(parsed.text ?? '')}</pre></details></div>
<p><a href="/mailbox?to=${encodeURIComponent(mail.to)}">All mails for ${escapeHtml(mail.to)}</a></p>`,
      ),
    );
  });
  router.get('/mailbox/:id/body', async (req, res) => {
    const found = await store.read(req.params.id);
    const html = found && typeof found.parsed.html === 'string' ? found.parsed.html : '<p>Plain text alone.</p>';
    res.send(
      sanitizeHtml(html, {
        allowedTags: [...sanitizeHtml.defaults.allowedTags, 'img', 'style'],
        allowedAttributes: {
          '*': ['class', 'style', 'align', 'width', 'role', 'cellpadding', 'cellspacing', 'border', 'dir', 'scope'],
          a: ['href'],
          img: ['src', 'alt'],
        },
        // Pictures that came with the mail stand within it; nothing is fetched.
        allowedSchemesByTag: { img: ['data'] },
        allowVulnerableTags: true,
      }),
    );
  });
  router.get('/mailbox/:id/attachments/:n', async (req, res) => {
    const found = await store.read(req.params.id);
    const attachment = found ? attachedTo(found.parsed)[Number(req.params.n)] : undefined;
    if (!attachment) {
      res.status(404).send(page('No such file', '<h1>No such file</h1>'));
      return;
    }
    res
      .type(attachment.contentType)
      .attachment(attachment.filename ?? 'attachment')
      .send(attachment.content);
  });
  return router;
}
