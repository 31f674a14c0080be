import type { DrawOrder } from '@chronicon/core/page';
import { settleBrand, settlePaper } from '@chronicon/core/report';
import { agencyFor } from '../store/agencyCalendar.ts';
import type { StoredClient } from '../store/clients.ts';
import { conversionsAt } from '../store/conversions.ts';
import { notesOf } from '../store/dayNotes.ts';
import { exclusionsOf, toldExclusion } from '../store/excludedDays.ts';
import { memberById } from '../store/members.ts';
import { segmentsOf } from '../store/segments.ts';
import type { Store } from '../store/store.ts';
import { targetsOf } from '../store/targets.ts';

/** What every order for a client's pages says of the client, whatever report and dates it is for. */
export async function orderBasis(db: Store, client: StoredClient) {
  const notes = await notesOf(db, client.id);
  const excluded = await exclusionsOf(db, client.id);
  const converted = await conversionsAt(db, client);
  const agency = await agencyFor(db, client);
  const manager = await memberById(db, client.managerId);
  return {
    clientId: client.id,
    clientName: client.name,
    site: client.site,
    agencyName: agency.name,
    manager: manager && { name: manager.name, email: manager.email },
    paper: settlePaper({ size: client.paperSize, orientation: client.orientation }, agency.settings.paper),
    metrics: client.metrics,
    targets: await targetsOf(db, client.id),
    holidays: agency.holidays,
    // Mondays are what is meant where nothing is said: what is drawn of such clients stays the same.
    ...(client.weekStart !== 1 && { weekStart: client.weekStart }),
    segments: (await segmentsOf(db, client.id)).map(({ id, name, parts }) => ({ id, name, parts })),
    dayNotes: notes.filter((n) => n.inReports).map(({ from, to, text }) => ({ from, to, text })),
    // Nothing is said where none are excluded: what is drawn of such clients stays the same.
    ...(excluded.length > 0 && { excluded: excluded.map(toldExclusion) }),
    ...(converted.length > 0 && { converted }),
    brand: settleBrand(client.brand, agency.settings.brand),
    language: client.language,
    currency: client.currency,
  } satisfies Partial<DrawOrder>;
}
